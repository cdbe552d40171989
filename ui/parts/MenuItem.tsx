import type { ReactNode } from 'react';

/** A line of a menu. */
export function MenuItem({
  title,
  onClick,
  children,
}: {
  title?: string;
  onClick(): void;
  children: ReactNode;
}) {
  return (
    <li>
      <button
        type="button"
        className="flex w-full cursor-pointer items-center rounded px-2 py-1 text-left text-[13px] hover:bg-base-300"
        title={title}
        onClick={onClick}
      >
        {children}
      </button>
    </li>
  );
}
