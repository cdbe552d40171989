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
      className={`group absolute grid size-[24px] cursor-pointer place-content-center hover:opacity-100 focus-visible:opacity-100 ${quiet ? 'opacity-0' : 'opacity-60'}`}
      style={{ left: x - 12, top: y - 12 }}
      tabIndex={-1}
      aria-label={label}
      title={label}
      onClick={onClick}
    >
      <span
        className={`grid size-[18px] place-content-center rounded-full border bg-base-200 group-hover:border-primary group-hover:text-primary ${
          isOver ? 'scale-150 border-primary text-primary' : 'border-line text-quiet'
        }`}
      >
        <Plus size={12} />
      </span>
    </button>
  );
}
