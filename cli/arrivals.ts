import { statSync } from 'node:fs';
import { dirname } from 'node:path';
import { watch } from 'chokidar';
import { parsePattern } from '../core/formats/frame-pattern';
import { type FrameFile, frameContent } from '../engine/node/frame-key';
import { type FinishTask, framesThere } from './finish-options';

/** A file that is still being written changes again within this time. */
const settleMillis = 400;
/** What a watch cannot see, as on the file systems of other machines, is found by a look at everything. */
const lookMillis = 3000;

/** A frame that can be rendered, and what its files are by their key. */
export type Due = { frame: number; key: string };

export type Arrivals = {
  /** Frames that are due now, in order. */
  due(): Due[];
  /** A frame is not due again until its files change: it is done, or cannot be rendered as they are. */
  settle(due: Due): void;
  /** Whether the files of a frame are other ones by now. */
  isOther(due: Due): boolean;
  close(): Promise<void>;
};

const isAsBefore = ({ path, size, modified }: FrameFile) => {
  try {
    const now = statSync(path);
    return now.size === size && Math.round(now.mtimeMs) === modified;
  } catch {
    return false;
  }
};

/**
 * Frames as their files come in: one is due once all its files are there and none of them has changed for a while, and again when one
 * changes.
 */
export function frameArrivals(task: FinishTask): Arrivals {
  /** Frames that were looked at, with their files as they were then, and since when they are so; no key while not all are there. */
  type Seen = { key: string; files: FrameFile[]; since: number };
  const seen = new Map<number, Seen>();
  const settled = new Map<number, string>();
  const unsure = new Set<number>();
  let lookedAt = Number.NEGATIVE_INFINITY;
  // Which file stands for a frame depends on what else is there where gaps are filled.
  const isFilled = Object.values(task.media).some(({ gaps }) => gaps && gaps !== 'missing');

  const folders = Object.values(task.media).map(({ pattern }) => dirname(`${parsePattern(pattern).before}x`));
  const watcher = watch([...new Set(folders)], {
    depth: 0,
    ignoreInitial: true,
    usePolling: process.env.ZAFIRO_WATCH === 'poll',
    interval: 500,
  });
  const changed = (path: string) => {
    for (const [frame, { files }] of seen)
      if (isFilled || files.length === 0 || files.some((f) => f.path === path)) unsure.add(frame);
    for (const frame of task.frames ?? framesThere(task).frames) if (!seen.has(frame)) unsure.add(frame);
  };
  for (const event of ['add', 'change', 'unlink'] as const) watcher.on(event, changed);

  /** Looks at a frame, and again later until it has settled. */
  function look(frame: number): Seen {
    const before = seen.get(frame);
    let now = { key: '', files: [] as FrameFile[] };
    if (before && before.files.length > 0 && !isFilled && before.files.every(isAsBefore)) now = before;
    else
      try {
        now = frameContent({ ...task, frame });
      } catch {
        // Not all of it is there.
      }
    const found = { ...now, since: before?.key === now.key ? before.since : performance.now() };
    seen.set(frame, found);
    if (now.key === '' || performance.now() - found.since >= settleMillis) unsure.delete(frame);
    return found;
  }

  return {
    due() {
      if (performance.now() - lookedAt >= lookMillis) {
        lookedAt = performance.now();
        for (const frame of task.frames ?? framesThere(task).frames) unsure.add(frame);
      }
      for (const frame of [...unsure]) look(frame);
      return [...seen]
        .filter(
          ([frame, { key, since }]) =>
            key !== '' && settled.get(frame) !== key && performance.now() - since >= settleMillis,
        )
        .map(([frame, { key }]) => ({ frame, key }))
        .sort((a, b) => a.frame - b.frame);
    },
    settle: ({ frame, key }) => void settled.set(frame, key),
    isOther: ({ frame, key }) => look(frame).key !== key,
    close: () => watcher.close(),
  };
}
