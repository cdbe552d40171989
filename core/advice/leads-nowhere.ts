import { tapsOf } from '../finish/edit';
import { removeStrand } from '../finish/edits';
import type { Rule } from './advice';

/** A strand that nothing takes from and that is no output. */
export const leadsNowhere: Rule = (finish) => {
  const tapped = new Set(tapsOf(finish).map((t) => t.strand));
  return finish.strands
    .filter((s) => s.id !== finish.main && !s.output && !tapped.has(s.id))
    .map((s) => ({
      key: `leads-nowhere/${s.id}`,
      at: s.id,
      title: `Strand ${s.name} leads nowhere`,
      remedy: 'Link it to a slot, name it as an output, or remove it.',
      fix: removeStrand(finish, s.id),
    }));
};
