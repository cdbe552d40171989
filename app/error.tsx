'use client';
import Link from 'next/link';
import { State } from '@/ui/parts/State';
import { t } from '@/ui/words/words';

/** Shown in place of a screen that failed. The document is safe on the server. */
export default function Failed({ error, reset }: { error: Error; reset(): void }) {
  return (
    <main className="grid min-h-dvh place-content-center">
      <State
        is="failed"
        whole
        title={t`This screen stopped`}
        words={t`${error.message || t`Something unexpected happened.`} What was saved is safe on the server.`}
      >
        <button type="button" className="btn btn-primary btn-sm" onClick={reset}>
          {t`Open it again`}
        </button>
        <Link href="/" className="btn btn-sm">
          {t`To the projects`}
        </Link>
      </State>
    </main>
  );
}
