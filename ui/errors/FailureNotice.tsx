'use client';
import { CircleAlert, X } from 'lucide-react';
import { useEffect, useState } from 'react';
import { useStore } from 'zustand';
import { failures, forgetFailure, watchFailures } from '@/browser/failures';
import { IconButton } from '../parts/IconButton';
import { t } from '../words/words';

/** Says what failed without anybody handling it. The document stays as it was before; what was saved is on the server. */
export function FailureNotice() {
  const last = useStore(failures, (s) => s.last);
  const [copied, setCopied] = useState(false);
  useEffect(watchFailures, []);
  // biome-ignore lint/correctness/useExhaustiveDependencies: another failure has not been copied
  useEffect(() => setCopied(false), [last?.details]);
  if (!last) return null;
  const copy = () =>
    navigator.clipboard.writeText(last.details).then(
      () => setCopied(true),
      () => setCopied(false),
    );
  return (
    <div
      role="alert"
      data-testid="failure"
      className="fixed top-14 left-1/2 z-50 grid w-[min(44rem,94vw)] -translate-x-1/2 grid-cols-[auto_1fr_auto] gap-x-3 gap-y-2 rounded-box border border-error bg-base-100 px-4 py-3 text-sm shadow-xl"
    >
      <CircleAlert size={18} className="mt-0.5 text-error" aria-hidden="true" />
      <div className="min-w-0">
        <p className="font-semibold">
          {last.count > 1 ? t`Something failed (${last.count} times)` : t`Something failed`}
        </p>
        <p className="break-words text-quiet">{last.message}</p>
        <p className="mt-1 text-quiet">
          {t`Your document is as it was before. If the screen behaves oddly, reload it.`}
        </p>
        <details className="mt-1 text-xs text-quiet">
          <summary className="cursor-pointer">{t`Details`}</summary>
          <pre className="mt-1 max-h-40 overflow-auto whitespace-pre-wrap select-text">{last.details}</pre>
        </details>
      </div>
      <IconButton icon={X} label={t`Close`} onClick={forgetFailure} />
      <div className="col-start-2 flex gap-2">
        <button type="button" className="btn btn-xs" onClick={copy}>
          {copied ? t`Copied` : t`Copy the details`}
        </button>
        <button type="button" className="btn btn-xs" onClick={() => location.reload()}>
          {t`Reload`}
        </button>
      </div>
    </div>
  );
}
