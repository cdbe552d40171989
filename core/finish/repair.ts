import * as v from 'valibot';
import type { Rgb } from '../math/rgb';
import type { NumberSpec, StepSpec, ValueSpec } from '../steps/shared/define';
import { frontSchema, specOf } from './front';
import type { Json } from './upgrades/upgrade';

/**
 * Makes an older document fit bounds that have become tighter since it was saved, so that no shot becomes unopenable by that: values
 * go to the nearest that is allowed. Only what a declaration bounds is looked at; anything else that is wrong stays and is refused.
 */

const isRecord = (given: unknown): given is Json =>
  typeof given === 'object' && given !== null && !Array.isArray(given);

const nearest = ({ from, to, whole }: NumberSpec, n: number) => {
  const inside = Math.min(to, Math.max(from, n));
  return whole ? Math.round(inside) : inside;
};

/** The nearest value that the declaration allows; the value itself where it is fine, or of another type. */
function fitted(spec: ValueSpec, given: unknown): unknown {
  switch (spec.type) {
    case 'number':
      return typeof given === 'number' ? nearest(spec, given) : given;
    case 'choice':
      return typeof given === 'string' && !Object.hasOwn(spec.options, given) ? spec.default : given;
    case 'text':
      return typeof given === 'string' ? given.slice(0, spec.longest) : given;
    case 'colour':
      return Array.isArray(given) ? given.map((c) => (typeof c === 'number' ? Math.max(0, c) : c)) : given;
    case 'colours':
      return Array.isArray(given) ? given.slice(0, spec.most) : given;
    case 'rows': {
      if (!Array.isArray(given)) return given;
      const columns = Object.values(spec.columns);
      return given
        .slice(0, spec.most)
        .map((row) =>
          Array.isArray(row) && row.length === columns.length
            ? row.map((n, i) => (typeof n === 'number' ? nearest(columns[i], n) : n))
            : row,
        );
    }
    default:
      return given;
  }
}

const words = (value: unknown): string =>
  Array.isArray(value)
    ? value.every((v) => typeof v === 'number')
      ? (value as unknown as Rgb).join(' ')
      : `${value.length} rows`
    : String(value).slice(0, 40);

function repairedStep(step: Json, spec: StepSpec, say: (what: string) => void): Json {
  const called = typeof step.name === 'string' ? step.name : spec.name;
  const moved = (key: string, given: unknown, where = ''): unknown => {
    const to = fitted(spec.values[key], given);
    if (JSON.stringify(to) !== JSON.stringify(given))
      say(`${spec.values[key].name} of ${called}${where} was ${words(given)}, now ${words(to)}.`);
    return to;
  };
  const known = ([key]: [string, unknown]) => Object.hasOwn(spec.values, key);
  const out = { ...step };
  if (isRecord(step.values)) {
    for (const key of Object.keys(step.values))
      if (!Object.hasOwn(spec.values, key)) say(`${called} has no value “${key}” any more; it was removed.`);
    out.values = Object.fromEntries(
      Object.entries(step.values)
        .filter(known)
        .map(([key, given]) => [key, moved(key, given)]),
    );
  }
  if (isRecord(step.animation))
    out.animation = Object.fromEntries(
      Object.entries(step.animation)
        .filter(known)
        .map(([key, track]) => [
          key,
          isRecord(track) && Array.isArray(track.keys)
            ? {
                ...track,
                keys: track.keys.map((k) =>
                  isRecord(k) ? { ...k, value: moved(key, k.value, ` on frame ${k.frame}`) } : k,
                ),
              }
            : track,
        ]),
    );
  return out;
}

/** The declaration of a step; of a recipe with what its front declares. */
function declared({ type, front }: Json): StepSpec | undefined {
  if (typeof type !== 'string') return undefined;
  const found = v.safeParse(frontSchema, front ?? []);
  return specOf({ type, front: found.success ? found.output : [] });
}

/** The document with every value inside today's bounds, and a sentence for each that had to be changed. */
export function repaired(document: Json): { document: Json; repairs: string[] } {
  const repairs: string[] = [];
  const say = (what: string) => repairs.push(what);
  const strands = Array.isArray(document.strands)
    ? document.strands.map((strand) => {
        if (!isRecord(strand) || !Array.isArray(strand.steps)) return strand;
        const steps = strand.steps.map((step) => {
          const spec = isRecord(step) ? declared(step) : undefined;
          return spec ? repairedStep(step, spec, say) : step;
        });
        return { ...strand, steps };
      })
    : document.strands;
  return { document: repairs.length > 0 ? { ...document, strands } : document, repairs };
}
