import { type ReactNode, useEffect, useRef } from 'react';
import { t } from '../words/words';

type Props = {
  label: string;
  /** How wide, and what else the box wants. */
  box: string;
  /** Hangs from the top of the page, as what one types into does, and not in its middle. */
  atTop?: boolean;
  onClose(): void;
  children: ReactNode;
};

/** A box over the page, with the caret in its first field of words; closes with Esc or a press beside it. */
export function Modal({ label, box, atTop, onClose, children }: Props) {
  const dialog = useRef<HTMLDialogElement>(null);
  useEffect(() => {
    dialog.current?.showModal();
    // The browser would give the keys to a box that scrolls, not to the field in it.
    dialog.current?.querySelector<HTMLElement>('input:is([type=search], [type=text], :not([type]))')?.focus();
  }, []);
  return (
    <dialog
      ref={dialog}
      className={`modal ${atTop ? 'modal-top justify-items-center pt-16' : ''}`}
      onClose={onClose}
      aria-label={label}
    >
      <div className={`modal-box max-w-full rounded-box border border-line ${box}`}>{children}</div>
      <form method="dialog" className="modal-backdrop">
        <button type="submit">{t`Close`}</button>
      </form>
    </dialog>
  );
}
