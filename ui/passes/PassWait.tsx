import { useEffect, useState } from 'react';
import { passKinds } from '@/core/formats/pass-kinds';
import type { Pass } from '@/core/formats/passes';
import { t } from '../words/words';

/** So long until it is asked for again. */
const againMillis = 700;

/** A pass that is still being read: its name at once, its picture as soon as it is made. */
export function PassWait({ pass, pictureAt }: { pass: Pass; pictureAt(attempt: number): string }) {
  const [attempt, setAttempt] = useState(0);
  const [isThere, setThere] = useState(false);
  const [failed, setFailed] = useState(0);
  useEffect(() => {
    if (failed === 0) return;
    const timer = setTimeout(() => setAttempt(failed), againMillis);
    return () => clearTimeout(timer);
  }, [failed]);
  return (
    <article
      className="overflow-hidden rounded-box border border-line bg-base-100"
      data-pass={pass.label}
      aria-busy={!isThere}
    >
      <div className="relative aspect-video w-full bg-[#161616]">
        {!isThere && <span className="skeleton absolute inset-0 rounded-none opacity-30" />}
        <img
          src={pictureAt(attempt)}
          alt=""
          className={`h-full w-full object-contain ${isThere ? '' : 'invisible'}`}
          onLoad={() => setThere(true)}
          onError={() => setFailed(attempt + 1)}
        />
      </div>
      <div className="grid gap-1.5 p-3 text-xs">
        <div className="flex items-center gap-2">
          <span className="truncate text-sm font-semibold" title={pass.channels.join(' ')}>
            {pass.label}
          </span>
          <span className="ml-auto text-quiet">{passKinds[pass.kind]}</span>
        </div>
        <p className="text-quiet">{isThere ? t`Its numbers are being read …` : t`Being read …`}</p>
      </div>
    </article>
  );
}
