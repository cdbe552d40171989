import { dirname } from 'node:path';
import { type FSWatcher, watch } from 'chokidar';
import { frameOf, parsePattern } from '../../core/formats/frame-pattern';
import { listen } from '../changes/bus';
import { allMedia, type Media } from './frames';
import { type Followers, registerArrivals } from './register';

/**
 * Watches the folders of the frames of all media, and registers frames that arrive, change or go, also beyond the range that a media had so far. A look at everything now and then finds
 * what a watch cannot see, as on file systems of other machines.
 */

/** A file that is still being written changes again within this time. */
const settleMillis = 150;
const lookMillis = 30_000;

/** `ZAFIRO_WATCH=poll` asks the file system again and again, for shares that tell nothing of themselves. */
const polls = process.env.ZAFIRO_WATCH === 'poll';

type Watched = { media: Media; pattern: ReturnType<typeof parsePattern> };

const folderOf = ({ media, pattern }: Watched) =>
  pattern.still ? dirname(media.pattern) : dirname(`${pattern.before}x`);

export async function watchMedia(
  follow: Followers,
  onError: (error: Error) => void,
): Promise<{ close(): Promise<void> }> {
  let closed = false;
  let watcher: FSWatcher | undefined;
  const folders = new Map<string, Watched[]>();
  const pending = new Map<number, { media: Media; frames: Set<number> | 'all' }>();
  let timer: ReturnType<typeof setTimeout> | undefined;
  let working: Promise<void> = Promise.resolve();

  /** One after the other: the reader takes one file at a time anyhow. */
  const work = () => {
    timer = undefined;
    const jobs = [...pending.values()];
    pending.clear();
    working = working.then(async () => {
      for (const { media, frames } of jobs) {
        if (closed) return;
        try {
          await registerArrivals(
            follow,
            media,
            frames === 'all' ? undefined : [...frames].sort((a, b) => a - b),
          );
        } catch (error) {
          onError(error as Error);
          // Asked for again: the database may be starting.
          want(media, frames === 'all' ? undefined : [...frames], 1000);
        }
      }
    });
  };
  const want = (media: Media, frames?: readonly number[], after = settleMillis) => {
    if (closed) return;
    const before = pending.get(media.id);
    const all = frames === undefined || before?.frames === 'all';
    pending.set(media.id, {
      media,
      frames: all ? 'all' : new Set([...((before?.frames as Set<number>) ?? []), ...frames!]),
    });
    timer ??= setTimeout(work, after);
  };

  const changed = (path: string) => {
    for (const watched of folders.get(dirname(path)) ?? []) {
      const { media, pattern } = watched;
      if (pattern.still) {
        if (path === media.pattern) want(media, [1]);
        continue;
      }
      const frame = frameOf(pattern, path);
      if (frame !== undefined) want(media, [frame]);
    }
  };

  /** Takes up the media there are now: those that are new, gone, or read otherwise. */
  const refresh = async () => {
    const all = await allMedia();
    const now = new Map<string, Watched[]>();
    for (const media of all) {
      const watched = { media, pattern: parsePattern(media.pattern) };
      const folder = folderOf(watched);
      now.set(folder, [...(now.get(folder) ?? []), watched]);
    }
    const added = [...now.keys()].filter((f) => !folders.has(f));
    const removed = [...folders.keys()].filter((f) => !now.has(f));
    folders.clear();
    for (const [folder, list] of now) folders.set(folder, list);
    if (!watcher) {
      watcher = watch([], {
        depth: 0,
        ignoreInitial: true,
        usePolling: polls,
        interval: 500,
        followSymlinks: false,
        // Only what may be a frame: folders hold other things too.
        ignored: (path, stats) => stats?.isFile() === true && !mayBeFrame(path),
      });
      for (const event of ['add', 'change', 'unlink'] as const) watcher.on(event, changed);
      watcher.on('error', (error) => onError(error as Error));
    }
    if (removed.length > 0) watcher.unwatch(removed);
    if (added.length > 0) watcher.add(added);
    for (const media of all) want(media, undefined, 0);
  };
  const mayBeFrame = (path: string) =>
    (folders.get(dirname(path)) ?? []).some(({ media, pattern }) =>
      pattern.still ? path === media.pattern : frameOf(pattern, path) !== undefined,
    );

  const carefully = () => refresh().catch((error) => onError(error as Error));
  const end = listen('media', () => void carefully());
  const look = setInterval(carefully, lookMillis);
  await carefully();
  return {
    async close() {
      closed = true;
      clearInterval(look);
      clearTimeout(timer);
      end();
      await watcher?.close();
      await working;
    },
  };
}
