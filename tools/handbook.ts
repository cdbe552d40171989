import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import sharp from 'sharp';
import { PictureCache } from '../core/evaluate/cache';
import { evaluate } from '../core/evaluate/run';
import { kindAt } from '../core/finish/flow';
import { toDisplay } from '../core/kernels/display';
import { toLookAt } from '../core/kernels/plane';
import { openWorkspace } from '../core/kernels/workspace';
import { dataRange } from '../core/scopes/looking';
import { exampleOf, stepExamples } from '../demo/handbook/steps';
import { layers, patternOf } from '../demo/moth-and-comet/layers';
import { fileSource } from '../engine/node/file-source';
import { threadRuntime } from '../engine/node/runtime';
import { stepPages } from './handbook-steps';

/**
 * Writes the pages of the steps of the handbook, and with a folder of the demo's frames their pictures too:
 * `npx tsx tools/handbook.ts [DEMO_FOLDER [STEP …]]`.
 */
const [demo, ...only] = process.argv.slice(2);
const out = 'docs/handbook';
const width = 420;
const frame = 5;

mkdirSync(join(out, 'steps'), { recursive: true });
for (const [name, page] of Object.entries(stepPages())) writeFileSync(join(out, 'steps', `${name}.md`), page);

if (demo) {
  const runtime = threadRuntime();
  const media = Object.fromEntries([
    ['orrery_hall', { pattern: join(demo, 'orrery-hall/orrery_hall.####.exr') }],
    ...layers.map((l) => [l.name, { pattern: join(demo, 'moth-and-comet', patternOf(l)), gaps: 'hold' }]),
  ]);
  const run = { runtime, source: fileSource(media as never), cache: new PictureCache(runtime.arena, 0) };
  const folder = join(out, 'pictures/steps');
  mkdirSync(folder, { recursive: true });
  for (const type of Object.keys(stepExamples)) {
    if (only.length > 0 && !only.includes(type)) continue;
    const { finish, before, after } = exampleOf(type);
    for (const [name, at] of [
      ['before', before],
      ['after', after],
    ] as const) {
      const [strand, step] = at.split(':');
      const point = { strand, after: step };
      const isData = kindAt(finish, strand, step) === 'data';
      const webp = await evaluate({ finish, point, frame, scale: 1 }, run, (picture) => {
        const workspace = openWorkspace(runtime);
        const shown = toLookAt(workspace, picture);
        const range = isData ? dataRange(shown) : undefined;
        const pixels = toDisplay(workspace, shown, { look: 'colour', stops: 0, range });
        const raw = { width: shown.width, height: shown.height, channels: 4 as const };
        const made = sharp(Buffer.from(pixels), { raw })
          .flatten({ background: '#2c2c2c' })
          .resize({ width })
          .webp({ quality: 82, effort: 6 })
          .toBuffer();
        workspace.clear();
        return made;
      });
      writeFileSync(join(folder, `${type}-${name}.webp`), webp);
    }
    console.log(type);
  }
}
process.exit(0);
