import { byteSize, type Picture } from '../picture/picture';

/** Pictures by content key, the least recently used dropped first once they pass `limit` bytes. */
export class PictureCache {
  private readonly entries = new Map<string, Picture>();
  private used = 0;

  constructor(private readonly limit: number) {}

  get bytes() {
    return this.used;
  }

  get(key: string): Picture | undefined {
    const found = this.entries.get(key);
    if (found) {
      this.entries.delete(key);
      this.entries.set(key, found);
    }
    return found;
  }

  set(key: string, picture: Picture) {
    const before = this.entries.get(key);
    if (before) this.used -= byteSize(before);
    this.entries.delete(key);
    this.entries.set(key, picture);
    this.used += byteSize(picture);
    for (const [oldest, p] of this.entries) {
      if (this.used <= this.limit || oldest === key) break;
      this.entries.delete(oldest);
      this.used -= byteSize(p);
    }
  }
}
