import { useMemo } from 'react';
import type { ShotDetail } from '@/api/shots';
import { previewed, useRefusing, useShot, useShotStore } from '@/browser/session/store';
import { allOn, findAnimated, valueOn } from '@/core/finish/animated';
import { setValues } from '@/core/finish/value-edits';
import type { Value, Values } from '@/core/steps/define';
import { KeyMark, TrackFields } from './KeyFields';
import { ValueField } from './ValueField';

/** How the values of whatever an address names are changed on the frame of the playhead. */
function useChanges(of: string) {
  const store = useShotStore();
  const frame = useShot((s) => s.frame);
  const animates = useShot((s) => s.animates);
  const change = useShot((s) => s.change);
  const refusing = useRefusing();
  const preview = (to: Record<string, Value> | undefined) =>
    change({ preview: to && setValues(store.getState().finish, of, to, frame, animates) });
  /** Gives the reason where they cannot be taken. What changes nothing is no edit. */
  const commit = (to: Record<string, Value>): string | undefined => {
    const doc = store.getState().finish;
    const found = findAnimated(doc, of);
    const same =
      found &&
      Object.entries(to).every(
        ([key, value]) => JSON.stringify(valueOn(doc, found, key, frame)) === JSON.stringify(value),
      );
    if (!same) return refusing((doc) => setValues(doc, of, to, frame, animates));
    change({ preview: undefined });
    return undefined;
  };
  return { preview, commit };
}

/** All of its values there, and how they are changed. */
export function useValues(of: string) {
  const shown = useShot(previewed);
  const frame = useShot((s) => s.frame);
  const values = useMemo((): Values => {
    const found = findAnimated(shown, of);
    return found ? allOn(shown, found, frame) : {};
  }, [shown, of, frame]);
  return { values, ...useChanges(of) };
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
  const shown = useShot(previewed);
  const frame = useShot((s) => s.frame);
  const { preview, commit } = useChanges(of);
  const found = findAnimated(finish, of);
  const seen = findAnimated(shown, of);
  if (!found || !seen) return null;
  const own = found.specs[valueKey];
  const spec = name === undefined ? own : { ...own, name };
  const keyed = { of, valueKey, spec, track: found.holder.animation?.[valueKey] };
  return (
    <div className="grid grid-cols-[minmax(0,1fr)_15px] items-center gap-x-1">
      <ValueField
        id={name === undefined ? valueKey : `${valueKey}-${name}`}
        spec={spec}
        value={valueOn(shown, seen, valueKey, frame)}
        onPreview={(value) => preview(value === undefined ? undefined : { [valueKey]: value })}
        onCommit={(value) => commit({ [valueKey]: value })}
        onPick={onPick}
      />
      <KeyMark {...keyed} />
      <TrackFields {...keyed} shot={shot} />
    </div>
  );
}
