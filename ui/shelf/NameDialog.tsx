import { type FormEvent, useId, useState } from 'react';
import { DialogEnd } from '../parts/DialogEnd';
import { Modal } from '../parts/Modal';

type Props = {
  title: string;
  label: string;
  value: string;
  action: string;
  onName(name: string): Promise<unknown>;
  onClose(): void;
};

/** Asks for a name; what is refused stays, with the reason. */
export function NameDialog({ title, label, value, action, onName, onClose }: Props) {
  const [name, setName] = useState(value);
  const [problem, setProblem] = useState('');
  const [busy, setBusy] = useState(false);
  const id = useId();
  const submit = async (e: FormEvent) => {
    e.preventDefault();
    setBusy(true);
    try {
      await onName(name.trim());
      onClose();
    } catch (error) {
      setProblem((error as Error).message);
      setBusy(false);
    }
  };
  return (
    <Modal label={title} box="w-md" onClose={onClose}>
      <form onSubmit={submit}>
        <h2 className="text-lg font-semibold">{title}</h2>
        <label className="mt-3 grid gap-1 text-sm text-quiet" htmlFor={id}>
          {label}
        </label>
        <input
          id={id}
          className="input input-sm mt-1 w-full"
          maxLength={200}
          value={name}
          onFocus={(e) => e.target.select()}
          onChange={(e) => setName(e.target.value)}
        />
        <DialogEnd problem={problem} onCancel={onClose}>
          <button type="submit" className="btn btn-sm btn-primary" disabled={busy || name.trim() === ''}>
            {action}
          </button>
        </DialogEnd>
      </form>
    </Modal>
  );
}
