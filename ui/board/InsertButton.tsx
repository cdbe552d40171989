import { useDroppable } from '@dnd-kit/core';
import { Plus } from 'lucide-react';

type Props = { id: string; x: number; y: number; quiet: boolean; label: string; onClick(): void };

/** The plus on a thread: a step is added here, or dropped. */
export function InsertButton({ id, x, y, quiet, label, onClick }: Props) {
  const { setNodeRef, isOver } = useDroppable({ id });
  return (
    <button
      ref={setNodeRef}
      type="button"
      className={`absolute grid size-[18px] cursor-pointer place-content-center rounded-full border bg-base-200 hover:border-primary hover:text-primary hover:opacity-100 focus-visible:opacity-100 ${
        isOver ? 'scale-150 border-primary text-primary' : 'border-line text-quiet'
      } ${quiet ? 'opacity-0' : 'opacity-60'}`}
      style={{ left: x - 9, top: y - 9 }}
      tabIndex={-1}
      aria-label={label}
      title={label}
      onClick={onClick}
    >
      <Plus size={12} />
    </button>
  );
}
