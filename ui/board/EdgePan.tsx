import { useDndContext, useDndMonitor } from '@dnd-kit/core';
import { type RefObject, useEffect, useRef } from 'react';
import type { BoardView } from './board-view';

/** How near to an edge of the panel a drag moves the board, and how fast, in pixels a picture of the screen. */
const [near, fastest] = [32, 14];

/** Moves the board under a drag that comes to the edge of its panel. */
export function EdgePan({ view, panel }: { view: BoardView; panel: RefObject<HTMLElement | null> }) {
  const { measureDroppableContainers, droppableContainers } = useDndContext();
  const speed = useRef({ x: 0, y: 0 });
  const going = useRef(0);
  const stop = () => {
    cancelAnimationFrame(going.current);
    going.current = 0;
    speed.current = { x: 0, y: 0 };
  };
  useEffect(() => () => cancelAnimationFrame(going.current), []);
  const go = () => {
    const { x, y } = speed.current;
    if (x === 0 && y === 0) return stop();
    const { k } = view.seen.getState();
    view.panBy(x / k, y / k);
    measureDroppableContainers([...droppableContainers.keys()]);
    going.current = requestAnimationFrame(go);
  };
  useDndMonitor({
    onDragMove: ({ activatorEvent, delta }) => {
      if (!(activatorEvent instanceof PointerEvent) || !panel.current) return;
      const box = panel.current.getBoundingClientRect();
      const towards = (at: number, low: number, high: number) =>
        at < low + near
          ? fastest * Math.min(1, (low + near - at) / near)
          : at > high - near
            ? -fastest * Math.min(1, (at - high + near) / near)
            : 0;
      speed.current = {
        x: towards(activatorEvent.clientX + delta.x, box.left, box.right),
        y: towards(activatorEvent.clientY + delta.y, box.top, box.bottom),
      };
      if (!going.current && (speed.current.x || speed.current.y)) going.current = requestAnimationFrame(go);
    },
    onDragEnd: stop,
    onDragCancel: stop,
  });
  return null;
}
