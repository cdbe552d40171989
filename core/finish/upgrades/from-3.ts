import type { Json, Upgrade } from './upgrade';

/**
 * Paths and transforms of shapes become values with tracks like all others: `paths` and `transforms`, lists of keys, are `path` and `transform`, and
 * where there were several, or the shape was `animated`, keys in `animation`, that go on linearly as they did. The source of a guide says its type.
 */

const isObject = (given: unknown): given is Json =>
  typeof given === 'object' && given !== null && !Array.isArray(given);
const listOf = (given: unknown): Json[] => (Array.isArray(given) ? given.filter(isObject) : []);

const parts = ['moveX', 'moveY', 'rotate', 'scale'] as const;
/** Bounds that keys have and lists of transforms had not. */
const bounds = { moveX: 32768, moveY: 32768, rotate: 3600, scale: 1000 } as const;
const within = (part: (typeof parts)[number], value: unknown) =>
  typeof value === 'number' ? Math.min(bounds[part], Math.max(-bounds[part], value)) : value;

const key = (frame: unknown, value: unknown) => ({ frame, value, interpolation: 'linear' });

function shape(given: Json): Json {
  const { paths: listed, transforms: moved, animated, ...rest } = given;
  if (!Array.isArray(listed) || listed.length === 0) return given;
  const [paths, transforms] = [listOf(listed), listOf(moved)];
  const isKeyed = (keys: readonly Json[]) => keys.length > 1 || (animated === true && keys.length > 0);
  const animation: Json = {};
  if (isKeyed(paths)) animation.path = { keys: paths.map((k) => key(k.frame, k.points)) };
  if (isKeyed(transforms))
    for (const part of parts)
      animation[part] = { keys: transforms.map((k) => key(k.frame, within(part, k[part]))) };
  const [first] = transforms;
  const { frame: _, ...transform } = first ?? {};
  return {
    ...rest,
    path: paths[0].points,
    ...(first ? { transform } : {}),
    ...(Object.keys(animation).length > 0 ? { animation } : {}),
  };
}

const guide = (given: unknown): unknown =>
  isObject(given) && isObject(given.source)
    ? { ...given, source: { type: 'middle', ...given.source } }
    : given;

export const from3: Upgrade = {
  from: 3,
  upgrade(document) {
    const { strands, guides } = document;
    if (!Array.isArray(strands)) return document;
    return {
      ...document,
      ...(guides === undefined ? {} : { guides: Array.isArray(guides) ? guides.map(guide) : guides }),
      strands: strands.map((strand) => {
        const head = isObject(strand) ? strand.head : undefined;
        if (!isObject(head) || head.type !== 'shapes' || !Array.isArray(head.shapes)) return strand;
        const shapes = head.shapes.map((s) => (isObject(s) ? shape(s) : s));
        return { ...strand, head: { ...head, shapes } };
      }),
    };
  },
};
