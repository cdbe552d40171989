import * as v from 'valibot';

/**
 * What page and server agree on. A route declares its method, its address, and its input and output as Valibot schemas; the page's
 * `request` and the server's `answer` derive their types from it, and both check by it.
 */

type Entries = Record<string, v.GenericSchema<never, unknown> | v.GenericSchema>;
type Output<S> = S extends v.GenericSchema ? v.InferOutput<S> : undefined;
type OutputOf<E extends Entries> = { [K in keyof E]: v.InferOutput<E[K]> };
/** Optional schemas make optional properties. */
type Loose<T> = { [K in keyof T as undefined extends T[K] ? never : K]: T[K] } & {
  [K in keyof T as undefined extends T[K] ? K : never]?: T[K];
};

export type Route<
  P extends Entries = Entries,
  Q extends Entries = Entries,
  B extends v.GenericSchema | undefined = v.GenericSchema | undefined,
  A extends v.GenericSchema | 'bytes' = v.GenericSchema | 'bytes',
> = {
  method: 'GET' | 'POST' | 'PUT' | 'PATCH' | 'DELETE';
  /** With `:name` for each parameter; a name with `*` behind it takes the rest of the path. */
  path: string;
  params: P;
  query: Q;
  body: B;
  /** JSON by its schema, or bytes described by headers. */
  answer: A;
};

/** Input of a route: what the page sends and the handler receives. */
export type Given<R extends Route> = (keyof R['params'] extends never
  ? object
  : { params: OutputOf<R['params']> }) &
  (keyof R['query'] extends never ? object : { query: Loose<OutputOf<R['query']>> }) &
  (R['body'] extends v.GenericSchema ? { body: v.InferInput<R['body']> } : object);
export type Received<R extends Route> = {
  params: OutputOf<R['params']>;
  query: OutputOf<R['query']>;
  body: Output<R['body']>;
};
export type AnswerOf<R extends Route> = R['answer'] extends v.GenericSchema
  ? v.InferOutput<R['answer']>
  : undefined;

export const route = <
  // biome-ignore lint/complexity/noBannedTypes: no parameters
  const P extends Entries = {},
  // biome-ignore lint/complexity/noBannedTypes: no query
  const Q extends Entries = {},
  B extends v.GenericSchema | undefined = undefined,
  A extends v.GenericSchema | 'bytes' = 'bytes',
>(
  method: Route['method'],
  path: string,
  parts: { params?: P; query?: Q; body?: B; answer: A },
): Route<P, Q, B, A> => ({
  method,
  path,
  params: parts.params ?? ({} as P),
  query: parts.query ?? ({} as Q),
  body: parts.body as B,
  answer: parts.answer,
});

/** The address of a request to a route. */
export function addressOf<R extends Route>(
  { path }: R,
  given: { params?: Record<string, unknown>; query?: Record<string, unknown> },
): string {
  const filled = path.replace(/:(\w+)(\*?)/g, (_, name: string, rest: string) => {
    const text = String(given.params?.[name]);
    return rest ? text.split('/').map(encodeURIComponent).join('/') : encodeURIComponent(text);
  });
  const query = new URLSearchParams();
  for (const [key, value] of Object.entries(given.query ?? {}))
    if (value !== undefined) query.set(key, String(value));
  return query.size > 0 ? `${filled}?${query}` : filled;
}

/** Why a request was not done. `code` is for programs, `message` and `remedy` for people. */
export const errorCodes = [
  'bad-request',
  'refused',
  'not-found',
  'conflict',
  'media',
  'signed-out',
  'forbidden',
  'too-many',
  'disk-full',
  'unavailable',
  'internal',
] as const;
export type ErrorCode = (typeof errorCodes)[number];
export const errorSchema = v.object({
  error: v.object({
    code: v.picklist(errorCodes),
    message: v.string(),
    remedy: v.optional(v.string()),
    /** The newest version, for a conflict. */
    newest: v.optional(v.number()),
  }),
});
export type ErrorAnswer = v.InferOutput<typeof errorSchema>['error'];

/** A number that names a row, in a body. */
export const rowId = v.pipe(v.number(), v.integer());
/** A whole number in a path or a query. */
export const wholeNumber = v.pipe(
  v.string('A number is missing.'),
  v.regex(/^-?\d{1,9}$/, 'There is nothing under this address.'),
  v.transform(Number),
);
export const nothing = v.strictObject({});

/** Words that a person types, at least one letter. `what` begins the sentences that say what is wrong. */
export const typedWords = (what: string, most = 200) =>
  v.pipe(
    v.string(`${what} is missing.`),
    v.trim(),
    v.minLength(1, `${what} is missing.`),
    v.maxLength(most, `${what} has at most ${most} letters.`),
  );
