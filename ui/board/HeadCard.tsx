import { ChevronsLeftRight } from 'lucide-react';
import { memo } from 'react';
import type { ShotDetail } from '@/api/shots';
import { useShot } from '@/browser/session/store';
import { setHead } from '@/core/finish/edits';
import type { PassHead, Strand } from '@/core/finish/finish';
import { passKinds } from '@/core/formats/pass-kinds';
import { strandKind } from '@/core/formats/passes';
import { PixelCanvas } from '../parts/PixelCanvas';
import { t } from '../words/words';
import { goToValues } from '../workspace/areas';
import { CardName } from './CardName';
import { bottomOf, type Column, headHeight, rowY, stepHeight } from './geometry';
import { headLabel } from './head-label';

type Props = { strand: Strand; column: Column; row: number; shot: ShotDetail; faded: boolean };

/** A strand's head: where its picture comes from, and the choice of another pass. */
export const HeadCard = memo(function HeadCard({ strand, column: { x, width }, row, shot, faded }: Props) {
  const label = useShot((s) => headLabel(s.finish, strand.head));
  const thumbnail = useShot((s) => s.noticed.thumbnails[strand.id]);
  const selected = useShot((s) => s.selected === strand.id);
  const change = useShot((s) => s.change);
  const frame = `absolute overflow-hidden rounded-box border bg-base-100 ${
    selected ? 'border-primary ring-1 ring-primary' : 'border-line'
  } ${faded ? 'opacity-25' : ''}`;
  const card = {
    type: 'button',
    'data-card': true,
    'data-selected': selected,
    tabIndex: selected ? 0 : -1,
    onClick: () => change({ selected: strand.id }),
    onKeyDown: (e: React.KeyboardEvent) => {
      if (e.key !== 'Enter' || e.ctrlKey || e.altKey) return;
      e.preventDefault();
      change({ selected: strand.id });
      goToValues();
    },
    'aria-pressed': selected,
    'aria-label': t`Strand ${strand.name}`,
  } as const;
  const steps = t`${strand.steps.length} steps`;
  if (strand.folded)
    return (
      <button
        {...card}
        className={`${frame} grid cursor-pointer content-start justify-items-center gap-1 px-0.5 py-1`}
        style={{ left: x, top: rowY(row), width, height: bottomOf(row) - rowY(row) }}
        title={t`${strand.name}, folded: ${steps}. U unfolds it.`}
      >
        <ChevronsLeftRight size={11} className="text-quiet" aria-hidden="true" />
        <span
          className="max-h-full overflow-hidden text-[11px] text-ellipsis whitespace-nowrap [writing-mode:vertical-rl]"
          style={{ maxHeight: bottomOf(row) - rowY(row) - 24 }}
        >
          {strand.name} ({strand.steps.length})
        </span>
      </button>
    );
  return (
    <div
      className={frame}
      style={{ left: x, top: rowY(row), width, height: row === 0 ? headHeight : stepHeight }}
      title={strand.name}
    >
      <button
        {...card}
        className={`w-full cursor-pointer text-left -outline-offset-2 ${row === 0 ? 'block' : 'flex h-full items-center gap-2 px-1.5'}`}
      >
        <PixelCanvas
          picture={thumbnail}
          className={row === 0 ? 'h-[62px] w-full' : 'h-8 w-9 shrink-0 rounded-sm'}
        />
        <span className="min-w-0">
          <CardName
            name={strand.name}
            className={`block text-[13px] font-medium ${row === 0 ? 'px-2 pt-1' : 'leading-tight'}`}
          />
          {row > 0 && (
            <span className="card-value block truncate text-xs leading-tight text-quiet">{label}</span>
          )}
        </span>
      </button>
      {strand.head.type === 'pass' ? (
        <PassPicker strand={strand} head={strand.head} shot={shot} reachable={selected} />
      ) : (
        row === 0 && <span className="card-value block truncate px-2 text-xs text-quiet">{label}</span>
      )}
    </div>
  );
});

type PickerProps = { strand: Strand; head: PassHead; shot: ShotDetail; reachable: boolean };

function PassPicker({ strand, head, shot, reachable }: PickerProps) {
  const edit = useShot((s) => s.edit);
  const value = `${head.media}/${head.pass}`;
  const pick = (chosen: string) => {
    for (const media of shot.media) {
      for (const pass of media.passes) {
        if (`${media.name}/${pass.name}` !== chosen) continue;
        const to = { type: 'pass', media: media.name, pass: pass.name } as const;
        edit((finish) => setHead(finish, strand.id, to, strandKind(pass), pass.label));
      }
    }
  };
  return (
    <select
      className="card-value mx-1 block w-[calc(100%-8px)] cursor-pointer rounded bg-transparent px-0.5 text-xs text-quiet hover:bg-base-300"
      tabIndex={reachable ? 0 : -1}
      aria-label={t`Pass of ${strand.name}`}
      value={value}
      onChange={(e) => pick(e.target.value)}
    >
      {!shot.media.some((m) => m.passes.some((p) => `${m.name}/${p.name}` === value)) && (
        <option value={value}>
          {head.pass || 'beauty'} {t`(not here yet)`}
        </option>
      )}
      {shot.media.map((m) => (
        <optgroup key={m.id} label={m.name}>
          {m.passes.map((p) => (
            <option key={p.name} value={`${m.name}/${p.name}`}>
              {p.label} · {passKinds[p.kind]}
            </option>
          ))}
        </optgroup>
      ))}
    </select>
  );
}
