import { useRefusing } from '@/browser/session/store';
import { renameStep, setNote } from '@/core/finish/edits';
import { TextField } from '../parts/TextField';
import { t } from '../words/words';

/** The step's name, which can be typed over. */
export function StepTitle({ stepId, name }: { stepId: string; name: string }) {
  const refusing = useRefusing();
  return (
    <h2 className="mr-auto min-w-0 flex-1 text-lg font-semibold">
      <TextField
        label={t`Name of the step`}
        title={t`Type another name; empty for its own`}
        className="w-full truncate rounded bg-transparent hover:bg-base-300 focus:bg-base-300"
        value={name}
        onCommit={(to) => refusing((finish) => renameStep(finish, stepId, to))}
      />
    </h2>
  );
}

/** The user's note on a step. */
export function StepNote({ stepId, note }: { stepId: string; note: string }) {
  const refusing = useRefusing();
  return (
    <section className="px-4 pt-2 pb-3">
      <TextField
        label={t`Note`}
        placeholder={t`A note on this step`}
        className="textarea textarea-sm min-h-9 w-full text-xs"
        lines={note ? 3 : 1}
        rest={800}
        value={note}
        onCommit={(to) => refusing((finish) => setNote(finish, stepId, to))}
      />
    </section>
  );
}
