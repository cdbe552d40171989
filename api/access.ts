import * as v from 'valibot';
import { rowId as id, nothing, route, typedWords, wholeNumber } from './contract';

/** Accounts, sessions, and who may do what. */

export const roles = ['look', 'edit', 'manage'] as const;
export type Role = (typeof roles)[number];
const role = v.picklist(roles);
const password = v.pipe(v.string('A password is missing.'), v.maxLength(1000));
const code = v.optional(v.pipe(v.string(), v.trim(), v.maxLength(20)));

export const signIn = route('POST', '/api/sign-in', {
  body: v.strictObject({ name: typedWords('The name', 60), password, code }),
  /** `code` where the second factor is asked for as well. */
  answer: v.strictObject({ needs: v.optional(v.literal('code')) }),
});
/** Ends this session, or all of the account’s. */
export const signOut = route('POST', '/api/sign-out', {
  body: v.strictObject({ everywhere: v.optional(v.boolean(), false) }),
  answer: nothing,
});

export const scopes = ['look', 'edit', 'node', 'metrics'] as const;
const time = v.string();
const account = v.strictObject({
  name: v.string(),
  isAdmin: v.boolean(),
  hasSecondFactor: v.boolean(),
  sessions: v.array(
    v.strictObject({
      address: v.string(),
      agent: v.string(),
      begunAt: time,
      seenAt: time,
      isThis: v.boolean(),
    }),
  ),
  tokens: v.array(
    v.strictObject({
      id,
      name: v.string(),
      scope: v.picklist(scopes),
      expiresAt: time,
      usedAt: v.nullable(time),
    }),
  ),
});
export type OwnAccount = v.InferOutput<typeof account>;
/** The account that asks; none where the server answers to its own machine alone. */
export const readAccount = route('GET', '/api/account', {
  answer: v.strictObject({ account: v.optional(account) }),
});
export const changePassword = route('PUT', '/api/account/password', {
  body: v.strictObject({ now: password, next: password }),
  answer: nothing,
});
/** Begins a second factor: its secret, as an address and as a picture of it. */
export const beginFactor = route('POST', '/api/account/second-factor', {
  body: v.strictObject({ password }),
  answer: v.strictObject({ secret: v.string(), svg: v.string() }),
});
export const confirmFactor = route('PUT', '/api/account/second-factor', {
  body: v.strictObject({ code: v.pipe(v.string(), v.trim(), v.regex(/^\d{6}$/, 'A code has six digits.')) }),
  answer: nothing,
});
export const endFactor = route('POST', '/api/account/second-factor/end', {
  body: v.strictObject({ password }),
  answer: nothing,
});
export const addToken = route('POST', '/api/account/tokens', {
  body: v.strictObject({
    name: typedWords('The name', 100),
    scope: v.picklist(scopes),
    days: v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(365, 'A token lasts at most a year.')),
  }),
  answer: v.strictObject({ token: v.string() }),
});
export const endToken = route('DELETE', '/api/account/tokens/:token', {
  params: { token: wholeNumber },
  answer: nothing,
});

const person = v.strictObject({
  id,
  name: v.string(),
  isAdmin: v.boolean(),
  makesProjects: v.boolean(),
  hasSecondFactor: v.boolean(),
  createdAt: time,
});
export type Person = v.InferOutput<typeof person>;
export const listPeople = route('GET', '/api/people', { answer: v.array(person) });
export const addPerson = route('POST', '/api/people', {
  body: v.strictObject({
    name: typedWords('The name', 60),
    password,
    isAdmin: v.optional(v.boolean(), false),
  }),
  answer: v.strictObject({ id }),
});
const params = { person: wholeNumber };
export const changePerson = route('PATCH', '/api/people/:person', {
  params,
  body: v.strictObject({
    isAdmin: v.optional(v.boolean()),
    makesProjects: v.optional(v.boolean()),
    password: v.optional(password),
  }),
  answer: nothing,
});
export const removePerson = route('DELETE', '/api/people/:person', { params, answer: nothing });

const member = v.strictObject({ id, name: v.string(), role: v.nullable(role) });
export type Member = v.InferOutput<typeof member>;
const project = { project: wholeNumber };
/** All accounts with their roles in a project, and the folders that its frames may be read from. */
export const readMembers = route('GET', '/api/projects/:project/members', {
  params: project,
  answer: v.strictObject({ members: v.array(member), roots: v.array(v.string()) }),
});
export const setMember = route('PUT', '/api/projects/:project/members', {
  params: project,
  body: v.strictObject({ account: id, role: v.nullable(role) }),
  answer: nothing,
});
export const setRoots = route('PUT', '/api/projects/:project/roots', {
  params: project,
  body: v.strictObject({ roots: v.pipe(v.array(v.pipe(v.string(), v.maxLength(700))), v.maxLength(20)) }),
  answer: nothing,
});

const entry = v.strictObject({
  id,
  at: time,
  who: v.string(),
  address: v.string(),
  did: v.string(),
  project: v.nullable(v.string()),
  subject: v.record(v.string(), v.union([v.string(), v.number(), v.boolean()])),
});
export type RecordEntry = v.InferOutput<typeof entry>;
/** What was done, the newest first. */
export const readRecord = route('GET', '/api/record', {
  query: { before: v.optional(wholeNumber), who: v.optional(v.pipe(v.string(), v.maxLength(60))) },
  answer: v.array(entry),
});
