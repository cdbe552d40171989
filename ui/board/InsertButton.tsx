import { Plus } from 'lucide-react';

/** The plus on a thread. */
export function InsertButton({
  x,
  y,
  label,
  onClick,
}: {
  x: number;
  y: number;
  label: string;
  onClick(): void;
}) {
  return (
    <button
      type="button"
      className="absolute grid size-[18px] cursor-pointer place-content-center rounded-full border border-line bg-base-200 text-quiet opacity-60 hover:border-primary hover:text-primary hover:opacity-100 focus-visible:opacity-100"
      style={{ left: x - 9, top: y - 9 }}
      aria-label={label}
      title={label}
      onClick={onClick}
    >
      <Plus size={12} />
    </button>
  );
}
