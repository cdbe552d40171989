import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { withWorkspace } from '../../core/kernels/workspace';
import { encode } from '../../engine/node/encode';
import { threadRuntime } from '../../engine/node/runtime';
import { writeWhole } from '../../engine/node/write-file';
import { fileOf, layers, strokesOn } from './layers';
import { painted } from './paint';

/**
 * Draws the layers of the demo shot: `moth-and-comet FOLDER LAST` writes the drawings of frames 1 … LAST that are not there yet, each
 * as a whole file.
 */
const [folder, last] = [process.argv[2], Number(process.argv[3])];
const runtime = threadRuntime();
for (let frame = 1; frame <= last; frame++)
  for (const layer of layers) {
    if (layer.frames === 'still' ? frame > 1 : !layer.frames.includes(frame)) continue;
    const path = join(folder, fileOf(layer, frame));
    if (existsSync(path)) continue;
    const picture = withWorkspace(runtime, (workspace) => painted(workspace, strokesOn(layer, frame)));
    const { bytes } = await encode(picture, { format: 'png16' });
    runtime.arena.give(picture.at);
    await writeWhole(path, bytes);
  }
