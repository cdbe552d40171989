import { useMemo } from 'react';
import type { ShotDetail } from '@/api/shots';
import { withIn, withOut } from '@/browser/play/settings';
import { usePlay, usePlayer, usePlaySettings } from '@/browser/play/use-player';
import { useShot, useShotStore } from '@/browser/session/store';
import { type Hand, useDrag } from '../parts/use-drag';
import { t } from '../words/words';
import type { FrameStates } from './frame-states';
import { runsOf } from './runs';

type Props = { shot: ShotDetail; states: FrameStates; keyed: readonly number[] };

/** The whole shot in one line: which frames are ready, missing, keyed or marked, what is played, and the playhead, which is dragged here. */
export function Track({ shot: { first, last }, states, keyed }: Props) {
  const player = usePlayer();
  const store = useShotStore();
  const change = useShot((s) => s.change);
  const settings = usePlaySettings((s) => s);
  const changes = usePlay((s) => s.changes);
  const count = last - first + 1;
  const share = (frame: number) => `${((frame - first) / count) * 100}%`;
  const wide = (frames: number) => `${(frames / count) * 100}%`;
  const span = player.span();

  // biome-ignore lint/correctness/useExhaustiveDependencies: `changes` says that other frames are ready
  const ready = useMemo(() => runsOf(first, last, player.isReady), [player, first, last, changes]);
  const lacking = useMemo(
    () => runsOf(first, last, (f) => states.stateOf(f).drawing === undefined),
    [states, first, last],
  );
  const partial = useMemo(
    () =>
      runsOf(first, last, (f) => {
        const { known } = states.stateOf(f);
        return known !== undefined && known.state !== 'ready' && known.state !== 'failed';
      }),
    [states, first, last],
  );

  type Held = { what: string; line: Element; frame: number; in?: number; out?: number };
  const frameAt = ({ clientX }: { clientX: number }, line: Element) => {
    const box = line.getBoundingClientRect();
    const at = Math.floor(((clientX - box.left) / box.width) * count);
    return first + Math.max(0, Math.min(count - 1, at));
  };
  const dragTo = ({ what, line }: Held, hand: Hand) => {
    const frame = frameAt(hand, line);
    if (what === 'frame') return change({ frame });
    // At the ends of the shot there is nothing to say.
    if (what === 'in') player.settings.setState((s) => withIn(s, frame === first ? undefined : frame));
    else player.settings.setState((s) => withOut(s, frame === last ? undefined : frame));
  };
  const press = useDrag<Held>({
    start: (e) => {
      e.stopPropagation();
      e.preventDefault();
      const what = (e.currentTarget as HTMLElement).dataset.grip!;
      const line = e.currentTarget.closest('[data-line]')!;
      const held = { what, line, frame: store.getState().frame, in: settings.in, out: settings.out };
      if (what === 'frame') {
        player.stop();
        change({ frame: frameAt(e, line) });
      }
      return held;
    },
    preview: dragTo,
    commit: (held, hand) => hand.moved && dragTo(held, hand),
    cancel: (held) => {
      if (held.what === 'frame') change({ frame: held.frame });
      else player.settings.setState({ in: held.in, out: held.out });
    },
  });

  return (
    <div
      className="relative h-[18px] shrink-0 cursor-ew-resize touch-none overflow-hidden rounded-sm bg-base-300 select-none"
      data-line
      data-grip="frame"
      data-testid="track"
      onPointerDown={press}
    >
      {lacking.map(([a, b]) => (
        <span
          key={a}
          className="absolute inset-y-0 bg-[repeating-linear-gradient(135deg,#3b3b3b_0_3px,#1e1e1e_3px_6px)]"
          style={{ left: share(a), width: wide(b - a + 1) }}
        />
      ))}
      {partial.map(([a, b]) => (
        <span
          key={a}
          className="absolute inset-y-0 bg-warning/35"
          style={{ left: share(a), width: wide(b - a + 1) }}
        />
      ))}
      {ready.map(([a, b]) => (
        <span
          key={a}
          data-ready={`${a}-${b}`}
          className="absolute bottom-0 h-[5px] bg-base-content/70"
          style={{ left: share(a), width: wide(b - a + 1) }}
        />
      ))}
      <span className="absolute inset-y-0 left-0 bg-black/60" style={{ width: wide(span.first - first) }} />
      <span className="absolute inset-y-0 right-0 bg-black/60" style={{ width: wide(last - span.last) }} />
      {keyed.map((f) => (
        <span
          key={f}
          className="absolute top-[3px] size-[7px] -translate-x-1/2 rotate-45 bg-secondary"
          style={{ left: share(f + 0.5) }}
        />
      ))}
      {settings.marks.map((f) => (
        <span
          key={f}
          data-mark={f}
          className="absolute top-0 h-[9px] w-[3px] -translate-x-1/2 bg-success"
          style={{ left: share(f + 0.5) }}
        />
      ))}
      <Playhead share={share} width={wide(1)} />
      {(['in', 'out'] as const).map((what) => (
        <span
          key={what}
          data-grip={what}
          title={
            what === 'in' ? t`Played from here. Drag, or press I.` : t`Played up to here. Drag, or press O.`
          }
          className={`absolute inset-y-0 w-[7px] cursor-col-resize border-base-content ${
            what === 'in'
              ? 'rounded-l-sm border-y-2 border-l-2'
              : '-translate-x-full rounded-r-sm border-y-2 border-r-2'
          }`}
          style={{ left: what === 'in' ? share(span.first) : share(span.last + 1) }}
          onPointerDown={press}
        />
      ))}
    </div>
  );
}

/** The frame on the screen; while it plays nothing else of the line is drawn anew. */
function Playhead({ share, width }: { share(frame: number): string; width: string }) {
  const frame = usePlay((s) => s.frame);
  return (
    <span
      className="pointer-events-none absolute inset-y-0 min-w-[3px] bg-primary/80"
      data-testid="playhead"
      style={{ left: share(frame), width }}
    />
  );
}
