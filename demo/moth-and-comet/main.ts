import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { atDesk } from '../../core/kernels/desk';
import { encodePng16 } from '../../engine/node/encode';
import { threadMachine } from '../../engine/node/machine';
import { writeWhole } from '../../engine/node/write-file';
import { fileOf, layers, strokesOn } from './layers';
import { painted } from './paint';

/**
 * Draws the layers of the demo shot: `moth-and-comet FOLDER LAST` writes the drawings of frames 1 … LAST that are not there yet, each
 * as a whole file.
 */
const [folder, last] = [process.argv[2], Number(process.argv[3])];
const machine = threadMachine();
for (let frame = 1; frame <= last; frame++)
  for (const layer of layers) {
    if (layer.frames === 'still' ? frame > 1 : !layer.frames.includes(frame)) continue;
    const path = join(folder, fileOf(layer, frame));
    if (existsSync(path)) continue;
    const picture = atDesk(machine, (desk) => painted(desk, strokesOn(layer, frame)));
    const { bytes } = await encodePng16(picture);
    machine.arena.give(picture.at);
    await writeWhole(path, bytes);
  }
