import { createHash } from 'node:crypto';
import { mkdir, readdir, readFile, rm, stat, statfs, utimes } from 'node:fs/promises';
import { join } from 'node:path';
import { crc32 } from 'node:zlib';
import type { PassInfo } from '../../core/formats/pass-wire';
import type { Wishes } from './media-file';
import { writeWhole } from './write-file';

/**
 * Passes that were unpacked once, kept on disk within a bound, the least recently used out first. It is a cache of several processes: files come
 * whole under their names or not at all, whatever is torn is noticed by its checksum and removed, and deleting any of it at any time does no harm.
 */
export type DecodedStore = {
  get(key: string): Promise<Decoded | undefined>;
  /** Keeps a pass. What cannot be written is not kept. */
  put(key: string, decoded: Decoded): Promise<void>;
};

/** A pass as it goes to the browser: its description, and its samples plane after plane. */
export type Decoded = { info: PassInfo; bytes: Uint8Array };

/** Where it lies and how much it may hold. Plain data, so that it can be told to other processes. */
export type DecodedPlace = { folder: string; bytes: number };

/** A file: these bytes, the length of the description, a checksum of all that follows, the description, the samples. */
const magic = 'ZAFDEC01';
const headBytes = 16;
/** Bytes that wait to be written: with more, what comes is not kept. */
const mostPending = 256 * 2 ** 20;
/**
 * Of the bound, so much is written by a process between two looks at what is there; what is above the second share then is brought down to the
 * third. Six processes together stay within the bound.
 */
const [growth, full, kept] = [1 / 32, 0.8, 0.7];
/** A file is used anew at most so often, in milliseconds, for its order; what another process left half written is removed after an hour. */
const [restMillis, abandonedMillis] = [60_000, 3_600_000];

/**
 * The name of a pass, at a scale, of a file as it is now: its place on the disk, its size and the time it was changed, so that files that are linked
 * are one, and what is written over a file is another. @throws {Error} where the file is not there.
 */
export async function decodedKey(
  path: string,
  name: string,
  scale: number,
  { encoding, kinds }: Wishes = {},
): Promise<string> {
  const { dev, ino, size, mtimeNs } = await stat(path, { bigint: true });
  const read = [name, scale, encoding ?? null, kinds?.[name] ?? null];
  return createHash('sha1')
    .update(JSON.stringify([...[dev, ino, size, mtimeNs].map(String), read]))
    .digest('hex');
}

function unpacked(file: Buffer): Decoded | undefined {
  if (file.length < headBytes || file.toString('latin1', 0, 8) !== magic) return;
  const length = file.readUInt32LE(8);
  const body = file.subarray(headBytes);
  if (length > body.length || crc32(body) !== file.readUInt32LE(12)) return;
  return { info: JSON.parse(body.toString('utf8', 0, length)), bytes: body.subarray(length) };
}

/** `free` gives the free bytes of the disk: of those and its own the store never takes more than half. */
export function decodedStore(
  { folder, bytes: most }: DecodedPlace,
  free: () => Promise<number> = async () => {
    const { bavail, bsize } = await statfs(folder);
    return bavail * bsize;
  },
): DecodedStore {
  const pathOf = (key: string) => join(folder, key.slice(0, 2), key);
  let pending = 0;
  /** Bytes written since the last look; a process begins with one. */
  let written = Number.POSITIVE_INFINITY;
  let trimming: Promise<void> | undefined;

  async function trim() {
    const files: { path: string; bytes: number; used: number }[] = [];
    for (const name of await readdir(folder).catch(() => []))
      for (const file of await readdir(join(folder, name)).catch(() => [])) {
        const path = join(folder, name, file);
        const seen = await stat(path).catch(() => undefined);
        if (!seen) continue;
        if (!file.endsWith('.part')) files.push({ path, bytes: seen.size, used: seen.mtimeMs });
        else if (Date.now() - seen.mtimeMs > abandonedMillis) await rm(path, { force: true });
      }
    let held = files.reduce((sum, f) => sum + f.bytes, 0);
    const bound = Math.min(most, ((await free()) + held) / 2);
    if (held <= bound * full) return;
    files.sort((a, b) => a.used - b.used);
    for (const file of files) {
      if (held <= bound * kept) return;
      await rm(file.path, { force: true });
      held -= file.bytes;
    }
  }

  async function write(path: string, { info, bytes }: Decoded) {
    const described = Buffer.from(JSON.stringify(info));
    // Samples begin where any of their types may.
    const description = Buffer.concat([described, Buffer.alloc(-described.length & 15, ' ')]);
    const head = Buffer.alloc(headBytes);
    head.write(magic, 'latin1');
    head.writeUInt32LE(description.length, 8);
    head.writeUInt32LE(crc32(bytes, crc32(description)), 12);
    await writeWhole(path, [head, description, bytes], false);
  }

  return {
    async get(key) {
      if (most <= 0) return;
      const path = pathOf(key);
      const file = await readFile(path).catch(() => undefined);
      if (!file) return;
      let found: Decoded | undefined;
      try {
        found = unpacked(file);
      } catch {
        // A description that is none: torn, like a wrong checksum.
      }
      if (!found) await rm(path, { force: true });
      else {
        const now = new Date();
        const seen = await stat(path).catch(() => undefined);
        if (seen && now.getTime() - seen.mtimeMs > restMillis) await utimes(path, now, now).catch(() => {});
      }
      return found;
    },
    async put(key, decoded) {
      const size = decoded.bytes.byteLength;
      if (pending + size > mostPending || size > most * growth) return;
      pending += size;
      try {
        if (written > most * growth) {
          written = 0;
          trimming ??= mkdir(folder, { recursive: true })
            .then(trim)
            .finally(() => {
              trimming = undefined;
            });
        }
        await trimming;
        written += size;
        await write(pathOf(key), decoded);
      } catch {
        // A full disk, or a folder that was taken away: it is unpacked again when it is wanted.
      } finally {
        pending -= size;
      }
    },
  };
}
