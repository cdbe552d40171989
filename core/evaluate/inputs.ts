import { type Finish, leadingPass } from '../finish/finish';
import { planOf } from './plan';

/** A frame of a media. */
export type Input = { media: string; frame: number };

/** The frames of media that a finished frame is made of, each once. */
export function inputsOf(finish: Finish, frame: number): Input[] {
  const found = new Map<string, Input>();
  const add = (media: string, at: number) => {
    const key = `${media}:${at}`;
    found.set(key, { media, frame: at });
    return key;
  };
  planOf({ finish, point: { strand: finish.main, after: 'end' }, frame, scale: 1 }, add);
  // Its attributes are carried over.
  const leading = leadingPass(finish);
  if (leading) add(leading.media, frame);
  return [...found.values()];
}
