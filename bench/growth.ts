import { planOf } from '../core/evaluate/plan/plan';
import { addStep, newFinish } from '../core/finish/edits';
import type { Finish } from '../core/finish/finish';
import { checkFinish } from '../core/finish/validation';

/**
 * How planning and checking a document grow with its steps: each step takes its light from the point above it, so that the ways through the
 * document double with every step.
 */
const counts = [15, 125, 250, 500, 1000];
const rounds = 9;

function chain(count: number): Finish {
  const one = addStep('main', 0, 'bloom', 'step').apply(
    newFinish('chain', 'Chain', { type: 'pass', media: 'hall', pass: '' }),
  );
  const [strand] = one.strands;
  const steps = Array.from({ length: count }, (_, i) => ({
    ...strand.steps[0],
    id: `s${i}`,
    slots: { light: { strand: 'main', after: i === 0 ? 'head' : `s${i - 1}` } },
  }));
  return { ...one, strands: [{ ...strand, steps }] };
}

const median = (v: number[]) => [...v].sort((a, b) => a - b)[v.length >> 1];
const timed = (work: () => void) =>
  median(
    Array.from({ length: rounds }, () => {
      const began = performance.now();
      work();
      return performance.now() - began;
    }),
  );

/** Rows of a Markdown table: steps, nodes of the plan, milliseconds of planning and of checking. */
export function growth(): string[] {
  return counts.map((count) => {
    const finish = chain(count);
    let nodes = 0;
    const plan = timed(() => {
      const point = { strand: 'main', after: 'end' };
      nodes = planOf({ finish, point, frame: 1, scale: 1 }, (media) => media).nodes.length;
    });
    // Of a document that nobody has checked before.
    const check = timed(() => checkFinish({ ...finish, strands: finish.strands.map((s) => ({ ...s })) }));
    return `| ${count} | ${nodes} | ${plan.toFixed(2)} | ${check.toFixed(2)} |`;
  });
}
