import { appendFileSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import fc from 'fast-check';
import { afterAll, expect, test } from 'vitest';
import { parsePattern } from '../../core/formats/frame-pattern';
import { addToRecord, digestOf, keyOfStanding, readRecord, recordOf } from './frame-record';

const folder = mkdtempSync(join(tmpdir(), 'zafiro-record-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));
const line = (frame: number, key: string) => ({ frame, key, digest: 'd'.repeat(64), bytes: 10 });
let number = 0;
const fresh = () => join(folder, `${++number}.frames.jsonl`);

test('stands beside its frames, under the name that they share', () => {
  const of = (pattern: string) => recordOf(parsePattern(pattern));
  expect(of('/out/hall.####.exr')).toBe('/out/hall.frames.jsonl');
  expect(of('/out/hall_####_final.exr')).toBe('/out/hall_final.frames.jsonl');
  expect(of('/out/still.png')).toBe('/out/still.png.frames.jsonl');
});

test('whenever it is read, and whatever was torn or put in its place, it says what its lines say', async () => {
  await fc.assert(
    fc.asyncProperty(
      fc.array(
        fc.oneof(
          {
            weight: 5,
            arbitrary: fc.record({
              does: fc.constant('add' as const),
              frame: fc.integer({ min: 1, max: 6 }),
              key: fc.constantFrom('a', 'bb', 'ccc', 'dd'),
            }),
          },
          fc.record({
            does: fc.constant('tear' as const),
            text: fc.constantFrom('\n{"frame":3,"ke', '\n', '\nno json', '\n{"frame":"x"}'),
          }),
          fc.record({ does: fc.constant('read' as const) }),
          fc.record({ does: fc.constant('replace' as const), frame: fc.integer({ min: 1, max: 6 }) }),
        ),
        { maxLength: 25 },
      ),
      async (acts) => {
        const path = fresh();
        const truth = new Map<number, string>();
        for (const act of acts) {
          if (act.does === 'add') {
            await addToRecord(path, line(act.frame, act.key));
            truth.set(act.frame, act.key);
          } else if (act.does === 'tear') appendFileSync(path, act.text);
          else if (act.does === 'replace') {
            truth.clear();
            truth.set(act.frame, `new ${number + 1}`);
            writeFileSync(path, `\n${JSON.stringify(line(act.frame, `new ${++number}`))}`);
          } else expect(new Map([...(await readRecord(path))].map(([f, l]) => [f, l.key]))).toEqual(truth);
        }
        expect(new Map([...(await readRecord(path))].map(([f, l]) => [f, l.key]))).toEqual(truth);
      },
    ),
    { numRuns: 300, seed: 7 },
  );
});

test('a frame keeps its key while its file has its size, and if asked its bytes', async () => {
  const path = join(folder, 'frame.exr');
  writeFileSync(path, '0123456789');
  const known = { ...line(1, 'key'), digest: await digestOf(path) };
  expect(await keyOfStanding(known, path, true)).toBe('key');
  writeFileSync(path, '0123456780');
  expect(await keyOfStanding(known, path)).toBe('key');
  expect(await keyOfStanding(known, path, true)).toBeUndefined();
  writeFileSync(path, '0');
  expect(await keyOfStanding(known, path)).toBeUndefined();
  expect(await keyOfStanding(known, join(folder, 'none'))).toBeUndefined();
  expect(await keyOfStanding(undefined, path)).toBeUndefined();
});
