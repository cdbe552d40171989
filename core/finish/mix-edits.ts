import { assignPart, type Edit, edit } from './edit';
import { type Finish, headOf } from './finish';
import type { MixedPass } from './heads';

/** Edits of the passes at a mix's head; a pass is named by its index. */

const mixOf = (doc: Finish, strandId: string) => headOf(doc, strandId, 'mix');

type Counts = Pick<MixedPass, 'off' | 'solo' | 'within'>;
const labelOf = (part: Partial<Counts>): string => {
  if ('off' in part) return part.off ? 'leave out' : 'take in';
  if ('solo' in part) return part.solo ? 'show alone' : 'show with the others';
  return part.within ? 'limit by a matte the gain of' : 'apply everywhere the gain of';
};

/** Whether a pass counts, and where. What is given as undefined is as at first again. */
export const setMixed = (doc: Finish, strandId: string, index: number, part: Partial<Counts>): Edit =>
  edit(`${labelOf(part)} ${mixOf(doc, strandId)?.passes[index]?.pass ?? 'a pass'}`, (draft) => {
    const pass = mixOf(draft, strandId)?.passes[index];
    if (pass) assignPart(pass, part);
  });

/** Shows the sum, or what the beauty has beyond it. */
export const showMix = (strandId: string, show: 'sum' | 'residual'): Edit =>
  edit(show === 'residual' ? 'show the residual' : 'show the sum', (draft) => {
    const head = mixOf(draft, strandId);
    if (head && show === 'residual') head.show = show;
    else if (head) delete head.show;
  });
