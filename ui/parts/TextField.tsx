import { type FocusEvent, type KeyboardEvent, useEffect, useId, useRef, useState } from 'react';

type Props = {
  label: string;
  value: string;
  /** Takes the typed text. Returns the reason if it is refused, which is then shown beside the field. */
  onCommit(text: string): string | undefined;
  /** While it is typed. */
  onPreview?(text: string | undefined): void;
  /** Several lines; Enter begins another, Ctrl Enter ends. */
  lines?: number;
  /** Milliseconds of rest after which what was typed is committed without leaving the field. */
  rest?: number;
  /** What is in it is chosen when it gets the focus, to be typed over. */
  selects?: true;
  className?: string;
  placeholder?: string;
  title?: string;
};

/**
 * Words that are typed: Enter or leaving commits them, Escape takes them back, and what is refused stays, with the reason. A screen that goes away
 * commits what stands in it.
 */
export function TextField({
  label,
  value,
  onCommit,
  onPreview,
  lines,
  rest,
  selects,
  className = '',
  placeholder,
  title,
}: Props) {
  const [typed, setTyped] = useState<string | null>(null);
  const [refused, setRefused] = useState<string>();
  const id = useId();
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  /** As it is now, for what happens after the last drawing; `from` is what was typed over, or committed since. */
  const now = useRef({ typed, from: value, onCommit });
  now.current.onCommit = onCommit;

  const set = (text: string | null) => {
    now.current.typed = text;
    setTyped(text);
  };
  const commit = (leaves: boolean) => {
    clearTimeout(timer.current);
    const { typed, from, onCommit } = now.current;
    if (typed === null) return;
    const why = typed === from ? undefined : onCommit(typed);
    setRefused(why);
    if (why === undefined) now.current.from = typed;
    if (why === undefined && leaves) set(null);
  };
  const take = (text: string) => {
    if (now.current.typed === null) now.current.from = value;
    set(text);
    setRefused(undefined);
    onPreview?.(text);
    clearTimeout(timer.current);
    if (rest !== undefined) timer.current = setTimeout(() => commit(false), rest);
  };
  // biome-ignore lint/correctness/useExhaustiveDependencies: once, when it goes
  useEffect(() => () => commit(true), []);

  const key = (e: KeyboardEvent<HTMLInputElement | HTMLTextAreaElement>) => {
    if (e.key === 'Enter' && (!lines || e.ctrlKey || e.metaKey)) e.currentTarget.blur();
    else if (e.key === 'Escape') {
      clearTimeout(timer.current);
      set(null);
      setRefused(undefined);
      onPreview?.(undefined);
      e.currentTarget.blur();
    } else return;
    e.preventDefault();
    e.stopPropagation();
  };
  const shared = {
    'aria-label': label,
    'aria-invalid': refused !== undefined,
    'aria-describedby': refused ? id : undefined,
    title,
    placeholder,
    value: typed ?? value,
    onFocus: selects && ((e: FocusEvent<HTMLInputElement | HTMLTextAreaElement>) => e.target.select()),
    onBlur: () => commit(true),
    onKeyDown: key,
  };
  return (
    <>
      {lines ? (
        <textarea {...shared} className={className} rows={lines} onChange={(e) => take(e.target.value)} />
      ) : (
        <input {...shared} className={className} onChange={(e) => take(e.target.value)} />
      )}
      {refused && (
        <span id={id} role="alert" className="block text-xs text-error">
          {refused}
        </span>
      )}
    </>
  );
}
