import type { Json, Upgrade } from './upgrade';

/** Keys of numbers become tracks of values: `keys: { amount: […] }` is `animation: { amount: { keys: […] } }`. */

const isRecord = (x: unknown): x is Json => typeof x === 'object' && x !== null && !Array.isArray(x);

function step(given: unknown): unknown {
  if (!isRecord(given) || !isRecord(given.keys)) return given;
  const { keys, ...rest } = given;
  const animation = Object.fromEntries(
    Object.entries(keys as Json).map(([key, list]) => [key, { keys: list }]),
  );
  return Object.keys(animation).length > 0 ? { ...rest, animation } : rest;
}

export const from2: Upgrade = {
  from: 2,
  upgrade(document) {
    const { strands } = document;
    if (!Array.isArray(strands)) return document;
    return {
      ...document,
      strands: strands.map((strand) =>
        isRecord(strand) && Array.isArray(strand.steps)
          ? { ...strand, steps: strand.steps.map(step) }
          : strand,
      ),
    };
  },
};
