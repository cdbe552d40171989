import { writeFileSync } from 'node:fs';
import sharp from 'sharp';
import { PictureCache } from '../core/evaluate/cache';
import { evaluate } from '../core/evaluate/run';
import { addStep, linkPass, newFinish } from '../core/finish/edits';
import { setValues } from '../core/finish/value-edits';
import { toDisplay } from '../core/kernels/display';
import { openWorkspace } from '../core/kernels/workspace';
import type { Values } from '../core/steps/shared/define';
import { fileSource } from '../engine/node/file-source';
import { threadRuntime } from '../engine/node/runtime';

/** All light steps, or all of lens and finish, on a demo frame, side by side: `npx tsx tools/contact.ts FRAME.exr docs/screenshots/light-steps.png [lens]`. */
const [frameFile, out, which] = process.argv.slice(2);
const [columns, tile] = [3, { width: 480, height: 270 }];
const bright = { threshold: 3, knee: 1 };
const lightSteps: [string, string | undefined, Values][] = [
  ['As rendered', undefined, {}],
  ['Glow', 'glow', { ...bright, size: 16, amount: 1 }],
  ['Bloom', 'bloom', { ...bright, radius: 180, amount: 1, farTint: [1, 0.7, 0.4] }],
  ['Glare', 'glare', { amount: 0.25 }],
  ['Spikes', 'spikes', { ...bright, length: 90, amount: 1.2, angle: 25 }],
  ['Diffraction', 'aperture-spikes', { ...bright, size: 200, amount: 1.2, dust: 0.3 }],
  ['Lens reflections', 'lens-reflections', { threshold: 6, amount: 1.2 }],
  [
    'Light rays',
    'light-rays',
    { threshold: 1.2, knee: 0.4, centreX: 250, centreY: 430, length: 0.8, amount: 1.2 },
  ],
  [
    'Far sun',
    'light-rays',
    { threshold: 1.2, knee: 0.4, source: 'direction', angle: -120, reach: 260, amount: 1.5 },
  ],
];

const curve = [
  [-5, -5.6],
  [-1, -0.9],
  [3, 4],
];
const lensSteps: typeof lightSteps = [
  ['As rendered', undefined, {}],
  ['Blur', 'blur', { radius: 5 }],
  ['Sharpen', 'sharpen', { radius: 1.5, amount: 2 }],
  ['Defocus, seven blades', 'defocus', { radius: 14, blades: 7, curvature: 0.2, rim: 0.4 }],
  ['Defocus by depth', 'defocus', { by: 'lens', focus: 9.5, fNumber: 0.7, focalLength: 85, most: 24 }],
  ['Motion smear', 'motion-smear', { angle: 20, length: 46 }],
  ['Fringe', 'fringe', { shift: 7 }],
  ['Distortion', 'distortion', { k1: -0.16, k2: 0.03 }],
  ['Vignette', 'vignette', { focalLength: 14 }],
  ['White balance', 'white-balance', { temperature: 4200 }],
  ['Grade', 'grade', { slopeRed: 1.2, slopeBlue: 0.8, offsetBlue: 0.01, powerGreen: 1.1, saturation: 1.2 }],
  ['Levels', 'levels', { black: 0.02, gamma: 1.5 }],
  ['Curves, luminance', 'curves', { luminance: curve }],
  ['Saturation and hue', 'saturation', { saturation: 1.6, hue: 25 }],
  ['Gain', 'gain', { stops: 0.8, colour: [1.1, 1, 0.8] }],
  ['Tone curve, Hable', 'tone-curve', { exposure: 1.5 }],
  ['Tone curve, Reinhard', 'tone-curve', { curve: 'reinhard', exposure: 1.5 }],
  ['Grain', 'grain', { amount: 0.22, size: 3 }],
];
const shown = which === 'lens' ? lensSteps : lightSteps;

const runtime = threadRuntime();
const source = fileSource({ hall: { pattern: frameFile } });
const cache = new PictureCache(runtime.arena, 0);
const tiles: Buffer[] = [];
for (const [name, type, values] of shown) {
  let doc = newFinish('contact', 'Contact', { type: 'pass', media: 'hall', pass: '' });
  if (type) {
    doc = addStep('main', 0, type, 'light').apply(doc);
    doc = setValues(doc, 'light', values).apply(doc);
    if (values.by === 'lens')
      doc = linkPass(
        doc,
        'light',
        'depth',
        { type: 'pass', media: 'hall', pass: 'depth' },
        'depth',
        undefined,
        'data',
      ).apply(doc);
  }
  doc = addStep('main', type ? 1 : 0, 'caption', 'name').apply(doc);
  doc = setValues(doc, 'name', { text: name, size: 30, moveX: -455, moveY: -240, align: 'left' }).apply(doc);
  const point = { strand: 'main', after: 'end' };
  const pixels = await evaluate(
    { finish: doc, point, frame: 1, scale: 1 },
    { runtime, source, cache },
    (p) => {
      const workspace = openWorkspace(runtime);
      const shownPixels = Buffer.from(toDisplay(workspace, p, { look: 'colour', stops: 0 }));
      workspace.clear();
      return { raw: { width: p.width, height: p.height, channels: 4 as const }, data: shownPixels };
    },
  );
  tiles.push(await sharp(pixels.data, { raw: pixels.raw }).resize(tile.width, tile.height).png().toBuffer());
}
const sheet = sharp({
  create: {
    width: columns * (tile.width + 4) - 4,
    height: Math.ceil(shown.length / columns) * (tile.height + 4) - 4,
    channels: 3,
    background: '#161616',
  },
}).composite(
  tiles.map((input, i) => ({
    input,
    left: (i % columns) * (tile.width + 4),
    top: Math.floor(i / columns) * (tile.height + 4),
  })),
);
writeFileSync(out, await sheet.png({ compressionLevel: 9, palette: which === 'lens' }).toBuffer());
process.exit(0);
