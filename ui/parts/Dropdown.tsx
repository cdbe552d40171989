import { type ReactNode, useEffect, useRef } from 'react';

type Props = { className?: string; summary: ReactNode; children: ReactNode };

/**
 * Opens below its summary; closes with a press anywhere else, Esc, or a choice: a click on a button or link, but for those that are switched or stepped
 * (`aria-pressed`, `data-stays`).
 */
export function Dropdown({ className = '', summary, children }: Props) {
  const node = useRef<HTMLDetailsElement>(null);
  useEffect(() => {
    const close = (e: Event) => {
      const isEscape = e instanceof KeyboardEvent && e.key === 'Escape';
      const isOutside = !(e instanceof KeyboardEvent) && !node.current?.contains(e.target as Node);
      if (node.current?.open && (isEscape || isOutside)) node.current.open = false;
    };
    const chosen = ({ target }: Event) => {
      const button = target instanceof Element && target.closest('button, a[href]');
      if (button && !button.closest('[data-stays], [aria-pressed], dialog') && node.current)
        node.current.open = false;
    };
    const details = node.current;
    details?.addEventListener('click', chosen);
    window.addEventListener('pointerdown', close);
    window.addEventListener('keydown', close);
    return () => {
      details?.removeEventListener('click', chosen);
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
