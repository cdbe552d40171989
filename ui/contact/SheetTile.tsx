import { RotateCcw } from 'lucide-react';
import Link from 'next/link';
import type { After, Tile } from '@/browser/contact/tiles';
import type { Made } from '@/browser/contact/use-pictures';
import { ownValues } from '@/core/recipes/apply';
import { t } from '../words/words';
import { BitmapCanvas } from './BitmapCanvas';
import type { SheetLook } from './looks';

type Props = {
  tile: Tile;
  frame: number;
  chosen: boolean;
  after: After;
  look: SheetLook;
  before: Made | undefined;
  changed: Made | undefined;
  onChoose(): void;
  onFinish(finish: number): void;
  onTakeBack(use: string): void;
};

/** A shot of the sheet: its picture, which finish it is, what of recipes is its own, and what a change would do. */
export function SheetTile({
  tile,
  frame,
  chosen,
  after,
  look,
  before,
  changed,
  onChoose,
  onFinish,
  onTakeBack,
}: Props) {
  const { shot, saved } = tile;
  const ratio = shot.height / shot.width;
  const isChanged = after !== undefined && 'document' in after;
  const shows = look !== 'before' && isChanged ? look : 'before';
  return (
    <li
      className={`overflow-hidden rounded-box border bg-base-100 ${chosen ? 'border-primary ring-1 ring-primary' : 'border-line'}`}
      data-shot={shot.id}
      data-changed={isChanged}
    >
      <button
        type="button"
        className="block w-full cursor-pointer"
        aria-label={t`Choose ${shot.name}`}
        aria-pressed={chosen}
        onClick={onChoose}
      >
        <span className={`grid gap-px ${shows === 'both' ? 'grid-cols-2' : ''}`}>
          {shows !== 'after' && <BitmapCanvas made={before} ratio={ratio} />}
          {shows !== 'before' && <BitmapCanvas made={changed} ratio={ratio} />}
        </span>
      </button>
      <div className="grid gap-1 px-3 py-2 text-[13px]">
        <div className="flex items-center gap-2">
          <Link
            href={`/shots/${shot.id}?finish=${saved.id}`}
            className="truncate font-medium hover:underline"
            title={t`Open the shot`}
          >
            {shot.project}, {shot.name}
          </Link>
          {shot.finishes.length > 1 ? (
            <select
              className="select select-xs w-36 text-xs"
              aria-label={t`Finish of ${shot.name}`}
              value={saved.id}
              onChange={(e) => onFinish(Number(e.target.value))}
            >
              {shot.finishes.map((f) => (
                <option key={f.id} value={f.id}>
                  {f.name}
                </option>
              ))}
            </select>
          ) : (
            <span className="truncate text-quiet">{saved.document.name}</span>
          )}
          <span className="ml-auto text-xs whitespace-nowrap text-quiet">{t`frame ${frame}`}</span>
        </div>
        {ownValues(saved.document).map(({ use, name, controls }) => (
          <div key={use} className="flex items-center gap-2 text-xs text-secondary">
            {t`${name}: ${controls.length} own values`}
            <button
              type="button"
              className="ml-auto flex cursor-pointer items-center gap-1 hover:text-primary"
              title={t`Gives ${name} the values of its recipe: ${controls.join(', ')}`}
              onClick={() => onTakeBack(use)}
            >
              <RotateCcw size={11} /> {t`Take back`}
            </button>
          </div>
        ))}
        {after && 'problem' in after && (
          <p role="alert" className="text-xs text-error">
            {after.problem}
          </p>
        )}
        {after && 'notes' in after && after.notes.length > 0 && (
          <p className="text-xs text-secondary">{after.notes.join(' ')}</p>
        )}
      </div>
    </li>
  );
}
