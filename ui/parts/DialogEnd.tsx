import type { ReactNode } from 'react';
import { t } from '../words/words';

type Props = { problem: string; cancel?: string; onCancel(): void; children?: ReactNode };

/** The end of a dialog: why it could not be done, the way out, and what does it. */
export function DialogEnd({ problem, cancel = t`Cancel`, onCancel, children }: Props) {
  return (
    <>
      {problem && (
        <p role="alert" className="mt-2 text-sm text-error">
          {problem}
        </p>
      )}
      <div className="mt-4 flex justify-end gap-2">
        <button type="button" className="btn btn-sm" onClick={onCancel}>
          {cancel}
        </button>
        {children}
      </div>
    </>
  );
}
