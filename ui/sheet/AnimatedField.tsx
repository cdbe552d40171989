import { useMemo } from 'react';
import type { ShotDetail } from '@/api/shots';
import { previewed, useRefusing, useShot, useShotStore } from '@/browser/session/store';
import { allOn, findAnimated } from '@/core/finish/animated';
import { setValues } from '@/core/finish/value-edits';
import type { Value, Values } from '@/core/steps/define';
import { KeyMark, TrackFields } from './KeyFields';
import { ValueField } from './ValueField';

/** The values of whatever an address names, on the frame of the playhead, and how they are changed there. */
export function useValues(of: string) {
  const store = useShotStore();
  const shown = useShot(previewed);
  const frame = useShot((s) => s.frame);
  const animates = useShot((s) => s.animates);
  const change = useShot((s) => s.change);
  const refusing = useRefusing();
  const values = useMemo((): Values => {
    const found = findAnimated(shown, of);
    return found ? allOn(shown, found, frame) : {};
  }, [shown, of, frame]);
  const preview = (to: Record<string, Value> | undefined) =>
    change({ preview: to && setValues(store.getState().finish, of, to, frame, animates) });
  /** Gives the reason where they cannot be taken. What changes nothing is no edit. */
  const commit = (to: Record<string, Value>): string | undefined => {
    const doc = store.getState().finish;
    const found = findAnimated(doc, of);
    const now = found && allOn(doc, found, frame);
    const same = now && Object.keys(to).every((k) => JSON.stringify(now[k]) === JSON.stringify(to[k]));
    if (!same) return refusing((doc) => setValues(doc, of, to, frame, animates));
    change({ preview: undefined });
    return undefined;
  };
  return { values, preview, commit };
}

type Props = {
  /** The address of what has the value. */
  of: string;
  valueKey: string;
  shot: ShotDetail;
  /** What the field is called, where that is not the value's own name. */
  name?: string;
  onPick?(adds: boolean): void;
};

/** A value of anything: its control, whether it has a key here, and what it does over time. */
export function AnimatedField({ of, valueKey, shot, name, onPick }: Props) {
  const finish = useShot((s) => s.finish);
  const { values, preview, commit } = useValues(of);
  const found = findAnimated(finish, of);
  if (!found) return null;
  const own = found.specs[valueKey];
  const spec = name === undefined ? own : { ...own, name };
  const keyed = { of, valueKey, spec, track: found.holder.animation?.[valueKey] };
  return (
    <div className="grid grid-cols-[minmax(0,1fr)_15px] items-center gap-x-1">
      <ValueField
        id={name === undefined ? valueKey : `${valueKey}-${name}`}
        spec={spec}
        value={values[valueKey]}
        onPreview={(value) => preview(value === undefined ? undefined : { [valueKey]: value })}
        onCommit={(value) => commit({ [valueKey]: value })}
        onPick={onPick}
      />
      <KeyMark {...keyed} />
      <TrackFields {...keyed} shot={shot} />
    </div>
  );
}
