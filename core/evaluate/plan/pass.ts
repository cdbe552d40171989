import { FinishError, leadingPass, type PassHead, type Strand } from '../../finish/finish';
import type { Region } from '../../picture/region';
import { contentKey } from './node';
import type { Planner } from './planner';

/** A pass at its full size. */
export function planWholePass(planner: Planner, strand: string, head: PassHead, frame: number): string {
  const key = contentKey('head', head.pass, planner.identity(head.media, frame));
  return planner.add({ key, type: 'head', strand, head, frame });
}

/** A pass at the size of the draft. */
export function planPass(
  planner: Planner,
  strand: string,
  head: PassHead,
  kind: Strand['kind'],
  frame: number,
): string {
  const { scale } = planner;
  const input = planWholePass(planner, strand, head, frame);
  if (scale === 1) return input;
  const data = kind === 'data';
  const key = contentKey('draft', data, scale, input);
  return planner.add({ key, type: 'draft', strand, input, pass: { head, frame }, scale, data });
}

/** The picture that sets the size of all others. */
export function planSize(planner: Planner, strand: string, frame: number): string {
  const leading = leadingPass(planner.finish);
  if (leading) return planPass(planner, strand, leading, 'picture', frame);
  throw new FinishError(
    'The picture size is unknown',
    `strand ${strand}, head`,
    'Add a strand that begins at a pass.',
  );
}

const isSame = (a: Region, b: Region) =>
  a.x === b.x && a.y === b.y && a.width === b.width && a.height === b.height;

/** The part `region` of an input, which is itself the part `of` of the frame, or all of it. */
export function planPart(
  planner: Planner,
  strand: string,
  input: string,
  region: Region | undefined,
  of?: Region,
): string {
  if (!region || (of && isSame(of, region))) return input;
  return planner.add({ key: contentKey('cut', region, of, input), type: 'cut', strand, input, region, of });
}
