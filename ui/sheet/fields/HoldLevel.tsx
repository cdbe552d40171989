import { Plus } from 'lucide-react';
import { useState } from 'react';
import { toast } from 'sonner';
import type { ShotDetail } from '@/api/shots';
import { useEngine } from '@/browser/engine/use-engine';
import { useShot, useShotStore } from '@/browser/session/store';
import { animatedAt } from '@/core/finish/animated';
import { edit } from '@/core/finish/edit';
import { findStep } from '@/core/finish/finish';
import { setModulators, setTrack } from '@/core/finish/key-edits';
import { trackOf } from '@/core/finish/keys';
import { stepSpec } from '@/core/steps/registry';
import { t } from '../../words/words';

/** Keeps the light that a step adds at its share on this frame: measured on every frame, then a modulator of its amount. */
export function HoldLevel({ stepId, shot }: { stepId: string; shot: ShotDetail }) {
  const started = useEngine();
  const store = useShotStore();
  const frame = useShot((s) => s.frame);
  const isLight = useShot((s) => {
    const found = findStep(s.finish, stepId);
    return found !== undefined && stepSpec(found.step.type)?.stage === 'light';
  });
  const [done, setDone] = useState<number>();
  const count = shot.last - shot.first + 1;
  if (!isLight || !started) return null;
  const hold = async () => {
    const { finish } = store.getState();
    const found = findStep(finish, stepId)!;
    const frames = Array.from({ length: count }, (_, i) => shot.first + i);
    let over = false;
    setDone(0);
    let measured = 0;
    const shares = await started.engine
      .allShares(
        // What of its light changes without keys is the picture's own doing.
        edit('measure', (draft) => setTrack(animatedAt(draft, stepId), 'amount', {})).apply(finish),
        { strand: found.strand.id, after: stepId },
        frames,
        () => {
          measured++;
          if (!over) setDone(measured);
        },
      )
      .catch((error) => void toast.error((error as Error).message));
    over = true;
    setDone(undefined);
    if (!shares) return;
    if (!shares.some(([f, share]) => f === frame && share > 0))
      return void toast.error(t`On frame ${frame} the step adds no light. Hold the level of another frame.`);
    store.getState().edit((doc) => {
      const others = trackOf(doc, stepId, 'amount')?.modulators ?? [];
      const kept = others.filter((m) => m.type !== 'level');
      return setModulators(doc, stepId, 'amount', [...kept, { type: 'level', frame, shares }], shot.rate);
    });
  };
  return done === undefined ? (
    <button
      type="button"
      className="btn btn-ghost btn-xs px-1 font-normal text-quiet"
      title={t`Keeps the light that the step adds at its share on frame ${frame}.`}
      onClick={hold}
    >
      <Plus size={11} /> {t`Constant level`}
    </button>
  ) : (
    <span className="flex items-center gap-2 text-quiet" role="status">
      {t`${done} of ${count} frames`}
      <button
        type="button"
        className="btn btn-ghost btn-xs"
        onClick={() => started.engine.stopMiddles().catch(() => {})}
      >
        {t`Stop`}
      </button>
    </span>
  );
}
