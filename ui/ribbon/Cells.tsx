import { useVirtualizer } from '@tanstack/react-virtual';
import { Diamond } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import type { ShotDetail } from '@/api/shots';
import { usePlay, usePlayer } from '@/browser/play/use-player';
import { useShot } from '@/browser/session/store';
import { FlatPicture } from '../parts/FlatPicture';
import { PixelCanvas } from '../parts/PixelCanvas';
import { t } from '../words/words';
import type { FrameStates } from './frame-states';

type Props = { shot: ShotDetail; states: FrameStates; keyed: readonly number[] };

/** Room for a picture, and for the digits of a long number. */
const narrowest = (last: number) => Math.max(40, String(last).length * 7 + 12);

/** Frame by frame: the finished picture of each, the pass until there is one. Only the frames that are seen are drawn. */
export function Cells({ shot, states, keyed }: Props) {
  const { first, last } = shot;
  const frame = usePlay((s) => s.frame);
  const list = useRef<HTMLOListElement>(null);
  const [width, setWidth] = useState(0);
  useEffect(() => {
    const observer = new ResizeObserver(() => setWidth(list.current?.clientWidth ?? 0));
    observer.observe(list.current!);
    return () => observer.disconnect();
  }, []);
  const count = last - first + 1;
  const cell = Math.max(narrowest(last), Math.min(180, width / count));
  const virtual = useVirtualizer({
    count,
    horizontal: true,
    getScrollElement: () => list.current,
    estimateSize: () => cell,
    overscan: 4,
  });
  // biome-ignore lint/correctness/useExhaustiveDependencies: other widths are measured anew
  useEffect(() => virtual.measure(), [cell]);
  // The playhead stays in sight.
  useEffect(() => {
    const node = list.current!;
    const at = (frame - first) * cell;
    if (at < node.scrollLeft) node.scrollLeft = at;
    else if (at + cell > node.scrollLeft + width) node.scrollLeft = at + cell - width;
  }, [frame, first, cell, width]);
  const isKeyed = new Set(keyed);
  return (
    <ol
      ref={list}
      className="relative min-h-0 flex-1 overflow-x-auto overflow-y-hidden [scrollbar-width:none]"
    >
      <li aria-hidden="true" style={{ width: virtual.getTotalSize() }} className="h-px" />
      {virtual.getVirtualItems().map(({ index, start }) => (
        <li
          key={index}
          className="absolute inset-y-0 pr-[3px]"
          style={{ width: cell, transform: `translateX(${start}px)` }}
        >
          <Cell
            frame={first + index}
            current={first + index === frame}
            keyed={isKeyed.has(first + index)}
            states={states}
          />
        </li>
      ))}
    </ol>
  );
}

type CellProps = { frame: number; current: boolean; keyed: boolean; states: FrameStates };

function Cell({ frame, current, keyed, states }: CellProps) {
  const change = useShot((s) => s.change);
  const player = usePlayer();
  // Drawn anew when other frames are ready.
  usePlay((s) => s.changes);
  const { known, drawing, held, words, layers } = states.stateOf(frame);
  const finished = player.smallOf(frame);
  const label = t`Frame ${frame}`;
  return (
    <button
      type="button"
      aria-label={`${label}${words}`}
      aria-current={current}
      title={
        known?.problem ??
        known?.differs ??
        (held && drawing ? t`${label} holds the drawing of ${drawing.frame}` : label)
      }
      className={`relative block h-full w-full cursor-pointer overflow-hidden rounded-sm border ${
        current ? 'border-primary ring-1 ring-primary' : 'border-transparent'
      }`}
      onClick={() => {
        player.stop();
        change({ frame });
      }}
    >
      {(drawing || layers.length > 0) && finished ? (
        <PixelCanvas
          picture={finished.picture}
          className={`h-full w-full ${finished.fresh ? '' : 'opacity-50'}`}
        />
      ) : layers.length > 0 ? (
        <FlatPicture
          layers={layers.map(({ drawing: d, ...l }) => ({ ...l, frame: d.frame, content: d.content }))}
        />
      ) : drawing ? (
        <FlatPicture
          layers={[{ media: states.media!.id, frame: drawing.frame, content: drawing.content, opacity: 1 }]}
          className={held ? 'opacity-35' : ''}
        />
      ) : (
        <span
          className={`block h-full w-full ${known ? 'bg-error/30' : 'bg-[repeating-linear-gradient(135deg,#262626_0_5px,#1e1e1e_5px_10px)]'}`}
        />
      )}
      {(known?.differs || (drawing && known?.problem)) && (
        <span className="absolute top-0.5 right-0.5 size-2 rounded-full bg-warning" />
      )}
      {keyed && (
        <Diamond
          size={10}
          className="absolute top-0.5 left-1/2 -translate-x-1/2 text-secondary"
          fill="currentColor"
          stroke="#151515"
          aria-label={t`key`}
        />
      )}
      <span className="absolute bottom-0 left-0 bg-black/60 px-1 text-[10px]">{frame}</span>
    </button>
  );
}
