import { mainStrand, stepName } from '../finish/finish';
import { setValue } from '../finish/value-edits';
import { stepSpec } from '../steps/registry';
import type { Rule } from './advice';

/** Light without coverage is lost in a PNG: steps that add light but leave alpha alone. */
export const beyondAlpha: Rule = (finish, { beyondAlpha: share }) => {
  if (share < 0.001) return [];
  const leaves = mainStrand(finish).steps.filter(
    (t) => !t.bypass && stepSpec(t.type)?.values.alphaGrows && t.values.alphaGrows === false,
  );
  return leaves.map((t) => ({
    key: `beyond-alpha/${t.id}`,
    at: t.id,
    title: `${stepName(t)} adds light that alpha does not cover`,
    remedy: `${(share * 100).toFixed(1)} % of pixels have colour without alpha: EXR keeps it, PNG cannot. Switch on Light raises alpha.`,
    fix: setValue(finish, t.id, 'alphaGrows', true),
  }));
};
