import { useRefusing, useShot } from '@/browser/session/store';
import { edit } from '@/core/finish/edit';
import type { InputHead as Head, Strand } from '@/core/finish/finish';
import { findStep, stepName } from '@/core/finish/finish';
import { passKinds } from '@/core/formats/pass-kinds';
import { headLabel } from '../../board/head-label';
import { Options } from '../../parts/Options';
import { TextField } from '../../parts/TextField';
import { t } from '../../words/words';

/** The head of a strand that is a slot of a recipe: what is linked to it, and what is meant for it. */
export function InputHead({ strand, head }: { strand: Strand; head: Head }) {
  const finish = useShot((s) => s.finish);
  const apply = useShot((s) => s.edit);
  const refusing = useRefusing();
  const use = strand.inside === undefined ? undefined : findStep(finish, strand.inside)?.step;
  const changed = (part: Partial<Pick<Head, 'description' | 'pass'>>) =>
    edit(t`change the slot ${strand.name}`, (draft) => {
      const head = draft.strands.find((s) => s.id === strand.id)?.head;
      if (head?.type !== 'input') return;
      for (const [key, value] of Object.entries(part))
        if (value) Object.assign(head, { [key]: value });
        else delete head[key as keyof typeof part];
    });
  return (
    <section className="grid gap-2 border-b border-line px-4 py-3" aria-label={t`Slot`}>
      <p className="text-quiet">
        {use ? t`A slot of ${stepName(use)}: ` : ''}
        {headLabel(finish, head)}.
      </p>
      <label className="flex items-center gap-2">
        {t`Pass that belongs here`}
        <select
          className="select select-xs ml-auto w-32"
          value={head.pass ?? ''}
          onChange={(e) => apply(changed({ pass: (e.target.value || undefined) as Head['pass'] }))}
        >
          <option value="">{t`any`}</option>
          <Options of={passKinds} />
        </select>
      </label>
      <TextField
        label={t`What is meant for it`}
        placeholder={t`What is meant for it`}
        className="input input-sm w-full text-xs"
        value={head.description ?? ''}
        onCommit={(text) => refusing(changed({ description: text.trim() }))}
      />
    </section>
  );
}
