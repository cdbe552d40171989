import { linkPass } from '../finish/edits';
import { leadingPass, stepName } from '../finish/finish';
import { stepSpec } from '../steps/registry';
import type { Rule } from './advice';

/** A light step takes from the whole picture although the render has a pass of what emits light. */
export const takesAll: Rule = (finish, { passes }) => {
  const media = leadingPass(finish)?.media;
  const emission = passes[media ?? '']?.find((p) => p.kind === 'emission');
  if (!media || !emission) return [];
  return finish.strands
    .filter((s) => s.head.type === 'pass' && s.head.media === media && s.head.pass !== emission.name)
    .flatMap((s) => s.steps)
    .filter((t) => !t.bypass && stepSpec(t.type)?.stage === 'light' && !t.slots.light && !t.slots.lightMask)
    .map((t) => ({
      key: `takes-all/${t.id}`,
      at: t.id,
      title: `${stepName(t)} takes light from the whole picture`,
      remedy: `The render has the pass ${emission.label}. Take the light from it, so that only what emits light shines.`,
      fix: linkPass(finish, t.id, 'light', { type: 'pass', media, pass: emission.name }, emission.label),
    }));
};
