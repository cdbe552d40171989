import { Lock } from 'lucide-react';
import { useShot, useShotStore } from '@/browser/session/store';
import { findStep, stepName } from '@/core/finish/finish';
import { t } from '../words/words';
import { toggleEditing } from './use-tools';

/** Says that what is selected is inside a recipe, and leads to its front or to changing it. */
export function LockedInside({ use }: { use: string }) {
  const store = useShotStore();
  const name = useShot((s) => {
    const step = findStep(s.finish, use)?.step;
    return step ? stepName(step) : '';
  });
  const change = useShot((s) => s.change);
  return (
    <p className="flex items-center gap-1.5 border-b border-line px-4 py-2 text-xs text-quiet">
      <Lock size={12} className="shrink-0" />
      <span className="min-w-0 flex-1 truncate">
        {t`Inside`}{' '}
        <button
          type="button"
          className="cursor-pointer text-base-content hover:underline"
          onClick={() => change({ selected: use })}
        >
          {name}
        </button>
      </span>
      <button type="button" className="btn btn-xs" onClick={() => toggleEditing(store, use)}>
        {t`Edit inside`}
      </button>
    </p>
  );
}
