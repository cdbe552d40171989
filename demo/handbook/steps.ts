import { chooseObjects, newFinish } from '../../core/finish/edits';
import type { Finish, Head } from '../../core/finish/finish';
import { addShapes, newShape } from '../../core/finish/shape-edits';
import { ellipse } from '../../core/math/path';
import { stepSpec } from '../../core/steps/registry';
import type { Values } from '../../core/steps/shared/define';
import { building } from '../building';
import { cometAtRest } from '../moth-and-comet/pose';

/**
 * What each step is good for, and how it is shown in the handbook: on a frame of a demo shot, with values and links as somebody would set them. The
 * pictures are what goes into the step, and what comes out of it.
 */

type Source =
  | 'depth'
  | 'position'
  | 'normal'
  | 'emission'
  | 'reflection'
  | 'brass'
  | 'globe'
  | 'planets'
  | 'spot'
  | 'moth'
  | 'tail'
  | 'comet'
  | 'bell'
  | 'sky'
  | 'mist'
  | 'shade';

export type StepExample = {
  /** When one reaches for it, in one or two sentences. */
  goodFor: string;
  on: 'hall' | 'moth';
  /** What comes to it: the frame if it is not said. */
  from?: Source;
  /** Steps before it, by type and values. */
  first?: readonly (readonly [string, Values?])[];
  values?: Values;
  links?: Readonly<Record<string, Source>>;
};

const bright = { threshold: 3, knee: 1 };
const overExposed = { stops: 2.2 };

export const stepExamples: Readonly<Record<string, StepExample>> = {
  join: {
    goodFor:
      'Bring a figure over its background, add a light pass to a frame, or let one picture multiply another. Whatever is worked on by itself comes back this way.',
    on: 'moth',
    from: 'sky',
    links: { picture: 'moth' },
  },
  opacity: {
    goodFor:
      'Fade a whole figure in or out. Layers faded one by one would show through each other; one flat picture does not.',
    on: 'moth',
    from: 'moth',
    values: { amount: 0.4 },
  },
  transform: {
    goodFor: 'Place a layer, push in on a frame, or move one drawing with keys while the others stand still.',
    on: 'moth',
    from: 'moth',
    values: { moveX: 90, moveY: 60, rotate: 12, scale: 0.7 },
  },
  'pick-channels': {
    goodFor: 'Put the alpha of one pass onto another, or look at one channel of a data pass by itself.',
    on: 'hall',
    values: { red: 'green', blue: 'green' },
  },
  repair: {
    goodFor:
      'Clear a render of specks before anything spreads them: pixels that are not numbers, negative ones beside a bright sun, and single ones that flash from frame to frame.',
    on: 'hall',
    first: [['grain', { amount: 0.22, size: 0.5, shadows: 3, colour: 1 }]],
    values: { least: 0, stray: 1.15 },
  },
  premultiply: {
    goodFor: 'Mend bright fringes around a figure whose file holds straight colour.',
    on: 'moth',
    from: 'moth',
    first: [['unpremultiply']],
  },
  unpremultiply: {
    goodFor: 'Grade a figure right up to its soft edge: divide by alpha, grade, then premultiply again.',
    on: 'moth',
    from: 'moth',
  },
  caption: {
    goodFor:
      'Name the shot and count its frames on dailies, or set a title in linear light so that it can glow.',
    on: 'hall',
    values: { text: 'Orrery Hall', size: 60, moveY: -190 },
  },
  'luminance-key': {
    goodFor: 'Catch what is bright: lamps, windows, highlights. It is the usual start of a glow.',
    on: 'hall',
    values: { low: 1, lowSoft: 0.5 },
  },
  'colour-key': {
    goodFor: 'Catch one material or one painted area by its colours.',
    on: 'moth',
    values: { samples: [[0.45, 0.12, 0.12]], near: 0.06, soft: 0.05 },
  },
  'depth-range': {
    goodFor:
      'Work on what stands at a distance: the figure in front, the wall behind, or a band of air between.',
    on: 'hall',
    from: 'depth',
    values: { low: 0, lowSoft: 0, high: 9, highSoft: 4 },
  },
  'channel-range': {
    goodFor:
      'Turn any number in a data pass into a matte: height from position, up from normals, one mask of many.',
    on: 'hall',
    from: 'position',
    values: { channel: 'green', low: 3, lowSoft: 1 },
  },
  facing: {
    goodFor: 'Catch rims and grazing surfaces for reflections and edge light, without drawing them.',
    on: 'hall',
    from: 'normal',
    links: { positions: 'position' },
  },
  'position-solid': {
    goodFor:
      'Light or darken one place of the scene. It stays on its surface while the camera moves, since it is made in the scene and not on the picture.',
    on: 'hall',
    from: 'position',
    values: { shape: 'sphere', centreX: 0, centreY: 1.5, centreZ: 0, radius: 3, soft: 1 },
  },
  'as-matte': {
    goodFor: 'Use a drawing, or any picture, as a mask.',
    on: 'moth',
    from: 'moth',
    values: { channel: 'alpha' },
  },
  'alpha-edge': {
    goodFor: 'Light a drawn figure along its outline, or soften just its edge.',
    on: 'moth',
    from: 'moth',
    values: { width: 10, soft: 6 },
  },
  'grow-shrink': {
    goodFor: 'Close a gap between a matte and its figure, or draw a flame in from its edge.',
    on: 'hall',
    from: 'globe',
    values: { distance: 14 },
  },
  feather: {
    goodFor: 'Let a correction fade out, so that nobody sees where it ends.',
    on: 'hall',
    from: 'planets',
    values: { radius: 12 },
  },
  invert: { goodFor: 'Work on everything but the figure.', on: 'hall', from: 'brass' },
  'matte-levels': {
    goodFor: 'Make a soft key firm, or lift its faint parts.',
    on: 'hall',
    from: 'mist',
    values: { black: 0.25, white: 0.8 },
  },
  combine: {
    goodFor: 'Keep what lies in both mattes, join two, or cut one out of the other.',
    on: 'hall',
    from: 'brass',
    values: { mode: 'subtract' },
    links: { other: 'spot' },
  },
  clean: {
    goodFor: 'Rid a key of sparkles and pinholes before it is blurred.',
    on: 'hall',
    first: [['luminance-key', { low: 0.6, lowSoft: 0.02 }]],
    values: { specks: 8, holes: 8 },
  },
  'temporal-filter': {
    goodFor: 'Calm a key that flickers from frame to frame.',
    on: 'hall',
    first: [['luminance-key', { low: 0.6, lowSoft: 0.2 }]],
  },
  repaint: {
    goodFor: 'Give a drawing another palette: night instead of day, gold instead of grey.',
    on: 'moth',
    from: 'bell',
    values: { colour: [0.9, 0.55, 0.2] },
  },
  glass: {
    goodFor: 'Let the background shine through a drawn lantern, a bell of glass, or water.',
    on: 'moth',
    from: 'bell',
    values: { transmittance: 0.8 },
  },
  'form-shade': {
    goodFor: 'Give a flat drawing a side that is turned away from the light.',
    on: 'moth',
    links: { shape: 'spot' },
    values: { soft: 60, amount: 0.8 },
  },
  'edge-light': {
    goodFor: 'Set a figure off from its background with the light behind it.',
    on: 'moth',
    values: { width: 10, soft: 6, angle: -30, amount: 2, colour: [1, 0.72, 0.35] },
    links: { shape: 'moth' },
  },
  'warm-spill': {
    goodFor: 'Let a lantern colour the hands that hold it, and all that stands near.',
    on: 'moth',
    links: { light: 'comet' },
    values: { reach: 320, amount: 1 },
  },
  'depth-mist': {
    goodFor: 'Give a scene depth and scale: morning mist, dust in a hall, the haze of a long view.',
    on: 'hall',
    links: { depth: 'depth', positions: 'position' },
    values: { visibility: 30 },
  },
  'mist-density': {
    goodFor: 'Find out where mist is dense without laying any: for softness, for glow in mist, or as a mask.',
    on: 'hall',
    from: 'depth',
    links: { positions: 'position' },
    values: { visibility: 24 },
  },
  'depth-softness': {
    goodFor: 'Far things lose their edges in damp air. Use it under a mist.',
    on: 'hall',
    links: { density: 'mist' },
    values: { radius: 9 },
  },
  glow: {
    goodFor: 'A plain glow of one size: neon, a lamp in clear air, a flame.',
    on: 'hall',
    values: { ...bright, size: 16, amount: 1 },
  },
  bloom: {
    goodFor: 'The halo that a camera gives to anything bright. It is what most frames need first.',
    on: 'hall',
    values: { ...bright, radius: 180, amount: 1, farTint: [1, 0.7, 0.4] },
  },
  glare: {
    goodFor: 'Let a light look as bright as it does to an eye at night, or through a dusty window.',
    on: 'hall',
    values: { amount: 0.25 },
  },
  spikes: {
    goodFor: 'Glints on metal, water and jewels; stars around lamps.',
    on: 'hall',
    values: { ...bright, length: 90, amount: 1.2, angle: 25 },
  },
  'aperture-spikes': {
    goodFor: 'Stars as a real diaphragm makes them, with its number of blades and its faint colours.',
    on: 'hall',
    values: { ...bright, size: 200, amount: 1.2, dust: 0.3 },
  },
  'lens-reflections': {
    goodFor: 'Ghosts of a strong light across the frame, in line with its middle.',
    on: 'hall',
    values: { threshold: 6, amount: 1.2 },
  },
  'light-rays': {
    goodFor: 'Shafts of light through openings, from a lamp, or behind a figure that stands before the sun.',
    on: 'hall',
    values: { threshold: 1.2, knee: 0.4, centreX: 250, centreY: 430, length: 0.8, amount: 1.2 },
  },
  blur: {
    goodFor: 'Soften a background, a matte’s picture, or, very slightly, the whole frame at the end.',
    on: 'hall',
    values: { radius: 6 },
  },
  sharpen: {
    goodFor: 'Bring back what scaling or a soft filter took.',
    on: 'hall',
    values: { radius: 1.5, amount: 2 },
  },
  defocus: {
    goodFor: 'Shallow focus. Lights become discs with the shape of the aperture, as they do in a lens.',
    on: 'hall',
    values: { radius: 14, blades: 7, curvature: 0.2, rim: 0.4 },
  },
  'motion-smear': {
    goodFor: 'Motion blur for frames that were rendered or drawn without it.',
    on: 'moth',
    from: 'moth',
    values: { angle: 20, length: 60 },
  },
  fringe: {
    goodFor: 'The coloured edges of an old lens, towards the corners.',
    on: 'hall',
    values: { shift: 9 },
  },
  distortion: {
    goodFor: 'Give a rendered frame the bend of a real lens, or take it out of a plate before work.',
    on: 'hall',
    values: { k1: -0.22, k2: 0.04 },
  },
  vignette: {
    goodFor: 'Hold the eye in the middle of the frame.',
    on: 'hall',
    values: { focalLength: 14 },
  },
  warp: {
    goodFor: 'Hot air over a fire, water, and flames that are made of a still drawing.',
    on: 'moth',
    from: 'tail',
    values: { amount: 26, noiseSize: 90 },
  },
  'white-balance': {
    goodFor: 'Take a colour cast out, or put evening into a shot.',
    on: 'hall',
    values: { temperature: 4200 },
  },
  gain: {
    goodFor: 'Brighter or darker by stops; with a mask, one thing alone.',
    on: 'hall',
    values: { stops: 1, colour: [1.1, 1, 0.8] },
  },
  grade: {
    goodFor: 'Balance shots against each other by the numbers that every grading room exchanges.',
    on: 'hall',
    values: { slopeRed: 1.2, slopeBlue: 0.8, offsetBlue: 0.01, powerGreen: 1.1, saturation: 1.2 },
  },
  levels: {
    goodFor: 'Set black and white where the picture needs them.',
    on: 'hall',
    values: { black: 0.02, gamma: 1.5 },
  },
  curves: {
    goodFor: 'Lift shadows and leave lights, or the other way round. The luminance curve keeps hues.',
    on: 'hall',
    values: {
      luminance: [
        [-5, -4],
        [-1, -0.6],
        [3, 4],
      ],
    },
  },
  saturation: {
    goodFor: 'Quieter or stronger colour, a turned hue, or black and white.',
    on: 'moth',
    values: { saturation: 0.25 },
  },
  'lookup-table': {
    goodFor: 'Apply a look that came as a .cube file. Without a file the picture passes unchanged.',
    on: 'hall',
  },
  'tone-curve': {
    goodFor: 'Bring light beyond white back onto the screen, for PNG, JPEG and movies.',
    on: 'hall',
    first: [['gain', overExposed]],
    values: { exposure: 1 },
  },
  grain: {
    goodFor: 'Bind rendered layers together with the texture of film.',
    on: 'hall',
    values: { amount: 0.22, size: 3 },
  },
  backing: {
    goodFor: 'Judge a transparent layer on grey, or give it an opaque ground for a file without alpha.',
    on: 'moth',
    from: 'moth',
    values: { colour: [0.18, 0.18, 0.18] },
  },
};

const hallPass = (pass: string): Head => ({ type: 'pass', media: 'orrery_hall', pass });
const layer = (media: string): Head => ({ type: 'pass', media, pass: '' });
const stack = (...media: string[]): Head => ({
  type: 'stack',
  layers: media.map((m) => ({ media: m, pass: '', show: true, opacity: 1 })),
});
const figure = ['wing_far', 'body', 'eyes', 'wing_near'];
const ids = { type: 'ids', media: 'orrery_hall', pass: 'idobject', idFormat: 'ranked', ranks: 2 } as const;

/** The document of an example, and the points before and after the step that it shows. */
export function exampleOf(type: string): { finish: Finish; before: string; after: string } {
  const { on, from, first = [], values = {}, links = {} } = stepExamples[type];
  const whole = on === 'hall' ? hallPass('') : stack('sky', 'tail', 'comet', ...figure, 'bell');
  const build = building(newFinish('handbook', stepSpec(type)!.name, whole));
  const made = new Map<Source, string>();
  /** A strand of what an example takes from. */
  const strandOf = (source: Source): string => {
    const known = made.get(source);
    if (known) return known;
    const id = begun(source);
    made.set(source, id);
    return id;
  };
  const chosen = (objects: string[]) => {
    const id = build.strand('Objects', { ...ids, objects: [] }, 'matte');
    build.edit((doc) => chooseObjects(doc, id, objects));
    return id;
  };
  const begun = (source: Source): string => {
    switch (source) {
      case 'depth':
      case 'position':
      case 'normal':
        return build.strand(source, hallPass(source), 'data');
      case 'emission':
      case 'reflection':
        return build.strand(source, hallPass(source), 'picture');
      case 'brass':
        return chosen(['ring-*', 'meridian', 'heart', 'pedestal']);
      case 'globe':
        return chosen(['globe-*']);
      case 'planets':
        return chosen(['planet-*']);
      case 'spot':
      case 'shade': {
        const id = build.strand('Shape', { type: 'shapes', shapes: [] }, 'matte');
        const [x, y] = on === 'hall' ? [480, 300] : [760, 330];
        build.edit(() => addShapes(id, [newShape('shape-1', 'Shape', ellipse(x, y, 150, 130))]));
        return id;
      }
      case 'mist': {
        const id = build.strand('Mist', hallPass('depth'), 'data');
        build.step(id, 'mist-density', 'mist-of-depth', { visibility: 60 });
        return id;
      }
      case 'moth':
        return build.strand('Moth', stack(...figure), 'picture');
      case 'comet': {
        const id = build.strand('Light', { type: 'shapes', shapes: [] }, 'matte');
        build.edit(() =>
          addShapes(id, [newShape('shape-1', 'Comet', ellipse(cometAtRest[0], cometAtRest[1], 40, 36))]),
        );
        return id;
      }
      default:
        return build.strand(source, layer(source), 'picture');
    }
  };
  const strand = from ? strandOf(from) : 'main';
  for (const [i, [before, set]] of first.entries()) build.step(strand, before, `first-${i}`, set ?? {});
  const sources = Object.entries(links).map(([slot, source]) => ({ slot, source, strand: strandOf(source) }));
  build.step(strand, type, 'shown', values);
  for (const { slot, source, strand: tapped } of sources) {
    const isMatteSlot = stepSpec(type)!.slots[slot]?.kind === 'matte';
    const isPicture = ['moth', 'tail', 'bell', 'sky', 'emission', 'reflection'].includes(source);
    build.link('shown', slot, tapped, 'end', isMatteSlot && isPicture ? 'alpha' : undefined);
  }
  const shown = build.doc.strands.find((s) => s.id === strand)!;
  const index = shown.steps.findIndex((s) => s.id === 'shown');
  return {
    finish: { ...build.doc, main: build.doc.main },
    before: `${strand}:${index > 0 ? shown.steps[index - 1].id : 'head'}`,
    after: `${strand}:shown`,
  };
}
