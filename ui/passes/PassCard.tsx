import { TriangleAlert, Waypoints } from 'lucide-react';
import Link from 'next/link';
import { type PassKind, passKinds, passUses } from '@/core/formats/pass-kinds';
import { Options } from '../parts/Options';
import { t } from '../words/words';
import { type PassSummary, rangeOf } from './pass-summary';

type Props = {
  summary: PassSummary;
  picture: string;
  /** Link that starts a strand from this pass. */
  start: string;
  onKind(kind: PassKind): void;
  onLarge(): void;
};

const percent = (share: number) =>
  share === 0 ? '0 %' : share < 0.001 ? 'below 0.1 %' : `${(share * 100).toFixed(share < 0.1 ? 1 : 0)} %`;

/** One pass: its picture, scaled so that its content shows, and its numbers. */
export function PassCard({ summary, picture, start, onKind, onLarge }: Props) {
  const { pass, content } = summary;
  const bare = content.empty > 0.9999;
  return (
    <article className="overflow-hidden rounded-box border border-line bg-base-100" data-pass={pass.label}>
      <button
        type="button"
        className="relative block aspect-video w-full cursor-zoom-in bg-[#161616]"
        aria-label={t`${pass.label}, larger`}
        onClick={onLarge}
      >
        <img src={picture} alt="" className="h-full w-full object-contain" loading="lazy" />
        {bare && (
          <span className="absolute inset-0 grid place-content-center bg-black/60 text-sm">{t`Empty`}</span>
        )}
      </button>
      <div className="grid gap-1.5 p-3 text-xs">
        <div className="flex items-center gap-2">
          <span className="truncate text-sm font-semibold" title={pass.channels.join(' ')}>
            {pass.label}
          </span>
          <select
            className="select select-xs ml-auto w-32 shrink-0"
            aria-label={t`Kind of ${pass.label}`}
            value={pass.kind}
            onChange={(e) => onKind(e.target.value as PassKind)}
          >
            <Options of={passKinds} />
          </select>
        </div>
        <p className="text-quiet">{passUses[pass.kind]}</p>
        <dl className="grid grid-cols-[auto_1fr] gap-x-3 text-quiet">
          <dt>{t`Values`}</dt>
          <dd className="text-right text-base-content">{rangeOf(summary)}</dd>
          <dt>{t`Empty`}</dt>
          <dd className="text-right text-base-content">{percent(content.empty)}</dd>
          <dt>{t`Type`}</dt>
          <dd className="text-right text-base-content">
            {[...new Set(pass.types)].join(', ')} × {pass.channels.length}
          </dd>
        </dl>
        {summary.names && (summary.names.problem || summary.names.named < (content.idCount ?? 0)) && (
          <p className="flex gap-1 text-warning">
            <TriangleAlert size={13} className="mt-0.5 shrink-0" />
            {summary.names.problem ??
              (summary.names.manifest === 'missing'
                ? t`The file has no list of names for its ids.`
                : t`Some ids are not in the list of names.`)}
          </p>
        )}
        {(content.notFinite > 0 || summary.partial) && (
          <p className="flex gap-1 text-warning">
            <TriangleAlert size={13} className="mt-0.5 shrink-0" />
            {summary.partial ??
              t`${percent(content.notFinite)} of pixels are not finite${pass.kind === 'depth' ? t` (sky)` : ''}.`}
          </p>
        )}
        <Link href={start} className="btn btn-xs mt-1">
          <Waypoints size={13} /> {t`Start a strand from this`}
        </Link>
      </div>
    </article>
  );
}
