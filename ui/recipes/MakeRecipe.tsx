import { type FormEvent, useMemo, useState } from 'react';
import type { ShotDetail } from '@/api/shots';
import { passKindsOf } from '@/browser/recipes';
import { useShot, useShotStore } from '@/browser/session/store';
import { andThen } from '@/core/finish/edit';
import { type Finish, specOf, stepName } from '@/core/finish/finish';
import { contentsOf, isInput, spanOf } from '@/core/finish/uses';
import { addFront, canStandInFront } from '@/core/recipes/front-edits';
import { chosenSpan, makeRecipe } from '@/core/recipes/make';
import { isRelevant, type Values } from '@/core/steps/shared/define';
import { DialogEnd } from '../parts/DialogEnd';
import { Modal } from '../parts/Modal';
import { t } from '../words/words';

type Props = { strandId: string; stepId: string; shot: ShotDetail; onClose(): void };

/** Makes steps of a strand a recipe: which, its name, and what stands on its front. */
export function MakeRecipe({ strandId, stepId, shot, onClose }: Props) {
  const store = useShotStore();
  const finish = useShot((s) => s.finish);
  const [name, setName] = useState('');
  // What is selected together on the strand is what is meant.
  const [ends, setEnds] = useState<[string, string]>(() => {
    const { also } = store.getState();
    const steps = finish.strands.find((s) => s.id === strandId)?.steps ?? [];
    const meant = steps.filter((s) => s.id === stepId || also.includes(s.id)).map((s) => s.id);
    return [meant[0] ?? stepId, meant.at(-1) ?? stepId];
  });
  const [front, setFront] = useState<readonly string[]>([]);
  const [problem, setProblem] = useState('');
  const strand = finish.strands.find((s) => s.id === strandId);
  const [first, last] = useMemo(() => {
    try {
      return chosenSpan(finish, strandId, ends);
    } catch {
      return [0, -1];
    }
  }, [finish, strandId, ends]);
  /** All steps that are inside then: those of the strands that go in, too. */
  const inside = useMemo(() => {
    try {
      const made = makeRecipe(finish, strandId, ends, 'recipe', passKindsOf(shot));
      const { steps, strands } = contentsOf(made.edit.apply(finish), made.id);
      return [...steps, ...strands.flatMap((s) => s.steps)].filter((s) => !isInput(s));
    } catch {
      return [];
    }
  }, [finish, strandId, ends, shot]);
  if (!strand) return null;
  const chosen = strand.steps.slice(first, last + 1).filter((s) => !isInput(s));
  /** A recipe counts as one. */
  const listed = strand.steps.flatMap((step, i) => {
    if (isInput(step)) return [];
    const isHidden = strand.steps.some((_, k) => {
      const [from, to] = spanOf(strand, k);
      return from < i && i < to;
    });
    return isHidden ? [] : [{ step, index: i }];
  });
  const toggle = (id: string, index: number) => {
    const [a, b] = [first, last];
    if (index < a) setEnds([id, ends[1]]);
    else if (index > b) setEnds([ends[0], id]);
    // Inside: the nearer end goes there.
    else if (index === a && a < b) setEnds([strand.steps[index + 1].id, strand.steps[b].id]);
    else if (index === b && a < b)
      setEnds([strand.steps[a].id, strand.steps[spanOf(strand, index)[0] - 1].id]);
    else setEnds([id, id]);
  };
  const make = (e: FormEvent) => {
    e.preventDefault();
    const called = name.trim();
    if (!called) return setProblem(t`A name is missing.`);
    const doc = store.getState().finish;
    const made = makeRecipe(doc, strandId, ends, called, passKindsOf(shot));
    const withFront = front
      .map((f) => f.split('/'))
      .filter(([step]) => inside.some((s) => s.id === step))
      .reduce(
        (done, [step, key]) => andThen(done, (d: Finish) => addFront(d, made.id, step, key)),
        made.edit,
      );
    if (!store.getState().edit(withFront)) {
      setProblem(store.getState().refusal?.problem ?? t`This cannot be made a recipe.`);
      return;
    }
    store.getState().change({ selected: made.id, refusal: undefined });
    onClose();
  };
  return (
    <Modal label={t`Make a recipe`} box="w-[34rem]" onClose={onClose}>
      <form className="grid gap-3" onSubmit={make}>
        <h2 className="text-lg font-semibold">{t`Make a recipe`}</h2>
        <label className="grid gap-1 text-[13px]">
          {t`Name`}
          <input
            className="input input-sm w-full"
            placeholder={t`What it is called`}
            value={name}
            onChange={(e) => {
              setName(e.target.value);
              setProblem('');
            }}
          />
        </label>
        <fieldset className="grid gap-0.5">
          <legend className="mb-1 text-[13px]">{t`Steps of ${strand.name}`}</legend>
          {listed.map(({ step, index }) => (
            <label
              key={step.id}
              className="flex items-center gap-2 rounded px-1 py-0.5 text-[13px] hover:bg-base-300"
            >
              <input
                type="checkbox"
                className="checkbox checkbox-xs"
                checked={index >= first && index <= last}
                onChange={() => toggle(step.id, index)}
              />
              {stepName(step)}
            </label>
          ))}
        </fieldset>
        <fieldset>
          <legend className="mb-1 text-[13px]">{t`On its front, beside the amount`}</legend>
          <div className="grid max-h-52 grid-cols-2 gap-x-3 gap-y-0.5 overflow-y-auto">
            {inside.flatMap((step) => {
              const specs = specOf(step)?.values ?? {};
              return Object.entries(specs)
                .filter(([, spec]) => canStandInFront(spec) && isRelevant(spec, step.values as Values))
                .map(([key, spec]) => {
                  const id = `${step.id}/${key}`;
                  return (
                    <label
                      key={id}
                      className="flex min-w-0 items-center gap-2 rounded px-1 py-0.5 text-[13px] hover:bg-base-300"
                      title={spec.description}
                    >
                      <input
                        type="checkbox"
                        className="checkbox checkbox-xs shrink-0"
                        checked={front.includes(id)}
                        onChange={(e) =>
                          setFront(e.target.checked ? [...front, id] : front.filter((f) => f !== id))
                        }
                      />
                      <span className="truncate">
                        {spec.name} <span className="text-quiet">{t`of ${stepName(step)}`}</span>
                      </span>
                    </label>
                  );
                });
            })}
          </div>
        </fieldset>
        <p className="text-xs text-quiet">
          {t`The picture stays as it is. What is linked from elsewhere becomes a slot; strands that only these steps need go inside.`}
        </p>
        <DialogEnd problem={problem} onCancel={onClose}>
          <button type="submit" className="btn btn-sm btn-primary" disabled={chosen.length === 0}>
            {t`Make it`}
          </button>
        </DialogEnd>
      </form>
    </Modal>
  );
}
