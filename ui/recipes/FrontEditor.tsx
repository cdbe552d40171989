import { ChevronDown, ChevronUp, Plus, RotateCcw, X } from 'lucide-react';
import { useRefusing, useShot } from '@/browser/session/store';
import { type Finish, findStep, type Step, specOf, stepName } from '@/core/finish/finish';
import type { Front } from '@/core/finish/front';
import { contentsOf, drivingOf, isInput } from '@/core/finish/uses';
import {
  addDrive,
  canStandInFront,
  changeFrontWords,
  moveFront,
  removeDrive,
  removeFront,
  setDrive,
  setFrontDefault,
} from '@/core/recipes/front-edits';
import { formatNumber } from '../parts/format-value';
import { IconButton } from '../parts/IconButton';
import { TextField } from '../parts/TextField';
import { t } from '../words/words';

/** What stands on the front of a recipe that is edited: names, ranges, and what each control drives. */
export function FrontEditor({ use }: { use: Step }) {
  const front = use.front ?? [];
  return (
    <section
      className="grid grid-cols-[minmax(0,1fr)] gap-2 border-b border-line px-4 py-2.5"
      aria-label={t`Front of the recipe`}
    >
      <h3 className="flex items-baseline text-[13px]">
        <span className="font-semibold text-secondary">{t`Front`}</span>
        <span className="ml-auto text-xs text-quiet">{t`what stands on it?`}</span>
      </h3>
      {front.map((f, i) => (
        <Control key={f.id} use={use} front={f} isFirst={i === 0} isLast={i === front.length - 1} />
      ))}
      {front.length === 0 && (
        <p className="text-xs text-quiet">
          {t`Choose a step inside and press the pin beside a value: it then appears here too.`}
        </p>
      )}
    </section>
  );
}

type Props = { use: Step; front: Front; isFirst: boolean; isLast: boolean };

function Control({ use, front, isFirst, isLast }: Props) {
  const edit = useShot((s) => s.edit);
  const refusing = useRefusing();
  const { id, name, value } = front;
  const words = (part: Parameters<typeof changeFrontWords>[3]) =>
    refusing((doc) => changeFrontWords(doc, use.id, id, part));
  const bound = (at: 0 | 1, text: string) => {
    const to = Number(text.replace(',', '.'));
    if (value.type !== 'number' || !Number.isFinite(to)) return t`This takes a number.`;
    return words({ soft: at === 0 ? [to, value.soft[1]] : [value.soft[0], to] });
  };
  return (
    <div
      className="grid grid-cols-[minmax(0,1fr)] gap-1 rounded border border-line p-1.5 text-xs"
      role="group"
      aria-label={t`Control ${name}`}
    >
      <div className="flex items-center gap-0.5">
        <TextField
          label={t`Name of ${name}`}
          className="input input-xs min-w-0 flex-1"
          value={name}
          onCommit={(text) => (text.trim() ? words({ name: text.trim() }) : t`A name is missing.`)}
        />
        <IconButton
          icon={ChevronUp}
          label={t`Move ${name} up`}
          disabled={isFirst}
          onClick={() => edit((d) => moveFront(d, use.id, id, -1))}
        />
        <IconButton
          icon={ChevronDown}
          label={t`Move ${name} down`}
          disabled={isLast}
          onClick={() => edit((d) => moveFront(d, use.id, id, 1))}
        />
        <IconButton
          icon={X}
          label={t`Take ${name} off the front`}
          onClick={() => edit((d) => removeFront(d, use.id, id))}
        />
      </div>
      {value.type === 'number' && (
        <div className="flex items-center gap-1 text-quiet">
          {t`From`}
          <TextField
            label={t`Lower end of ${name}`}
            className="input input-xs w-13 px-1.5 text-right text-xs"
            value={formatNumber(value.soft[0])}
            onCommit={(t) => bound(0, t)}
          />
          {t`to`}
          <TextField
            label={t`Upper end of ${name}`}
            className="input input-xs w-13 px-1.5 text-right text-xs"
            value={formatNumber(value.soft[1])}
            onCommit={(t) => bound(1, t)}
          />
          <button
            type="button"
            className="btn btn-ghost btn-xs ml-auto px-1 font-normal"
            title={t`New uses start with its current value`}
            onClick={() => edit((d) => setFrontDefault(d, use.id, id))}
          >
            <RotateCcw size={12} /> {t`Default: ${formatNumber(value.default)}`}
          </button>
        </div>
      )}
      {front.drives.map((drive, i) => (
        <DriveRow key={`${drive.step}/${drive.value}`} use={use} front={front} index={i} />
      ))}
      <AddDrive use={use} front={front} />
    </div>
  );
}

function DriveRow({ use, front, index }: { use: Step; front: Front; index: number }) {
  const finish = useShot((s) => s.finish);
  const edit = useShot((s) => s.edit);
  const refusing = useRefusing();
  const drive = front.drives[index];
  const step = findStep(finish, drive.step)?.step;
  const spec = step && specOf(step)?.values[drive.value];
  const what = `${spec?.name ?? drive.value} of ${step ? stepName(step) : drive.step}`;
  const points = (text: string) => {
    const numbers = text
      .trim()
      .split(/[\s,;:→]+/)
      .map(Number);
    if (numbers.length < 4 || numbers.length % 2 !== 0 || !numbers.every(Number.isFinite))
      return t`A curve is written as pairs: 0 0, 50 10, 100 80.`;
    const curve = Array.from({ length: numbers.length / 2 }, (_, k): [number, number] => [
      numbers[2 * k],
      numbers[2 * k + 1],
    ]);
    return refusing((d) => setDrive(d, use.id, front.id, index, { curve }));
  };
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] gap-1 pl-1">
      <div className="flex items-center gap-1">
        <span className="min-w-0 flex-1 truncate" title={what}>
          {what}
        </span>
        {front.value.type === 'number' && (
          <select
            className="select select-xs w-20 text-xs"
            aria-label={t`How ${what} is driven`}
            value={drive.curve ? 'curve' : 'factor'}
            onChange={(e) =>
              edit((d) =>
                setDrive(
                  d,
                  use.id,
                  front.id,
                  index,
                  e.target.value === 'curve' ? { curve: straight(d, front, index) } : {},
                ),
              )
            }
          >
            <option value="factor">{t`Factor`}</option>
            <option value="curve">{t`Curve`}</option>
          </select>
        )}
        {front.value.type === 'number' && !drive.curve && (
          <TextField
            label={t`Factor of ${what}`}
            className="input input-xs w-13 px-1.5 text-right text-xs"
            value={formatNumber(drive.factor ?? 1)}
            onCommit={(text) => {
              const factor = Number(text.replace(',', '.'));
              if (!Number.isFinite(factor) || text.trim() === '') return t`A factor is a number.`;
              return refusing((d) => setDrive(d, use.id, front.id, index, { factor }));
            }}
          />
        )}
        <IconButton
          icon={X}
          label={t`Do not drive ${what}`}
          onClick={() => edit((d) => removeDrive(d, use.id, front.id, index))}
        />
      </div>
      {drive.curve && (
        <TextField
          label={t`Curve of ${what}`}
          title={t`Pairs of the value here and the value that it makes`}
          className="input input-xs w-full"
          value={drive.curve.map(([x, y]) => `${formatNumber(x)} ${formatNumber(y)}`).join(', ')}
          onCommit={points}
        />
      )}
    </div>
  );
}

/** A curve that does what the factor did. */
function straight(doc: Finish, { value, drives }: Front, index: number): [number, number][] {
  const { step, value: key, factor = 1 } = drives[index];
  if (value.type !== 'number') return [];
  const own = findStep(doc, step)?.step.values[key] as number;
  const at = (x: number): [number, number] => [x, own + factor * (x - value.default)];
  return [at(value.soft[0]), at(value.default), at(value.soft[1])].filter(
    ([x], i, all) => i === 0 || x - all[i - 1][0] > 1e-6,
  );
}

/** Values inside that this control can drive besides. */
function AddDrive({ use, front }: { use: Step; front: Front }) {
  const finish = useShot((s) => s.finish);
  const refusing = useRefusing();
  const { steps, strands } = contentsOf(finish, use.id);
  const free = [...steps, ...strands.flatMap((s) => s.steps)]
    .filter((s) => !isInput(s) && s.follows === undefined)
    .flatMap((step) =>
      Object.entries(specOf(step)?.values ?? {})
        .filter(
          ([key, spec]) =>
            canStandInFront(spec) && spec.type === front.value.type && !drivingOf(finish, step.id, key),
        )
        .map(([key, spec]) => ({ id: `${step.id}/${key}`, step: stepName(step), name: spec.name })),
    );
  if (free.length === 0) return null;
  return (
    <label className="flex items-center gap-1 pl-1 text-quiet">
      <Plus size={12} />
      <select
        className="select select-xs w-full text-xs"
        aria-label={t`Another value that ${front.name} drives`}
        value=""
        onChange={(e) => {
          const [step, key] = e.target.value.split('/');
          refusing((d) => addDrive(d, use.id, front.id, step, key));
        }}
      >
        <option value="">{t`drives also …`}</option>
        {free.map((f) => (
          <option key={f.id} value={f.id}>
            {t`${f.name} of ${f.step}`}
          </option>
        ))}
      </select>
    </label>
  );
}
