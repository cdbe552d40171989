import { createHash } from 'node:crypto';
import { writeFile } from 'node:fs/promises';
import { setTimeout as sleep } from 'node:timers/promises';
import { runMachine } from '../cli/node/machine';
import type { RenderPool } from '../engine/node/pool';

/**
 * A machine that renders nothing: it waits as long as a frame takes and gives back a file of a frame's size. `node dist/scale-node.mjs SERVER TOKEN BUILD NAME MILLIS BYTES
 * WORK MAP`; all else is what a machine does.
 */
const [server, token, build, name, millis, bytes, work, map] = process.argv.slice(2);
let turn = Promise.resolve();
let number = 0;
const pool: RenderPool = {
  processes: 1,
  places: () => 1,
  close: async () => {},
  async render({ frame, out }) {
    // One after the other, as a machine with one place has them.
    const mine = turn.then(() => sleep(Number(millis)));
    turn = mine.then(() => {});
    await mine;
    const file = Buffer.alloc(Number(bytes), frame);
    file.writeUInt32LE(number++, 0);
    await writeFile(out, file);
    const digest = createHash('sha256').update(file).digest('hex');
    return {
      frame,
      key: `${name} ${number}`,
      bytes: file.length,
      digest,
      millis: Number(millis),
      megabytes: 100,
    };
  },
};
const [there, here] = map.split('=');
const stop = new AbortController();
process.on('SIGTERM', () => stop.abort());
await runMachine(
  {
    ...{ server, token, work, pool, stop },
    map: [{ there, here }],
    cacheBytes: 2 ** 32,
    self: { name, cores: 1, megabytes: 1000, places: 1, build },
  },
  () => {},
);
process.exit(0);
