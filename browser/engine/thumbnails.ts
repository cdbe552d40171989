import { LRUCache } from 'lru-cache';
import type { StrandPoint } from '../../core/evaluate/plan/node';
import { planOf } from '../../core/evaluate/plan/plan';
import { evaluate, type Run } from '../../core/evaluate/run';
import type { Finish } from '../../core/finish/finish';
import { kindsAlong } from '../../core/finish/flow';
import { leadsNowhere } from '../../core/finish/uses';
import { toDisplay } from '../../core/kernels/display';
import { toLookAt } from '../../core/kernels/plane';
import { matteOf } from '../../core/kernels/point';
import { pickCentres, shrink } from '../../core/kernels/sample';
import type { Workspace } from '../../core/kernels/workspace';
import type { Picture } from '../../core/picture/picture';
import { addedShare, negativeShare, pixelShares } from '../../core/scopes/light';
import { coveredShare, dataRange } from '../../core/scopes/looking';
import { stepSpec } from '../../core/steps/registry';
import type { Noticed, Thumbnail } from './answers';
import { asResult, kindOf, matteIn, smallScale, withRunWorkspace } from './places';
import type { Queue } from './queue';

const thumbnailWidth = 112;

/** A small picture for a card, on the page's own memory. */
const smallOf = (workspace: Workspace, picture: Picture, data: boolean) => {
  const scale = Math.min(1, thumbnailWidth / picture.width);
  const small = (data ? pickCentres : shrink)(workspace, picture, scale);
  const range = data ? dataRange(small) : undefined;
  const pixels = toDisplay(workspace, small, { look: 'colour', stops: 0, range });
  return { width: small.width, height: small.height, pixels };
};

/** What was counted of frames, by what they are made of. */
const counted = new LRUCache<string, number>({ max: 5000 });

/** Shares of negative pixels in the frames at the heads of strands. At full size: in a small picture single ones vanish. */
async function negativeIn(finish: Finish, frame: number, run: Run): Promise<Record<string, number>> {
  const negative: Record<string, number> = {};
  for (const { id, kind, head } of finish.strands) {
    if (head.type !== 'pass' || kind !== 'picture') continue;
    const request = { finish, point: { strand: id, after: 'head' }, frame, scale: 1 };
    const { key } = planOf(request, run.source.identity);
    const share = counted.get(key) ?? (await evaluate(request, run, negativeShare));
    counted.set(key, share);
    if (share > 0) negative[id] = share;
  }
  return negative;
}

/** Small pictures after the head and after each step of every strand, and what advice asks of them. */
export const thumbnails = (queue: Queue) => ({
  thumbnails: (number: number, finish: Finish, frame: number) =>
    queue('thumbnails', number, async (run): Promise<Noticed> => {
      const out: Record<string, Thumbnail> = {};
      const broken: Record<string, number> = {};
      const emptyMattes: string[] = [];
      const byAlpha: string[] = [];
      let beyondAlpha = 0;
      const at = <T>(
        strand: string,
        after: string,
        use: (p: Picture) => T | Promise<T>,
        doc: Finish = finish,
      ) => evaluate({ finish: doc, point: { strand, after }, frame, scale: smallScale }, run, use);
      const strandOf = (id: string) => finish.strands.find((s) => s.id === id);
      const lastOf = new Map(finish.strands.map((s) => [s.id, s.steps.at(-1)?.id]));
      const put = (id: string, shown: Picture, data: boolean, share?: number) =>
        withRunWorkspace(run, (workspace) => {
          const covers = shown.channels === 1 ? coveredShare(shown) : undefined;
          const picture = toLookAt(workspace, shown);
          const shares = pixelShares(picture);
          broken[id] = data ? shares.noNumber : shares.broken;
          if (id === (lastOf.get(finish.main) ?? finish.main)) beyondAlpha = shares.beyondAlpha;
          out[id] = { ...smallOf(workspace, picture, data), share, covers };
        });
      for (const strand of finish.strands) {
        for (const step of strand.steps) {
          for (const [slot, tap] of Object.entries(step.slots)) {
            if (stepSpec(step.type)?.slots[slot]?.kind !== 'matte' || leadsNowhere(strandOf, tap)) continue;
            await at(tap.strand, tap.after, (p) =>
              withRunWorkspace(run, (workspace) => {
                if (coveredShare(matteIn(workspace, p, tap)) !== 0) return;
                emptyMattes.push(`${step.id}/${slot}`);
                const isRead = p.channels === 4 && (tap.as ?? 'luminance') === 'luminance';
                if (isRead && coveredShare(matteOf(workspace, p, 'alpha')) > 0)
                  byAlpha.push(`${step.id}/${slot}`);
              }),
            );
          }
        }
        const kinds = kindsAlong(finish, strand);
        let before = await at(strand.id, 'head', (p) => {
          put(strand.id, p, kinds[0] === 'data');
          return p.data.slice();
        });
        for (const [i, step] of strand.steps.entries()) {
          const isLight = kinds[i] === 'picture' && kinds[i + 1] === 'picture';
          const measured = isLight ? asResult(finish, step.id) : finish;
          // A step that shows something in place of its result adds as much as if it did not.
          const share =
            measured === finish
              ? undefined
              : await at(strand.id, step.id, (p) => addedShare({ data: before }, p), measured);
          before = await at(strand.id, step.id, (p) => {
            const added = isLight ? (share ?? addedShare({ data: before }, p)) : undefined;
            put(step.id, p, kinds[i + 1] === 'data', added);
            return p.data.slice();
          });
        }
      }
      const negative = await negativeIn(finish, frame, run);
      return { thumbnails: out, broken, negative, emptyMattes, byAlpha, beyondAlpha };
    }),
  /** The small picture of one point of a document that is only tried. */
  tried: (number: number, finish: Finish, point: StrandPoint, frame: number) =>
    queue(
      'tries',
      number,
      (run): Promise<Thumbnail> =>
        evaluate({ finish, point, frame, scale: smallScale }, run, (p) =>
          withRunWorkspace(run, (workspace) =>
            smallOf(workspace, toLookAt(workspace, p), kindOf(finish, point) === 'data'),
          ),
        ),
    ),
});
