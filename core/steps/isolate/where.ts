import type { Desk } from '../../kernels/desk';
import { combine, complement, mixPlanes } from '../../kernels/plane';
import type { Picture } from '../../picture/picture';

type Slots = { where?: Picture };

/** A matte step's result where it may act, what was there elsewhere. */
export const keptMatte = (desk: Desk, before: Picture, after: Picture, { where }: Slots, invert: boolean) =>
  mixPlanes(desk, before, after, { where, invert });

/** A key's matte where it may be, nothing elsewhere. */
export function keptKey(desk: Desk, key: Picture, { where }: Slots, invert: boolean): Picture {
  if (!where) return key;
  return combine(desk, key, invert ? complement(desk, where) : where, 'multiply');
}
