import { scaleLinear } from 'd3-scale';
import { useEffect, useMemo, useRef, useState } from 'react';
import type { ShotDetail } from '@/api/shots';
import { usePlay } from '@/browser/play/use-player';
import { previewed, useShot, useShotStore } from '@/browser/session/store';
import { findAnimated, selectionOf, usualRate } from '@/core/finish/animated';
import { type KeyAt, setHandle, shiftKeys } from '@/core/finish/key-edits';
import type { Lane } from '@/core/finish/key-table';
import { setValues } from '@/core/finish/value-edits';
import type { NumberSpec, Value } from '@/core/steps/shared/define';
import { type Key, numberOn } from '@/core/time/keys';
import { type Track, valueAt, within } from '@/core/time/track';
import { formatNumber, unitSign } from '../parts/format-value';
import { Toggle } from '../parts/Toggle';
import { type Hand, useDrag } from '../parts/use-drag';
import { t } from '../words/words';
import { chooseKeys, nameOf } from './use-chosen-keys';

type Props = { shot: ShotDetail; lanes: readonly Lane[]; chosen: readonly KeyAt[] };
type NumberLane = Lane & { spec: NumberSpec };
type Drawn = {
  lane: NumberLane;
  track: Track;
  plain: Value;
  keys: readonly Key<number>[];
  low: number;
  high: number;
};

/** Height of the drawing in its own units, and the room above and below the curves. */
const [tall, room] = [170, 14];
const tints = ['#6f9dff', '#f2b45f', '#8fcf9b', '#ff8f87', '#c7a4ff', '#7fd3d8'];
/** A double click as near to a curve, in pixels of the screen, is on it. */
const grasp = 14;
/** Curves that can be told apart. */
const mostCurves = tints.length;

/** Numbers over the frames as curves: keys and their handles are dragged, a double click adds a key. */
export function Curves({ shot, lanes, chosen }: Props) {
  const { first, last } = shot;
  const shown = useShot(previewed);
  const selected = useShot((s) => s.selected);
  const change = useShot((s) => s.change);
  const store = useShotStore();
  const [toScale, setToScale] = useState(false);
  const [joined, setJoined] = useState(true);
  const area = useRef<SVGSVGElement>(null);
  const fps = shown.rate ?? usualRate;
  const whole = last - first + 1;
  /** The frames that are seen; all of the shot until one zooms. */
  const [seen, setSeen] = useState<{ from: number; count: number }>();
  const { from, count } = seen ?? { from: first, count: whole };

  const drawn = useMemo((): Drawn[] => {
    const numbers = lanes.filter((l): l is NumberLane => l.spec.type === 'number');
    const has = (l: Lane) => chosen.some((k) => k.of === l.of && k.key === l.key);
    const wanted = numbers.some(has)
      ? numbers.filter(has)
      : numbers.some((l) => l.of === selected)
        ? numbers.filter((l) => l.of === selected)
        : numbers;
    const all = wanted.slice(0, mostCurves).map((lane) => {
      const found = findAnimated(shown, lane.of)!;
      const track = found.holder.animation![lane.key];
      const plain = found.plain(lane.key);
      const keys = (track.keys ?? []) as readonly Key<number>[];
      const values = Array.from(
        { length: whole },
        (_, i) => valueAt(track, plain, lane.spec, first + i, fps, shown.guides) as number,
      );
      const ends = keys.flatMap((k) => [k.value, k.value + (k.in?.[1] ?? 0), k.value + (k.out?.[1] ?? 0)]);
      const [low, high] = [Math.min(...values, ...ends), Math.max(...values, ...ends)];
      const flat = high - low < 1e-9 ? Math.max(0.5, Math.abs(high) / 10) : 0;
      return { lane, track, plain, keys, low: low - flat, high: high + flat };
    });
    if (!toScale) return all;
    const [low, high] = [Math.min(...all.map((d) => d.low)), Math.max(...all.map((d) => d.high))];
    return all.map((d) => ({ ...d, low, high }));
  }, [lanes, chosen, selected, shown, first, whole, fps, toScale]);

  const x = (frame: number) => ((frame - from + 0.5) / count) * 100;
  const y = ({ low, high }: Drawn, value: number) =>
    tall - room - ((tall - 2 * room) * (value - low)) / (high - low);
  const isChosen = new Set(chosen.map(nameOf));
  /** Lines of the value axis: of the first curve, which is all of them on one scale. */
  const ticks = drawn[0] ? scaleLinear([drawn[0].low, drawn[0].high], [0, 1]).ticks(4) : [];

  /** Frames and value that a hand has moved by, on a curve. */
  const moved = (d: Drawn, { dx, dy }: Pick<Hand, 'dx' | 'dy'>) => {
    const box = area.current!.getBoundingClientRect();
    return {
      frames: (dx / box.width) * count,
      value: (-dy / box.height) * tall * ((d.high - d.low) / (tall - 2 * room)),
    };
  };
  // With Shift a key keeps its frame or its value, whichever was moved less.
  const straight = (hand: Hand) =>
    !hand.shiftKey ? hand : Math.abs(hand.dx) > Math.abs(hand.dy) ? { ...hand, dy: 0 } : { ...hand, dx: 0 };

  type Held = {
    d: Drawn;
    at: KeyAt;
    keys: readonly KeyAt[];
    side?: 'in' | 'out';
    from: readonly [number, number];
  };
  const editOf = ({ d, at, keys, side, from }: Held, hand: Hand) => {
    const { frames, value } = moved(d, side ? hand : straight(hand));
    const doc = store.getState().finish;
    return side
      ? setHandle(doc, at, side, [from[0] + frames, from[1] + value], joined && !hand.altKey)
      : shiftKeys(doc, keys, Math.round(frames), value);
  };
  const press = useDrag<Held>({
    start: (e) => {
      e.stopPropagation();
      const { curve, at: frame, side } = (e.currentTarget as SVGElement).dataset;
      const d = drawn[Number(curve)];
      const at: KeyAt = { of: d.lane.of, key: d.lane.key, frame: Number(frame) };
      const k = d.keys.find((o) => o.frame === at.frame)!;
      if (side)
        return { d, at, keys: [at], side: side as 'in' | 'out', from: handleOf(d, k, side as 'in' | 'out') };
      const keys = isChosen.has(nameOf(at)) ? chosen : e.shiftKey ? [...chosen, at] : [at];
      chooseKeys(keys);
      return { d, at, keys, from: [0, 0] };
    },
    preview: (held, hand) => change({ preview: hand.moved ? editOf(held, hand) : undefined }),
    commit: (held, hand) => {
      if (!hand.moved) return;
      const by = Math.round(moved(held.d, straight(hand)).frames);
      if (store.getState().edit(() => editOf(held, hand)) && !held.side)
        chooseKeys(held.keys.map((k) => ({ ...k, frame: k.frame + by })));
    },
    cancel: () => change({ preview: undefined }),
  });

  // A wheel zooms about the hand; React hears of it too late to keep the page still.
  const zoom = useRef<(e: WheelEvent) => void>(() => {});
  zoom.current = (e) => {
    e.preventDefault();
    const box = area.current!.getBoundingClientRect();
    const under = (e.clientX - box.left) / box.width;
    const wide = Math.min(whole, Math.max(4, count * (e.deltaY > 0 ? 1.25 : 0.8)));
    const start = Math.min(first + whole - wide, Math.max(first, from + under * (count - wide)));
    setSeen(wide >= whole ? undefined : { from: start, count: wide });
  };
  useEffect(() => {
    const node = area.current!;
    const wheel = (e: WheelEvent) => zoom.current(e);
    node.addEventListener('wheel', wheel, { passive: false });
    return () => node.removeEventListener('wheel', wheel);
  }, []);
  /** A press beside the curves moves what is seen; a click chooses nothing. */
  const pan = useDrag<{ from: number }>({
    start: () => ({ from }),
    preview: (held, hand) => {
      if (!seen || !hand.moved) return;
      const by = (hand.dx / area.current!.getBoundingClientRect().width) * count;
      setSeen({ count, from: Math.min(first + whole - count, Math.max(first, held.from - by)) });
    },
    commit: (_, hand) => {
      if (!hand.moved) chooseKeys([]);
    },
    cancel: (held) => seen && setSeen({ count, from: held.from }),
  });

  /** A key on the curve under the hand, on the frame there. */
  const addKey = (e: React.MouseEvent) => {
    const box = area.current!.getBoundingClientRect();
    const frame = Math.floor(from + ((e.clientX - box.left) / box.width) * count);
    const off = (d: Drawn) => {
      const value = valueAt(d.track, d.plain, d.lane.spec, frame, fps, shown.guides) as number;
      return Math.abs((y(d, value) / tall) * box.height - (e.clientY - box.top));
    };
    const [d] = [...drawn].sort((a, b) => off(a) - off(b));
    if (!d || off(d) > grasp) return;
    const value = d.keys.length > 0 ? numberOn(d.keys, frame) : (d.plain as number);
    store.getState().edit((doc) => setValues(doc, d.lane.of, { [d.lane.key]: value }, frame, true));
    chooseKeys([{ of: d.lane.of, key: d.lane.key, frame }]);
  };

  return (
    <div className="flex min-h-0 flex-1 gap-4 px-4 py-1">
      <div className="grid w-52 shrink-0 content-start gap-1 overflow-y-auto text-xs">
        {drawn.map((d, i) => (
          <button
            key={`${d.lane.of}/${d.lane.key}`}
            type="button"
            className="flex cursor-pointer items-baseline gap-1.5 text-left"
            onClick={() => change({ selected: selectionOf(shown, d.lane.of) })}
          >
            <span className="h-[3px] w-3 self-center" style={{ background: tints[i] }} />
            <span className="min-w-0 flex-1 truncate">
              <span className="text-quiet">{d.lane.owner} › </span>
              {d.lane.name}
            </span>
            <span className="text-quiet">
              {formatNumber(d.low)} … {formatNumber(d.high)}
            </span>
          </button>
        ))}
        <div className="mt-1 grid gap-1 border-t border-line pt-1">
          {seen && (
            <button
              type="button"
              className="btn btn-ghost btn-xs w-fit font-normal"
              onClick={() => setSeen(undefined)}
            >
              {t`All frames`}
            </button>
          )}
          <Toggle
            label={t`To one scale`}
            checked={toScale}
            onChange={setToScale}
            title={t`Otherwise each curve fills the height.`}
          />
          <Toggle
            label={t`Joined handles`}
            checked={joined}
            onChange={setJoined}
            title={t`Both handles of a key lie on one line. Alt breaks them.`}
          />
        </div>
      </div>
      <div className="relative min-w-0 flex-1 overflow-hidden" data-keeps-focus>
        <svg
          ref={area}
          className="absolute inset-0 h-full w-full touch-none"
          viewBox={`0 0 100 ${tall}`}
          preserveAspectRatio="none"
          role="img"
          aria-label={t`Curves`}
          onPointerDown={pan}
          onDoubleClick={addKey}
        >
          {ticks.map((v) => (
            <line
              key={v}
              x1={0}
              x2={100}
              y1={y(drawn[0], v)}
              y2={y(drawn[0], v)}
              stroke="#2c2c2c"
              vectorEffect="non-scaling-stroke"
            />
          ))}
          {drawn.map((d, i) => {
            const at = (f: number) => valueAt(d.track, d.plain, d.lane.spec, f, fps, shown.guides) as number;
            const path = Array.from(
              { length: whole },
              (_, n) => `${n === 0 ? 'M' : 'L'}${x(first + n)} ${y(d, at(first + n))}`,
            ).join('');
            const fine = smooth(d, x, (v) => y(d, v), first, last);
            const name = `${d.lane.of}/${d.lane.key}`;
            return (
              <g key={name}>
                {d.track.modulators && (
                  <path
                    d={path}
                    fill="none"
                    stroke={tints[i]}
                    strokeOpacity={0.45}
                    vectorEffect="non-scaling-stroke"
                  />
                )}
                <path
                  d={fine}
                  fill="none"
                  stroke={tints[i]}
                  strokeWidth={1.5}
                  vectorEffect="non-scaling-stroke"
                  data-curve={name}
                />
                {d.keys.flatMap((k) =>
                  isChosen.has(nameOf({ of: d.lane.of, key: d.lane.key, frame: k.frame }))
                    ? (['in', 'out'] as const)
                        .filter((s) => hasHandle(d, k, s))
                        .map((s) => {
                          const [df, dv] = handleOf(d, k, s);
                          return (
                            <line
                              key={`${k.frame}${s}`}
                              x1={x(k.frame)}
                              y1={y(d, k.value)}
                              x2={x(k.frame + df)}
                              y2={y(d, k.value + dv)}
                              stroke="#a9a9a9"
                              vectorEffect="non-scaling-stroke"
                            />
                          );
                        })
                    : [],
                )}
              </g>
            );
          })}
        </svg>
        {ticks.map((v) => (
          <span
            key={v}
            className="pointer-events-none absolute left-0 -translate-y-1/2 bg-base-200/80 pr-1 text-[10px] text-quiet"
            style={{ top: `${(y(drawn[0], v) / tall) * 100}%` }}
          >
            {formatNumber(v)}
            {unitSign[drawn[0].lane.spec.unit]}
          </span>
        ))}
        {drawn.map((d, i) =>
          d.keys.flatMap((k) => {
            const at = { of: d.lane.of, key: d.lane.key, frame: k.frame };
            const on = isChosen.has(nameOf(at));
            const place = (frame: number, value: number) => ({
              left: `${x(frame)}%`,
              top: `${(y(d, value) / tall) * 100}%`,
            });
            const grips = on ? (['in', 'out'] as const).filter((s) => hasHandle(d, k, s)) : [];
            return [
              <button
                key={nameOf(at)}
                type="button"
                data-curve={i}
                data-at={k.frame}
                aria-label={t`Key of ${d.lane.name} on frame ${k.frame}: ${formatNumber(k.value)}`}
                aria-pressed={on}
                title={t`Frame ${k.frame}: ${formatNumber(k.value)}`}
                className={`absolute size-[9px] -translate-x-1/2 -translate-y-1/2 cursor-move touch-none border border-base-200 ${on ? 'z-10 bg-base-content' : ''}`}
                style={{ ...place(k.frame, k.value), ...(on ? {} : { background: tints[i] }) }}
                onPointerDown={press}
              />,
              ...grips.map((s) => {
                const [df, dv] = handleOf(d, k, s);
                return (
                  <button
                    key={`${nameOf(at)}/${s}`}
                    type="button"
                    data-curve={i}
                    data-at={k.frame}
                    data-side={s}
                    aria-label={t`Handle ${s} of ${d.lane.name} on frame ${k.frame}`}
                    className="absolute z-20 size-[9px] -translate-x-1/2 -translate-y-1/2 cursor-move touch-none rounded-full border border-base-content bg-base-200"
                    style={place(k.frame + df, k.value + dv)}
                    onPointerDown={press}
                  />
                );
              }),
            ];
          }),
        )}
        <Playhead x={x} />
      </div>
    </div>
  );
}

/** Between which keys an ease goes on a side of a key: only there it has a handle. */
function hasHandle({ keys }: Drawn, k: Key<number>, side: 'in' | 'out'): boolean {
  const i = keys.indexOf(k);
  const from = side === 'out' ? k : keys[i - 1];
  return keys[side === 'out' ? i + 1 : i - 1] !== undefined && (from.interpolation ?? 'ease') === 'ease';
}

/** A handle as it is, or as it is meant where none is said. */
function handleOf({ keys }: Drawn, k: Key<number>, side: 'in' | 'out'): readonly [number, number] {
  const i = keys.indexOf(k);
  const other = keys[side === 'out' ? i + 1 : i - 1];
  return k[side] ?? [other ? (other.frame - k.frame) / 3 : 0, 0];
}

/** The curve of the keys alone, between frames too. */
function smooth(
  { keys, plain, lane }: Drawn,
  x: (frame: number) => number,
  y: (value: number) => number,
  first: number,
  last: number,
): string {
  const steps = Math.min(800, (last - first) * 8 + 1);
  const parts: string[] = [];
  for (let i = 0; i < steps; i++) {
    const f = first + (steps > 1 ? (i * (last - first)) / (steps - 1) : 0);
    const value = keys.length > 0 ? numberOn(keys, f) : (plain as number);
    parts.push(`${i === 0 ? 'M' : 'L'}${x(f).toFixed(3)} ${y(within(lane.spec, value)).toFixed(2)}`);
  }
  return parts.join('');
}

function Playhead({ x }: { x(frame: number): number }) {
  const frame = usePlay((s) => s.frame);
  return (
    <span
      className="pointer-events-none absolute inset-y-0 w-px bg-primary"
      style={{ left: `${x(frame)}%` }}
    />
  );
}
