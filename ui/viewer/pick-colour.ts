import type { Tool } from '@/browser/session/store';
import type { Edit } from '@/core/finish/edit';
import { type Finish, findStep, originalOf } from '@/core/finish/finish';
import { setValue } from '@/core/finish/value-edits';
import type { Rgb } from '@/core/math/rgb';

/** Puts a colour of the picture, not multiplied by its alpha, into a value of a step. */
export function pickColour(
  finish: Finish,
  { step: id, key, adds, row }: Extract<Tool, { type: 'pick-colour' }>,
  [r, g, b, a]: readonly number[],
): Edit {
  const colour = [r, g, b].map((v) => {
    const light = Math.max(0, a > 0 ? v / a : v);
    return Number.isFinite(light) ? Number(light.toPrecision(5)) : 0;
  }) as unknown as Rgb;
  const found = findStep(finish, id);
  const now = found && originalOf(finish, found.step).values[key];
  if (row !== undefined) {
    const rows = (now ?? []) as readonly (readonly number[])[];
    // The last three columns of a row are its colour.
    return setValue(
      finish,
      id,
      key,
      rows.map((r, i) => (i === row ? [...r.slice(0, -3), ...colour] : r)),
    );
  }
  return setValue(finish, id, key, adds ? [...((now as readonly Rgb[]) ?? []), colour] : colour);
}
