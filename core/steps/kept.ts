import type { Desk } from '../kernels/desk';
import { mix } from '../kernels/join';
import { combine, complement, mixPlanes } from '../kernels/plane';
import type { Picture } from '../picture/picture';

/** A step's result where it may act, what was there elsewhere, bit for bit: of pictures and of mattes. */
export const kept = (
  desk: Desk,
  before: Picture,
  after: Picture,
  where: Picture | undefined,
  invert: boolean,
): Picture => {
  if (!where) return after;
  return before.channels === 1
    ? mixPlanes(desk, before, after, { where, invert })
    : mix(desk, before, after, { where, invert, amount: 1 });
};

/** A key's matte where it may be, nothing elsewhere. */
export function keptKey(desk: Desk, key: Picture, { where }: { where?: Picture }, invert: boolean): Picture {
  if (!where) return key;
  return combine(desk, key, invert ? complement(desk, where) : where, 'multiply');
}
