import { statfs } from 'node:fs/promises';
import { dataFolder } from './data-folder';
import { Refused } from './refusals';

/** The database and exports need room to write; with less than this nothing new is begun, so that neither ends in the middle. */
const leastBytes = Number(process.env.ZAFIRO_LEAST_FREE_MEGABYTES || 64) * 2 ** 20;

export async function hasSpace(): Promise<boolean> {
  const { bavail, bsize } = await statfs(dataFolder());
  return bavail * bsize >= leastBytes;
}

/** @throws {Refused} where the disk of the data folder is as good as full. */
export async function needSpace(remedy: string): Promise<void> {
  if (await hasSpace()) return;
  throw new Refused('disk-full', 'The disk is full.', remedy);
}
