import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import sharp from 'sharp';
import { PictureCache } from '../core/evaluate/cache';
import { evaluate } from '../core/evaluate/run';
import { toDisplay } from '../core/kernels/display';
import { openWorkspace } from '../core/kernels/workspace';
import { layers, patternOf } from '../demo/moth-and-comet/layers';
import { onHall, onMoth } from '../demo/recipes/on-shots';
import { shippedRecipes } from '../demo/recipes/recipes';
import { fileSource } from '../engine/node/file-source';
import { threadRuntime } from '../engine/node/runtime';

/** The pictures of the recipes that come with the program: `npx tsx tools/recipe-pictures.ts DEMO_FOLDER OUT [all]`; `all` writes both shots. */
const [demo, out, all] = process.argv.slice(2);
const [width, frame] = [480, 5];
/** Which shot shows a recipe best. */
const onDrawings = ['flame-from-one-drawing', 'golden-edge', 'soft-night'];

const runtime = threadRuntime();
const media = Object.fromEntries([
  ['orrery_hall', { pattern: join(demo, 'orrery-hall/orrery_hall.####.exr') }],
  ...layers.map((l) => [l.name, { pattern: join(demo, 'moth-and-comet', patternOf(l)), gaps: 'hold' }]),
]);
const run = { runtime, source: fileSource(media as never), cache: new PictureCache(runtime.arena, 0) };
mkdirSync(out, { recursive: true });
for (const recipe of shippedRecipes()) {
  for (const [name, made] of [
    ['hall', onHall(recipe, frame)],
    ['moth', onMoth(recipe)],
  ] as const) {
    const best = onDrawings.includes(recipe.id) ? 'moth' : 'hall';
    if (!all && name !== best) continue;
    const { finish } = made;
    const request = { finish, point: { strand: 'main', after: 'end' }, frame, scale: 1 };
    const png = await evaluate(request, run, (picture) => {
      const workspace = openWorkspace(runtime);
      const pixels = toDisplay(workspace, picture, { look: 'colour', stops: 0 });
      workspace.clear();
      const raw = { width: picture.width, height: picture.height, channels: 4 as const };
      return sharp(pixels, { raw })
        .removeAlpha()
        .resize({ width })
        .png({ palette: true, quality: 95, effort: 10 })
        .toBuffer();
    });
    writeFileSync(join(out, `${recipe.id}${all ? `-${name}` : ''}.png`), png);
    console.log(recipe.id, name, png.length);
  }
}
process.exit(0);
