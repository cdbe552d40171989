import { existsSync, readFileSync } from 'node:fs';
import { writeWhole } from '../../engine/node/write-file';
import { transaction } from '../base/connect';
import { dataFolder, dataPath } from '../base/data-folder';

/** Where the data folder was when it was used last, in a file that moves with it. */
const placeFile = () => dataPath('place');

/** Paths in the rows lead into another folder: all of them, or none. */
export async function movePaths(from: string, to: string): Promise<void> {
  if (from === to) return;
  // Patterns in the settings of exports.
  const quoted = (text: string) => `"${JSON.stringify(`${text}/`).slice(1, -1)}`;
  await transaction(async (c) => {
    for (const [table, column] of [
      ['media', 'pattern'],
      ['export_run', 'folder'],
      ['leftover', 'path'],
    ])
      await c.query('UPDATE ?? SET ?? = CONCAT(?, SUBSTRING(??, ?)) WHERE LEFT(??, CHAR_LENGTH(?)) = ?', [
        table,
        column,
        to,
        column,
        from.length + 1,
        column,
        `${from}/`,
        `${from}/`,
      ]);
    await c.query('UPDATE export_run SET media = REPLACE(media, ?, ?)', [quoted(from), quoted(to)]);
  });
}

/** A data folder that was moved, or mounted elsewhere, keeps its own media and exports. */
export async function followMove(): Promise<void> {
  const [was, is] = [existsSync(placeFile()) ? readFileSync(placeFile(), 'utf8') : '', dataFolder()];
  if (was === is) return;
  if (was !== '') await movePaths(was, is);
  await writeWhole(placeFile(), Buffer.from(is));
}
