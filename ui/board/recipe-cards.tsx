import { CornerDownRight } from 'lucide-react';
import { useEffect } from 'react';
import { useShot, useShotStore } from '@/browser/session/store';
import { findStep, type Step, type Strand } from '@/core/finish/finish';
import { inputIdOf, isInput, isUse, usesAround } from '@/core/finish/uses';
import { PixelCanvas } from '../parts/PixelCanvas';
import { t } from '../words/words';
import { stepHeight } from './geometry';

/** What unfolded recipes show on the board beside their steps. */

type Drawn = { use: string; first: string; last: string };

/** The brackets of a strand: from the input of each unfolded recipe to its use; of a strand inside one, all of it. */
export function brackets({ id, inside }: Strand, steps: readonly Step[]): Drawn[] {
  const own = steps.flatMap((use): Drawn[] => {
    const input = steps.find((s) => isInput(s) && s.id === inputIdOf(use.id));
    return isUse(use) && input ? [{ use: use.id, first: input.id, last: use.id }] : [];
  });
  return inside === undefined ? own : [{ use: inside, first: id, last: steps.at(-1)?.id ?? id }, ...own];
}

/** The ground of what is inside a recipe; brighter while it is being edited. */
type BracketProps = { use: string; x: number; width: number; y: number; bottom: number };
export function Bracket({ use, x, width, y, bottom }: BracketProps) {
  const editing = useShot((s) => s.editing === use);
  return (
    <div
      aria-hidden="true"
      className={`absolute rounded-box border-l-2 ${
        editing ? 'border-primary bg-primary/10' : 'border-secondary/70 bg-base-content/5'
      }`}
      style={{ left: x - 5, top: y - 5, width: width + 9, height: bottom - y + 10 }}
    />
  );
}

/** Where an unfolded recipe begins: the picture that comes to it. */
export function InputCard({ id, x, width, y }: { id: string; x: number; width: number; y: number }) {
  const thumbnail = useShot((s) => s.noticed.thumbnails[id]);
  return (
    <div
      className="absolute flex items-center gap-1.5 px-1.5 text-xs text-quiet"
      style={{ left: x, top: y, width, height: stepHeight }}
    >
      <PixelCanvas picture={thumbnail} className="h-8 w-9 shrink-0 rounded-sm opacity-80" />
      <CornerDownRight size={12} aria-hidden="true" /> {t`Input`}
    </div>
  );
}

/** What is selected inside a folded recipe, as after an undo or from a list, unfolds it; a recipe that is gone is not edited any more. */
export function useUnfoldedSelection() {
  const store = useShotStore();
  const finish = useShot((s) => s.finish);
  const selected = useShot((s) => s.selected);
  const editing = useShot((s) => s.editing);
  useEffect(() => {
    const { unfolded, change } = store.getState();
    const missing =
      selected === undefined ? [] : usesAround(finish, selected).filter((u) => !unfolded.includes(u));
    if (missing.length > 0) change({ unfolded: [...unfolded, ...missing] });
    const step = editing === undefined ? undefined : findStep(finish, editing)?.step;
    if (editing !== undefined && !(step && isUse(step))) change({ editing: undefined });
  }, [store, finish, selected, editing]);
}
