'use client';

/** Shown in place of a screen that failed. The document is safe on the server. */
export default function Failed({ error, reset }: { error: Error; reset(): void }) {
  return (
    <main className="grid min-h-dvh place-content-center gap-3 text-center">
      <h1 className="text-xl font-semibold">This screen stopped</h1>
      <p className="max-w-md text-quiet">
        {error.message || 'Something unexpected happened.'} What was saved is safe on the server.
      </p>
      <button type="button" className="btn btn-primary justify-self-center" onClick={reset}>
        Open it again
      </button>
    </main>
  );
}
