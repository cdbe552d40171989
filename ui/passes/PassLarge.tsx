import { useEffect, useRef } from 'react';
import { passKinds } from '@/core/formats/pass-kinds';
import { rangeOf } from './PassCard';
import type { ToldPass } from './PassesScreen';

/** One pass, as large as the page allows. */
export function PassLarge({ told, picture, onClose }: { told: ToldPass; picture: string; onClose(): void }) {
  const dialog = useRef<HTMLDialogElement>(null);
  useEffect(() => dialog.current?.showModal(), []);
  const { pass, content } = told;
  return (
    <dialog ref={dialog} className="modal" onClose={onClose} aria-label={pass.label}>
      <div className="modal-box max-w-[92vw] border border-line p-3">
        <img src={picture} alt={pass.label} className="max-h-[76vh] w-[88vw] bg-[#161616] object-contain" />
        <p className="flex flex-wrap gap-x-4 pt-2 text-sm text-quiet">
          <b className="text-base-content">{pass.label}</b>
          <span>{passKinds[pass.kind]}</span>
          <span>
            {told.width} × {told.height}
          </span>
          <span>{rangeOf(told)}</span>
          <span>
            {pass.channels
              .map((c, i) => {
                const r = content.ranges[i];
                const last = c.slice(c.lastIndexOf('.') + 1);
                return r ? `${last} ${Number(r[0].toPrecision(3))} … ${Number(r[1].toPrecision(3))}` : last;
              })
              .join(' · ')}
          </span>
        </p>
      </div>
      <form method="dialog" className="modal-backdrop">
        <button type="submit">Close</button>
      </form>
    </dialog>
  );
}
