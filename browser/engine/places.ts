import type { StrandPoint } from '../../core/evaluate/plan/node';
import type { Run } from '../../core/evaluate/run';
import { type Finish, findStep, originalOf, pointAbove, type Tap } from '../../core/finish/finish';
import { kindAt } from '../../core/finish/flow';
import { complement } from '../../core/kernels/plane';
import { matteOf } from '../../core/kernels/point';
import { openWorkspace, type Workspace } from '../../core/kernels/workspace';
import type { Kind } from '../../core/picture/kind';
import type { Picture } from '../../core/picture/picture';
import { stepSpec } from '../../core/steps/registry';

/** Places of a finish and workspaces to look at their pictures on, for everything that the engine is asked. */

/** Small pictures and shares are measured at this scale. */
export const smallScale = 0.25;

/** Does `work` at a workspace of its own, which is cleared. */
export function withRunWorkspace<T>(run: Run, work: (workspace: Workspace) => T): T {
  const workspace = openWorkspace(run.runtime);
  try {
    return work(workspace);
  } finally {
    workspace.clear();
  }
}

/** A matte as it is, or a picture read as one. The result belongs to the workspace. */
export function matteIn(
  workspace: Workspace,
  p: Picture,
  { as = 'luminance', invert }: Pick<Tap, 'as' | 'invert'>,
): Picture {
  const matte = p.channels === 1 ? p : matteOf(workspace, p, as);
  return invert ? complement(workspace, matte) : matte;
}

export const kindOf = (finish: Finish, { strand, after }: StrandPoint): Kind => kindAt(finish, strand, after);

/** The input of a step. */
export function pointBefore(finish: Finish, stepId: string): StrandPoint | undefined {
  const found = findStep(finish, stepId);
  if (!found) return;
  const { strand, index } = found;
  return { strand: strand.id, after: pointAbove(strand, index) };
}

/** The light that a step takes from: what is linked, or what comes to it. */
export const pointOfLight = (finish: Finish, stepId: string): StrandPoint | undefined =>
  findStep(finish, stepId)?.step.slots.light ?? pointBefore(finish, stepId);

/**
 * The document in which a step gives its result, whatever it shows in its place (the added light alone, the taken light): what it adds is measured
 * there.
 */
export function asResult(finish: Finish, stepId: string): Finish {
  const step = findStep(finish, stepId)?.step;
  const original = step && originalOf(finish, step);
  const show = original && stepSpec(original.type)?.values.show;
  if (!original || show?.type !== 'choice') return finish;
  const isKeyed = original.animation?.show !== undefined;
  if (original.values.show === show.default && !isKeyed) return finish;
  const { show: _, ...animation } = original.animation ?? {};
  const plain = { ...original, animation, values: { ...original.values, show: show.default } };
  return {
    ...finish,
    strands: finish.strands.map((s) => ({
      ...s,
      steps: s.steps.map((t) => (t.id === original.id ? plain : t)),
    })),
  };
}

/** The matte that limits which light a step takes, if there is one. */
export const lightMaskOf = (finish: Finish, stepId: string): Tap | undefined =>
  findStep(finish, stepId)?.step.slots.lightMask;
