import { mix } from '../kernels/join';
import { combine, complement, mixPlanes } from '../kernels/plane';
import type { Workspace } from '../kernels/workspace';
import type { Picture } from '../picture/picture';

/** A step's result where it may act, what was there elsewhere, bit for bit: of pictures and of mattes. */
export const maskedBy = (
  workspace: Workspace,
  before: Picture,
  after: Picture,
  where: Picture | undefined,
  invert: boolean,
): Picture => {
  if (!where) return after;
  return before.channels === 1
    ? mixPlanes(workspace, before, after, { where, invert })
    : mix(workspace, before, after, { where, invert, amount: 1 });
};

/** A key's matte where it may be, nothing elsewhere. */
export function maskedKey(
  workspace: Workspace,
  key: Picture,
  { where }: { where?: Picture },
  invert: boolean,
): Picture {
  if (!where) return key;
  return combine(workspace, key, invert ? complement(workspace, where) : where, 'multiply');
}
