import { freeId, tapsOf } from '../finish/edit';
import { joinAt, removeStrand } from '../finish/edits';
import { type Finish, mainStrand, type Strand, specOf } from '../finish/finish';
import { kindAt } from '../finish/flow';
import type { Rule } from './advice';

/** Where a picture is brought in: before what lens and film do to all of it. */
function joinIndex({ steps }: Strand): number {
  let index = steps.length;
  while (index > 0 && ['lens', 'finish'].includes(specOf(steps[index - 1])?.stage ?? '')) index--;
  return index;
}

const isPicture = (doc: Finish, strand: Strand) => kindAt(doc, strand.id, 'end') === 'picture';

/** A strand that nothing takes from and that is no output. */
export const leadsNowhere: Rule = (finish) => {
  const tapped = new Set(tapsOf(finish).map((t) => t.strand));
  const main = mainStrand(finish);
  return finish.strands
    .filter((s) => s.id !== finish.main && !s.output && !tapped.has(s.id))
    .map((s) => {
      const tap = { strand: s.id, after: 'end' };
      const joins = isPicture(finish, s) && isPicture(finish, main);
      return {
        key: `leads-nowhere/${s.id}`,
        at: s.id,
        title: `Strand ${s.name} leads nowhere`,
        remedy: 'Link it to a slot, name it as an output, or remove it.',
        ...(joins
          ? {
              fix: joinAt(finish, main.id, joinIndex(main), tap, freeId(finish, 'join')),
              otherFix: removeStrand(finish, s.id),
            }
          : { fix: removeStrand(finish, s.id) }),
      };
    });
};
