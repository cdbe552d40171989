import { type Finish, forOutput, leadingPass } from '../finish/finish';
import { planOf } from './plan';

/** A frame of a media. */
export type Input = { media: string; frame: number };

/** The frames of media that a finished frame is made of, each once; `outputs` are written with it. */
export function inputsOf(finish: Finish, frame: number, outputs: readonly string[] = []): Input[] {
  const found = new Map<string, Input>();
  const add = (media: string, at: number) => {
    const key = `${media}:${at}`;
    found.set(key, { media, frame: at });
    return key;
  };
  for (const of of [finish, ...outputs.map((name) => forOutput(finish, name))])
    planOf({ finish: of, point: { strand: of.main, after: 'end' }, frame, scale: 1 }, add);
  // Its attributes are carried over.
  const leading = leadingPass(finish);
  if (leading) add(leading.media, frame);
  return [...found.values()];
}
