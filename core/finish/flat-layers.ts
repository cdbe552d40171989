import { type Finish, type Head, leadingPass, mainStrand } from './finish';
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
    // What is joined onto the strand lies above it.
    const joined = strand.steps
      .filter((s) => s.type === 'join' && !s.bypass && s.slots.picture)
      .flatMap((s) => of(s.slots.picture.strand, [...above, id]));
    return [...ofHead(strand.head, [...above, id]), ...joined];
  };
  const ofHead = (head: Head, above: readonly string[]): FlatLayer[] => {
    if (head.type === 'pass') return [{ media: head.media, pass: head.pass, opacity: 1 }];
    if (head.type === 'stack')
      return shownLayers(head).map(({ media, pass, opacity }) => ({ media, pass, opacity }));
    return head.type === 'tap' ? of(head.strand, above) : [];
  };
  const all = of(mainStrand(doc).id, []);
  // A layer that comes in twice is seen where it lies highest.
  const found = all.filter((l, i) => !all.slice(i + 1).some((m) => m.media === l.media && m.pass === l.pass));
  if (found.length > 0) return found;
  const first = leadingPass(doc);
  return first ? [{ media: first.media, pass: first.pass, opacity: 1 }] : [];
}
