import { type Finish, forOutput, leadingPass } from '../finish/finish';
import { planOf } from './plan/plan';

/** A finished frame, and the named outputs that are written with it. */
export type Wanted = { finish: Finish; frame: number; scale: number; outputs: readonly string[] };

/** What a finished frame depends on: the keys of its pictures, and of the file whose attributes it carries. `identity` is asked for each frame of a media that it is made of. */
export function keysOf(
  { finish, frame, scale, outputs }: Wanted,
  identity: (media: string, frame: number) => string,
): { pictures: string[]; attributes?: string } {
  const pictures = [finish, ...outputs.map((name) => forOutput(finish, name))].map(
    (of) => planOf({ finish: of, point: { strand: of.main, after: 'end' }, frame, scale }, identity).key,
  );
  const leading = leadingPass(finish);
  return { pictures, attributes: leading && identity(leading.media, frame) };
}

/** A frame of a media. */
export type Input = { media: string; frame: number };

/** The frames of media that a finished frame is made of, each once. */
export function inputsOf(wanted: Wanted): Input[] {
  const found = new Map<string, Input>();
  keysOf(wanted, (media, frame) => {
    const key = `${media}:${frame}`;
    found.set(key, { media, frame });
    return key;
  });
  return [...found.values()];
}
