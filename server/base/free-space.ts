import { constants } from 'node:fs';
import { access, statfs } from 'node:fs/promises';
import { dataFolder } from './data-folder';
import { Refused } from './refusals';

/** The database and exports need room to write; with less than this nothing new is begun, so that neither ends in the middle. */
const leastBytes = Number(process.env.ZAFIRO_LEAST_FREE_MEGABYTES || 64) * 2 ** 20;

/** A disk may have room and still take no more files. */
const leastFiles = Number(process.env.ZAFIRO_LEAST_FREE_FILES || 200);

/** Whether the disk of the data folder takes what is written. */
async function spaceNow(): Promise<'ok' | 'full' | 'read-only'> {
  try {
    await access(dataFolder(), constants.W_OK);
  } catch {
    return 'read-only';
  }
  const { bavail, bsize, files, ffree } = await statfs(dataFolder());
  // Some file systems have no fixed number of files, and say 0.
  const hasFiles = files === 0 || ffree >= leastFiles;
  return bavail * bsize >= leastBytes && hasFiles ? 'ok' : 'full';
}

export const hasSpace = async (): Promise<boolean> => (await spaceNow()) === 'ok';

/** @throws {Refused} where the disk of the data folder is as good as full, or takes nothing. */
export async function needSpace(remedy: string): Promise<void> {
  const now = await spaceNow();
  if (now === 'full') throw new Refused('disk-full', 'The disk is full.', remedy);
  if (now === 'read-only')
    throw new Refused(
      'disk-full',
      'The disk is read-only.',
      'Mount it writable: what waits is saved then by itself.',
    );
}
