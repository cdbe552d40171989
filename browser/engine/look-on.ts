import { type Request, regionGiven } from '../../core/evaluate/plan/node';
import { planOf } from '../../core/evaluate/plan/plan';
import { evaluate, type FrameSource, type Run } from '../../core/evaluate/run';
import { toLookAt } from '../../core/kernels/plane';
import type { Workspace } from '../../core/kernels/workspace';
import type { Picture } from '../../core/picture/picture';
import type { Region } from '../../core/picture/region';
import { dataRange, difference, type Looking, lookAt, showMatte } from '../../core/scopes/looking';
import type { Beside } from './answers';
import { kindOf, matteIn, withRunWorkspace } from './places';

/** A place on a frame and how it is looked at: with a scale, all that a picture on the screen is made of. */
export type Look = { request: Omit<Request, 'scale'>; view: Looking; beside: Beside };

/** A picture as it is looked at. The pictures belong to the workspace and are gone after it; the pixels stay. */
export type Seen = {
  /** What the strand carries there. */
  picture: Picture;
  /** The same as RGBA. */
  seen: Picture;
  pixels: Uint8ClampedArray<ArrayBuffer>;
  other?: Uint8ClampedArray<ArrayBuffer>;
  /** The part of the draft that this is, if not all of it. */
  region?: Region;
  /** For data: the values shown as black and white. */
  range?: readonly [number, number];
};

/** The same look on another frame. A pinned comparison stays where it is. */
export const onFrame = ({ request, view, beside }: Look, frame: number): Look => ({
  request: { ...request, frame },
  view,
  beside: beside.against?.pinned === false ? { ...beside, against: { ...beside.against, frame } } : beside,
});

/** What else than the place itself has to be computed for a look. */
const requestsOf = ({ request, beside: { against, matte } }: Look): Omit<Request, 'scale'>[] => [
  request,
  ...(against
    ? [{ finish: against.finish, point: against.point, frame: against.frame, region: request.region }]
    : []),
  ...(matte ? [{ ...request, point: matte }] : []),
];

/** What has the same keys has the same pixels, as it is looked at; and the same light, at its place. */
export type FrameKeys = { look: string; place: string };

/** Keys of a look at a scale. @throws {Error} where it cannot be planned, as for a frame that is not there. */
export function keysOfLook(look: Look, scale: number, identity: FrameSource['identity']): FrameKeys {
  const plans = requestsOf(look).map((request) => planOf({ ...request, scale }, identity).key);
  const { against, matte, matteLook } = look.beside;
  const how = [
    look.view,
    against?.difference ?? null,
    matte ? [matte.as ?? null, matte.invert ?? null, matteLook ?? null] : null,
  ];
  return { look: JSON.stringify([plans, how]), place: plans[0] };
}

/** Computes what is looked at, at a scale, and hands it to `use`. */
export async function lookOn<T>(
  run: Run,
  { request, view, beside: { against, matte, matteLook = 'tint' } }: Look,
  scale: number,
  use: (seen: Seen, workspace: Workspace) => T,
): Promise<T> {
  // A copy: the matte's picture may be let go before the picture is shown.
  const tint =
    matte &&
    (await evaluate({ ...request, point: matte, scale }, run, (p) =>
      withRunWorkspace(run, (workspace) => matteIn(workspace, p, matte).data.slice()),
    ));
  const rangeOf = (of: Pick<Request, 'finish' | 'point'>, picture: Picture) =>
    kindOf(of.finish, of.point) === 'data' && view.look !== 'alpha'
      ? (view.range ?? dataRange(picture))
      : undefined;
  const see = (picture: Picture, workspace: Workspace, other?: Uint8ClampedArray<ArrayBuffer>): T => {
    const seen = toLookAt(workspace, picture);
    const range = rangeOf(request, picture);
    const pixels = lookAt(workspace, seen, { ...view, range });
    if (tint) showMatte(pixels, { width: picture.width, data: tint }, matteLook);
    const region = regionGiven({ region: request.region, scale });
    return use({ picture, seen, pixels, other, region, range }, workspace);
  };
  const first = { ...request, scale };
  if (!against)
    return evaluate(first, run, (picture) => withRunWorkspace(run, (workspace) => see(picture, workspace)));
  const { finish, point, frame } = against;
  const second = { finish, point, frame, scale, region: request.region };
  return evaluate(first, run, (picture) =>
    evaluate(second, run, (compared) =>
      withRunWorkspace(run, (workspace) => {
        if (compared.width !== picture.width || compared.height !== picture.height)
          throw new Error('These two have different sizes and cannot be compared.');
        const other = toLookAt(workspace, compared);
        return against.difference
          ? see(difference(workspace, toLookAt(workspace, picture), other, against.difference), workspace)
          : see(picture, workspace, lookAt(workspace, other, { ...view, range: rangeOf(against, compared) }));
      }),
    ),
  );
}
