import type { Picture } from '../picture/picture';
import { like } from './point';
import type { Workspace } from './workspace';

const rowPiece = 16;

/** How far away a sound pixel is looked for, in pixels. */
export const repairRadius = 8;
/** Luminance below which nothing is stray: noise in the dark is not repaired. */
const dark = 1e-3;

/**
 * Broken pixels become the mean of the nearest sound ones: those that are not finite, those with a colour below `least`, and with `stray` above 0 those
 * brighter than so many times the median of the pixels around them. All others stay bit for bit. RGBA in, RGBA out. A median of neighbours tells single
 * outliers from edges (J. W. Tukey 1977, *Exploratory Data Analysis*).
 */
export function repaired(
  workspace: Workspace,
  picture: Picture,
  { least, stray }: { least: number; stray: number },
): Picture {
  const out = like(workspace, picture);
  workspace.runtime.run('repair', picture.height, rowPiece, {
    out: out.at,
    from: picture.at,
    width: picture.width,
    height: picture.height,
    least,
    stray,
    dark,
    radius: repairRadius,
  });
  return out;
}
