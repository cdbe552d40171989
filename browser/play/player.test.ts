import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest';
import { createStore } from 'zustand';
import type { FramePicture } from '../engine/answers';
import type { Look } from '../engine/look-on';
import { createPlayer, type Host, type Scene } from './player';
import type { PlaySettings } from './settings';

/** A player on a clock and a screen of the test's own, over an engine that takes `millis` for a picture. */
function stage({
  millis = 5,
  missing = [] as number[],
  limit = 1e9,
  keysTake = 0,
  ...over
}: Partial<PlaySettings> & {
  millis?: number;
  missing?: number[];
  limit?: number;
  keysTake?: number;
} = {}) {
  let shown: number[] = [];
  const told: number[] = [];
  const made: number[] = [];
  let current = 0;
  const host: Host = {
    now: () => Date.now(),
    nextFrame: (work) => setTimeout(work, 8) as unknown as number,
    cancel: (id) => clearTimeout(id),
    after: (ms, work) => setTimeout(work, ms) as unknown as number,
    cancelAfter: (id) => clearTimeout(id),
  };
  const engine: Scene['engine'] = {
    frameKeys: async (look, frames) => {
      const { version } = look.request as unknown as { version(frame: number): string };
      await new Promise((done) => setTimeout(done, keysTake));
      return frames.map((f) =>
        missing.includes(f) ? undefined : { look: `${f}${version(f)}`, place: `${f}` },
      );
    },
    framePicture: async (look) => {
      const mine = ++current;
      const { frame } = look.request;
      const version = (look.request as unknown as { version(frame: number): string }).version(frame);
      await new Promise((done) => setTimeout(done, millis));
      if (mine !== current) return undefined;
      made.push(frame);
      const bitmap = { width: 4, height: 4, version, close: () => {} } as unknown as ImageBitmap;
      return { frame, width: 4, height: 4, scale: 1, millis, bitmap } as FramePicture;
    },
    dropFrames: async () => {
      current++;
      return true;
    },
  };
  const settings = createStore<PlaySettings>()(() => ({
    loop: 'loop',
    speed: '1',
    waits: false,
    marks: [],
    ...over,
  }));
  const player = createPlayer(settings, (f) => told.push(f), host, limit);
  player.state.subscribe((now, before) => {
    if (now.picture && now.picture !== before.picture) shown.push(now.picture.frame);
  });
  const lookOf = (version: (frame: number) => string) =>
    ({ request: { version }, view: {}, beside: {} }) as unknown as Look;
  const look = lookOf(() => 'a');
  const scene: Scene = { engine, look, scale: 1, first: 1, last: 12, rate: 24, finished: true };
  return {
    player,
    settings,
    scene,
    told,
    made,
    edit: (to: (frame: number) => string) => {
      player.setScene({ ...scene, look: lookOf(to) });
    },
    shown: () => {
      const so = shown;
      shown = [];
      return so;
    },
    now: () => player.state.getState(),
  };
}

beforeEach(() => void vi.useFakeTimers());
afterEach(() => void vi.useRealTimers());
const pass = (millis: number) => vi.advanceTimersByTimeAsync(millis);

describe('the player', () => {
  test('makes frames ready by itself, nearest first, and plays them at the rate of the shot', async () => {
    const { player, scene, made, shown, now, told } = stage();
    player.moveTo(6);
    player.setScene(scene);
    await pass(1000);
    expect(made).toEqual([6, 7, 5, 8, 4, 9, 3, 10, 2, 11, 1, 12]);
    expect(now()).toMatchObject({ ready: 12, possible: 12, status: 'still' });
    player.play(1);
    await pass(1000);
    const frames = shown();
    expect(frames.length).toBeGreaterThanOrEqual(24);
    expect(frames.slice(0, 8)).toEqual([6, 7, 8, 9, 10, 11, 12, 1]);
    expect(now()).toMatchObject({ status: 'playing', late: 0 });
    expect(now().fps).toBeGreaterThan(22);
    player.play(1);
    expect(now().status).toBe('still');
    expect(told).toEqual([now().frame]);
  });

  test('plays at half and quarter rate, backwards, between in and out', async () => {
    const { player, scene, shown, settings } = stage({ in: 3, out: 5, speed: '0.5' });
    player.setScene(scene);
    await pass(1000);
    player.play(-1);
    await pass(1000);
    const half = shown();
    expect(half.slice(0, 5)).toEqual([5, 4, 3, 5, 4]);
    expect(half.length).toBe(13);
    settings.setState({ speed: '0.25' });
    shown();
    await pass(1000);
    expect(shown().length).toBe(6);
  });

  test('keeps time where pictures are late: it leaves them out, counts them, and has all the second time round', async () => {
    const { player, scene, shown, now } = stage({ millis: 100 });
    player.moveTo(1);
    player.setScene(scene);
    player.play(1);
    await pass(500);
    // Ten pictures a second, each for the moment that it is made for.
    const first = shown();
    expect(first.length).toBeGreaterThan(2);
    expect(first.length).toBeLessThan(7);
    expect(now().late).toBeGreaterThan(4);
    expect(now().frame).toBe(1 + (Math.floor((500 * 24) / 1000 - 1e-6) % 12));
    await pass(3000);
    expect(now().ready).toBe(12);
    const late = now().late;
    shown();
    await pass(1000);
    expect(shown().length).toBe(24);
    expect(now().late).toBe(late);
  });

  test('waits for all where that is chosen, and then shows every frame', async () => {
    const { player, scene, shown, now } = stage({ millis: 50, waits: true });
    player.moveTo(4);
    player.setScene(scene);
    player.play(1);
    await pass(300);
    expect(now().status).toBe('waiting');
    expect(shown()).toEqual([]);
    await pass(450);
    expect(now().status).toBe('playing');
    await pass(1000);
    expect(shown().slice(0, 12)).toEqual([4, 5, 6, 7, 8, 9, 10, 11, 12, 1, 2, 3]);
    expect(now().late).toBe(0);
  });

  test('once ends on the last frame and tells it', async () => {
    const { player, scene, told, now } = stage({ loop: 'once' });
    player.moveTo(9);
    player.setScene(scene);
    await pass(1000);
    player.play(1);
    await pass(400);
    expect(now().status).toBe('still');
    expect(told).toEqual([12]);
  });

  test('an edit while it plays makes anew only the frames that it changes', async () => {
    const { player, scene, made, now, edit } = stage();
    player.setScene(scene);
    await pass(1000);
    player.play(1);
    await pass(300);
    made.length = 0;
    edit((frame) => (frame >= 5 && frame <= 8 ? 'b' : 'a'));
    await pass(1500);
    expect([...made].sort((a, b) => a - b)).toEqual([5, 6, 7, 8]);
    expect(now()).toMatchObject({ status: 'playing', ready: 12 });
  });

  test('whatever is edited while it plays, each picture is the one of its edit', async () => {
    const { player, scene, edit } = stage({ millis: 70, keysTake: 90 });
    player.setScene(scene);
    // Not all are ready by then.
    await pass(1000);
    player.play(1);
    for (const version of ['b', 'c', 'b', 'c', 'b']) {
      edit((frame) => (frame % 2 ? version : 'a'));
      for (let ms = 0; ms < 400; ms += 20) {
        await pass(20);
        const { picture } = player.state.getState();
        const shown = picture && (picture.bitmap as unknown as { version: string }).version;
        if (picture && picture.frame % 2 === 0) expect(shown).toBe('a');
      }
    }
    await pass(3000);
    const versions = Array.from({ length: 12 }, (_, i) => {
      const bitmap = player.pictureOf(i + 1)?.bitmap as unknown as { version: string } | undefined;
      return bitmap?.version;
    });
    expect(versions).toEqual(versions.map((_, i) => (i % 2 ? 'a' : 'b')));
  });

  test('a picture of before an edit is not given for one of after it; a mark changes nothing of play', async () => {
    const { player, scene, edit, now, settings } = stage({ millis: 100 });
    player.setScene(scene);
    await pass(3000);
    expect(player.pictureOf(5)).toBeDefined();
    edit(() => 'b');
    expect(player.pictureOf(5)).toBeUndefined();
    await pass(5000);
    expect(player.pictureOf(5)?.bitmap).toMatchObject({ version: 'b' });
    edit(() => 'c');
    player.play(1);
    await pass(1500);
    const { late } = now();
    expect(late).toBeGreaterThan(0);
    settings.setState({ marks: [3] });
    expect(now()).toMatchObject({ status: 'playing', late });
  });

  test('play that waits does not begin with pictures of before an edit', async () => {
    const { player, scene, edit, now, shown } = stage({ millis: 100, waits: true });
    player.setScene(scene);
    await pass(3000);
    player.play(1);
    await pass(10);
    expect(now().status).toBe('playing');
    player.play(1);
    edit(() => 'b');
    player.play(1);
    shown();
    await pass(400);
    expect(now().status).toBe('waiting');
    expect(shown()).toEqual([]);
    await pass(2000);
    expect(now().status).toBe('playing');
  });

  test('frames go on being made where an earlier one comes in after the edit', async () => {
    const { player, scene, edit, now } = stage({ millis: 2000 });
    player.setScene(scene);
    await pass(700);
    // What is under way does not hear of it in time.
    (scene.engine as { dropFrames(): Promise<true> }).dropFrames = async () => true;
    edit(() => 'b');
    await pass(60_000);
    expect(now().ready).toBe(12);
  });

  test('frames that are not there are neither waited for nor counted as late', async () => {
    const { player, scene, now, shown } = stage({ missing: [2, 3], waits: true });
    player.moveTo(1);
    player.setScene(scene);
    player.play(1);
    await pass(2000);
    expect(now()).toMatchObject({ status: 'playing', possible: 10, ready: 10, late: 0 });
    expect(shown()).not.toContain(2);
  });

  test('what is made stays within its bound, and play that waits begins with what fits', async () => {
    const { player, scene, now } = stage({ limit: 5 * 64, waits: true });
    player.moveTo(1);
    player.setScene(scene);
    player.play(1);
    await pass(300);
    expect(now().status).toBe('playing');
    expect(now().ready).toBeLessThanOrEqual(5);
  });

  test('a step of the user ends play there; an edit of the sheet does not', async () => {
    const { player, scene, told, now } = stage();
    player.setScene(scene);
    await pass(1000);
    player.play(1);
    await pass(200);
    player.catchUp();
    player.moveTo(told[0]);
    expect(now().status).toBe('playing');
    player.moveTo(11);
    expect(now()).toMatchObject({ status: 'still', frame: 11 });
    expect(told).toHaveLength(1);
  });
});
