import { type MouseEvent, useState } from 'react';
import { channelNames, passKinds } from '@/core/formats/pass-kinds';
import { formatLight } from '../parts/format-value';
import { Modal } from '../parts/Modal';
import { t } from '../words/words';
import { type PassSummary, rangeOf } from './pass-summary';
import { type At, useObjectName, usePixelValues } from './use-pixel-values';

type Props = { summary: PassSummary; picture: string; media: number; frame: number; onClose(): void };

/** One pass, as large as the page allows, with its numbers under the hand. */
export function PassLarge({ summary, picture, media, frame, onClose }: Props) {
  const { pass, content, width, height } = summary;
  const [at, setAt] = useState<At>();
  const values = usePixelValues(media, frame, pass, at);
  const object = useObjectName(media, frame, pass, at);
  const names = channelNames(pass);
  /** The pixel of the frame under the hand; the picture lies whole in its box. */
  const point = (e: MouseEvent) => {
    const box = e.currentTarget.getBoundingClientRect();
    const k = Math.min(box.width / width, box.height / height);
    const x = Math.floor((e.clientX - box.left - (box.width - width * k) / 2) / k);
    const y = Math.floor((e.clientY - box.top - (box.height - height * k) / 2) / k);
    setAt(x >= 0 && y >= 0 && x < width && y < height ? { x, y } : undefined);
  };
  return (
    <Modal label={pass.label} box="w-auto max-w-[92vw] p-3" onClose={onClose}>
      <img
        src={picture}
        alt={pass.label}
        className="max-h-[76vh] w-[88vw] cursor-crosshair bg-[#161616] object-contain"
        onMouseMove={point}
        onMouseLeave={() => setAt(undefined)}
      />
      <p className="flex flex-wrap gap-x-4 pt-2 text-sm text-quiet">
        <b className="text-base-content">{pass.label}</b>
        <span>{passKinds[pass.kind]}</span>
        <span>
          {width} × {height}
        </span>
        <span>{rangeOf(summary)}</span>
        <span>
          {pass.channels
            .map((_, i) => {
              const r = content.ranges[i];
              return r
                ? `${names[i]} ${Number(r[0].toPrecision(3))} … ${Number(r[1].toPrecision(3))}`
                : names[i];
            })
            .join(' · ')}
        </span>
      </p>
      <p className="min-h-6 pt-1 text-sm text-quiet" data-testid="pass-values">
        {at && values ? (
          <>
            {at.x}, {at.y}
            {object !== undefined && <b className="ml-3 text-base-content">{object}</b>}
            {values.map((v, i) => (
              <span key={names[i]} className="ml-3">
                {names[i]} <span className="text-base-content">{formatLight(v)}</span>
              </span>
            ))}
          </>
        ) : (
          t`Point at the picture to read its numbers.`
        )}
      </p>
    </Modal>
  );
}
