import type { ReactNode } from 'react';
import { useShot } from '@/browser/session/store';
import { t } from '../words/words';

/** What all sheets stand in. Where somebody may only look, nothing in it can be changed, and it is still scrolled with the keyboard. */
export function SheetFrame({ className = '', children }: { className?: string; children: ReactNode }) {
  const looksOnly = useShot((s) => s.looksOnly);
  return (
    <aside
      className={`h-full overflow-y-auto ${className}`}
      aria-label={t`Step sheet`}
      tabIndex={looksOnly ? 0 : undefined}
    >
      <fieldset disabled={looksOnly} className="contents">
        {children}
      </fieldset>
    </aside>
  );
}
