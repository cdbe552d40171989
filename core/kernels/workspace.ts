import { type Picture, reservedBytes } from '../picture/picture';
import type { Region } from '../picture/region';
import type { Runtime } from './runtime';

/**
 * Where a step works: it takes pictures and bytes as it needs them, and all but the result go back when it is done.
 */
export type Workspace = {
  runtime: Runtime;
  /** The part of the frame that the pictures here are, where it is not all of it. */
  region?: Region;
  /** A picture whose pixels are what was there before: write all of them. */
  picture(width: number, height: number, channels?: 1 | 4): Picture;
  /** A picture of zeros. */
  blank(width: number, height: number, channels?: 1 | 4): Picture;
  /** A copy of numbers for kernels to read: its address. */
  floats(values: ArrayLike<number>): number;
  doubles(values: ArrayLike<number>): number;
  ints(values: ArrayLike<number>): number;
  bytes(count: number): number;
  /** Gives one back early. */
  drop(taken: Picture | number): void;
  /** Gives back all but `kept`. */
  clear(kept?: Picture): void;
};

export function openWorkspace(runtime: Runtime, region?: Region): Workspace {
  const { arena } = runtime;
  const out = new Set<number>();
  const take = (count: number) => {
    const at = arena.take(count);
    out.add(at);
    return at;
  };
  const workspace: Workspace = {
    runtime,
    region,
    picture(width, height, channels = 4) {
      const at = take(reservedBytes({ width, height, channels }));
      const data = new Float32Array(arena.memory.buffer, at, width * height * channels);
      return { width, height, channels, at, data };
    },
    blank(width, height, channels) {
      const picture = workspace.picture(width, height, channels);
      picture.data.fill(0);
      return picture;
    },
    floats(values) {
      const at = take(values.length * 4);
      new Float32Array(arena.memory.buffer, at, values.length).set(values);
      return at;
    },
    doubles(values) {
      const at = take(values.length * 8);
      new Float64Array(arena.memory.buffer, at, values.length).set(values);
      return at;
    },
    ints(values) {
      const at = take(values.length * 4);
      new Int32Array(arena.memory.buffer, at, values.length).set(values);
      return at;
    },
    bytes: take,
    drop(taken) {
      const at = typeof taken === 'number' ? taken : taken.at;
      if (out.delete(at)) arena.give(at);
    },
    clear(kept) {
      for (const at of out) if (at !== kept?.at) arena.give(at);
      out.clear();
    },
  };
  return workspace;
}

/** Does `work` at a fresh workspace; what it returns stays taken (the caller gives it back), all else goes back, also if it throws. */
export function withWorkspace(
  runtime: Runtime,
  work: (workspace: Workspace) => Picture,
  region?: Region,
): Picture {
  const workspace = openWorkspace(runtime, region);
  let kept: Picture | undefined;
  try {
    kept = work(workspace);
    return kept;
  } finally {
    workspace.clear(kept);
  }
}

/** Size of the whole frame, and the offset of a picture in it: (0, 0) unless the workspace works on a part. */
export const frameOf = ({ region }: Workspace, { width, height }: Picture) =>
  region ? { x: region.x, y: region.y, ...region.of } : { x: 0, y: 0, width, height };
