import { spawnSync } from 'node:child_process';
import { expect, test } from 'vitest';
import { newFinish } from './edits';
import { finishFileName, runCommand } from './run-command';

const media = (name: string, pattern: string, more: object = {}) => ({
  name,
  pattern,
  encoding: null,
  gaps: 'missing' as const,
  ...more,
});

test('the command has the media that the finish uses, as the shot reads them, and a shell reads it word for word', () => {
  const finish = newFinish('f', 'Ada’s été, #2', { type: 'pass', media: 'hall', pass: '' });
  const command = runCommand(finish, {
    media: [
      media('hall', "/renders/it's here/hall.####.exr", { gaps: 'hold', encoding: 'srgb' }),
      media('other', '/x/other.####.exr'),
    ],
    first: 3,
    last: 24,
  });
  const words = spawnSync('sh', ['-c', `printf '%s\\n' ${command.replace('./zafiro', '')}`], {
    encoding: 'utf8',
  });
  expect(words.stdout.trim().split('\n')).toEqual([
    'run',
    'Ada-s-été-2.finish.json',
    '--media',
    "hall=/renders/it's here/hall.####.exr",
    '--encoding',
    'hall=srgb',
    '--gaps',
    'hall=hold',
    '--frames',
    '3-24',
    '--out',
    'out/Ada-s-été-2.####.exr',
  ]);
});

test('a finish without letters still has a file name', () => {
  expect(finishFileName('— · —')).toBe('finish.finish.json');
});
