import { copyFileSync, readFileSync, truncateSync, utimesSync, writeFileSync } from 'node:fs';
import { setTimeout as sleep } from 'node:timers/promises';
import * as v from 'valibot';
import { afterAll, beforeAll, describe, expect, test, vi } from 'vitest';
import { type EventMessage, eventMessage } from '../../api/events';
import { addStep, newFinish } from '../../core/finish/edits';
import { setValue } from '../../core/finish/value-edits';
import { writeExr } from '../../core/formats/exr/write';
import { nodeZlib } from '../../engine/node/zlib';
import { database, rows } from '../../server/base/connect';
import { changing, forgetOldChanges, newestChange } from '../../server/changes/note';
import { eventsAfter } from '../../server/events/after';
import { eventStream } from '../../server/events/stream';
import { exportsFollow } from '../../server/exports/arrivals';
import { reportFrame } from '../../server/exports/queue';
import { createExport, exportsWith } from '../../server/exports/runs';
import { allMedia } from '../../server/media/frames';
import { endReader } from '../../server/media/reader/reader';
import { registerArrivals } from '../../server/media/register';
import { watchMedia } from '../../server/media/watch';
import { insertShot } from '../../server/shots/add-shot';
import { copyFinish, listVersions, loadFinish, saveFinish } from '../../server/shots/finishes';
import { shotDetail } from '../../server/shots/shots';
import { openQueue } from './export-queue';
import { remove, temporaryFolder, until } from './instance';
import { ownDatabase } from './own-database';

/** What changes in a shot, against a real MariaDB, real files and a real reader. */
let own: Awaited<ReturnType<typeof ownDatabase>>;
let queue: Awaited<ReturnType<typeof openQueue>>;
const folder = temporaryFolder();
const frames = temporaryFolder();
process.env.ZAFIRO_MEDIA_ROOTS = frames;
const first = addStep('main', 0, 'bloom', 'bloom').apply(
  newFinish('hall', 'Hall', { type: 'pass', media: 'hall', pass: '' }),
);
let shot: number;
let finish: number;

/** A small frame that is all of one light, as a whole EXR file. */
function exr(light: number): Uint8Array {
  const [width, height] = [64, 48];
  const channels = ['A', 'B', 'G', 'R'].map((name) => ({
    name,
    type: 'float' as const,
    samples: new Float32Array(width * height).map((_, i) => (name === 'A' ? 1 : light + (i % 97) / 97)),
  }));
  const dataWindow = { xMin: 0, yMin: 0, xMax: width - 1, yMax: height - 1 };
  return writeExr({ channels, dataWindow }, nodeZlib);
}
const fileOf = (frame: number) => `${frames}/hall.${String(frame).padStart(4, '0')}.exr`;
/** A file appears as a renderer leaves it that was stopped in the middle. */
function writeHalf(frame: number) {
  writeFileSync(fileOf(frame), exr(0.5));
  truncateSync(fileOf(frame), Math.floor(exr(0.5).length * 0.6));
}
const media = async () => (await allMedia()).find((m) => m.name === 'hall')!;
const stateOf = async (frame: number) =>
  (await shotDetail(shot))!.media[0].frames.find((f) => f.frame === frame);

beforeAll(async () => {
  own = await ownDatabase(folder);
  queue = await openQueue(folder);
  shot = await insertShot({
    project: 'Orrery Hall',
    shot: 'Shot 010',
    media: [{ name: 'hall', pattern: `${frames}/hall.####.exr`, first: 1, last: 24 }],
    first: 1,
    last: 24,
    rate: 24,
    width: 64,
    height: 48,
    finish: first,
  });
  finish = (await shotDetail(shot))!.finishes[0].id;
});

afterAll(async () => {
  endReader();
  await queue.close();
  await own.close();
  delete process.env.ZAFIRO_MEDIA_ROOTS;
  for (const each of [folder, frames]) remove(each);
});

const save = (from: number, amount: number, token = crypto.randomUUID()) =>
  saveFinish(finish, {
    from,
    document: setValue(first, 'bloom', 'amount', amount).apply(first),
    label: 'set Amount of Bloom',
    save: token,
  });

describe('changes of a shot', () => {
  test('are numbered in the order in which they are committed, however many write at once', async () => {
    const before = await newestChange(shot);
    const seen: number[] = [];
    let reading = true;
    const reader = (async () => {
      for (let after = before; reading || after < (await newestChange(shot)); ) {
        const found = await rows<{ seq: number }>(
          'SELECT seq FROM shot_change WHERE shot_id = ? AND seq > ? ORDER BY seq',
          [shot, after],
        );
        for (const { seq } of found) seen.push(seq);
        after = found.at(-1)?.seq ?? after;
      }
    })();
    await Promise.all(
      Array.from({ length: 8 }, async (_, i) => {
        for (let n = 0; n < 12; n++)
          await changing(async (_, note) => {
            note(shot, { what: 'frame', subject: 1, part: i }, { what: 'shot' });
            await sleep(n % 3);
          });
      }),
    );
    reading = false;
    await reader;
    // Nobody who follows by number misses one.
    expect(seen).toEqual(Array.from({ length: 8 * 12 * 2 }, (_, i) => before + 1 + i));
  });

  test('tell of a save, an export and a new finish, as they are now', async () => {
    const from = await newestChange(shot);
    const { version } = await loadFinish(finish);
    expect(await save(version, 2)).toBe(version + 1);
    const run = await createExport(shot, first, [1, 2, 3], { format: 'exr' }, 'hall');
    const claim = (await queue.claim())!;
    await queue.finish(claim, 9);
    await copyFinish(finish, 'Another');
    const { seq, events } = await eventsAfter(shot, from);
    expect(seq).toBe(await newestChange(shot));
    expect(events.map((e) => e.type)).toEqual(['shot', 'export', 'version']);
    expect(events[1]).toMatchObject({ run: { id: run, frames: [{ frame: 1, state: 'done', bytes: 9 }] } });
    expect(events[2]).toMatchObject({
      finish,
      version: { version: version + 1, label: 'set Amount of Bloom' },
    });
    expect(await eventsAfter(shot, seq)).toEqual({ seq, events: [] });
    // The others of the run wait for nobody here.
    await database().query("UPDATE export_frame SET state = 'cancelled' WHERE state = 'waiting'");
  });

  test('that are gone, or of another life of the database, are reported as missed', async () => {
    const newest = await newestChange(shot);
    expect((await eventsAfter(shot, newest + 50)).events).toEqual([{ type: 'missed' }]);
    await database().query('UPDATE shot_change SET at = NOW(3) - INTERVAL 2 DAY WHERE shot_id = ?', [shot]);
    await forgetOldChanges();
    expect(await eventsAfter(shot, 1)).toEqual({ seq: newest, events: [{ type: 'missed' }] });
    expect((await eventsAfter(shot, newest)).events).toEqual([]);
  });
});

describe('a save', () => {
  test('asked for twice is one save, also where somebody saved in between', async () => {
    const { version } = await loadFinish(finish);
    const token = crypto.randomUUID();
    expect(await save(version, 3, token)).toBe(version + 1);
    expect(await save(version, 3, token)).toBe(version + 1);
    expect(await save(version + 1, 4)).toBe(version + 2);
    expect(await save(version, 3, token)).toBe(version + 1);
    expect((await loadFinish(finish)).version).toBe(version + 2);
    expect((await listVersions(finish))[0].version).toBe(version + 2);
  });

  test('of a document from before bounds became tighter opens, and says what was changed', async () => {
    const { version } = await loadFinish(finish);
    const old = JSON.stringify(first).replace('"amount":0.5', '"amount":1e9');
    await database().query('UPDATE finish_version SET document = ? WHERE finish_id = ? AND version = ?', [
      old,
      finish,
      version,
    ]);
    const { document, repairs } = await loadFinish(finish);
    expect(document.strands[0].steps[0].values.amount).toBe(1000);
    expect(repairs).toEqual(['Amount of Bloom was 1000000000, now 1000.']);
  });

  test('of a copy gets a name that its shot does not have', async () => {
    const names = async () => (await shotDetail(shot))!.finishes.map((f) => f.name);
    await copyFinish(finish, 'Lamps, copy');
    await copyFinish(finish, 'Lamps, copy');
    expect((await names()).slice(-2)).toEqual(['Lamps, copy', 'Lamps, copy 2']);
  });
});

describe('the stream of a shot', () => {
  /** Messages until `enough` says so, and the id that each had. */
  async function follow(after: number, enough: (messages: EventMessage[]) => boolean) {
    const abort = new AbortController();
    const messages: EventMessage[] = [];
    const reader = eventStream(shot, after, abort.signal).getReader();
    const text = new TextDecoder();
    let buffer = '';
    const done = (async () => {
      while (!enough(messages)) {
        const { value, done } = await reader.read();
        if (done) return;
        buffer += text.decode(value);
        for (let end = buffer.indexOf('\n\n'); end >= 0; end = buffer.indexOf('\n\n')) {
          const [, id, data] = /^id: (\d+)\ndata: (.*)$/s.exec(buffer.slice(0, end)) ?? [];
          if (data) {
            const message = v.parse(eventMessage, JSON.parse(data));
            expect(String(message.seq)).toBe(id);
            messages.push(message);
          }
          buffer = buffer.slice(end + 2);
        }
      }
    })();
    return { messages, done: done.finally(() => abort.abort()) };
  }

  test('tells at once what changes, and one that was away goes on where it stopped', async () => {
    const start = await newestChange(shot);
    const stream = await follow(start, (m) => m.length >= 1);
    await sleep(100);
    const { version } = await loadFinish(finish);
    const began = performance.now();
    await save(version, 5);
    await stream.done;
    // Told by a message, not found by looking now and then.
    expect(performance.now() - began).toBeLessThan(5000);
    expect(stream.messages[0].events).toMatchObject([{ type: 'version', finish }]);
    // While nobody listens.
    await save(version + 1, 6);
    await save(version + 2, 7);
    const again = await follow(stream.messages[0].seq, (m) => m.length >= 1);
    await again.done;
    expect(again.messages[0].events.map((e) => e.type === 'version' && e.version.version)).toEqual([
      version + 2,
      version + 3,
    ]);
  });

  test('ends where the database fails, so that the page comes back', async () => {
    const complained = vi.spyOn(console, 'error').mockImplementation(() => {});
    const abort = new AbortController();
    const reader = eventStream(shot, 0, abort.signal).getReader();
    await reader.read();
    await database().query('RENAME TABLE shot_clock TO shot_clock_away');
    try {
      const ended = (async () => {
        for (;;) if ((await reader.read()).done) return true;
      })();
      const { announce } = await import('../../server/changes/bus');
      announce({ zafiro: 'shot', shot });
      expect(await ended).toBe(true);
      expect(complained).toHaveBeenCalled();
    } finally {
      await database().query('RENAME TABLE shot_clock_away TO shot_clock');
      complained.mockRestore();
      abort.abort();
    }
  });
});

describe('frames that arrive', () => {
  test('in halves are partial, also at the second look, and whole once they are', async () => {
    writeHalf(1);
    await registerArrivals(exportsFollow, await media());
    expect(await stateOf(1)).toMatchObject({ state: 'partial' });
    // The same content looked at again: its picture is there, and what it lacks is known still.
    utimesSync(fileOf(1), new Date(), new Date(Date.now() + 5000));
    await registerArrivals(exportsFollow, await media());
    const again = await stateOf(1);
    expect(again).toMatchObject({ state: 'partial' });
    expect(again?.problem).toMatch(/Frame 1: .*hall\.0001\.exr is partial\./);
    writeFileSync(fileOf(1), exr(0.25));
    await registerArrivals(exportsFollow, await media());
    expect(await stateOf(1)).toMatchObject({ state: 'ready', problem: null });
  });

  test('are registered by a watch of their folder, without anybody asking', async () => {
    const problems: string[] = [];
    const watching = await watchMedia(exportsFollow, (error) => problems.push(error.message));
    try {
      await sleep(500);
      writeFileSync(fileOf(2), exr(0.3));
      await until('frame 2', async () => (await stateOf(2))?.state === 'ready', 20);
      const before = (await stateOf(2))!.content;
      writeFileSync(fileOf(2), exr(0.9));
      await until('frame 2 anew', async () => (await stateOf(2))!.content !== before, 20);
      // Written elsewhere and renamed into place, as careful renderers do.
      writeFileSync(`${frames}/part`, exr(0.4));
      copyFileSync(`${frames}/part`, `${frames}/part2`);
      const { renameSync } = await import('node:fs');
      renameSync(`${frames}/part2`, fileOf(3));
      await until('frame 3', async () => (await stateOf(3))?.state === 'ready', 20);
      expect(problems).toEqual([]);
    } finally {
      await watching.close();
    }
  });

  test('whole make exports go on that had failed for want of them', async () => {
    writeHalf(4);
    await registerArrivals(exportsFollow, await media());
    const run = await createExport(shot, first, [4, 5], { format: 'exr' }, 'hall');
    for (let i = 0; i < 2; i++)
      await reportFrame((await queue.claim())!, {
        state: 'failed',
        note: 'It is cut short.',
        waitsForInput: true,
      });
    const states = async () =>
      (await exportsWith(new Map([[run, new Set<number>()]])))[0].frames.map((f) => f.state);
    expect(await states()).toEqual(['failed', 'failed']);
    writeFileSync(fileOf(4), exr(0.7));
    await registerArrivals(exportsFollow, await media());
    expect(await states()).toEqual(['waiting', 'failed']);
    const again = (await queue.claim())!;
    expect(again).toMatchObject({ run, frame: 4 });
    await queue.finish(again);
    expect(readFileSync(fileOf(4)).length).toBeGreaterThan(0);
  });
});

test('a shot is answered by as many queries to the database, however many media it has', async () => {
  const media = Array.from({ length: 20 }, (_, i) => ({
    name: `layer_${i}`,
    pattern: `${folder}/layers/layer_${i}.####.png`,
    first: 1,
    last: 3,
  }));
  const many = await insertShot({
    project: 'Moth and Comet',
    shot: 'Shot 010',
    media,
    first: 1,
    last: 3,
    rate: 24,
    width: 64,
    height: 48,
    finish: first,
  });
  const asked = vi.spyOn(database(), 'query');
  const questions = async (id: number) => {
    asked.mockClear();
    await shotDetail(id);
    return asked.mock.calls.length;
  };
  expect(await questions(many)).toBe(await questions(shot));
  asked.mockRestore();
});

test('a shot’s name is taken once in its project, however many import at once', async () => {
  const one = () =>
    insertShot({
      project: 'Orrery Hall',
      shot: 'Shot 020',
      media: [{ name: 'hall', pattern: `${frames}/hall.####.exr`, first: 1, last: 2 }],
      first: 1,
      last: 2,
      rate: 24,
      width: 64,
      height: 48,
      finish: first,
    });
  const made = await Promise.all(
    Array.from({ length: 5 }, () =>
      one().then(
        () => 'made',
        (error) => (error as Error).message,
      ),
    ),
  );
  expect(made.filter((m) => m === 'made')).toHaveLength(1);
  expect(made.find((m) => m !== 'made')).toBe('The project Orrery Hall has a shot Shot 020 already.');
});
