import { type ReactNode, useEffect, useRef } from 'react';

type Props = { className?: string; summary: ReactNode; children: ReactNode };

/** Opens below its summary; closes with a press anywhere else, or Esc. */
export function Dropdown({ className = '', summary, children }: Props) {
  const node = useRef<HTMLDetailsElement>(null);
  useEffect(() => {
    const close = (e: Event) => {
      const isEscape = e instanceof KeyboardEvent && e.key === 'Escape';
      const isOutside = !(e instanceof KeyboardEvent) && !node.current?.contains(e.target as Node);
      if (node.current?.open && (isEscape || isOutside)) node.current.open = false;
    };
    window.addEventListener('pointerdown', close);
    window.addEventListener('keydown', close);
    return () => {
      window.removeEventListener('pointerdown', close);
      window.removeEventListener('keydown', close);
    };
  }, []);
  return (
    <details ref={node} className={`dropdown dropdown-end ${className}`}>
      {summary}
      {children}
    </details>
  );
}
