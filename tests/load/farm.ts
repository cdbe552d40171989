import { type ChildProcess, spawn } from 'node:child_process';
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { addStep, newFinish } from '../../core/finish/edits';
import type { Finish } from '../../core/finish/finish';
import { setValue } from '../../core/finish/value-edits';
import { writeExr } from '../../core/formats/exr/write';
import { nodeZlib } from '../../engine/node/zlib';
import { root } from '../server/instance';

/** What tests of machines that render have in common: frames that take a while, their finish, and machines to be ended and started. */

export const frameSize = { width: 1280, height: 720 };

/** A frame with sparks of light, other ones on each. */
export function writeSparks(folder: string, frame: number): void {
  const { width, height } = frameSize;
  const channels = [...'RGBA'].map((name, c) => ({
    name,
    type: 'float' as const,
    samples: Float32Array.from({ length: width * height }, (_, i) =>
      name === 'A'
        ? 1
        : ((i * 2654435761 + frame * 97 + c * 31) >>> 0) % 4096 === 0
          ? 40
          : 0.02 * (1 + (i % 7)),
    ),
  }));
  const dataWindow = { xMin: 0, yMin: 0, xMax: width - 1, yMax: height - 1 };
  writeFileSync(
    join(folder, `hall.${String(frame).padStart(4, '0')}.exr`),
    writeExr({ channels, dataWindow, compression: 'none' }, nodeZlib),
  );
}

export function litFinish(): Finish {
  let finish = newFinish('finish', 'Lit', { type: 'pass', media: 'hall', pass: '' });
  finish = addStep('main', 0, 'bloom', 'bloom').apply(finish);
  finish = setValue(finish, 'bloom', 'threshold', 0.3).apply(finish);
  finish = addStep('main', 1, 'light-rays', 'rays').apply(finish);
  return addStep('main', 2, 'blur', 'blur').apply(finish);
}

export type Machine = { process: ChildProcess; said(): string };

/** Starts a machine that renders, in a process group of its own; `before` stands before the command. */
export function startMachine(
  { server, token, work }: { server: string; token: string; work: string },
  args: readonly string[],
  before: readonly string[] = [],
): Machine {
  const [file, ...rest] = [
    ...before,
    ...[join(root, 'zafiro'), 'node', '--server', server, '--work', work],
    ...args,
  ];
  const child = spawn(file, rest, {
    cwd: work,
    env: { ...process.env, ZAFIRO_NODE_TOKEN: token },
    detached: true,
  });
  let said = '';
  for (const out of [child.stdout, child.stderr]) out!.on('data', (d) => (said += d));
  return { process: child, said: () => said };
}
