import { chmod } from 'node:fs/promises';
import { makeFolder } from '../../engine/node/write-file';
import { isOwnData } from '../media/roots';

/**
 * Files that are delivered into folders of a studio are for those whom its keeper's umask lets read them, or ZAFIRO_EXPORT_MODE (octal, such as 0664);
 * Zafiro's own files are for nobody else.
 */
const modeOfFiles = () => Number.parseInt(process.env.ZAFIRO_EXPORT_MODE || '644', 8) & 0o777;
/** Who may read a file may enter its folder. */
const modeOfFolders = () => 0o700 | modeOfFiles() | ((modeOfFiles() & 0o444) >> 2);

/** Gives a delivered file its mode. */
export async function deliver(path: string): Promise<void> {
  if (!isOwnData(path)) await chmod(path, modeOfFiles());
}

/** Makes a folder for exports, with those that it lies in. */
export async function makeExportFolder(folder: string): Promise<void> {
  const made = await makeFolder(folder);
  if (!isOwnData(folder)) for (const path of made) await chmod(path, modeOfFolders());
}
