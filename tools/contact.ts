import { writeFileSync } from 'node:fs';
import sharp from 'sharp';
import { PictureCache } from '../core/evaluate/cache';
import { evaluate } from '../core/evaluate/run';
import { addStep, newFinish } from '../core/finish/edits';
import { setValues } from '../core/finish/value-edits';
import { toDisplay } from '../core/kernels/display';
import { openWorkspace } from '../core/kernels/workspace';
import type { Values } from '../core/steps/define';
import { fileSource } from '../engine/node/file-source';
import { threadRuntime } from '../engine/node/runtime';

/** All light steps on a demo frame, side by side: `npx tsx tools/contact.ts FRAME.exr docs/screenshots/light-steps.png`. */
const [frameFile, out] = process.argv.slice(2);
const [columns, tile] = [3, { width: 480, height: 270 }];
const bright = { threshold: 3, knee: 1 };
const shown: [string, string | undefined, Values][] = [
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

const runtime = threadRuntime();
const source = fileSource({ hall: { pattern: frameFile } });
const cache = new PictureCache(runtime.arena, 0);
const tiles: Buffer[] = [];
for (const [name, type, values] of shown) {
  let doc = newFinish('contact', 'Contact', { type: 'pass', media: 'hall', pass: '' });
  if (type) {
    doc = addStep('main', 0, type, 'light').apply(doc);
    doc = setValues(doc, 'light', values).apply(doc);
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
writeFileSync(out, await sheet.png({ compressionLevel: 9 }).toBuffer());
process.exit(0);
