import { passKinds } from '@/core/formats/pass-kinds';
import { Modal } from '../parts/Modal';
import { type PassSummary, rangeOf } from './pass-summary';

/** One pass, as large as the page allows. */
export function PassLarge({
  summary,
  picture,
  onClose,
}: {
  summary: PassSummary;
  picture: string;
  onClose(): void;
}) {
  const { pass, content } = summary;
  return (
    <Modal label={pass.label} box="w-auto max-w-[92vw] p-3" onClose={onClose}>
      <img src={picture} alt={pass.label} className="max-h-[76vh] w-[88vw] bg-[#161616] object-contain" />
      <p className="flex flex-wrap gap-x-4 pt-2 text-sm text-quiet">
        <b className="text-base-content">{pass.label}</b>
        <span>{passKinds[pass.kind]}</span>
        <span>
          {summary.width} × {summary.height}
        </span>
        <span>{rangeOf(summary)}</span>
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
    </Modal>
  );
}
