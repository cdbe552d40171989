import type { LucideIcon } from 'lucide-react';

type Props = {
  icon: LucideIcon;
  label: string;
  onClick(): void;
  disabled?: boolean;
  pressed?: boolean;
  keys?: string;
};

/** A button with an icon; its tooltip shows its name and key. */
export function IconButton({ icon: Icon, label, onClick, disabled, pressed, keys }: Props) {
  return (
    <button
      type="button"
      className={`btn btn-ghost btn-sm btn-square ${pressed ? 'text-primary' : ''}`}
      aria-label={label}
      aria-pressed={pressed}
      title={keys ? `${label} (${keys})` : label}
      disabled={disabled}
      onClick={onClick}
    >
      <Icon size={16} />
    </button>
  );
}
