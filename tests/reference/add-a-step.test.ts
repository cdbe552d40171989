import { mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import * as v from 'valibot';
import { afterAll, describe, expect, test } from 'vitest';
import { stepSchema } from '../../core/finish/step-schema';
import { defaultsOf, type StepSpec } from '../../core/steps/shared/define';
import { pictureOf, workspace } from '../runtime';
import { root } from '../server/instance';

/** The page "How to add a step", followed literally: its file is written where it says, and must be a step. */
const page = readFileSync(join(root, 'docs/add-a-step.md'), 'utf8');
const [, path] = /`(core\/steps\/[^`]+\.ts)`:/.exec(page)!;
const [, source] = /```ts\n([\s\S]*?)```/.exec(page)!;
// As deep as the page's file lies, so that its imports hold, and out of the tree that other tests read.
const file = join(root, 'tests/reference/written', path.split('/').pop()!);

async function written(): Promise<StepSpec> {
  mkdirSync(join(file, '..'), { recursive: true });
  const here = source
    .replaceAll("'../../", "'../../../core/")
    .replaceAll(/'\.\.\/(?!\.\.)/g, "'../../../core/steps/");
  writeFileSync(file, here);
  const module = (await import(file)) as Record<string, StepSpec>;
  return Object.values(module)[0];
}
afterAll(() => rmSync(join(file, '..'), { recursive: true, force: true }));

describe('the step of the page', () => {
  test('is what a document takes, and does what it says', async () => {
    const spec = await written();
    expect(spec.id).toBe('matte-gain');
    const step = (gain: number) => ({ id: 'thicker', type: 'matte-gain', values: { gain } });
    const { values } = v.parse(stepSchema(spec), step(4)) as { values: Record<string, unknown> };
    expect(values).toEqual({ invert: false, gain: 4 });
    expect(v.safeParse(stepSchema(spec), step(0.5)).success).toBe(false);
    expect(spec.neutral(defaultsOf(spec.values) as never)).toBe(true);
    const given = pictureOf(4, 1, (i) => [0.125, 0.125, 0.5, 0][i], 1);
    const mask = pictureOf(4, 1, (i) => [0, 1, 1, 1][i], 1);
    const out = spec.run(workspace, given, { mask }, values as never);
    expect([...out.data]).toEqual([0.125, 0.5, 1, 0]);
  });

  test('names files and commands that are there', () => {
    for (const [, named] of page.matchAll(/`((?:core|tests|tools)\/[\w/-]+\.ts)`/g))
      if (named !== path) expect(() => readFileSync(join(root, named))).not.toThrow();
  });
});
