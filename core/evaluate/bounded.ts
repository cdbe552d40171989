/** Values by key, the least recently used dropped once their sizes pass `limit`. */
export class Bounded<T> {
  private readonly entries = new Map<string, { value: T; size: number }>();
  private used = 0;

  constructor(private readonly limit: number) {}

  get(key: string): T | undefined {
    const entry = this.entries.get(key);
    if (!entry) return;
    this.entries.delete(key);
    this.entries.set(key, entry);
    return entry.value;
  }

  set(key: string, value: T, size: number) {
    this.delete(key);
    this.entries.set(key, { value, size });
    this.used += size;
    for (const oldest of this.entries.keys()) {
      if (this.used <= this.limit || oldest === key) return;
      this.delete(oldest);
    }
  }

  delete(key: string) {
    this.used -= this.entries.get(key)?.size ?? 0;
    this.entries.delete(key);
  }

  get bytes() {
    return this.used;
  }
}
