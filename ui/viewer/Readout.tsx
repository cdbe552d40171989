import type { Shown } from '@/browser/engine/answers';
import { luminance, toStops } from '@/core/colour/luminance';
import { formatLight } from '../parts/format-value';
import { t } from '../words/words';
import type { Pointed } from './PictureCanvas';
import { pixelOf } from './pixel-of';

type Props = {
  shown: Shown | undefined;
  pointed: Pointed | null;
  zoom: number;
  busy: boolean;
  object: string;
  /** What the numbers are: `colour`, or the names of those of a matte or of data. */
  numbers: 'colour' | readonly string[];
};

const draftNames: Record<number, string> = { 1: 'full', 0.5: 'draft ½', 0.25: 'draft ¼', 0.125: 'draft ⅛' };

/** Linear values under the cursor, and what size is shown and how long it took. */
export function Readout({ shown, pointed, zoom, busy, object, numbers }: Props) {
  const values = shown && pointed ? pixelOf(shown, pointed) : undefined;
  const light = values && luminance(values[0], values[1], values[2]);
  return (
    <div className="flex h-7 items-center gap-4 overflow-hidden border-t border-line px-3 text-xs whitespace-nowrap text-quiet">
      {values && pointed && light !== undefined ? (
        <div className="flex gap-3" data-testid="readout">
          <span className="w-16">
            {pointed.x}, {pointed.y}
          </span>
          {(numbers === 'colour' ? ['R', 'G', 'B', 'A'] : numbers).map((name, i) => (
            <span key={name} className="min-w-14">
              {name} <span className="text-base-content">{formatLight(values[i])}</span>
            </span>
          ))}
          {numbers === 'colour' && (
            <span>
              {t`Y`} <span className="text-base-content">{formatLight(light)}</span>
              {light > 0 && Number.isFinite(light) && (
                <span className="text-secondary">
                  {' '}
                  {t`${toStops(light) >= 0 ? '+' : '−'}${Math.abs(toStops(light)).toFixed(1)} stops`}
                </span>
              )}
            </span>
          )}
        </div>
      ) : (
        <span>{t`Scroll to zoom, drag to pan, click for a pixel’s journey, ? for all keys`}</span>
      )}
      <span className="min-w-0 truncate text-base-content" data-testid="object">
        {object}
      </span>
      <span className="ml-auto" data-testid="shown" data-busy={busy} data-scale={shown?.scale}>
        {shown
          ? t`${draftNames[shown.scale] ?? shown.scale} · ${shown.region ? t`region · ` : ''}${Math.round(shown.millis)} ms`
          : '…'}
      </span>
      <span className="w-11 text-right" data-testid="zoom">
        {Math.round(zoom * 100)} %
      </span>
    </div>
  );
}
