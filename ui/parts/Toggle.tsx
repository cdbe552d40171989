type Props = { label: string; title?: string; checked: boolean; onChange(checked: boolean): void };

/** A switch with its name before it. */
export const Toggle = ({ label, title, checked, onChange }: Props) => (
  <label className="flex cursor-pointer items-center gap-2 text-[13px]" title={title}>
    {label}
    <input
      type="checkbox"
      className="toggle toggle-xs toggle-primary ml-auto"
      checked={checked}
      onChange={(e) => onChange(e.target.checked)}
    />
  </label>
);
