'use client';
import { t } from '@/ui/words/words';

/** Shown in place of a screen that failed. The document is safe on the server. */
export default function Failed({ error, reset }: { error: Error; reset(): void }) {
  return (
    <main className="grid min-h-dvh place-content-center gap-3 text-center">
      <h1 className="text-xl font-semibold">{t`This screen stopped`}</h1>
      <p className="max-w-md text-quiet">
        {error.message || t`Something unexpected happened.`} {t`What was saved is safe on the server.`}
      </p>
      <button type="button" className="btn btn-primary justify-self-center" onClick={reset}>
        {t`Open it again`}
      </button>
    </main>
  );
}
