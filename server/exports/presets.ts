import type { ExportPreset } from '../../api/exports';
import { database, rows } from '../base/connect';

/** Named settings of exports. */

export const listPresets = () => rows<ExportPreset>('SELECT name, settings FROM export_preset ORDER BY name');

export async function savePreset({ name, settings }: ExportPreset): Promise<void> {
  await database().query(
    'INSERT INTO export_preset (name, settings) VALUES (?, ?) ON DUPLICATE KEY UPDATE settings = VALUES(settings)',
    [name, JSON.stringify(settings)],
  );
}

export async function deletePreset(name: string): Promise<void> {
  await database().query('DELETE FROM export_preset WHERE name = ?', [name]);
}
