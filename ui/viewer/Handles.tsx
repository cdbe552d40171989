import type { KeyboardEvent } from 'react';
import { previewed, useShot } from '@/browser/session/store';
import { valuesOn } from '@/core/finish/animated';
import { findStep, specOf } from '@/core/finish/finish';
import { usesAround } from '@/core/finish/uses';
import { setValues } from '@/core/finish/value-edits';
import { type Handle, isRelevant, type NumberSpec, type Value } from '@/core/steps/shared/define';
import { nudgeOf } from '../parts/nudge';
import { type Hand, useDrag } from '../parts/use-drag';
import { t } from '../words/words';
import { type Extent, framePoint, type View } from './view';

type Point = { x: number; y: number };
/** Shown where an arm has no length of its own, in pixels of the screen. */
const armLength = 84;

const round = (v: number) => Math.round(v * 10) / 10;

/** Handles of the selected step on the picture: the points and arms that it declares. */
export function Handles({ view, full }: { view: View; full: Extent }) {
  const finish = useShot(previewed);
  const selected = useShot((s) => s.selected);
  const found = findStep(finish, selected ?? '');
  // What is inside a recipe is moved there only while it is edited.
  const locked = useShot((s) => {
    const around = usesAround(s.finish, selected ?? '');
    return around.length > 0 && !(s.editing !== undefined && around.includes(s.editing));
  });
  const change = useShot((s) => s.change);
  const edit = useShot((s) => s.edit);
  const tool = useShot((s) => s.tool);
  const frame = useShot((s) => s.frame);
  const press = useDrag<{ handle: Handle; svg: Element }>({
    start: (e) => {
      const handle = handles.find((h) => h.name === (e.currentTarget as HTMLElement).dataset.grip);
      e.stopPropagation();
      return handle && { handle, svg: e.currentTarget.closest('svg')! };
    },
    preview: ({ handle, svg }, hand) => hand.moved && change({ preview: setTo(handle, svg, hand) }),
    commit: ({ handle, svg }, hand) => hand.moved && edit(setTo(handle, svg, hand)),
    cancel: () => change({ preview: undefined }),
  });
  const step = found?.step;
  const spec = step && specOf(step);
  const values = step ? valuesOn(finish, step, frame) : {};
  const handles = (spec?.handles ?? []).filter((h) => isRelevant(h, values));
  if (!step || locked || tool || step.bypass || handles.length === 0) return null;
  const number = (key: string) => values[key] as number;
  const middle = { x: full.width / 2, y: full.height / 2 };
  const along = (pairs: readonly (readonly [string, string])[]): Point =>
    pairs.reduce((p, [x, y]) => ({ x: p.x + number(x), y: p.y - number(y) }), middle);
  const onScreen = (p: Point): Point => ({ x: view.x + p.x * view.k, y: view.y + p.y * view.k });
  const originOf = (h: Handle) => (h.type === 'arm' ? along(h.at ?? []) : along(h.from ? [h.from] : []));
  const tipOf = (h: Extract<Handle, { type: 'arm' }>): Point => {
    const at = onScreen(originOf(h));
    const turn = ((h.angle ? number(h.angle) : 0) * Math.PI) / 180;
    const length = h.length ? number(h.length) * (h.perPixel ?? 1) * view.k : armLength;
    return { x: at.x + Math.cos(turn) * length, y: at.y - Math.sin(turn) * length };
  };
  const held = (key: string, v: number) => {
    const { from, to } = spec!.values[key] as NumberSpec;
    return Math.max(from, Math.min(to, v));
  };
  function setTo(handle: Handle, svg: Element, hand: Hand) {
    const to = valuesAt(handle, framePoint(hand, svg, view), hand.shiftKey);
    return setValues(finish, step!.id, Object.fromEntries(to), frame);
  }
  /** The values that result from dragging a handle to a point of the frame. */
  function valuesAt(h: Handle, p: Point, straight: boolean): [string, Value][] {
    const at = originOf(h);
    if (h.type === 'point')
      return [
        [h.x, held(h.x, round(p.x - at.x))],
        [h.y, held(h.y, round(at.y - p.y))],
      ];
    const out: [string, Value][] = [];
    if (h.angle) {
      const raw = (Math.atan2(at.y - p.y, p.x - at.x) * 180) / Math.PI;
      out.push([h.angle, held(h.angle, straight ? Math.round(raw / 15) * 15 : round(raw))]);
    }
    if (h.length)
      out.push([h.length, held(h.length, Math.hypot(p.x - at.x, p.y - at.y) / (h.perPixel ?? 1))]);
    return out;
  }
  /** Where a handle is, in pixels of the frame. */
  const placeOf = (h: Handle): Point => {
    if (h.type === 'point') return along([...(h.from ? [h.from] : []), [h.x, h.y]]);
    const tip = tipOf(h);
    return { x: (tip.x - view.x) / view.k, y: (tip.y - view.y) / view.k };
  };
  const byKey = (h: Handle) => ({
    role: 'button',
    tabIndex: 0,
    'aria-label': t`${h.name} on the picture: arrows move it`,
    onKeyDown: (e: KeyboardEvent) => {
      const nudge = nudgeOf(e);
      if (!nudge) return;
      const at = placeOf(h);
      const to = valuesAt(h, { x: at.x + nudge.dx, y: at.y + nudge.dy }, false);
      edit(setValues(finish, step!.id, Object.fromEntries(to), frame));
    },
  });
  return (
    <svg
      className="pointer-events-none absolute inset-0 h-full w-full touch-none select-none"
      aria-label={t`Handles of ${spec!.name}`}
      role="group"
    >
      {handles.map((h) => {
        if (h.type === 'point') {
          const p = onScreen(along([...(h.from ? [h.from] : []), [h.x, h.y]]));
          return (
            <g
              key={h.name}
              className="pointer-events-auto cursor-move"
              data-handle={h.name}
              data-grip={h.name}
              onPointerDown={press}
              {...byKey(h)}
            >
              <title>{h.name}</title>
              <circle cx={p.x} cy={p.y} r={16} fill="transparent" />
              <circle cx={p.x} cy={p.y} r={6} fill="none" stroke="#151515" strokeWidth={3} />
              <circle cx={p.x} cy={p.y} r={6} fill="none" stroke="#f2b45f" strokeWidth={1.5} />
              <circle cx={p.x} cy={p.y} r={1.5} fill="#f2b45f" />
            </g>
          );
        }
        const [at, tip] = [onScreen(originOf(h)), tipOf(h)];
        return (
          <g key={h.name} data-handle={h.name}>
            <line
              x1={at.x}
              y1={at.y}
              x2={tip.x}
              y2={tip.y}
              stroke="#151515"
              strokeOpacity={0.6}
              strokeWidth={3}
            />
            <line x1={at.x} y1={at.y} x2={tip.x} y2={tip.y} stroke="#f2b45f" strokeWidth={1.25} />
            <g
              className="pointer-events-auto cursor-grab"
              data-grip={h.name}
              onPointerDown={press}
              {...byKey(h)}
            >
              <title>{h.name}</title>
              <circle cx={tip.x} cy={tip.y} r={16} fill="transparent" />
              <circle cx={tip.x} cy={tip.y} r={5} fill="#f2b45f" stroke="#151515" />
            </g>
          </g>
        );
      })}
    </svg>
  );
}
