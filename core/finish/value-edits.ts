import type { Value } from '../steps/shared/define';
import { placeOn } from '../time/guides';
import { keyOn } from '../time/keys';
import { animatedAt } from './animated';
import { type Edit, edit } from './edit';
import type { Finish } from './finish';
import { changing, setTrack } from './key-edits';

/** Edits of values, of whatever has them (`animated.ts`). */

/** Two names are said; of more the first, and how many others. */
const listed = (names: readonly string[]) =>
  names.length > 2 ? `${names[0]} and ${names.length - 1} others` : names.join(' and ');

/**
 * Several values at once. One that follows a guide goes on so from further away; one that has keys gets a key on the frame, and with `animates` also one
 * that has none; where no frame is said it loses its keys.
 */
export function changeValues(
  draft: Finish,
  address: string,
  values: Record<string, Value>,
  frame?: number,
  animates = false,
) {
  const found = animatedAt(draft, address);
  for (const [key, value] of Object.entries(values)) {
    const track = found.holder.animation?.[key];
    const keys = track?.keys;
    const guide = draft.guides?.find((g) => g.id === track?.follows?.guide);
    if (guide && track?.follows && frame !== undefined) {
      const { axis } = track.follows;
      const offset = (value as number) - placeOn(guide, frame)[axis];
      setTrack(found, key, { ...track, follows: { ...track.follows, offset } });
      continue;
    }
    if (frame !== undefined && (keys || animates))
      setTrack(changing(draft, address), key, { ...track, keys: keyOn(keys ?? [], frame, value) });
    else {
      if (keys) setTrack(found, key, { ...track, keys: undefined });
      found.put(key, value);
    }
  }
}

/** The same as an edit. */
export function setValues(
  doc: Finish,
  address: string,
  values: Record<string, Value>,
  frame?: number,
  animates = false,
): Edit {
  const { id, name, specs } = animatedAt(doc, address);
  const labels = Object.keys(values).map((key) => specs[key]?.name ?? key);
  return edit(`set ${listed(labels)} of ${name}`, (draft) =>
    changeValues(draft, id, values, frame, animates),
  );
}

export const setValue = (doc: Finish, address: string, key: string, value: Value, frame?: number): Edit =>
  setValues(doc, address, { [key]: value }, frame);
