import { valuesOn } from '../finish/animated';
import { type Finish, FinishError, findStep, stepName } from '../finish/finish';
import type { Cube } from '../formats/cube';
import { type ColourOp, runColour, type Transfer } from '../kernels/colour';
import type { Workspace } from '../kernels/workspace';
import { type TableSpace, transferOf } from '../steps/finish/lookup-table';
import { stepSpec } from '../steps/registry';

/** Lookup tables of what steps do to each pixel by itself. */

export type PixelRun = { names: string[]; program: ColourOp[] };

/**
 * The run of steps that change each pixel by itself, up to and with a step, as it is on a frame: as far up as none has a mask or looks elsewhere. Bypassed steps
 * are left out. @throws {FinishError} where the step itself is none of them.
 */
export function pixelRunAt(doc: Finish, stepId: string, frame: number): PixelRun {
  const found = findStep(doc, stepId);
  const names: string[] = [];
  const program: ColourOp[] = [];
  for (let i = found?.index ?? -1; i >= 0; i--) {
    const step = found!.strand.steps[i];
    if (step.bypass) continue;
    const spec = stepSpec(step.type);
    if (!spec?.program || Object.keys(step.slots).length > 0) break;
    const values = valuesOn(doc, step, frame) as never;
    names.unshift(stepName(step));
    if (!spec.neutral(values)) program.unshift(...spec.program(values));
  }
  if (names.length > 0) return { names, program };
  throw new FinishError(
    'This step does not change each pixel by itself',
    `step ${stepId}`,
    'Choose a step of colour without a mask: only such are a table.',
  );
}

/** Stops that the codes of a table reach over. */
export const tableStops = [-10, 10] as const;

/** What a program makes of a cube of codes, as codes of the same space. */
export function cubeOf(
  workspace: Workspace,
  { names, program }: PixelRun,
  size: number,
  space: TableSpace,
): Cube {
  const picture = workspace.picture(size * size, size);
  const last = size - 1;
  for (let i = 0, p = 0; p < picture.data.length; i++, p += 4) {
    picture.data[p] = (i % size) / last;
    picture.data[p + 1] = (Math.floor(i / size) % size) / last;
    picture.data[p + 2] = Math.floor(i / (size * size)) / last;
    picture.data[p + 3] = 1;
  }
  const by: Transfer | undefined = transferOf(space, ...tableStops);
  const whole: ColourOp[] = by
    ? [{ type: 'transfer', by, back: true }, ...program, { type: 'transfer', by, back: false }]
    : program;
  const out = runColour(workspace, picture, whole);
  const values = new Float32Array(3 * size ** 3);
  for (let i = 0, p = 0; i < values.length; i += 3, p += 4) values.set(out.data.subarray(p, p + 3), i);
  for (const taken of [picture, out]) workspace.drop(taken);
  return { title: names.join(', '), dimensions: 3, size, low: [0, 0, 0], high: [1, 1, 1], values };
}

/** What the comments of a table say of its codes. */
export const spaceWords: Record<TableSpace, string> = {
  srgb: 'Input and output: sRGB codes (IEC 61966-2-1), Rec. 709 primaries.',
  linear: 'Input and output: linear light, Rec. 709 primaries.',
  stops: `Input and output: stops from mid-grey 0.18, 0 is ${tableStops[0]} and 1 is +${tableStops[1]}, Rec. 709 primaries.`,
};
