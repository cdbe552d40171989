import { mix } from '../../kernels/join';
import { combine, complement, mixPlanes } from '../../kernels/plane';
import type { Workspace } from '../../kernels/workspace';
import type { Picture } from '../../picture/picture';

/** A step's result where it may act, what was there elsewhere, bit for bit: of pictures and of mattes. */
export const maskedBy = (
  workspace: Workspace,
  before: Picture,
  after: Picture,
  mask: Picture | undefined,
  invert: boolean,
): Picture => (mask ? faded(workspace, before, after, { mask, invert, amount: 1 }) : after);

/**
 * From `before` to `after`, of pictures and of mattes: before + m·a·(after − before) on premultiplied colour and on alpha, with the mask m and the
 * amount a; the first bit for bit where that is 0, the second where it is 1.
 */
export const faded = (
  workspace: Workspace,
  before: Picture,
  after: Picture,
  by: { mask?: Picture; invert: boolean; amount: number },
): Picture => (before.channels === 1 ? mixPlanes : mix)(workspace, before, after, by);

/** A key's matte where it may be, nothing elsewhere. */
export function maskedKey(
  workspace: Workspace,
  key: Picture,
  { mask }: { mask?: Picture },
  invert: boolean,
): Picture {
  if (!mask) return key;
  return combine(workspace, key, invert ? complement(workspace, mask) : mask, 'multiply');
}
