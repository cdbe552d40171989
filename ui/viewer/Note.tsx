import type { ReactNode } from 'react';

/** A few words over the picture, at its top or, `low`, at its bottom. */
export function Note({ low, children }: { low?: boolean; children: ReactNode }) {
  return (
    <p
      className={`pointer-events-none absolute ${low ? 'bottom-3' : 'top-3'} left-1/2 -translate-x-1/2 rounded bg-black/70 px-2 py-1 text-xs`}
    >
      {children}
    </p>
  );
}
