import { mix } from '../kernels/join';
import { combine, complement, mixPlanes } from '../kernels/plane';
import type { Workspace } from '../kernels/workspace';
import type { Picture } from '../picture/picture';

/** A step's result where it may act, what was there elsewhere, bit for bit: of pictures and of mattes. */
export const maskedBy = (
  workspace: Workspace,
  before: Picture,
  after: Picture,
  mask: Picture | undefined,
  invert: boolean,
): Picture => {
  if (!mask) return after;
  return before.channels === 1
    ? mixPlanes(workspace, before, after, { mask, invert })
    : mix(workspace, before, after, { mask, invert, amount: 1 });
};

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
