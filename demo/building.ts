import type { Edit } from '../core/finish/edit';
import { addStep, linkSlot } from '../core/finish/edits';
import type { Finish, Head, Strand, Tap } from '../core/finish/finish';
import { startStrand } from '../core/finish/new-strand';
import { setValues } from '../core/finish/value-edits';
import type { Values } from '../core/steps/shared/define';

/** A finish built as somebody at the board builds it: by one edit after the other. */
export function building(first: Finish) {
  let doc = first;
  const edit = (make: (doc: Finish) => Edit) => {
    doc = make(doc).apply(doc);
  };
  return {
    get doc() {
      return doc;
    },
    edit,
    /** A strand of its own, and its id. */
    strand(name: string, head: Head, kind: Strand['kind']): string {
      const started = startStrand(doc, { key: name, name, description: '', head, kind });
      edit(() => started.edit);
      return started.strand;
    },
    /** A step at the end of a strand. */
    step(strand: string, type: string, id: string, values: Values) {
      const index = doc.strands.find((s) => s.id === strand)!.steps.length;
      edit(() => addStep(strand, index, type, id));
      edit((d) => setValues(d, id, values));
    },
    link(step: string, slot: string, strand: string, after = 'end', as?: Tap['as']) {
      edit((d) => linkSlot(d, step, slot, { strand, after, ...(as ? { as } : {}) }));
    },
  };
}
