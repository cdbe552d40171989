import { cubeOf, pixelRunAt } from '../../core/evaluate/lookup';
import type { StrandPoint } from '../../core/evaluate/plan/node';
import { evaluate } from '../../core/evaluate/run';
import { type Finish, findStep, pointIndex } from '../../core/finish/finish';
import { kindsAlong } from '../../core/finish/flow';
import { headTaps } from '../../core/finish/graph';
import type { Cube } from '../../core/formats/cube';
import type { RangeChannel } from '../../core/kernels/key';
import { toLookAt } from '../../core/kernels/plane';
import { takeLight } from '../../core/kernels/point';
import type { Picture } from '../../core/picture/picture';
import type { Region } from '../../core/picture/region';
import { flatShare, type LightHistogram, lightHistogram, lightThreshold } from '../../core/scopes/light';
import { type ValueHistogram, valueHistogram } from '../../core/scopes/values';
import { scopesOf } from '../../core/scopes/waveform';
import type { TableSpace } from '../../core/steps/finish/lookup-table';
import { middleOfLight } from '../../core/steps/light/take';
import { stepSpec } from '../../core/steps/registry';
import { bandChannelOf } from '../../core/steps/shared/band-channel';
import type { StartFacts } from '../../core/steps/shared/start-facts';
import type { Measured, Stop } from './answers';
import { lightMaskOf, matteIn, pointBefore, pointOfLight, smallScale, withRunWorkspace } from './places';
import type { Queue } from './queue';

/** Measurements of one frame: pixels, histograms, scopes. */
export const measuresOfFrame = (queue: Queue) => ({
  /** The value of one pixel after every place on its way to the end of a strand, through what its steps take too; each place once. */
  journey: (number: number, finish: Finish, strandId: string, frame: number, x: number, y: number) =>
    queue('journey', number, async (run): Promise<Stop[]> => {
      const stops: Stop[] = [];
      const seen = new Set<string>();
      const along = async (id: string, until: string) => {
        const strand = finish.strands.find((s) => s.id === id);
        if (!strand) return;
        const kinds = kindsAlong(finish, strand);
        if (!seen.has(`${id}/head`))
          for (const tap of headTaps(strand.head)) await along(tap.strand, tap.after);
        const places = ['head', ...strand.steps.map((s) => s.id)];
        for (const [i, after] of places.slice(0, pointIndex(strand, until) + 1).entries()) {
          if (seen.has(`${id}/${after}`)) continue;
          seen.add(`${id}/${after}`);
          const step = strand.steps[i - 1];
          for (const tap of Object.values(step && !step.bypass ? step.slots : {}))
            await along(tap.strand, tap.after);
          await evaluate({ finish, point: { strand: id, after }, frame, scale: 1 }, run, (p) => {
            const at = Math.min(p.height - 1, y) * p.width + Math.min(p.width - 1, x);
            const [r, g, b, a] =
              p.channels === 1 ? [...Array(3).fill(p.data[at]), 1] : p.data.subarray(at * 4, at * 4 + 4);
            stops.push({ strand: id, step: step?.id, kind: kinds[i], rgba: [r, g, b, a] });
          });
        }
      };
      await along(strandId, 'end');
      return stops;
    }),

  /** The numbers of one pixel that come to a step. */
  pixel: (number: number, finish: Finish, stepId: string, frame: number, x: number, y: number) =>
    queue('pick', number, async (run): Promise<number[] | undefined> => {
      const point = pointBefore(finish, stepId);
      if (!point) return;
      return evaluate({ finish, point, frame, scale: 1 }, run, (p) => {
        const at = (Math.min(p.height - 1, y) * p.width + Math.min(p.width - 1, x)) * p.channels;
        return Array.from(p.data.subarray(at, at + p.channels));
      });
    }),

  /** Facts of the picture for the start values of an added step. */
  start: (number: number, finish: Finish, stepId: string, frame: number) =>
    queue('start', number, async (run): Promise<StartFacts> => {
      const step = findStep(finish, stepId)?.step;
      const spec = step && stepSpec(step.type);
      if (!spec?.start) return {};
      const small = <T>(point: StrandPoint | undefined, use: Parameters<typeof evaluate<T>>[2]) =>
        point && evaluate({ finish, point, frame, scale: 0.5 }, run, use);
      const facts: StartFacts = {};
      if (spec.editors?.some((editor) => editor.kind === 'light'))
        await small(pointOfLight(finish, stepId), (p) =>
          withRunWorkspace(run, (workspace) => {
            const picture = toLookAt(workspace, p);
            const threshold = lightThreshold(lightHistogram(picture));
            facts.threshold = threshold;
            if (threshold === undefined) return;
            const taken = takeLight(workspace, picture, { threshold, knee: 0, limit: 0, tint: [1, 1, 1] });
            const middle = middleOfLight(taken);
            if (middle)
              facts.middle = [(middle[0] - (p.width - 1) / 2) * 2, ((p.height - 1) / 2 - middle[1]) * 2];
          }),
        );
      const point = 'depth' in spec.slots ? step!.slots.depth : pointBefore(finish, stepId);
      const channel = bandChannelOf(spec, step!.values);
      await small(point, (p) =>
        withRunWorkspace(run, (workspace) => {
          const seen = toLookAt(workspace, p);
          facts.values = valueHistogram(seen, channel);
          facts.flat = flatShare(seen);
        }),
      );
      return facts;
    }),

  /** How far the passes of a mix, as they were rendered, are from their beauty, by channel: on average, and at the most. */
  residual: (number: number, finish: Finish, strandId: string, frame: number) =>
    queue('histogram', number, async (run): Promise<{ mean: number; most: number } | undefined> => {
      const strand = finish.strands.find((s) => s.id === strandId);
      if (strand?.head.type !== 'mix' || strand.head.beauty === undefined) return;
      const passes = strand.head.passes.map(({ pass }) => ({ pass, gain: 1 }));
      const head = { ...strand.head, passes, show: 'residual' as const };
      const shown = {
        ...finish,
        strands: finish.strands.map((s) => (s.id === strandId ? { ...s, head } : s)),
      };
      const point = { strand: strandId, after: 'head' };
      return evaluate({ finish: shown, point, frame, scale: 1 }, run, (p) => {
        let [sum, most] = [0, 0];
        for (let i = 0; i < p.data.length; i++) {
          if (i % 4 === 3) continue;
          const off = Math.abs(p.data[i]);
          sum += off;
          if (off > most) most = off;
        }
        return { mean: sum / (p.data.length * 0.75), most };
      });
    }),

  /** What a run of steps of colour makes of a cube of codes, as a table. */
  lookupTable: (
    number: number,
    finish: Finish,
    stepId: string,
    frame: number,
    size: number,
    space: TableSpace,
  ) =>
    queue(
      'pick',
      number,
      async (run): Promise<Cube> =>
        withRunWorkspace(run, (workspace) =>
          cubeOf(workspace, pixelRunAt(finish, stepId, frame), size, space),
        ),
    ),

  /** The distribution of light in the picture at a point. */
  scopes: (number: number, finish: Finish, point: StrandPoint, frame: number, region?: Region) =>
    queue('scopes', number, (run) =>
      evaluate(
        { finish, point, frame, scale: smallScale, region },
        run,
        (p): Measured =>
          withRunWorkspace(run, (workspace) => {
            const seen = toLookAt(workspace, p);
            return { scopes: scopesOf(seen), light: lightHistogram(seen) };
          }),
      ),
    ),

  /** Luminance of the light that a step takes from, as far as its light mask lets it. */
  histogram: (number: number, finish: Finish, stepId: string, frame: number) =>
    queue('histogram', number, async (run): Promise<LightHistogram | undefined> => {
      const point = pointOfLight(finish, stepId);
      if (!point) return;
      const histogramOf = (p: Picture, mask?: Picture) =>
        withRunWorkspace(run, (workspace) => lightHistogram(toLookAt(workspace, p), mask));
      const mask = lightMaskOf(finish, stepId);
      return evaluate({ finish, point, frame, scale: 1 }, run, (p) =>
        mask
          ? evaluate({ finish, point: mask, frame, scale: 1 }, run, (m) =>
              withRunWorkspace(run, (workspace) => histogramOf(p, matteIn(workspace, m, mask))),
            )
          : histogramOf(p),
      );
    }),

  /** The distribution of the values that a key reads. */
  values: (
    number: number,
    finish: Finish,
    stepId: string,
    channel: RangeChannel,
    frame: number,
    slot?: string,
  ) =>
    queue('histogram', number, async (run): Promise<ValueHistogram | undefined> => {
      const point =
        slot === undefined ? pointBefore(finish, stepId) : findStep(finish, stepId)?.step.slots[slot];
      if (!point) return;
      return evaluate({ finish, point, frame, scale: 0.5 }, run, (p) =>
        withRunWorkspace(run, (workspace) => valueHistogram(toLookAt(workspace, p), channel)),
      );
    }),
});
