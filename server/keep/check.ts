import { createHash } from 'node:crypto';
import { createReadStream, existsSync, readdirSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { pipeline } from 'node:stream/promises';
import { openFinish } from '../../core/finish/validation';
import { parsePattern, pathOf } from '../../core/formats/frame-pattern';
import { digestOf } from '../../engine/node/frame-record';
import { database, rows } from '../base/connect';
import { dataPath } from '../base/data-folder';
import { changing } from '../changes/note';
import { exportedFiles } from '../exports/runs';

/** Whether all that the rows name is there and right; what can be mended is, where that is asked for. */

export type Finding = {
  what: string;
  /** What to do, or what was done. */
  remedy: string;
  mended: boolean;
};

type Report = { counted: Record<string, number>; findings: Finding[] };

async function sha1Of(path: string): Promise<string> {
  const hash = createHash('sha1');
  await pipeline(createReadStream(path), hash);
  return hash.digest('hex');
}

/** `deep` reads every byte of every finished frame; without it their sizes are compared. */
export async function check(
  mends: boolean,
  deep: boolean,
  say: (words: string) => void = () => {},
): Promise<Report> {
  const counted: Record<string, number> = {};
  const findings: Finding[] = [];
  const find = async (what: string, remedy: string, mend?: () => Promise<unknown>) => {
    if (mend && mends) await mend();
    findings.push({ what, remedy, mended: mend !== undefined && mends });
  };
  const count = (what: string) => {
    counted[what] = (counted[what] ?? 0) + 1;
  };

  say('Finishes …');
  const finishes = await rows<{ id: number; name: string; version: number }>(
    'SELECT id, name, version FROM finish',
  );
  for (const finish of finishes) {
    count('finishes');
    const versions = await rows<{ version: number; document: unknown }>(
      'SELECT version, document FROM finish_version WHERE finish_id = ? ORDER BY version DESC',
      [finish.id],
    );
    let sound: number | undefined;
    for (const { version, document } of versions) {
      count('versions');
      try {
        openFinish(document);
        sound ??= version;
      } catch (error) {
        await find(
          `Version ${version} of the finish ${finish.name} cannot be opened: ${(error as Error).message}`,
          'It stays in the history; others can be opened.',
        );
      }
    }
    if (sound === undefined)
      await find(`The finish ${finish.name} has no version that can be opened.`, 'Restore a backup.');
    else if (sound !== finish.version)
      await find(
        `The finish ${finish.name} names version ${finish.version}, the newest that can be opened is ${sound}.`,
        `It names version ${sound}.`,
        () => database().query('UPDATE finish SET version = ? WHERE id = ?', [sound, finish.id]),
      );
  }

  say('Media …');
  const frames = await rows<{
    shot_id: number;
    media_id: number;
    frame: number;
    pattern: string;
    name: string;
    bytes: number;
  }>(
    `SELECT m.shot_id, f.media_id, f.frame, m.pattern, m.name, f.bytes FROM media_frame f JOIN media m ON m.id = f.media_id
     WHERE f.state IN ('ready', 'partial')`,
  );
  for (const { shot_id, media_id, frame, pattern, name, bytes } of frames) {
    count('frames');
    const parsed = parsePattern(pattern);
    const path = parsed.still ? parsed.before : pathOf(parsed, frame);
    const seen = statSync(path, { throwIfNoEntry: false });
    if (!seen)
      await find(
        `Frame ${frame} of ${name} is not there: ${path}.`,
        'Put it back; it is looked for again.',
        () =>
          changing(async (c, note) => {
            await c.query('DELETE FROM media_frame WHERE media_id = ? AND frame = ?', [media_id, frame]);
            note(shot_id, { what: 'shot' });
          }),
      );
    else if (Number(bytes) !== seen.size)
      await find(`Frame ${frame} of ${name} has changed.`, 'It is read again.', () =>
        database().query('UPDATE media_frame SET modified_ms = 0 WHERE media_id = ? AND frame = ?', [
          media_id,
          frame,
        ]),
      );
  }

  say('Exports …');
  for (const { id } of await rows<{ id: number }>('SELECT id FROM export_run')) {
    count('exports');
    const known = new Map(
      (
        await rows<{ frame: number; bytes: number | null; digest: string | null }>(
          "SELECT frame, bytes, digest FROM export_frame WHERE run_id = ? AND state = 'done'",
          [id],
        )
      ).map((f) => [f.frame, f]),
    );
    for (const { frame, path } of await exportedFiles(id)) {
      count('finished frames');
      const seen = statSync(path, { throwIfNoEntry: false });
      const { bytes = null, digest = null } = known.get(frame) ?? {};
      const isSame = async () => digest === null || !deep || (await digestOf(path)) === digest;
      if (seen && (bytes === null || Number(bytes) === seen.size) && (await isSame())) continue;
      await find(
        `The finished frame ${path} ${seen ? 'is not as it was written' : 'is not there'}.`,
        'It is rendered again.',
        () =>
          database().query(
            "UPDATE export_frame SET state = 'waiting', queued = FALSE, attempt = 0 WHERE run_id = ? AND frame = ?",
            [id, frame],
          ),
      );
    }
  }

  say('Stored files …');
  const store = dataPath('store');
  for (const first of existsSync(store) ? readdirSync(store) : [])
    for (const content of readdirSync(join(store, first))) {
      count('stored files');
      const path = join(store, first, content);
      if ((await sha1Of(path)) !== content)
        await find(`${path} is not what its name says.`, 'Send the file again, or restore a backup.');
    }
  return { counted, findings };
}
