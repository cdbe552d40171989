import { stepSpec } from '../steps/registry';
import { type Stage, stages } from '../steps/shared/define';
import { type Step, type Strand, stepName } from './finish';

/** Why a stage has its place in the order of a real camera. */
export const stageReasons: Record<Stage, string> = {
  prepare: 'pictures are put in order before anything is done with them',
  isolate: 'mattes are made before they are used',
  surface: 'surfaces are lit before air lies between them and the lens',
  air: 'air lies between the surfaces and the lens',
  light: 'light spreads in the lens, after it came through the air',
  lens: 'a lens blurs and bends all that comes through it, its glare too',
  finish: 'film and sensor come last',
};

/** Stages in their order, and within a stage the places that steps say. */
const rank = (type: string) =>
  stages.indexOf(stepSpec(type)?.stage ?? 'finish') * 10 + (stepSpec(type)?.order?.place ?? 5);

/** Why a step stands after another one: their stages, or their places in one. */
export function reasonFor(type: string, beside?: string): string {
  const [own, other] = [stepSpec(type), beside === undefined ? undefined : stepSpec(beside)];
  const stage = own?.stage ?? 'finish';
  if (other?.stage !== stage) return stageReasons[stage];
  return own?.order?.why ?? other.order?.why ?? stageReasons[stage];
}

const anywhere = (type: string) => stepSpec(type)?.anywhere === true;

/** The nearest step in a direction that has a place of its own. */
function neighbour(strand: Strand, index: number, by: 1 | -1): Step | undefined {
  for (let i = by < 0 ? index - 1 : index; i >= 0 && i < strand.steps.length; i += by)
    if (!anywhere(strand.steps[i].type)) return strand.steps[i];
  return undefined;
}

/** The usual index of a step of `type` on a strand, and the reason in one line. */
export function usualIndex(strand: Strand, type: string): { index: number; why: string } {
  const own = rank(type);
  let index = 0;
  strand.steps.forEach((s, i) => {
    if (!anywhere(s.type) && rank(s.type) <= own) index = i + 1;
  });
  const above = strand.steps[index - 1];
  const reason = reasonFor(type, above?.type);
  return { index, why: `${above ? `after ${stepName(above)}` : 'at the top'}: ${reason}` };
}

/** True if a step of `type` at `index` is in the usual order with its neighbours. */
export function fitsAt(strand: Strand, index: number, type: string): boolean {
  if (anywhere(type)) return true;
  const own = rank(type);
  const above = neighbour(strand, index, -1);
  const below = neighbour(strand, index, 1);
  return (!above || rank(above.type) <= own) && (!below || rank(below.type) >= own);
}
