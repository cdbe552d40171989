import { useShotStore } from '@/browser/shot-store';
import { tryEdit } from '@/browser/try-edit';
import { renameStep, setNote } from '@/core/finish/edits';

/** The step's name, which can be typed over. */
export function StepTitle({ stepId, name }: { stepId: string; name: string }) {
  const store = useShotStore();
  return (
    <h2 className="mr-auto min-w-0 flex-1 text-lg font-semibold">
      <input
        className="w-full truncate rounded bg-transparent hover:bg-base-300 focus:bg-base-300"
        aria-label="Name of the step"
        title="Type another name; empty for its own"
        defaultValue={name}
        onKeyDown={(e) => e.key === 'Enter' && e.currentTarget.blur()}
        onBlur={(e) => {
          const to = e.target.value;
          if (to !== name) tryEdit(store, () => renameStep(store.getState().finish, stepId, to));
        }}
      />
    </h2>
  );
}

/** What the user wants to remember about a step. */
export function StepNote({ stepId, note }: { stepId: string; note: string }) {
  const store = useShotStore();
  return (
    <section className="px-4 pt-2 pb-3">
      <textarea
        className="textarea textarea-sm min-h-9 w-full text-xs"
        rows={note ? 3 : 1}
        placeholder="A note on this step"
        aria-label="Note"
        defaultValue={note}
        onBlur={(e) => {
          const to = e.target.value;
          if (to !== note) tryEdit(store, () => setNote(store.getState().finish, stepId, to));
        }}
      />
    </section>
  );
}
