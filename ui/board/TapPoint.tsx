import { useDraggable } from '@dnd-kit/core';

/** The point at a card's corner from which a link is drawn to a step. */
export function TapPoint({ id, x, y, label }: { id: string; x: number; y: number; label: string }) {
  const { setNodeRef, listeners } = useDraggable({ id });
  return (
    <span
      ref={setNodeRef}
      {...listeners}
      className="absolute size-3 cursor-crosshair touch-none rounded-full border border-line bg-base-200 opacity-0 transition-opacity hover:border-primary hover:bg-primary hover:opacity-100"
      style={{ left: x - 7, top: y - 8 }}
      data-own-drag
      title={label}
    />
  );
}
