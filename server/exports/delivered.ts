import { chmod } from 'node:fs/promises';
import { isInside } from '../../engine/node/roots';
import { makeFolder } from '../../engine/node/write-file';
import { dataFolder } from '../base/data-folder';

/**
 * Files that are delivered into folders of a studio are for those whom its keeper's umask lets read them, or ZAFIRO_EXPORT_MODE (octal, such as 0664);
 * Zafiro's own files are for nobody else.
 */
const modeOfFiles = () => Number.parseInt(process.env.ZAFIRO_EXPORT_MODE || '644', 8) & 0o777;
/** Who may read a file may enter its folder. */
const modeOfFolders = () => 0o700 | modeOfFiles() | ((modeOfFiles() & 0o444) >> 2);

/** By its text: no other folder leads into the data folder (`exportFolder`), and a disk that is away need not be asked. */
const isKept = (path: string) => isInside(path, dataFolder());

/** Gives a delivered file its mode. */
export async function deliver(path: string): Promise<void> {
  if (!isKept(path)) await chmod(path, modeOfFiles());
}

/** Makes a folder for exports, with those that it lies in. */
export async function makeExportFolder(folder: string): Promise<void> {
  const made = await makeFolder(folder);
  if (!isKept(folder)) for (const path of made) await chmod(path, modeOfFolders());
}
