import { useMemo, useState } from 'react';
import type { ShotDetail } from '@/api/shots';
import { usePlay } from '@/browser/play/use-player';
import { previewed, useShot, useShotStore } from '@/browser/session/store';
import { findAnimated, selectionOf, usualRate, valueOn } from '@/core/finish/animated';
import { type KeyAt, moveKeys, scaleKeys, toggleKey } from '@/core/finish/key-edits';
import { cellOf, type Lane } from '@/core/finish/key-table';
import type { Value } from '@/core/steps/shared/define';
import { valueAt } from '@/core/time/track';
import { formatNumber } from '../parts/format-value';
import { type Hand, useDrag } from '../parts/use-drag';
import { t } from '../words/words';
import { MeasuredLane } from './MeasuredLane';
import { NoLanes } from './NoLanes';
import { chooseKeys, nameOf } from './use-chosen-keys';

type Props = { shot: ShotDetail; lanes: readonly Lane[]; chosen: readonly KeyAt[] };

const shownValue = (value: Value) =>
  typeof value === 'number'
    ? formatNumber(value)
    : Array.isArray(value) && typeof value[0] === 'number'
      ? (value as readonly number[]).map(formatNumber).join(' ')
      : cellOf(value);

/** Points of a curve over the shot. */
const mostPoints = 400;

/** A lane for each value that changes: its keys on the frames, and for a number the curve that they make. */
export function Lanes({ shot, lanes, chosen }: Props) {
  const { first, last } = shot;
  const shown = useShot(previewed);
  const frame = useShot((s) => s.frame);
  const change = useShot((s) => s.change);
  const store = useShotStore();
  const count = last - first + 1;
  const share = (f: number) => ((f - first + 0.5) / count) * 100;
  const isChosen = new Set(chosen.map(nameOf));

  /** The box that is drawn around keys just now. */
  const [box, setBox] = useState<{ left: number; top: number; width: number; height: number }>();

  type Held = { keys: readonly KeyAt[]; wide: number };
  const framesMoved = ({ wide }: Held, hand: Hand) => Math.round((hand.dx / wide) * count);
  const drag = useDrag<Held>({
    start: (e) => {
      e.stopPropagation();
      const { of, key, at } = (e.currentTarget as HTMLElement).dataset;
      const pressed: KeyAt = { of: of!, key: key!, frame: Number(at) };
      const isIn = isChosen.has(nameOf(pressed));
      const keys = isIn ? chosen : e.shiftKey ? [...chosen, pressed] : [pressed];
      if (isIn && e.shiftKey) {
        chooseKeys(chosen.filter((k) => nameOf(k) !== nameOf(pressed)));
        return undefined;
      }
      chooseKeys(keys);
      const wide = e.currentTarget.parentElement!.getBoundingClientRect().width;
      return { keys, wide };
    },
    preview: (held, hand) => {
      const by = framesMoved(held, hand);
      change({ preview: by === 0 ? undefined : moveKeys(store.getState().finish, held.keys, by) });
    },
    commit: (held, hand) => {
      const by = framesMoved(held, hand);
      if (by === 0) return change({ preview: undefined });
      if (store.getState().edit((doc) => moveKeys(doc, held.keys, by)))
        chooseKeys(held.keys.map((k) => ({ ...k, frame: k.frame + by })));
    },
    cancel: () => change({ preview: undefined }),
  });

  /** The first and last frame of what is chosen, if there are two. */
  const [least, most] = [Math.min(...chosen.map((k) => k.frame)), Math.max(...chosen.map((k) => k.frame))];
  const ends = chosen.length > 1 && most > least ? { first: least, last: most } : undefined;
  type Stretched = { keys: readonly KeyAt[]; about: number; from: number; wide: number };
  /** How far from the end that stays; never over it. */
  const factorOf = ({ about, from, wide }: Stretched, hand: Hand) => {
    const to = from + Math.round((hand.dx / wide) * count);
    const span = from - about;
    return Math.max(1, Math.abs(span) + Math.sign(span) * (to - from)) / Math.abs(span);
  };
  const stretch = useDrag<Stretched>({
    start: (e) => {
      e.stopPropagation();
      const isFirst = (e.currentTarget as HTMLElement).dataset.end === 'first';
      const wide = e.currentTarget.parentElement!.getBoundingClientRect().width;
      return { keys: chosen, about: isFirst ? most : least, from: isFirst ? least : most, wide };
    },
    preview: (held, hand) =>
      change({ preview: scaleKeys(store.getState().finish, held.keys, held.about, factorOf(held, hand)) }),
    commit: (held, hand) => {
      const factor = factorOf(held, hand);
      if (factor === 1) return change({ preview: undefined });
      if (store.getState().edit((doc) => scaleKeys(doc, held.keys, held.about, factor)))
        chooseKeys(
          held.keys.map((k) => ({
            ...k,
            frame: Math.round(held.about + (k.frame - held.about) * factor) + 0,
          })),
        );
    },
    cancel: () => change({ preview: undefined }),
  });

  /** A press beside the keys draws a box around those to choose. */
  const frameBox = useDrag<{ area: Element; x: number; y: number }>({
    start: (e) => ({ area: e.currentTarget, x: e.clientX, y: e.clientY }),
    preview: ({ area, x, y }, hand) => {
      const { left, top } = area.getBoundingClientRect();
      setBox({
        left: Math.min(x, hand.clientX) - left,
        top: Math.min(y, hand.clientY) - top,
        width: Math.abs(hand.dx),
        height: Math.abs(hand.dy),
      });
    },
    commit: ({ area, x, y }, hand) => {
      setBox(undefined);
      if (!hand.moved) return chooseKeys([]);
      const [left, right] = [Math.min(x, hand.clientX), Math.max(x, hand.clientX)];
      const [top, bottom] = [Math.min(y, hand.clientY), Math.max(y, hand.clientY)];
      const inside = [...area.querySelectorAll<HTMLElement>('[data-at]')].filter((node) => {
        const box = node.getBoundingClientRect();
        const [cx, cy] = [(box.left + box.right) / 2, (box.top + box.bottom) / 2];
        return cx >= left && cx <= right && cy >= top && cy <= bottom;
      });
      chooseKeys(
        inside.map(({ dataset }) => ({ of: dataset.of!, key: dataset.key!, frame: Number(dataset.at) })),
      );
    },
    cancel: () => setBox(undefined),
  });

  /** A double click on a lane puts a key on the frame there. */
  const addKey = (e: React.MouseEvent) => {
    const under = document.elementsFromPoint(e.clientX, e.clientY) as HTMLElement[];
    const lane = under.find((node) => node.dataset?.lane !== undefined);
    if (!lane || under.some((node) => node.dataset?.at !== undefined)) return;
    const box = lane.getBoundingClientRect();
    const at = first + Math.floor(((e.clientX - box.left) / box.width) * count);
    const [of, key] = lane.dataset.lane!.split('/');
    store.getState().edit((doc) => toggleKey(doc, of, key, at));
    chooseKeys([{ of, key, frame: at }]);
  };

  /** With the keyboard: a frame to the side, or to the frame of the key. */
  const key = (at: KeyAt) => (e: React.KeyboardEvent) => {
    const by = e.key === 'ArrowLeft' ? -1 : e.key === 'ArrowRight' ? 1 : 0;
    if (by === 0 && e.key !== 'Enter' && e.key !== ' ') return;
    e.preventDefault();
    e.nativeEvent.stopImmediatePropagation();
    const keys = isChosen.has(nameOf(at)) ? chosen : [at];
    if (by === 0) {
      chooseKeys(e.shiftKey ? [...chosen, at] : [at]);
      change({ frame: at.frame });
    } else if (store.getState().edit((doc) => moveKeys(doc, keys, by)))
      chooseKeys(keys.map((k) => ({ ...k, frame: k.frame + by })));
  };

  return (
    <div className="min-h-0 flex-1 overflow-y-auto">
      <div className="relative" onPointerDown={frameBox} onDoubleClick={addKey}>
        {lanes.length === 0 && <NoLanes />}
        {lanes.map((lane, i) => {
          const { of, key: valueKey, spec, name } = lane;
          const found = findAnimated(shown, of)!;
          const track = found.holder.animation![valueKey];
          const isNew = i === 0 || lanes[i - 1].of !== of;
          return (
            <div key={`${of}/${valueKey}`} className="flex h-7 items-center gap-4 pr-4 pl-4">
              <button
                type="button"
                className="flex w-52 shrink-0 cursor-pointer items-baseline gap-1 text-left text-xs"
                title={`${lane.strand} › ${lane.owner} › ${name}`}
                onPointerDown={(e) => e.stopPropagation()}
                onClick={() => change({ selected: selectionOf(shown, of) })}
              >
                <span className={`min-w-0 flex-1 truncate ${isNew ? '' : 'pl-3'}`}>
                  {isNew && <span className="text-quiet">{lane.owner} › </span>}
                  {name}
                </span>
                <span className="max-w-24 truncate text-quiet">
                  {shownValue(valueOn(shown, found, valueKey, frame))}
                </span>
              </button>
              <div
                className="relative h-full min-w-0 flex-1 border-b border-line/60"
                data-lane={`${of}/${valueKey}`}
                data-keeps-focus
              >
                {spec.type === 'number' && (
                  <Curve
                    lane={lane}
                    track={track}
                    plain={found.plain(valueKey)}
                    shot={shot}
                    fps={shown.rate ?? usualRate}
                  />
                )}
                {(track.keys ?? []).map((k) => {
                  const at: KeyAt = { of, key: valueKey, frame: k.frame };
                  const on = isChosen.has(nameOf(at));
                  return (
                    <button
                      key={k.frame}
                      type="button"
                      data-of={of}
                      data-key={valueKey}
                      data-at={k.frame}
                      aria-label={t`Key of ${name} on frame ${k.frame}: ${shownValue(k.value)}`}
                      aria-pressed={on}
                      title={t`Frame ${k.frame}: ${shownValue(k.value)}`}
                      className={`absolute top-1/2 size-[10px] -translate-x-1/2 -translate-y-1/2 rotate-45 cursor-ew-resize touch-none border border-base-200 ${
                        on ? 'z-10 bg-primary' : 'bg-secondary'
                      }`}
                      style={{ left: `${share(k.frame)}%` }}
                      onPointerDown={drag}
                      onDoubleClick={() => change({ frame: k.frame })}
                      onKeyDown={key(at)}
                    />
                  );
                })}
              </div>
            </div>
          );
        })}
        <MeasuredLane shot={shot} share={share} />
        <div className="pointer-events-none absolute inset-0 flex gap-4 px-4">
          {box && <span className="absolute border border-primary/80 bg-primary/10" style={box} />}
          <span className="w-52 shrink-0" />
          <div className="relative flex-1">
            <Playhead share={share} />
            {ends &&
              (['first', 'last'] as const).map((end) => (
                <button
                  key={end}
                  type="button"
                  data-end={end}
                  aria-label={t`Stretch the chosen keys by their ${end} frame`}
                  title={t`Drag to stretch the chosen keys.`}
                  className="pointer-events-auto absolute inset-y-0 w-[5px] -translate-x-1/2 cursor-col-resize touch-none border-x border-primary/60 bg-primary/15 hover:bg-primary/40"
                  style={{ left: `${share(ends[end]) + (end === 'first' ? -1 : 1) * (70 / count)}%` }}
                  onPointerDown={stretch}
                />
              ))}
          </div>
        </div>
      </div>
    </div>
  );
}

function Playhead({ share }: { share(frame: number): number }) {
  const frame = usePlay((s) => s.frame);
  return <span className="absolute inset-y-0 w-px bg-primary" style={{ left: `${share(frame)}%` }} />;
}

type CurveProps = {
  lane: Lane;
  track: Parameters<typeof valueAt>[0];
  plain: Value;
  shot: ShotDetail;
  fps: number;
};

/** What the keys and modulators of a number make of it over the shot, from its least to its most. */
function Curve({ lane, track, plain, shot: { first, last }, fps }: CurveProps) {
  const guides = useShot((s) => previewed(s).guides);
  const path = useMemo(() => {
    const count = Math.min(mostPoints, last - first + 1);
    const at = (i: number) => first + (count > 1 ? (i * (last - first)) / (count - 1) : 0);
    const values = Array.from(
      { length: count },
      (_, i) => valueAt(track, plain, lane.spec, Math.round(at(i)), fps, guides) as number,
    );
    const [least, most] = [Math.min(...values), Math.max(...values)];
    const height = (v: number) => (most > least ? 22 - (18 * (v - least)) / (most - least) : 13);
    const wide = last - first + 1;
    return values
      .map(
        (v, i) =>
          `${i === 0 ? 'M' : 'L'}${(((at(i) - first + 0.5) / wide) * 100).toFixed(2)} ${height(v).toFixed(1)}`,
      )
      .join('');
  }, [lane, track, plain, first, last, fps, guides]);
  return (
    <svg
      className="pointer-events-none absolute inset-0 h-full w-full"
      viewBox="0 0 100 26"
      preserveAspectRatio="none"
      aria-hidden="true"
    >
      <path d={path} fill="none" stroke="#8a8a8a" strokeWidth={1} vectorEffect="non-scaling-stroke" />
    </svg>
  );
}
