import { type Finish, leadingPass, mainStrand } from './finish';
import type { PassHead } from './heads';
import { shownLayers } from './layers';

export type FlatLayer = Pick<PassHead, 'media' | 'pass'> & { opacity: number };

/**
 * The passes that a finish's picture begins with, the lowest first, before any step: what a flat picture of it shows while the finished one is not
 * there yet.
 */
export function flatLayers(doc: Finish): FlatLayer[] {
  const of = (id: string, above: readonly string[]): FlatLayer[] => {
    const strand = doc.strands.find((s) => s.id === id);
    if (!strand || above.includes(id)) return [];
    const { head } = strand;
    if (head.type === 'pass') return [{ media: head.media, pass: head.pass, opacity: 1 }];
    if (head.type === 'stack')
      return shownLayers(head).map(({ media, pass, opacity }) => ({ media, pass, opacity }));
    return head.type === 'tap' ? of(head.strand, [...above, id]) : [];
  };
  const found = of(mainStrand(doc).id, []);
  if (found.length > 0) return found;
  const first = leadingPass(doc);
  return first ? [{ media: first.media, pass: first.pass, opacity: 1 }] : [];
}
