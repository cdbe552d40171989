import type { Recipe } from '../../core/recipes/recipe';
import { shipped } from './shipped';

/** The recipes that come with the program. */

const warm = [1, 0.82, 0.55] as const;

const radiantObject = () =>
  shipped({
    id: 'radiant-object',
    name: 'Radiant object',
    description:
      'An object that shines: a glow at its heart, short rays within its outline, and long ones beyond it that move slowly. Use it for lamps, jewels and stars.',
    tags: ['light', 'rays'],
    slots: { Object: 'What shines: its id matte, or the alpha of its layer.' },
    build(by) {
      const object = by.matte('Object');
      by.main('glow', 'heart', 'Heart', {
        threshold: 0,
        knee: 0,
        size: 16,
        sizes: 3,
        amount: 0.55,
        tint: warm,
      });
      by.link('heart', 'lightMask', object);
      const beams = { threshold: 0, knee: 0, falloff: 1, beamCount: 46, tint: warm };
      by.main('light-rays', 'short', 'Short rays', {
        ...beams,
        length: 0.5,
        beamContrast: 0.45,
        beamEvolution: 0.05,
        amount: 0.7,
      });
      by.link('short', 'lightMask', object);
      by.link('short', 'mask', object);
      by.main('light-rays', 'long', 'Long rays', {
        ...beams,
        length: 0.94,
        beamContrast: 0.6,
        beamDrift: 0.12,
        beamEvolution: 0.05,
        amount: 1.4,
        invert: true,
      });
      by.link('long', 'lightMask', object);
      by.link('long', 'mask', object);
    },
    front: [
      {
        name: 'Centre x',
        drives: [
          ['long', 'centreX'],
          ['short', 'centreX'],
        ],
      },
      {
        name: 'Centre y',
        drives: [
          ['long', 'centreY'],
          ['short', 'centreY'],
        ],
      },
      {
        name: 'Reach',
        description: 'How far the rays go.',
        drives: [
          ['long', 'length'],
          ['short', 'length'],
        ],
      },
      {
        name: 'Strength',
        description: 'Of the glow and of all rays.',
        drives: [
          ['long', 'amount'],
          ['short', 'amount'],
          ['heart', 'amount'],
        ],
      },
      {
        name: 'Glow',
        description: 'How far the glow at its heart spreads.',
        drives: [['heart', 'size']],
        soft: [1, 80],
      },
      {
        name: 'Beams',
        description: 'How unlike the rays are.',
        drives: [
          ['long', 'beamContrast'],
          ['short', 'beamContrast'],
        ],
      },
      {
        name: 'Movement',
        description: 'How much the rays change from frame to frame.',
        drives: [
          ['long', 'beamEvolution'],
          ['short', 'beamEvolution'],
        ],
      },
      {
        name: 'Tint',
        drives: [
          ['long', 'tint'],
          ['short', 'tint'],
          ['heart', 'tint'],
        ],
      },
    ],
  });

const lampsInMist = () =>
  shipped({
    id: 'lamps-in-mist',
    name: 'Lamps in mist',
    description:
      'Mist by depth in which lamps have halos, the wider the more mist lies before them. Use it for mornings, harbours and halls.',
    tags: ['air', 'light'],
    slots: { Depth: 'Distances from the camera.', Lamps: 'What shines, and nothing else.' },
    build(by) {
      const depth = by.pass('Depth', 'depth');
      const lamps = by.pass('Lamps', 'emission');
      const air = { near: 9, far: 60, curve: 'exponential', visibility: 80, sky: 0.6, maximumDensity: 0.9 };
      const density = by.strand('Density', { type: 'tap', strand: depth, after: 'head' }, 'data');
      by.step(density, 'mist-density', 'density', air);
      by.main('depth-mist', 'mist', 'Mist', {
        ...air,
        stops: [
          [0, 1, 0.42, 0.45, 0.5],
          [1, 1, 0.72, 0.74, 0.78],
        ],
      });
      by.link('mist', 'depth', depth);
      by.main('depth-softness', 'softness', 'Softness', { radius: 1.4 });
      by.link('softness', 'density', density);
      by.main('bloom', 'halo', 'Halos', {
        threshold: 0,
        knee: 0,
        radius: 130,
        amount: 0.6,
        tightness: 0.5,
        boostInMist: 2.5,
        farTint: [1, 0.8, 0.6],
      });
      by.link('halo', 'light', lamps);
      by.link('halo', 'mist', density);
    },
    front: [
      {
        name: 'Visibility',
        description: 'The distance at which contrast falls to 2 %.',
        drives: [
          ['mist', 'visibility'],
          ['density', 'visibility'],
        ],
        soft: [5, 300],
      },
      {
        name: 'Near',
        drives: [
          ['mist', 'near'],
          ['density', 'near'],
        ],
        soft: [0, 60],
      },
      {
        name: 'Maximum density',
        drives: [
          ['mist', 'maximumDensity'],
          ['density', 'maximumDensity'],
        ],
      },
      { name: 'Halo', description: 'Radius of the halos.', drives: [['halo', 'radius']], soft: [10, 400] },
      { name: 'Lamps', description: 'Strength of the halos.', drives: [['halo', 'amount']] },
      { name: 'Softness', drives: [['softness', 'radius']], soft: [0, 12] },
    ],
  });

const lightThroughOpenings = () =>
  shipped({
    id: 'light-through-openings',
    name: 'Light through openings',
    description:
      'Beams out of windows, slots and gaps, with dust in them that moves, and a soft edge around each opening. Draw the openings, or key them.',
    tags: ['light', 'rays', 'air'],
    slots: { Openings: 'Where the light comes in: drawn shapes, or a key of what is bright there.' },
    build(by) {
      const openings = by.matte('Openings');
      by.main('glow', 'spill', 'Around the openings', {
        threshold: 0,
        knee: 0,
        size: 14,
        sizes: 3,
        amount: 0.35,
        tint: [1, 0.9, 0.7],
      });
      by.link('spill', 'lightMask', openings);
      by.main('light-rays', 'beams', 'Beams', {
        threshold: 0,
        knee: 0,
        centreX: 250,
        centreY: 430,
        length: 0.85,
        falloff: 1,
        beamContrast: 0.5,
        beamCount: 160,
        beamEvolution: 0.06,
        amount: 1.5,
        tint: [1, 0.86, 0.62],
      });
      by.link('beams', 'lightMask', openings);
    },
    front: [
      {
        name: 'Centre x',
        description: 'Where the beams come from, from the middle to the right.',
        drives: [['beams', 'centreX']],
      },
      {
        name: 'Centre y',
        description: 'Where the beams come from, from the middle upwards.',
        drives: [['beams', 'centreY']],
      },
      { name: 'Length', drives: [['beams', 'length']] },
      {
        name: 'Strength',
        drives: [
          ['beams', 'amount'],
          ['spill', 'amount'],
        ],
      },
      { name: 'Dust', description: 'How unlike the beams are.', drives: [['beams', 'beamContrast']] },
      {
        name: 'Movement',
        description: 'How much they change from frame to frame.',
        drives: [['beams', 'beamEvolution']],
      },
      {
        name: 'Tint',
        drives: [
          ['beams', 'tint'],
          ['spill', 'tint'],
        ],
      },
    ],
  });

const reflectionsByAngle = () =>
  shipped({
    id: 'reflections-by-angle',
    name: 'Reflections by angle',
    description:
      'Adds a reflection pass where surfaces turn away, as Fresnel’s equations say for glass, lacquer or water. Use it to polish a render afterwards.',
    tags: ['surface', 'passes'],
    slots: {
      Reflection: 'The light that is reflected, by itself.',
      Normals: 'Directions of the surfaces.',
      Positions: 'Where they are in the scene: angles are then exact at the borders too.',
    },
    build(by) {
      const reflection = by.pass('Reflection', 'picture');
      const normals = by.pass('Normals', 'normal');
      const positions = by.pass('Positions', 'position');
      const angle = by.strand('Angle', { type: 'tap', strand: normals, after: 'head' }, 'data');
      by.step(angle, 'facing', 'fresnel', { measure: 'exact', index: 1.5, black: 0.04 });
      by.link('fresnel', 'positions', positions);
      by.main('join', 'polish', 'Polish', { mode: 'plus', amount: 0.9 });
      by.link('polish', 'picture', reflection);
      by.link('polish', 'mask', angle);
    },
    front: [
      { name: 'Strength', drives: [['polish', 'amount']] },
      { name: 'Index of refraction', drives: [['fresnel', 'index']] },
      {
        name: 'Black point',
        description: 'What is reflected less than this straight on is left out.',
        drives: [['fresnel', 'black']],
      },
    ],
  });

const flameFromOneDrawing = () =>
  shipped({
    id: 'flame-from-one-drawing',
    name: 'Flame from one drawing',
    description:
      'One drawn shape burns: three flames in each other, carried by the same hot air, and the glow of their heat. Put it on the strand of the drawing.',
    tags: ['drawings', 'light'],
    build(by) {
      const air = {
        noiseSize: 66,
        octaves: 4,
        noiseSpeed: 17,
        noiseDirection: 90,
        noiseEvolution: 0.09,
        seed: 4,
      };
      const embers = by.strand(
        'Embers',
        {
          type: 'gradient',
          from: [0.55, 0.015, 0.02],
          fromAlpha: 0.35,
          to: [1.25, 0.2, 0.025],
          toAlpha: 1,
          angle: -90,
        },
        'picture',
      );
      const drawn = { type: 'tap', strand: 'main', after: 'head' } as const;
      const flame = by.strand('Flame', drawn, 'picture');
      const heart = by.strand('Heart', drawn, 'picture');
      by.main('grow-shrink', 'outer', 'Outline', { distance: 3 });
      by.main('warp', 'air', 'Hot air', { ...air, amount: 26 });
      by.main('repaint', 'red', 'Embers', {});
      by.link('red', 'paint', embers);
      by.step(flame, 'grow-shrink', 'middle', { distance: -7 });
      by.step(flame, 'warp', 'air-2', { ...air, amount: 23 });
      by.step(flame, 'repaint', 'amber', { colour: [1.9, 0.62, 0.05] });
      by.step(heart, 'grow-shrink', 'inner', { distance: -16 });
      by.step(heart, 'warp', 'air-3', { ...air, amount: 18 });
      by.step(heart, 'repaint', 'pale', { colour: [2.6, 1.75, 0.55] });
      by.main('join', 'with-flame', 'Flame', { mode: 'over', amount: 0.85 });
      by.link('with-flame', 'picture', flame);
      by.main('join', 'with-heart', 'Heart', { mode: 'over', amount: 0.9 });
      by.link('with-heart', 'picture', heart);
      by.main('glow', 'heat', 'Heat', {
        size: 34,
        sizes: 3,
        threshold: 0,
        knee: 0,
        amount: 0.4,
        tint: [1, 0.7, 0.45],
      });
    },
    front: [
      {
        name: 'Unrest',
        description: 'How far the air carries the flames.',
        drives: [
          ['air', 'amount'],
          ['air-2', 'amount'],
          ['air-3', 'amount'],
        ],
        soft: [0, 80],
      },
      {
        name: 'Flames',
        description: 'Size of the tongues of flame.',
        drives: [
          ['air', 'noiseSize'],
          ['air-2', 'noiseSize'],
          ['air-3', 'noiseSize'],
        ],
        soft: [8, 240],
      },
      {
        name: 'Speed',
        description: 'How fast the air rises, per frame.',
        drives: [
          ['air', 'noiseSpeed'],
          ['air-2', 'noiseSpeed'],
          ['air-3', 'noiseSpeed'],
        ],
        soft: [0, 60],
      },
      {
        name: 'Direction',
        description: 'Where the air goes; 90 is up.',
        drives: [
          ['air', 'noiseDirection'],
          ['air-2', 'noiseDirection'],
          ['air-3', 'noiseDirection'],
        ],
      },
      { name: 'Flame', description: 'Colour of the flame.', drives: [['amber', 'colour']] },
      { name: 'Heart', description: 'Colour of its heart.', drives: [['pale', 'colour']] },
      { name: 'Heat', description: 'Strength of the glow.', drives: [['heat', 'amount']] },
    ],
  });

const goldenEdge = () =>
  shipped({
    id: 'golden-edge',
    name: 'Golden edge',
    description:
      'A low sun from behind: a bright edge on the side that it comes from, a faint one all around, and warmth that bleeds from it. For figures with an alpha, or with a matte.',
    tags: ['surface', 'drawings', 'light'],
    slots: { Figure: 'Whose edges are lit. Without it the picture’s own alpha is taken.' },
    build(by) {
      const figure = by.matte('Figure');
      by.main('edge-light', 'around', 'All around', {
        angle: 90,
        width: 2.5,
        soft: 1.6,
        colour: [1.2, 0.62, 0.2],
        amount: 0.35,
      });
      by.link('around', 'shape', figure);
      by.main('edge-light', 'sun', 'Sun', {
        angle: 35,
        width: 7,
        soft: 3,
        colour: [2.2, 1.15, 0.35],
        amount: 0.9,
      });
      by.link('sun', 'shape', figure);
      by.main('glow', 'bleed', 'Bleeding', {
        threshold: 1.2,
        knee: 0.5,
        size: 18,
        sizes: 3,
        amount: 0.35,
        tint: [1, 0.72, 0.4],
      });
    },
    front: [
      {
        name: 'Angle',
        description: 'Where the sun stands, counter-clockwise from the right.',
        drives: [['sun', 'angle']],
      },
      {
        name: 'Width',
        drives: [
          ['sun', 'width'],
          ['around', 'width'],
        ],
        soft: [0, 40],
      },
      {
        name: 'Softness',
        drives: [
          ['sun', 'soft'],
          ['around', 'soft'],
        ],
        soft: [0, 20],
      },
      {
        name: 'Strength',
        drives: [
          ['sun', 'amount'],
          ['around', 'amount'],
        ],
      },
      { name: 'Colour', drives: [['sun', 'colour']] },
      {
        name: 'Bleeding',
        description: 'Strength of the glow of the bright edge.',
        drives: [['bleed', 'amount']],
      },
    ],
  });

const softNight = () =>
  shipped({
    id: 'soft-night',
    name: 'Soft night',
    description:
      'Day for night: darker, bluer, less colour in the shade, while lamps go on shining; a little grain. Put it last.',
    tags: ['finish', 'light'],
    slots: { Lamps: 'What goes on shining: the emission pass.' },
    build(by) {
      const lamps = by.pass('Lamps', 'emission');
      by.main('gain', 'dark', 'Darkness', { stops: -1.8 });
      by.main('white-balance', 'moon', 'Moonlight', { temperature: 4300 });
      by.main('saturation', 'shade', 'Colour', { saturation: 0.62 });
      by.main('bloom', 'lamps', 'Lamps', {
        threshold: 0,
        knee: 0,
        radius: 120,
        amount: 0.5,
        tightness: 0.6,
        farTint: [1, 0.72, 0.42],
      });
      by.link('lamps', 'light', lamps);
      by.main('vignette', 'corners', 'Corners', { by: 'shape', amount: 0.5, size: 1.15, softness: 0.75 });
      by.main('grain', 'grain', 'Grain', { amount: 0.05, size: 1.5 });
    },
    front: [
      {
        name: 'Exposure',
        description: 'Stops by which it becomes darker.',
        drives: [['dark', 'stops']],
        soft: [-4, 0],
      },
      {
        name: 'Temperature',
        description: 'Lower is bluer.',
        drives: [['moon', 'temperature']],
        soft: [2500, 9000],
      },
      {
        name: 'Colour',
        description: 'How much colour is left.',
        drives: [['shade', 'saturation']],
        soft: [0, 1],
      },
      { name: 'Lamps', description: 'Strength of what goes on shining.', drives: [['lamps', 'amount']] },
      { name: 'Corners', drives: [['corners', 'amount']] },
      { name: 'Grain', drives: [['grain', 'amount']], soft: [0, 0.3] },
    ],
  });

const starGlints = () =>
  shipped({
    id: 'star-glints-on-metal',
    name: 'Star glints on metal',
    description:
      'Small stars on the brightest places of polished metal: two sets of rays, the second shorter and between the first.',
    tags: ['light', 'surface'],
    slots: { Metal: 'What is polished. Without it, all that is bright glints.' },
    build(by) {
      const metal = by.matte('Metal');
      by.main('spikes', 'long', 'Long rays', {
        threshold: 1.6,
        knee: 0.4,
        rays: 4,
        angle: 38,
        length: 80,
        amount: 1.3,
        width: 0.7,
      });
      by.link('long', 'lightMask', metal);
      by.main('spikes', 'short', 'Short rays', {
        threshold: 1.6,
        knee: 0.4,
        rays: 4,
        angle: 83,
        length: 30,
        amount: 0.8,
        width: 0.6,
      });
      by.link('short', 'lightMask', metal);
      by.main('glow', 'core', 'Cores', { threshold: 1.6, knee: 0.4, size: 5, sizes: 2, amount: 0.35 });
      by.link('core', 'lightMask', metal);
    },
    front: [
      {
        name: 'Threshold',
        description: 'Luminance from which metal glints.',
        drives: [
          ['long', 'threshold'],
          ['short', 'threshold'],
          ['core', 'threshold'],
        ],
      },
      {
        name: 'Length',
        drives: [
          ['long', 'length'],
          ['short', 'length'],
        ],
        soft: [4, 400],
      },
      { name: 'Angle', drives: [['long', 'angle']] },
      {
        name: 'Rays',
        drives: [
          ['long', 'rays'],
          ['short', 'rays'],
        ],
      },
      {
        name: 'Strength',
        drives: [
          ['long', 'amount'],
          ['short', 'amount'],
          ['core', 'amount'],
        ],
      },
    ],
  });

/** All of them. */
export const shippedRecipes = (): Recipe[] => [
  radiantObject(),
  lampsInMist(),
  lightThroughOpenings(),
  reflectionsByAngle(),
  flameFromOneDrawing(),
  goldenEdge(),
  softNight(),
  starGlints(),
];
