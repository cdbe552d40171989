import * as v from 'valibot';
import { type Finish, FinishError, type Step, type Strand } from './finish';
import { eachPoint } from './graph';
import { findLayer } from './layers';
import { repaired } from './repair';
import { finishSchema, strandSchema } from './schema';
import { upgraded } from './upgrades/upgrades';
import { checkUses } from './use-checks';

/** Validation of documents before they are shown, edited, saved or rendered. Page, server and CLI use this one check. */

type Issue = v.BaseIssue<unknown>;

/** The place of an issue in the document: strand and step by their ids. */
function placeOf(issue: Issue): string {
  const path = issue.path ?? [];
  const named = (list: string, what: string): string[] => {
    const at = path.findIndex((p) => p.key === list);
    const item = path[at + 1]?.value as { id?: unknown } | undefined;
    return at >= 0 && typeof item?.id === 'string' ? [`${what} ${item.id}`] : [];
  };
  const [strand, step] = [named('strands', 'strand'), named('steps', 'step')];
  const inside = path.findIndex((p) => p.key === 'values' || p.key === 'animation' || p.key === 'slots');
  if (strand.length > 0 && step.length > 0 && inside >= 0) {
    const key = path.find((p) => (p.value as { frame?: unknown } | null)?.frame !== undefined)?.value;
    const rest = path.slice(inside).map((p) => String(p.key));
    const within =
      rest[0] !== 'animation' || rest.length < 4
        ? []
        : [rest.at(-1) === 'value' ? `key on frame ${(key as { frame: unknown }).frame}` : rest.join('.')];
    return [...strand, ...step, ...within].join(', ');
  }
  if (step.length > 0 && path.at(-1)?.key === 'type') return [...strand, ...step].join(', ');
  return [...strand, ...step, v.getDotPath(issue as never) ?? 'finish'].join(', ');
}

function remedyOf(issue: Issue): string {
  if (issue.type === 'strict_object') return 'Remove it.';
  if (issue.message.startsWith('There is no step')) return 'Open it with a newer Zafiro.';
  const inValues = issue.path?.some((p) => p.key === 'values' || p.key === 'animation');
  return inValues ? 'Change the value.' : 'Correct the document there.';
}

const refusal = (issues: readonly Issue[]) =>
  new FinishError(issues[0].message, placeOf(issues[0]), remedyOf(issues[0]));

/** Duplicate ids, copies and layers with a target that is not allowed, outputs that share a name. */
function checkReferences(doc: Finish) {
  const ids = new Set<string>();
  const steps = new Map<string, Step>();
  const take = (id: string | undefined, strand: Strand) => {
    if (id === undefined) return;
    if (ids.has(id)) throw new FinishError(`Duplicate id “${id}”`, `strand ${strand.id}`, 'Rename one.');
    ids.add(id);
  };
  for (const strand of doc.strands) {
    take(strand.id, strand);
    for (const step of strand.steps) {
      take(step.id, strand);
      steps.set(step.id, step);
    }
    for (const layer of strand.head.type === 'stack' ? strand.head.layers : []) take(layer.id, strand);
  }
  for (const strand of doc.strands)
    for (const { id, type, follows } of strand.steps) {
      if (follows === undefined) continue;
      const original = steps.get(follows);
      if (!original || original.type !== type || original.follows !== undefined)
        throw new FinishError(
          `The step follows “${follows}”, which is not allowed`,
          `strand ${strand.id}, step ${id}`,
          'Remove “follows”.',
        );
    }
  for (const strand of doc.strands)
    for (const { media, follows } of strand.head.type === 'stack' ? strand.head.layers : []) {
      if (follows === undefined) continue;
      const original = findLayer(doc, follows);
      if (!original || original.follows !== undefined)
        throw new FinishError(
          `The layer ${media} follows “${follows}”, which is not allowed`,
          `strand ${strand.id}, head`,
          'Remove “follows”.',
        );
    }
  const outputs = new Set<string>();
  for (const { output } of doc.strands) {
    if (output === undefined) continue;
    if (outputs.has(output)) throw new FinishError(`Duplicate output “${output}”`, 'strands', 'Rename one.');
    outputs.add(output);
  }
}

/** Strands that were found right and have not changed since: an edit leaves all but one or two as they are. */
const soundStrands = new WeakSet<Strand>();
const frameSchema = v.strictObject({ ...finishSchema.entries, strands: v.array(v.unknown()) });

/**
 * Checks a document that an edit has made, as far as it is new.
 * @throws {FinishError} naming the place, with the remedy.
 */
export function checkFinish(doc: Finish) {
  const frame = v.safeParse(frameSchema, doc);
  if (!frame.success) throw refusal(frame.issues);
  for (const strand of doc.strands) {
    if (soundStrands.has(strand)) continue;
    const checked = v.safeParse(strandSchema, strand);
    if (!checked.success) {
      const [first] = checked.issues;
      throw new FinishError(
        first.message,
        placeOf({
          ...first,
          path: [
            { type: 'object', origin: 'value', input: doc, key: 'strands', value: doc.strands },
            { type: 'array', origin: 'value', input: doc.strands, key: 0, value: strand },
            ...(first.path ?? []),
          ],
        } as never),
        remedyOf(first),
      );
    }
    soundStrands.add(strand);
  }
  checkReferences(doc);
  checkUses(doc);
  checkLinks(doc);
}

/** @throws {FinishError} where a place would feed itself, or a link leads nowhere. */
const checkLinks = (doc: Finish) => eachPoint(doc, () => {});

function checked(json: unknown): Finish {
  const parsed = v.safeParse(finishSchema, json);
  if (!parsed.success) throw refusal(parsed.issues);
  const doc = parsed.output;
  checkReferences(doc);
  checkUses(doc);
  checkLinks(doc);
  return doc;
}

/**
 * A finish from JSON of any version, checked against its structure, the declarations of its steps, and the order of its strands.
 * Values that a step leaves out take their defaults.
 * @throws {FinishError} naming the place in the document.
 */
export const parseFinish = (json: unknown): Finish => checked(upgraded(json));

/**
 * The same for a document that was saved before: where bounds have become tighter since, its values are brought inside, and `repairs`
 * says which.
 * @throws {FinishError} naming the place in the document.
 */
export function openFinish(json: unknown): { finish: Finish; repairs: string[] } {
  const { document, repairs } = repaired(upgraded(json));
  return { finish: checked(document), repairs };
}
