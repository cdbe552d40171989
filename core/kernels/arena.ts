/** The memory is spent; `bytes` were asked for. */
export class ArenaFull extends Error {
  override name = 'ArenaFull';
  constructor(readonly bytes: number) {
    super(
      `The engine's memory is spent: ${Math.ceil(bytes / 2 ** 20)} MB more are needed. Work at a smaller size, or with fewer steps.`,
    );
  }
}

const alignment = 64;

/**
 * Hands out a memory reserved up front, in blocks aligned to 64 bytes. First fit among the free blocks, which are
 * kept in order and join with their neighbours when given back.
 */
export class Arena {
  private readonly free: { at: number; size: number }[];
  private readonly taken = new Map<number, number>();
  private sum = 0;

  constructor(
    readonly memory: WebAssembly.Memory,
    from: number,
    to = memory.buffer.byteLength,
  ) {
    const at = Math.ceil(from / alignment) * alignment;
    this.free = [{ at, size: Math.floor((to - at) / alignment) * alignment }];
  }

  /** Bytes that are out. */
  get used() {
    return this.sum;
  }

  /** @throws {ArenaFull} */
  take(bytes: number): number {
    const size = Math.max(alignment, Math.ceil(bytes / alignment) * alignment);
    const i = this.free.findIndex((b) => b.size >= size);
    if (i < 0) throw new ArenaFull(bytes);
    const block = this.free[i];
    const { at } = block;
    if (block.size === size) this.free.splice(i, 1);
    else {
      block.at += size;
      block.size -= size;
    }
    this.taken.set(at, size);
    this.sum += size;
    return at;
  }

  give(at: number) {
    const size = this.taken.get(at);
    if (size === undefined) throw new Error(`Nothing was taken at ${at}`);
    this.taken.delete(at);
    this.sum -= size;
    let i = this.free.findIndex((b) => b.at > at);
    if (i < 0) i = this.free.length;
    const [before, after] = [this.free[i - 1], this.free[i]];
    const joinsBefore = before && before.at + before.size === at;
    const joinsAfter = after && at + size === after.at;
    if (joinsBefore && joinsAfter) {
      before.size += size + after.size;
      this.free.splice(i, 1);
    } else if (joinsBefore) before.size += size;
    else if (joinsAfter) {
      after.at = at;
      after.size += size;
    } else this.free.splice(i, 0, { at, size });
  }
}
