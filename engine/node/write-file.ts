import { randomUUID } from 'node:crypto';
import { constants, existsSync } from 'node:fs';
import { access, mkdir, open, rename, rm } from 'node:fs/promises';
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

/** Makes a folder and those that it lies in. Of a read-only disk Node says that the folder is not there (ENOENT): here the disk itself is asked. */
export async function makeFolder(path: string): Promise<void> {
  try {
    await mkdir(path, { recursive: true });
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== 'ENOENT') throw error;
    let there = path;
    while (!existsSync(there)) there = dirname(there);
    await access(there, constants.W_OK);
    throw error;
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
