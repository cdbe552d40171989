/** What is kept of a frame: its size in bytes, and how to let go of it. */
export type Kept = { bytes: number; close(): void };

/**
 * Pictures of frames that are ready to be shown, by the keys of their content, within a bound of bytes. What an edit does not touch keeps its
 * key and so stays ready. What does not fit goes by need: first pictures of what is no longer looked at, then those needed last.
 */
export class ReadyFrames<P extends Kept> {
  private readonly pictures = new Map<string, P>();
  private readonly keys = new Map<number, string>();
  private used = 0;

  constructor(readonly limit: number) {}

  get bytes(): number {
    return this.used;
  }

  /** The keys of all frames that can be made, in place of those before. */
  setKeys(keys: Iterable<readonly [number, string]>) {
    this.keys.clear();
    for (const [frame, key] of keys) this.keys.set(frame, key);
  }

  keyOf(frame: number): string | undefined {
    return this.keys.get(frame);
  }

  pictureOf(frame: number): P | undefined {
    const key = this.keys.get(frame);
    return key === undefined ? undefined : this.pictures.get(key);
  }

  /**
   * Takes a picture over. `order` has the frames by need, the most needed first: while there is too much, what is needed least goes, and that
   * may be what has just come.
   */
  put(key: string, picture: P, order: readonly number[]) {
    this.drop(key);
    this.pictures.set(key, picture);
    this.used += picture.bytes;
    if (this.used <= this.limit) return;
    const wanted = new Set<string>();
    for (const frame of order) {
      const known = this.keys.get(frame);
      if (known !== undefined && this.pictures.has(known)) wanted.add(known);
    }
    const leaving = [...[...this.pictures.keys()].filter((k) => !wanted.has(k)), ...[...wanted].reverse()];
    for (const one of leaving) {
      if (this.used <= this.limit) return;
      this.drop(one);
    }
  }

  /**
   * The first frame of `order` that can be made and is not ready; none where its picture, of about so many bytes, would only push out
   * what is needed sooner.
   */
  lacking(order: readonly number[], bytes: number): number | undefined {
    let sooner = 0;
    for (const frame of order) {
      const key = this.keys.get(frame);
      if (key === undefined) continue;
      const known = this.pictures.get(key);
      if (!known) return sooner + bytes <= this.limit ? frame : undefined;
      sooner += known.bytes;
    }
    return undefined;
  }

  clear() {
    for (const key of [...this.pictures.keys()]) this.drop(key);
    this.keys.clear();
  }

  private drop(key: string) {
    const picture = this.pictures.get(key);
    if (!picture) return;
    this.pictures.delete(key);
    this.used -= picture.bytes;
    picture.close();
  }
}
