import { linearOfHex } from '../../core/colour/srgb';
import { newFinish, renameStep } from '../../core/finish/edits';
import type { Finish, Head } from '../../core/finish/finish';
import { setInterpolation, setModulators, toggleKey } from '../../core/finish/key-edits';
import { pullLayerOut } from '../../core/finish/layer-edits';
import { addShapes, newShape } from '../../core/finish/shape-edits';
import { setValue, setValues } from '../../core/finish/value-edits';
import { ellipse } from '../../core/math/path';
import type { Rgb } from '../../core/math/rgb';
import { building } from '../../demo/building';
import { layers, patternOf } from '../../demo/moth-and-comet/layers';
import { lantern } from '../../demo/moth-and-comet/moth';
import { size } from '../../demo/moth-and-comet/paint';
import { cometAtRest, drawings, frameOf, poseOf } from '../../demo/moth-and-comet/pose';
import { glassColour } from '../../demo/moth-and-comet/scenery';
import { dataPath } from '../base/data-folder';
import type { NewShot } from '../shots/add-shot';

export const mothAndCometFolder = () => dataPath('demo', 'moth-and-comet');

const pass = (media: string): Head & { type: 'pass' } => ({ type: 'pass', media, pass: '' });
const stack = (...media: string[]): Head => ({
  type: 'stack',
  layers: media.map((m) => ({ media: m, pass: '', show: true, opacity: 1 })),
});
const linear = (hex: string) => linearOfHex(hex).map((v) => Number(v.toFixed(4))) as unknown as Rgb;

/** The layers over each other, as they were drawn. */
const asDrawn = (): Finish =>
  newFinish(
    'moth-and-comet-drawn',
    'As drawn',
    stack('sky', 'tail', 'comet', 'wing_far', 'body', 'eyes', 'wing_near', 'bell'),
  );

/** The comet burns, and what it shines on takes its light. */
function cometOnFire(last: number): Finish {
  const build = building(newFinish('moth-and-comet-fire', 'Comet on fire', stack('sky', 'tail', 'comet')));
  const { strand, step, link } = build;
  const poses = Array.from({ length: drawings }, (_, i) => ({
    frame: frameOf(i + 1),
    pose: poseOf(i + 1),
  })).filter(({ frame }) => frame <= last);
  const pulled = (index: number) => {
    const { edit, strand: id } = pullLayerOut(build.doc, 'main', index);
    build.edit(() => edit);
    return id;
  };
  const fire = pulled(1);
  const stone = pulled(2);

  // The one drawing of the tail goes where the comet is drawn, on twos.
  step(fire, 'transform', 'with-the-comet', { filter: 'bilinear' });
  for (const key of ['moveX', 'moveY'] as const)
    poses.forEach(({ frame, pose }, i) => {
      const by = key === 'moveX' ? pose.comet[0] - cometAtRest[0] : cometAtRest[1] - pose.comet[1];
      if (i === 0) build.edit((d) => toggleKey(d, 'with-the-comet', key, frame));
      build.edit((d) => setValue(d, 'with-the-comet', key, Math.round(by * 100) / 100, frame));
      if (i === 0) build.edit((d) => setInterpolation(d, 'with-the-comet', key, frame, 'hold'));
    });
  const placed = { type: 'tap', strand: fire, after: 'with-the-comet' } as const;

  // Three shapes of that drawing in each other, carried by the same hot air.
  const air = {
    noiseSize: 66,
    octaves: 4,
    noiseSpeed: 17,
    noiseDirection: 180,
    noiseEvolution: 0.09,
    seed: 4,
  };
  const embers = strand(
    'Embers',
    {
      type: 'gradient',
      from: [0.55, 0.015, 0.02],
      fromAlpha: 0.1,
      to: [1.25, 0.2, 0.025],
      toAlpha: 1,
      angle: 0,
    },
    'picture',
  );
  const flame = strand('Flame', placed, 'picture');
  const heart = strand('Heart', placed, 'picture');
  step(fire, 'grow-shrink', 'outer', { distance: 3 });
  step(fire, 'warp', 'hot-air', { ...air, amount: 26 });
  step(fire, 'repaint', 'red', {});
  link('red', 'paint', embers);
  step(flame, 'grow-shrink', 'middle', { distance: -9 });
  step(flame, 'warp', 'hot-air-2', { ...air, amount: 23 });
  step(flame, 'repaint', 'amber', { colour: [1.9, 0.62, 0.05] });
  step(heart, 'grow-shrink', 'inner', { distance: -21 });
  step(heart, 'warp', 'hot-air-3', { ...air, amount: 18 });
  step(heart, 'repaint', 'pale', { colour: [2.6, 1.75, 0.55] });
  for (const [id, from] of [
    ['with-flame', flame],
    ['with-heart', heart],
  ]) {
    step(fire, 'join', id, { mode: 'over', amount: id === 'with-flame' ? 0.85 : 0.9 });
    link(id, 'picture', from);
  }
  step(fire, 'glow', 'heat', {
    size: 34,
    sizes: 3,
    threshold: 0,
    knee: 0,
    gain: 1,
    amount: 0.4,
    tint: [1, 0.7, 0.45],
  });
  // It breathes.
  build.edit((d) => setModulators(d, 'heat', 'amount', [{ type: 'drift', rate: 2.5, depth: 0.14, seed: 6 }]));

  step(stone, 'repaint', 'white-hot', {
    appliesTo: 'colours',
    samples: [linear('#ffd98a'), linear('#fff3d0'), linear('#f0b04e')],
    colour: [2.2, 1.35, 0.5],
    amount: 0.4,
  });
  step(stone, 'glow', 'shine', {
    direction: 'moving',
    size: 26,
    sizes: 2,
    threshold: 0,
    knee: 0,
    amount: 0.6,
  });

  // The figure as one, in the light of what it carries.
  const moth = strand('Moth', stack('wing_far', 'body', 'eyes', 'wing_near'), 'picture');
  build.edit((d) => setValues(d, `${moth}:layer-3`, { opacity: 0.94 }));
  build.edit((d) => setValues(d, `${moth}:layer-0`, { moveX: 4, rotate: -2, pivotX: 190, pivotY: 90 }));
  const shade = strand('Shade', pass('form_shade'), 'picture');
  step(moth, 'form-shade', 'underside', { colour: [0.1, 0.08, 0.26], amount: 0.85, soft: 14 });
  link('underside', 'shape', shade, 'end', 'alpha');
  step(moth, 'warm-spill', 'firelight', { reach: 380, gains: [1.6, 1.0, 0.6], amount: 0.9 });
  link('firelight', 'light', stone, 'head', 'alpha');
  step(moth, 'edge-light', 'fire-on-edges', {
    angle: -38,
    width: 5.5,
    soft: 2.5,
    colour: [1.9, 0.72, 0.16],
    falloff: 'centre',
    centreX: cometAtRest[0] - size.width / 2,
    centreY: size.height / 2 - cometAtRest[1],
    reach: 430,
    amount: 0.9,
  });
  step(moth, 'edge-light', 'moon-on-edges', {
    angle: 42,
    width: 4,
    soft: 2,
    colour: [0.42, 0.6, 1],
    amount: 0.55,
  });
  const tip = strand('Lantern', { type: 'shapes', shapes: [] }, 'matte');
  const [x, y] = lantern(poses[0].pose);
  const moved = (by: (place: readonly [number, number]) => number) => ({
    keys: poses.map(({ frame, pose }) => ({
      frame,
      value: Math.round(by(lantern(pose)) * 100) / 100,
      interpolation: 'linear' as const,
    })),
  });
  build.edit(() =>
    addShapes(tip, [
      {
        ...newShape('shape-1', 'Tip of its body', ellipse(x, y, 34, 21)),
        feather: 9,
        animation: {
          moveX: moved((place) => place[0] - x),
          moveY: moved((place) => y - place[1]),
        },
      },
    ]),
  );
  step(moth, 'glow', 'lantern', {
    threshold: 0,
    knee: 0,
    size: 18,
    sizes: 3,
    colour: 'one',
    tint: [0.45, 1.3, 0.4],
    gain: 2.2,
    amount: 1,
  });
  link('lantern', 'lightMask', tip);
  build.edit((d) =>
    setModulators(d, 'lantern', 'gain', [{ type: 'flicker', rate: 7, depth: 0.6, roughness: 0.4, seed: 5 }]),
  );

  // Where it was a moment ago, as one flat picture.
  const ghost = strand('Afterimage', { type: 'tap', strand: moth, after: 'moon-on-edges' }, 'picture');
  step(ghost, 'transform', 'behind', { moveX: -34, moveY: -10, rotate: 3, pivotX: 150, pivotY: 64 });
  step(ghost, 'opacity', 'faint', { amount: 0.22 });
  build.edit((d) => toggleKey(d, 'faint', 'amount', 1));
  build.edit((d) => setValue(d, 'faint', 'amount', 0.08, Math.max(2, Math.round(last / 2))));
  if (last > 3) build.edit((d) => setValue(d, 'faint', 'amount', 0.22, last));

  const bell = strand('Bell', pass('bell'), 'picture');
  step(bell, 'glass', 'see-through', {
    samples: [linear(glassColour)],
    transmittance: 0.8,
    tint: [0.85, 1.05, 1.1],
  });
  step(bell, 'warm-spill', 'fire-on-glass', { reach: 240, gains: [1.8, 1.1, 0.6], amount: 0.9 });
  link('fire-on-glass', 'light', fire, 'hot-air', 'alpha');
  step(bell, 'edge-light', 'moon-on-glass', {
    angle: 24,
    width: 4,
    soft: 2,
    colour: [0.5, 0.7, 1],
    amount: 0.5,
  });

  for (const [id, from] of [
    ['with-afterimage', ghost],
    ['with-moth', moth],
  ]) {
    step('main', 'join', id, { mode: 'over' });
    link(id, 'picture', from);
  }
  step('main', 'bloom', 'bloom', {
    threshold: 0.9,
    knee: 0.5,
    radius: 150,
    amount: 0.6,
    tightness: 0.45,
    farTint: [1, 0.62, 0.4],
  });
  step('main', 'join', 'with-bell', { mode: 'over' });
  link('with-bell', 'picture', bell);
  for (const [id, name] of Object.entries({
    'with-flame': 'Flame',
    'with-heart': 'Heart',
    'with-afterimage': 'Afterimage',
    'with-moth': 'Moth',
    'with-bell': 'Bell',
    'fire-on-edges': 'Fire on edges',
    'moon-on-edges': 'Moon on edges',
    'moon-on-glass': 'Moon on glass',
    lantern: 'Lantern',
  }))
    build.edit((d) => renameStep(d, id, name));
  return build.doc;
}

/** The same as if a camera had filmed the drawings: a little soft, the corners darker, with the grain of film. */
function cometAsFilm(last: number): Finish {
  const build = building({ ...cometOnFire(last), id: 'comet-as-film', name: 'Comet as film' });
  build.step('main', 'blur', 'soft', { radius: 0.7 });
  build.step('main', 'vignette', 'corners', { by: 'shape', amount: 0.45, size: 1.1, softness: 0.7 });
  build.step('main', 'white-balance', 'warmer', { temperature: 7200 });
  build.step('main', 'curves', 'curves', {
    luminance: [
      [-5, -4.6],
      [0, 0.1],
      [2, 2.2],
    ],
    saturation: [
      [-4, 0.85],
      [0, 1.05],
      [3, 1],
    ],
  });
  build.step('main', 'grain', 'grain', { amount: 0.07, size: 2, colour: 0.25, hold: 2 });
  return build.doc;
}

/** The demo shot of drawings, and beside its first finish the untouched one and one that ends like film. */
export const mothAndComet = (last: number): { shot: NewShot; others: Finish[] } => ({
  shot: {
    project: 'Moth and Comet',
    shot: 'Shot 020',
    media: layers.map((layer) => ({
      name: layer.name,
      pattern: `${mothAndCometFolder()}/${patternOf(layer)}`,
      first: 1,
      last: layer.frames === 'still' ? 1 : last,
      gaps: layer.name === 'form_shade' ? ('empty' as const) : ('hold' as const),
    })),
    first: 1,
    last,
    rate: 24,
    ...size,
    finish: cometOnFire(last),
  },
  others: [asDrawn(), cometAsFilm(last)],
});
