import type { ShotDetail } from '@/api/shots';
import type { Thumbnail } from '@/browser/engine/answers';
import { useShot } from '@/browser/session/store';
import { setHead } from '@/core/finish/edits';
import type { PassHead, Strand } from '@/core/finish/finish';
import { passKinds } from '@/core/formats/pass-kinds';
import { strandKind } from '@/core/formats/passes';
import { PixelCanvas } from '../parts/PixelCanvas';
import { column, headHeight, rowY, stepHeight } from './geometry';
import { headLabel } from './head-label';

type Props = { strand: Strand; x: number; row: number; thumbnail: Thumbnail | undefined; shot: ShotDetail };

/** A strand's head: where its picture comes from, and the choice of another pass. */
export function HeadCard({ strand, x, row, thumbnail, shot }: Props) {
  const label = useShot((s) => headLabel(s.finish, strand.head));
  const selected = useShot((s) => s.selected === strand.id);
  const change = useShot((s) => s.change);
  return (
    <div
      className={`absolute overflow-hidden rounded-box border bg-base-100 ${selected ? 'border-primary ring-1 ring-primary' : 'border-line'}`}
      style={{ left: x, top: rowY(row), width: column, height: row === 0 ? headHeight : stepHeight }}
      title={strand.name}
      data-selected={selected}
    >
      <button
        type="button"
        className={`w-full cursor-pointer text-left ${row === 0 ? 'block' : 'flex h-full items-center gap-2 px-1.5'}`}
        onClick={() => change({ selected: strand.id })}
        aria-label={`Strand ${strand.name}`}
      >
        <PixelCanvas
          picture={thumbnail}
          className={row === 0 ? 'h-[62px] w-full' : 'h-8 w-11 shrink-0 rounded-sm'}
        />
        <span className="min-w-0">
          <span
            className={`block truncate text-[13px] font-medium ${row === 0 ? 'px-2 pt-1' : 'leading-tight'}`}
          >
            {strand.name}
            {strand.folded && ` (${strand.steps.length})`}
          </span>
          {row > 0 && <span className="block truncate text-xs leading-tight text-quiet">{label}</span>}
        </span>
      </button>
      {strand.head.type === 'pass' ? (
        <PassPicker strand={strand} head={strand.head} shot={shot} />
      ) : (
        row === 0 && <span className="block px-2 text-xs text-quiet">{label}</span>
      )}
    </div>
  );
}

function PassPicker({ strand, head, shot }: { strand: Strand; head: PassHead; shot: ShotDetail }) {
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
      className="mx-1 block w-[calc(100%-8px)] cursor-pointer rounded bg-transparent px-0.5 text-xs text-quiet hover:bg-base-300"
      aria-label={`Pass of ${strand.name}`}
      value={value}
      onChange={(e) => pick(e.target.value)}
    >
      {!shot.media.some((m) => m.passes.some((p) => `${m.name}/${p.name}` === value)) && (
        <option value={value}>{head.pass || 'beauty'} (not here yet)</option>
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
