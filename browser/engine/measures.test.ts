import { describe, expect, test } from 'vitest';
import { PictureCache } from '../../core/evaluate/cache';
import type { FrameSource } from '../../core/evaluate/run';
import { addStep, newFinish, setNote } from '../../core/finish/edits';
import type { Finish } from '../../core/finish/finish';
import { startForSlot } from '../../core/finish/new-strand';
import { setValue } from '../../core/finish/value-edits';
import type { Workspace } from '../../core/kernels/workspace';
import { plainRuntime } from '../../tests/runtime';
import { measures } from './measures';
import type { Queue } from './queue';

const runtime = plainRuntime(64);
const [width, height] = [64, 40];

/** A source of frames with a lamp, dull but for it, that counts what is read. */
function source() {
  const reads: number[] = [];
  const s: FrameSource = {
    identity: (media, frame) => `${media}:${frame}`,
    metadata: async () => ({ objects: {} }),
    async load(_, frame) {
      reads.push(frame);
      return (workspace: Workspace) => {
        const p = workspace.picture(width, height);
        for (let i = 0; i < width * height; i++) {
          const isLamp = i % width > 48 && i % width < 56 && i < 10 * width;
          p.data.set([isLamp ? 0.6 : 0.05, isLamp ? 0.6 : 0.05, 0.05, 1], i * 4);
        }
        return p;
      };
    },
  };
  return { s, reads };
}
const started = () => {
  const { s, reads } = source();
  const queue: Queue = async (_, __, work) =>
    work({ runtime, source: s, cache: new PictureCache(runtime.arena, 0) });
  return { ...measures(queue, s), reads };
};
const lit = addStep('main', 0, 'bloom', 'bloom').apply(
  newFinish('hall', 'Hall', { type: 'pass', media: 'hall', pass: '' }),
);

describe('shares over the frames', () => {
  const frames = [1, 2, 3, 4];
  const measure = async (of: ReturnType<typeof started>, finish: Finish) => {
    const shares: number[] = [];
    await of.coverage(1, finish, { strand: 'main', after: 'bloom' }, frames, (_, share) =>
      shares.push(share),
    );
    return shares;
  };

  test('are measured once: an edit that changes no frame reads none again', async () => {
    const of = started();
    const first = await measure(of, setValue(lit, 'bloom', 'threshold', 0.2).apply(lit));
    const reads = of.reads.length;
    expect(reads).toBeGreaterThan(0);
    const noted = setNote(lit, 'bloom', 'softer').apply(lit);
    expect(await measure(of, setValue(noted, 'bloom', 'threshold', 0.2).apply(noted))).toEqual(first);
    expect(of.reads).toHaveLength(reads);
    await measure(of, setValue(lit, 'bloom', 'threshold', 0.3).apply(lit));
    expect(of.reads.length).toBeGreaterThan(reads);
  });
});

test('what a step adds is measured by its result, also while it shows the added or the taken light alone', async () => {
  const shareWith = async (show: string) => {
    const shares: number[] = [];
    const doc = setValue(setValue(lit, 'bloom', 'threshold', 0.2).apply(lit), 'bloom', 'show', show);
    const finish = doc.apply(setValue(lit, 'bloom', 'threshold', 0.2).apply(lit));
    await started().coverage(1, finish, { strand: 'main', after: 'bloom' }, [1], (_, s) => shares.push(s));
    return shares[0];
  };
  const share = await shareWith('result');
  expect(share).toBeGreaterThan(0.01);
  expect(await shareWith('light')).toBe(share);
  expect(await shareWith('taken')).toBe(share);
});

test('pixels that shine are counted inside the light mask alone', async () => {
  const matte = startForSlot(lit, 'bloom', 'lightMask', {
    key: 'grey',
    name: 'Grey',
    description: '',
    head: { type: 'colour', colour: [0.25, 0.25, 0.25], alpha: 1 },
    kind: 'picture',
  }).edit.apply(lit);
  const count = async (finish: Finish) => {
    const h = (await started().histogram(1, finish, 'bloom', 1))!;
    return h.counts.reduce((a, b) => a + b, 0);
  };
  const whole = await count(lit);
  expect(whole).toBeGreaterThan(0);
  expect((await count(matte)) / whole).toBeCloseTo(0.25, 3);
});

test('a step that is added starts from the light there is, and from its middle', async () => {
  const rays = addStep('main', 0, 'light-rays', 'rays').apply(
    newFinish('hall', 'Hall', { type: 'pass', media: 'hall', pass: '' }),
  );
  const { threshold, middle } = (await started().start(1, rays, 'rays', 1)) ?? {};
  expect(threshold).toBeGreaterThan(0.05);
  expect(threshold).toBeLessThan(0.6);
  // The lamp lies about 20 pixels to the right of the middle and 15 above it.
  expect(Math.abs(middle![0] - 20.5)).toBeLessThan(3);
  expect(Math.abs(middle![1] - 15)).toBeLessThan(3);
});

test('a journey lists each place once', async () => {
  const stops = await started().journey(1, lit, 'main', 1, 3, 3);
  expect(stops?.map((s) => [s.strand, s.step, s.kind])).toEqual([
    ['main', undefined, 'picture'],
    ['main', 'bloom', 'picture'],
  ]);
});
