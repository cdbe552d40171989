import { randomUUID } from 'node:crypto';
import { existsSync } from 'node:fs';
import { mkdir, open, rename, rm, stat } from 'node:fs/promises';
import { dirname } from 'node:path';

async function write(path: string, flags: 'w' | 'wx', parts: Uint8Array | Uint8Array[], synced: boolean) {
  const file = await open(path, flags);
  try {
    // In pieces until all is written.
    for (const bytes of Array.isArray(parts) ? parts : [parts]) await file.writeFile(bytes);
    if (synced) await file.sync();
  } finally {
    await file.close();
  }
}

/**
 * Makes a folder and those that it lies in; gives those that it made, the outermost first. One after the other, because Node's own way says of a disk
 * that is full, or read-only, that the folder is not there, and never ends where folders cannot be made at all.
 */
export async function makeFolder(path: string): Promise<string[]> {
  try {
    await mkdir(path);
    return [path];
  } catch (error) {
    const { code } = error as NodeJS.ErrnoException;
    if (code === 'EEXIST' && (await stat(path)).isDirectory()) return [];
    const above = dirname(path);
    if (code !== 'ENOENT' || above === path || existsSync(above)) throw error;
    const made = await makeFolder(above);
    return [...made, ...(await makeFolder(path))];
  }
}

/** Writes a file under a name that nobody else looks at. What cannot be written whole is not left behind. */
export async function writeSynced(path: string, bytes: Uint8Array): Promise<void> {
  await makeFolder(dirname(path));
  try {
    await write(path, 'w', bytes, true);
  } catch (error) {
    await rm(path, { force: true });
    throw error;
  }
}

/**
 * Writes a file, of one part or several, so that under its name there is either nothing, what was there before, or all of it: to a temporary
 * name, synced, then renamed. Without `synced` a power cut may leave it torn, which whoever reads it must notice.
 */
export async function writeWhole(
  path: string,
  parts: Uint8Array | Uint8Array[],
  synced = true,
): Promise<void> {
  await makeFolder(dirname(path));
  const temporary = `${path}.${randomUUID()}.part`;
  try {
    await write(temporary, 'wx', parts, synced);
    await rename(temporary, path);
  } catch (error) {
    await rm(temporary, { force: true });
    throw error;
  }
}
