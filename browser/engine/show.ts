import { planOf, type Request, regionGiven } from '../../core/evaluate/plan';
import { evaluate, type FrameSource } from '../../core/evaluate/run';
import { type Finish, passesUsed } from '../../core/finish/finish';
import { toLookAt } from '../../core/kernels/plane';
import type { Workspace } from '../../core/kernels/workspace';
import type { Picture } from '../../core/picture/picture';
import { dataRange, difference, type Looking, lookAt, showMatte } from '../../core/scopes/looking';
import type { Beside, Shown } from './answers';
import { kindOf, matteIn, withRunWorkspace } from './places';
import type { Queue } from './queue';

type Transfer = <T extends object>(what: T, parts: Transferable[]) => T;

/** The picture for the viewer. */
export function showing(queue: Queue, source: FrameSource, transfer: Transfer) {
  /** The frames beside the playhead, once it has stopped. */
  let resting: ReturnType<typeof setTimeout> | undefined;
  function fetchAhead(finish: Finish, frame: number) {
    clearTimeout(resting);
    resting = setTimeout(async () => {
      for (const next of [frame + 1, frame - 1])
        for (const head of finish.strands.flatMap((s) => passesUsed(s.head)))
          await source.ahead?.(head, next);
    }, 300);
  }

  return {
    /**
     * The picture at a place, at each of `scales` in turn, handed over as soon as it is ready. Resolves when the last is shown, or when a
     * newer request has overtaken it.
     */
    show: (
      number: number,
      request: Omit<Request, 'scale'>,
      scales: number[],
      view: Looking,
      ready: (shown: Shown) => void,
      { against, matte, matteLook = 'tint' }: Beside = {},
    ) =>
      queue('viewer', number, async (run) => {
        // What is here whole already needs no draft before it.
        const whole = planOf({ ...request, scale: 1 }, source.identity).key;
        for (const scale of run.cache.has(whole) ? [scales[scales.length - 1]] : scales) {
          const began = performance.now();
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
          const show = (picture: Picture, workspace: Workspace, other?: Uint8ClampedArray<ArrayBuffer>) => {
            const seen = toLookAt(workspace, picture);
            const range = rangeOf(request, picture);
            const pixels = lookAt(workspace, seen, { ...view, range });
            const { width, height } = picture;
            if (tint) showMatte(pixels, { width, data: tint }, matteLook);
            const data = seen.data.slice();
            const millis = performance.now() - began;
            const region = regionGiven({ region: request.region, scale });
            const { frame } = request;
            const shown: Shown = { width, height, data, pixels, other, frame, millis, scale, region, range };
            ready(transfer(shown, [data.buffer, pixels.buffer, ...(other ? [other.buffer] : [])]));
          };
          const first = { ...request, scale };
          if (!against) {
            await evaluate(first, run, (picture) =>
              withRunWorkspace(run, (workspace) => show(picture, workspace)),
            );
            continue;
          }
          const { finish, point, frame } = against;
          const second = { finish, point, frame, scale, region: request.region };
          await evaluate(first, run, (picture) =>
            evaluate(second, run, (compared) =>
              withRunWorkspace(run, (workspace) => {
                if (compared.width !== picture.width || compared.height !== picture.height)
                  throw new Error('These two have different sizes and cannot be compared.');
                const other = toLookAt(workspace, compared);
                if (against.difference)
                  show(
                    difference(workspace, toLookAt(workspace, picture), other, against.difference),
                    workspace,
                  );
                else
                  show(
                    picture,
                    workspace,
                    lookAt(workspace, other, { ...view, range: rangeOf(against, compared) }),
                  );
              }),
            ),
          );
        }
        fetchAhead(request.finish, request.frame);
        return true;
      }),
  };
}
