import { readdir, stat } from 'node:fs/promises';
import { basename, delimiter, dirname, isAbsolute, join, resolve } from 'node:path';
import { parsePattern, pathOf } from '../../core/formats/frame-pattern';
import { insideRoots } from '../../engine/node/roots';
import { rows } from '../base/connect';
import { Refused } from '../base/refusals';
import { isOwnData } from '../media/roots';
import { makeExportFolder } from './delivered';

/** Folders outside the data folder that exports may be written into: those of ZAFIRO_EXPORT_ROOTS (parted by colons), none without it. */
export const exportRoots = (): string[] =>
  (process.env.ZAFIRO_EXPORT_ROOTS ?? '')
    .split(delimiter)
    .filter(isAbsolute)
    .map((root) => resolve(root));

/** What a pattern of a folder or a name may hold in braces. */
export type PlaceWords = { project: string; shot: string; finish: string; version: string };

const plain = (text: string) =>
  text
    .toLowerCase()
    .normalize('NFKD')
    .replace(/[^a-z0-9.]+/g, '_')
    .replace(/^[_.]+|[_.]+$/g, '') || '_';

/** A pattern with its words put in. @throws {Refused} for a word that there is none of. */
export function filled(pattern: string, words: PlaceWords): string {
  return pattern.replace(/\{([^}]*)\}/g, (_, word: string) => {
    if (!Object.hasOwn(words, word))
      throw new Refused(
        'bad-request',
        `There is no {${word}}.`,
        `A pattern may have ${Object.keys(words)
          .map((w) => `{${w}}`)
          .join(', ')}.`,
      );
    return plain(words[word as keyof PlaceWords]);
  });
}

/** The words for a shot and a version of a finish. */
export async function placeWords(shot: number, finish: string, version: number): Promise<PlaceWords> {
  const [found] = await rows<{ shot: string; project: string }>(
    'SELECT s.name AS shot, p.name AS project FROM shot s JOIN project p ON p.id = s.project_id WHERE s.id = ?',
    [shot],
  );
  return { project: found?.project ?? '', shot: found?.shot ?? '', finish, version: String(version) };
}

/** The whole path of a folder, inside those that exports may be written into. @throws {Refused} */
export function exportFolder(folder: string): string {
  const roots = exportRoots();
  if (roots.length === 0)
    throw new Refused(
      'refused',
      'Exports are kept in Zafiro’s own store.',
      'Start it with ZAFIRO_EXPORT_ROOTS=/folder to write them into folders.',
    );
  const whole = resolve(folder);
  if (isOwnData(whole))
    throw new Refused(
      'refused',
      `${folder} lies in Zafiro’s own data folder.`,
      'Choose another one, or none: then the export is kept in Zafiro’s store.',
    );
  try {
    return insideRoots(folder.replace(/\/+$/, ''), roots);
  } catch {
    throw new Refused(
      'refused',
      `${folder} lies outside the folders that exports may be written into.`,
      `Choose one inside ${roots.join(', ')}.`,
    );
  }
}

/** Frames of a pattern whose files are there: asked of the folder once. */
export async function framesThere(
  folder: string,
  fileName: string,
  frames: readonly number[],
): Promise<number[]> {
  const names = new Set(await readdir(folder).catch(() => []));
  const pattern = parsePattern(fileName);
  return frames.filter((frame) => names.has(pathOf(pattern, frame)));
}

/** What tells a folder from another, by whatever names and links it is reached. */
const identityOf = async (folder: string) => {
  const found = await stat(folder, { bigint: true }).catch(() => undefined);
  return found && `${found.dev}:${found.ino}`;
};

/** Shots whose frames lie in a folder, with their patterns. Folders of many shots are few. */
async function sourcesIn(folder: string): Promise<{ pattern: string; shot: string }[]> {
  const here = await identityOf(folder);
  if (here === undefined) return [];
  const media = await rows<{ pattern: string; shot: string }>(
    'SELECT m.pattern, s.name AS shot FROM media m JOIN shot s ON s.id = m.shot_id',
  );
  const folders = new Map<string, Promise<string | undefined>>();
  const inFolder = await Promise.all(
    media.map((m) => {
      const of = dirname(parsePattern(m.pattern).before);
      if (!folders.has(of)) folders.set(of, identityOf(of));
      return folders.get(of);
    }),
  );
  return media.filter((_, i) => inFolder[i] === here);
}

/** True where a run of Zafiro wrote frames of this name there, which another may write over. */
const isExport = async (folder: string, fileName: string) =>
  (await rows('SELECT 1 FROM export_run WHERE folder = ? AND file_name = ? LIMIT 1', [folder, fileName]))
    .length > 0;

/**
 * Makes the folder of an export ready. Frames of shots are never written over, by whatever path or link the folder is reached, nor is what lies beside
 * them and is no export. @throws {Refused} for those, for frames of an export that is not over, and for others without `overwrites`.
 */
export async function takePlace(
  folder: string,
  fileName: string,
  frames: readonly number[],
  overwrites: boolean,
): Promise<void> {
  const pattern = parsePattern(fileName);
  // Some disks take names for the same whatever their case.
  const written = new Set(frames.map((f) => pathOf(pattern, f).toLowerCase()));
  const sources = await sourcesIn(folder);
  for (const source of sources) {
    const of = parsePattern(basename(source.pattern));
    const names = of.still ? [of.before] : frames.map((f) => pathOf(of, f));
    if (names.some((name) => written.has(name.toLowerCase())))
      throw new Refused(
        'refused',
        `That would write over frames of ${source.shot}.`,
        'Choose another folder or name.',
      );
  }
  const [open] = await rows(
    `SELECT 1 FROM export_run r WHERE folder = ? AND file_name = ? AND NOT cancelled AND (standing OR EXISTS
       (SELECT 1 FROM export_frame f WHERE f.run_id = r.id AND f.state IN ('waiting', 'rendering'))) LIMIT 1`,
    [folder, fileName],
  );
  if (open)
    throw new Refused(
      'conflict',
      'Another export writes these frames just now.',
      'Wait for it, cancel it, or choose another name.',
    );
  const there = await framesThere(folder, fileName, frames);
  if (there.length > 0 && sources.length > 0 && !(await isExport(folder, fileName)))
    throw new Refused(
      'refused',
      `${pathOf(pattern, there[0])} lies beside frames of ${sources[0].shot}, and no export wrote it.`,
      'Choose another folder or name.',
    );
  if (there.length > 0 && !overwrites)
    throw new Refused(
      'conflict',
      `${there.length} of ${frames.length} frames are there already (${join(folder, pathOf(pattern, there[0]))} …).`,
      'Choose another name, or write over them: those that are right stay as they are.',
    );
  try {
    await makeExportFolder(folder);
  } catch (error) {
    throw new Refused(
      'refused',
      `The folder ${folder} cannot be made: ${(error as Error).message}.`,
      'Change its permissions, or choose another.',
    );
  }
}
