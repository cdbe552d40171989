import type { Json, Upgrade } from './upgrade';

/**
 * Version 2 names fields by their textbook words: interpolation of a key, mask and light mask of a step, transforms of layers and shapes,
 * formats of ids, operations of shapes, values of steps by what the interface calls them; and Move y of a shape counts upwards, as everywhere.
 */

const isObject = (given: unknown): given is Json =>
  typeof given === 'object' && given !== null && !Array.isArray(given);
/** Every object of a list changed; what is no list or no object is left for the check that follows. */
const each = (given: unknown, change: (one: Json) => Json): unknown =>
  Array.isArray(given) ? given.map((one) => (isObject(one) ? change(one) : one)) : given;
/** Fields under new names, in their order. */
const renamed = (given: Json, names: Readonly<Record<string, string>>): Json =>
  Object.fromEntries(
    Object.entries(given).map(([key, value]) => [Object.hasOwn(names, key) ? names[key] : key, value]),
  );
/** One field changed, where it is there. */
const withField = (given: Json, key: string, change: (value: unknown) => unknown): Json =>
  Object.hasOwn(given, key) ? { ...given, [key]: change(given[key]) } : given;

const stepTypes: Record<string, string> = {
  'depth-band': 'depth-range',
  'channel-band': 'channel-range',
  steady: 'temporal-filter',
};
const mistNames = {
  reads: 'input',
  by: 'air',
  turned: 'invertDepth',
  cap: 'maximumDensity',
  base: 'groundHeight',
  fall: 'heightFalloff',
  up: 'upAxis',
  drifts: 'noiseAmount',
  size: 'noiseSize',
  wind: 'noiseSpeed',
  windAngle: 'noiseDirection',
  change: 'noiseEvolution',
};
const valueNames: Record<string, Record<string, string>> = {
  'aperture-spikes': { turn: 'rotate', dirt: 'dust' },
  'as-matte': { by: 'channel' },
  backing: { sort: 'type' },
  bloom: { inMist: 'boostInMist', far: 'farTint' },
  'edge-light': { falls: 'falloff' },
  facing: { sort: 'measure', turned: 'facingCamera' },
  glare: { grain: 'particleSize', variety: 'sizeVariation', pigment: 'eyePigmentation' },
  glass: { clear: 'transmittance' },
  glow: { along: 'direction' },
  'grow-shrink': { by: 'distance' },
  'lens-reflections': { turn: 'rotate' },
  'light-rays': {
    turn: 'beamRotation',
    from: 'source',
    distance: 'lightDistance',
    breaks: 'beamContrast',
    beams: 'beamCount',
    drift: 'beamDrift',
    change: 'beamEvolution',
  },
  repaint: { what: 'appliesTo' },
  spikes: { shift: 'colourShift', uneven: 'irregularity' },
  'temporal-filter': { by: 'method' },
  transform: { turn: 'rotate' },
  warp: {
    size: 'noiseSize',
    detail: 'octaves',
    way: 'direction',
    drift: 'noiseSpeed',
    driftAngle: 'noiseDirection',
    change: 'noiseEvolution',
    edges: 'border',
  },
  'depth-mist': mistNames,
  'mist-density': mistNames,
};
const slotNames = { where: 'mask', within: 'lightMask', blocks: 'blocker' };

const key = (given: Json): Json =>
  withField(renamed(given, { way: 'interpolation' }), 'interpolation', (v) => (v === 'curve' ? 'ease' : v));

function step(given: Json): Json {
  const type = typeof given.type === 'string' ? given.type : '';
  const names = Object.hasOwn(valueNames, type) ? valueNames[type] : {};
  let made = { ...given };
  if (Object.hasOwn(stepTypes, type)) made.type = stepTypes[type];
  made = withField(made, 'slots', (slots) => (isObject(slots) ? renamed(slots, slotNames) : slots));
  made = withField(made, 'values', (values) => (isObject(values) ? renamed(values, names) : values));
  return withField(made, 'keys', (keys) =>
    isObject(keys)
      ? Object.fromEntries(
          Object.entries(renamed(keys, names)).map(([name, list]) => [name, each(list, key)]),
        )
      : keys,
  );
}

const layer = (given: Json): Json =>
  withField(renamed(given, { place: 'transform' }), 'transform', (t) =>
    isObject(t) ? renamed(t, { turn: 'rotate' }) : t,
  );

const shapeTransform = (given: Json): Json =>
  withField(renamed(given, { x: 'moveX', y: 'moveY', turn: 'rotate' }), 'moveY', (y) =>
    // Not −0, which is another text.
    typeof y === 'number' ? 0 - y : y,
  );

const shape = (given: Json): Json =>
  withField(renamed(given, { sort: 'operation', places: 'transforms' }), 'transforms', (list) =>
    each(list, shapeTransform),
  );

function head(given: unknown): unknown {
  if (!isObject(given)) return given;
  switch (given.type) {
    case 'ids':
      return renamed(given, { sort: 'idFormat' });
    case 'stack':
      return withField(given, 'layers', (layers) => each(layers, layer));
    case 'shapes':
      return withField(given, 'shapes', (shapes) => each(shapes, shape));
    default:
      return given;
  }
}

/** Advice that was dismissed is known by its key, which names slots. */
const dismissed = (given: unknown): unknown =>
  Array.isArray(given)
    ? given.map((key) =>
        typeof key === 'string'
          ? key
              .replace(/^rests\//, 'inactive/')
              .replace(
                /^(empty-matte\/[^/]+)\/(where|within|blocks)\b/,
                (_, of, slot: keyof typeof slotNames) => `${of}/${slotNames[slot]}`,
              )
          : key,
      )
    : given;

export const from1: Upgrade = {
  from: 1,
  upgrade: (document) =>
    withField(
      withField(document, 'strands', (strands) =>
        each(strands, (strand) =>
          withField(withField(strand, 'head', head), 'steps', (steps) => each(steps, step)),
        ),
      ),
      'dismissed',
      dismissed,
    ),
};
