import type { Arena } from '../kernels/arena';
import { byteSize, type Picture } from '../picture/picture';

type Entry = { picture: Picture; pins: number };

/**
 * Pictures by content key, the least recently used given back first once they pass `limit` bytes. It owns the pictures
 * put into it. Those that are pinned are in use and stay.
 */
export class PictureCache {
  private readonly entries = new Map<string, Entry>();
  private used = 0;

  constructor(
    private readonly arena: Arena,
    private readonly limit: number,
  ) {}

  get bytes() {
    return this.used;
  }

  has(key: string): boolean {
    return this.entries.has(key);
  }

  /** The picture, now the most recently used, and pinned until `unpin`. */
  pin(key: string): Picture | undefined {
    const entry = this.entries.get(key);
    if (!entry) return;
    this.entries.delete(key);
    this.entries.set(key, entry);
    entry.pins++;
    return entry.picture;
  }

  unpin(key: string) {
    const entry = this.entries.get(key);
    if (entry) entry.pins--;
    this.shrinkTo(this.limit);
  }

  /** Takes a picture over, pinned. */
  put(key: string, picture: Picture): Picture {
    const there = this.pin(key);
    if (there) {
      // Two requests worked on the same thing; the first stays.
      this.arena.give(picture.at);
      return there;
    }
    this.entries.set(key, { picture, pins: 1 });
    this.used += byteSize(picture);
    this.shrinkTo(this.limit);
    return picture;
  }

  /** Gives back all that nobody uses; true if that was anything. */
  empty(): boolean {
    const before = this.used;
    this.shrinkTo(0);
    return this.used < before;
  }

  private shrinkTo(limit: number) {
    for (const [key, { picture, pins }] of this.entries) {
      if (this.used <= limit) return;
      if (pins > 0) continue;
      this.entries.delete(key);
      this.used -= byteSize(picture);
      this.arena.give(picture.at);
    }
  }
}
