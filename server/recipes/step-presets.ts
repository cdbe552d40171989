import type { StepPreset } from '../../api/step-presets';
import { database, type Result, rows } from '../base/connect';
import { NotFound } from '../base/refusals';

/** Named values of steps: those of one step, or all. */
export const stepPresets = (step?: string) =>
  rows<{ step: string; name: string; preset: StepPreset['values'] }>(
    'SELECT step, name, preset FROM step_preset WHERE ? IS NULL OR step = ? ORDER BY step, name',
    [step ?? null, step ?? null],
  ).then((found) => found.map(({ preset, ...of }) => ({ ...of, values: preset })));

export async function saveStepPreset({ step, name, values }: StepPreset): Promise<void> {
  await database().query(
    'INSERT INTO step_preset (step, name, preset) VALUES (?, ?, ?) ON DUPLICATE KEY UPDATE preset = VALUES(preset), saved_at = NOW(3)',
    [step, name, JSON.stringify(values)],
  );
}

/** @throws {NotFound} */
export async function deleteStepPreset(step: string, name: string): Promise<void> {
  const [done] = await database().query<Result>('DELETE FROM step_preset WHERE step = ? AND name = ?', [
    step,
    name,
  ]);
  if (done.affectedRows === 0) throw new NotFound('This preset is not there any more.');
}
