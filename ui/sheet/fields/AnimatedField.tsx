import { dequal } from 'dequal';
import { Pin, RotateCcw } from 'lucide-react';
import { memo } from 'react';
import { toast } from 'sonner';
import type { ShotDetail } from '@/api/shots';
import {
  previewed,
  refusalOf,
  type ShotState,
  useRefusing,
  useShot,
  useShotPart,
  useShotStore,
} from '@/browser/session/store';
import { allOn, findAnimated, valueOn } from '@/core/finish/animated';
import { type Edit, onEach } from '@/core/finish/edit';
import { type Finish, findStep } from '@/core/finish/finish';
import { drivingOf, isUse, usesAround } from '@/core/finish/uses';
import { usualValue } from '@/core/finish/usual-values';
import { setValues } from '@/core/finish/value-edits';
import { overridden } from '@/core/recipes/differences';
import { addFront, canStandInFront, takeBack } from '@/core/recipes/front-edits';
import { stepSpec } from '@/core/steps/registry';
import type { ChoiceSpec, Value, ValueSpec, Values } from '@/core/steps/shared/define';
import { formatValue } from '../../parts/format-value';
import { t } from '../../words/words';
import { KeyMark, TrackFields } from './KeyFields';
import { ValueField } from './ValueField';

/** True where two values are of one kind: what is set for one can be set for the other. */
const isAlike = (a: ValueSpec | undefined, b: ValueSpec | undefined): boolean =>
  a !== undefined &&
  a.type === b?.type &&
  (a.type !== 'choice' || dequal(a.options, (b as ChoiceSpec).options));

/** Sets values of what is shown, and of the steps that are selected with it and have values of the same kind. */
function setTogether(
  doc: Finish,
  of: string,
  also: readonly string[],
  to: Record<string, Value>,
  frame: number,
  animates: boolean,
): Edit {
  const own = findAnimated(doc, of)?.specs;
  const shared = (id: string) => {
    const specs = findAnimated(doc, id)?.specs;
    return Object.fromEntries(Object.entries(to).filter(([key]) => isAlike(own?.[key], specs?.[key])));
  };
  const others = also.filter((id) => id !== of && Object.keys(shared(id)).length > 0);
  return onEach(doc, [of, ...others], (next, id) =>
    setValues(next, id, id === of ? to : shared(id), frame, animates),
  );
}

/** How the values of whatever an address names are changed on the frame of the playhead. */
function useChanges(of: string) {
  const store = useShotStore();
  const refusing = useRefusing();
  const alsoOf = () => {
    const { selected, also } = store.getState();
    return selected === of ? also : [];
  };
  /** Gives the reason where they could not be taken: nothing is shown then that would snap back. */
  const preview = (to: Record<string, Value> | undefined): string | undefined => {
    const state = store.getState();
    const edit = to && setTogether(state.finish, of, alsoOf(), to, state.frame, state.animates);
    const why = edit && refusalOf(state, edit);
    state.change({ preview: why || state.looksOnly ? undefined : edit });
    return why;
  };
  /** Gives the reason where they cannot be taken. What changes nothing is no edit. */
  const commit = (to: Record<string, Value>): string | undefined => {
    const { finish: doc, frame, animates, change } = store.getState();
    const found = findAnimated(doc, of);
    const same =
      found && Object.entries(to).every(([key, value]) => dequal(valueOn(doc, found, key, frame), value));
    if (!same || alsoOf().length > 0)
      return refusing((doc) => setTogether(doc, of, alsoOf(), to, frame, animates));
    change({ preview: undefined });
    return undefined;
  };
  return { preview, commit };
}

/** All of its values on the frame of the playhead, with what is dragged just now. */
export function valuesIn(state: ShotState, of: string): Values {
  const shown = previewed(state);
  const found = findAnimated(shown, of);
  return found ? allOn(shown, found, state.frame) : {};
}

/** How its values are changed, for charts and tables, whose refusals are said on the screen. */
export function useValueEdits(of: string) {
  const store = useShotStore();
  const { preview, commit } = useChanges(of);
  const spoken = (to: Record<string, Value>) => {
    const why = commit(to);
    if (why) toast.error(why);
    return why;
  };
  return { now: () => valuesIn(store.getState(), of), preview, commit: spoken };
}

/** All of its values there, for whoever is to be drawn again when one of them changes. */
export const useValues = (of: string): Values => useShotPart((s) => valuesIn(s, of));

type Props = {
  /** The address of what has the value. */
  of: string;
  valueKey: string;
  shot: ShotDetail;
  /** What the field is called, where that is not the value's own name. */
  name?: string;
  /** The step for whose colours the picture may be clicked. */
  picksFor?: string;
};

/** What a field shows of the state. */
function fieldIn(state: ShotState, of: string, valueKey: string, name: string | undefined) {
  const shown = previewed(state);
  const found = findAnimated(state.finish, of);
  const seen = findAnimated(shown, of);
  if (!found || !seen) return undefined;
  const own = found.specs[valueKey];
  const driving = drivingOf(shown, found.id, valueKey);
  return {
    id: found.id,
    spec: name === undefined ? own : { ...own, name },
    value: valueOn(shown, seen, valueKey, state.frame),
    usual: usualOf(state.finish, of, valueKey, state.size.width),
    track: found.holder.animation?.[valueKey],
    driving: driving && { use: driving.use.id, front: driving.front.name },
  };
}

/** A value of anything: its control, whether it has a key here, and what it does over time. Drawn again only when its own value changes. */
export const AnimatedField = memo(function AnimatedField({ of, valueKey, shot, name, picksFor }: Props) {
  const change = useShot((s) => s.change);
  const field = useShotPart((s) => fieldIn(s, of, valueKey, name));
  const { preview, commit } = useChanges(of);
  if (!field) return null;
  const { id, spec, value, usual, track, driving } = field;
  if (driving) return <DrivenField spec={spec} value={value} {...driving} />;
  const keyed = { of, valueKey, spec, track };
  return (
    <div className="relative grid grid-cols-[minmax(0,1fr)_18px] items-center gap-x-1">
      <ChangedMark
        of={of}
        valueKey={valueKey}
        spec={spec}
        onReset={(value) => commit({ [valueKey]: value })}
      />
      <ValueField
        id={name === undefined ? valueKey : `${valueKey}-${name}`}
        spec={spec}
        value={value}
        usual={usual}
        onPreview={(value) => preview(value === undefined ? undefined : { [valueKey]: value })}
        onCommit={(value) => commit({ [valueKey]: value })}
        onPick={
          picksFor === undefined
            ? undefined
            : (adds) => change({ tool: { type: 'pick-colour', step: picksFor, key: valueKey, adds } })
        }
      />
      <span className="-my-1 grid">
        <KeyMark {...keyed} />
        <FrontPin of={id} valueKey={valueKey} spec={spec} />
        <OwnMark of={id} valueKey={valueKey} name={spec.name} />
      </span>
      <TrackFields {...keyed} shot={shot} />
    </div>
  );
});

/** The value that something begins with. */
function usualOf(doc: Finish, of: string, key: string, width: number): Value | undefined {
  const step = findStep(doc, of)?.step;
  if (step && isUse(step)) return undefined;
  const spec = step && stepSpec(step.type);
  return spec ? usualValue(spec, key, width) : findAnimated(doc, of)?.specs[key]?.default;
}

/** True where a value is not as it begins: by itself, or by keys. */
export function isChanged(doc: Finish, of: string, key: string, width: number): boolean {
  const found = findAnimated(doc, of);
  if (!found) return false;
  if (found.holder.animation?.[key]) return true;
  const usual = usualOf(doc, of, key, width);
  return usual !== undefined && !dequal(found.plain(key), usual);
}

type ChangedProps = { of: string; valueKey: string; spec: ValueSpec; onReset(value: Value): void };

/** Stands before a value that is not as it begins, and brings it back. */
function ChangedMark({ of, valueKey, spec, onReset }: ChangedProps) {
  const width = useShot((s) => s.size.width);
  /** Where it is changed and has no keys. */
  const usual = useShot((s) =>
    isChanged(s.finish, of, valueKey, width) && !findAnimated(s.finish, of)?.holder.animation?.[valueKey]
      ? usualOf(s.finish, of, valueKey, width)
      : undefined,
  );
  if (usual === undefined) return null;
  const label = t`Reset ${spec.name} to ${formatValue(spec, usual)}`;
  return (
    <button
      type="button"
      className="group absolute inset-y-0 -left-3.5 grid w-3.5 cursor-pointer place-content-center"
      data-changed={valueKey}
      aria-label={label}
      title={label}
      onClick={() => onReset(usual)}
    >
      <span className="h-3.5 w-[3px] rounded-full bg-secondary group-hover:bg-primary" />
    </button>
  );
}

/** A value inside a recipe that a control on its front drives: it is changed there. */
function DrivenField({
  spec,
  value,
  use,
  front,
}: {
  spec: ValueSpec;
  value: Value;
  use: string;
  front: string;
}) {
  const change = useShot((s) => s.change);
  return (
    <div className="flex items-center gap-2 text-[13px]" title={spec.description}>
      {spec.name}
      <button
        type="button"
        className="ml-auto flex cursor-pointer items-center gap-1 truncate text-xs text-secondary hover:underline"
        title={t`${front} on the front drives it`}
        onClick={() => change({ selected: use })}
      >
        <Pin size={11} /> {front}
      </button>
      <span className="w-12 shrink-0 text-right text-quiet">{formatValue(spec, value)}</span>
    </div>
  );
}

/** Puts a value on the front of the recipe that is edited. */
function FrontPin({ of, valueKey, spec }: { of: string; valueKey: string; spec: ValueSpec }) {
  const use = useShot((s) =>
    s.editing !== undefined && canStandInFront(spec) && usesAround(s.finish, of).includes(s.editing)
      ? s.editing
      : undefined,
  );
  const edit = useShot((s) => s.edit);
  if (!use) return null;
  const label = t`Put ${spec.name} on the front`;
  return (
    <button
      type="button"
      className="cursor-pointer p-0.5 text-quiet/60 hover:text-primary"
      aria-label={label}
      title={label}
      onClick={() => edit((doc) => addFront(doc, use, of, valueKey))}
    >
      <Pin size={11} />
    </button>
  );
}

/** A value on the front of a recipe that is the shot's own, and the way back to the recipe's. */
function OwnMark({ of, valueKey, name }: { of: string; valueKey: string; name: string }) {
  const own = useShot((s) => {
    const step = findStep(s.finish, of)?.step;
    return step !== undefined && isUse(step) && overridden(step).includes(valueKey);
  });
  const edit = useShot((s) => s.edit);
  if (!own) return null;
  const label = t`Take back ${name}`;
  return (
    <button
      type="button"
      className="cursor-pointer p-0.5 text-secondary hover:text-primary"
      aria-label={label}
      title={t`${name} is this shot’s own. Take it back to the recipe’s value.`}
      onClick={() => edit((doc) => takeBack(doc, of, valueKey))}
    >
      <RotateCcw size={11} />
    </button>
  );
}
