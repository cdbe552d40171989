import { beforeEach, describe, expect, test, vi } from 'vitest';
import { copyOf } from '../core/finish/copies';
import { addStep, newFinish } from '../core/finish/edits';
import { findStep } from '../core/finish/finish';
import { toggleKey } from '../core/finish/key-edits';
import { parseFinish } from '../core/finish/validation';
import { setValues } from '../core/finish/value-edits';
import { steps } from '../core/steps/registry';
import type { Value } from '../core/steps/shared/define';
import { copiedStep, duplicateHere, keepCopied, pasteHere } from './clipboard';
import { createShotStore } from './session/store';

const bare = newFinish('hall', 'Hall', { type: 'pass', media: 'hall', pass: '' });
const kept = new Map<string, string>();

beforeEach(() => {
  kept.clear();
  vi.stubGlobal('localStorage', {
    getItem: (key: string) => kept.get(key) ?? null,
    setItem: (key: string, value: string) => void kept.set(key, value),
  });
});

describe('a copied step', () => {
  test.each(steps.map((s) => [s.id, s] as const))('%s is pasted with all it is set to', (type, spec) => {
    let doc = addStep('main', 0, type, 'it').apply(bare);
    // Something other than the defaults where there are tables and colours.
    const other = Object.fromEntries(
      Object.entries(spec.values).flatMap(([key, v]): [string, Value][] =>
        v.type === 'colour'
          ? [[key, [4, 0.25, 0]]]
          : v.type === 'rows'
            ? [[key, [Object.values(v.columns).map((c) => c.default)]]]
            : [],
      ),
    );
    doc = setValues(doc, 'it', other).apply(doc);
    const keyed = Object.keys(spec.values).find((key) => spec.values[key].type === 'number');
    if (keyed) doc = toggleKey(doc, 'it', keyed, 7).apply(doc);
    keepCopied(copyOf(doc, 'it'));
    const store = createShotStore(bare, 1);
    pasteHere(store);
    const { finish, selected } = store.getState();
    const pasted = findStep(finish, selected ?? '')!.step;
    const { values, animation } = findStep(doc, 'it')!.step;
    expect(pasted).toMatchObject({ type, values, ...(animation ? { animation } : {}) });
    expect(parseFinish(JSON.parse(JSON.stringify(finish)))).toEqual(finish);
  });

  test('that is none is not pasted', () => {
    for (const text of [
      '',
      'nonsense',
      '{}',
      '{"type":"toString"}',
      '{"type":"bloom","values":{"amount":"x"}}',
    ]) {
      kept.set('zafiro-copied-step', text);
      expect(copiedStep()).toBeUndefined();
    }
    kept.set('zafiro-copied-step', '{"type":"bloom","bypass":false,"values":{}}');
    expect(copiedStep()).toMatchObject({ type: 'bloom', values: { amount: 0.5 } });
  });
});

test('a duplicate is what one goes on with', () => {
  const store = createShotStore(addStep('main', 0, 'bloom', 'bloom').apply(bare), 1);
  duplicateHere(store, 'bloom', false);
  expect(store.getState().selected).toBe('bloom-2');
});
