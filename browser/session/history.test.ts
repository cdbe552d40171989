import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { freeId } from '../../core/finish/edit';
import {
  addStep,
  addStrand,
  newFinish,
  removeStep,
  renameStep,
  setNote,
  splitAt,
} from '../../core/finish/edits';
import { type Finish, findStep } from '../../core/finish/finish';
import { setValue } from '../../core/finish/value-edits';
import { createShotStore, previewed } from './store';

const head = { type: 'pass', media: 'hall', pass: '' } as const;
const first = addStep('main', 0, 'bloom', 'bloom').apply(newFinish('hall', 'Hall', head));

const does = fc.constantFrom('value', 'add', 'remove', 'split', 'strand', 'undo', 'redo', 'refused', 'other');

describe('undo and redo', () => {
  test('lead through the documents that were there, whatever was done', () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(does, fc.nat(1000)), { maxLength: 40 }), (list) => {
        const store = createShotStore(first, 1);
        const past: Finish[] = [];
        let future: Finish[] = [];
        const doc = () => store.getState().finish;
        const edit = (...[given]: Parameters<ReturnType<typeof store.getState>['edit']>) => {
          const before = doc();
          const done = store.getState().edit(given);
          if (doc() === before) return done;
          past.push(before);
          future = [];
          return done;
        };
        for (const [what, n] of list) {
          const step = doc().strands[0].steps[n % Math.max(1, doc().strands[0].steps.length)];
          const before = doc();
          if (what === 'undo') {
            store.getState().undo();
            const to = past.pop();
            if (to) future.push(before);
            expect(doc()).toEqual(to ?? before);
          } else if (what === 'redo') {
            store.getState().redo();
            const to = future.pop();
            if (to) past.push(before);
            expect(doc()).toEqual(to ?? before);
          } else if (what === 'add') edit((d) => addStep('main', 0, 'opacity', freeId(d, 'opacity')));
          else if (what === 'split') edit((d) => splitAt(d, 'main', 'head'));
          else if (what === 'strand') edit((d) => addStrand(d, head, 'picture', 'Again'));
          else if (what === 'other') {
            store.getState().replace(first);
            past.push(before);
            future = [];
          } else if (!step) continue;
          else if (what === 'value') edit((d) => setValue(d, step.id, 'amount', (n % 100) / 100));
          else if (what === 'remove') edit((d) => removeStep(d, step.id));
          else if (what === 'refused') {
            expect(edit((d) => setNote(d, step.id, 'x'.repeat(2001)))).toBe(false);
            expect(doc()).toBe(before);
            expect(store.getState().refusal?.problem).toContain('2000 letters');
          }
        }
        // All the way back.
        while (past.length > 0) {
          store.getState().undo();
          expect(doc()).toEqual(past.pop());
        }
        expect(store.getState().history.past).toEqual([]);
        expect(doc()).toEqual(first);
      }),
      { numRuns: 200 },
    );
  });

  test('go by name', () => {
    const store = createShotStore(first, 1);
    store.getState().edit((d) => setValue(d, 'bloom', 'amount', 0.2));
    store.getState().edit((d) => renameStep(d, 'bloom', 'Halo'));
    expect(store.getState().history.past.map((e) => e.label)).toEqual([
      'set Amount of Bloom',
      'rename Bloom',
    ]);
    store.getState().undo();
    expect(store.getState().label).toBe('undo: rename Bloom');
    expect(store.getState().history.future.at(-1)?.label).toBe('rename Bloom');
  });
});

describe('what is dragged', () => {
  test('is shown, is no part of the document, and is gone with an edit, an undo or a refusal', () => {
    const store = createShotStore(first, 1);
    const drag = () => store.getState().change({ preview: setValue(first, 'bloom', 'amount', 0.9) });
    const shown = () => findStep(previewed(store.getState()), 'bloom')?.step.values.amount;
    drag();
    expect(shown()).toBe(0.9);
    expect(store.getState().finish).toBe(first);
    expect(previewed(store.getState())).toBe(previewed(store.getState()));
    store.getState().edit((d) => setNote(d, 'bloom', 'x'.repeat(3000)));
    expect(shown()).toBe(0.5);
    drag();
    store.getState().edit((d) => setNote(d, 'bloom', 'softer'));
    expect(shown()).toBe(0.5);
    drag();
    store.getState().undo();
    expect(shown()).toBe(0.5);
    // Of a step that is gone nothing is shown.
    drag();
    store.getState().edit((d) => removeStep(d, 'bloom'));
    store.getState().change({ preview: setValue(first, 'bloom', 'amount', 0.9) });
    expect(previewed(store.getState())).toBe(store.getState().finish);
  });
});
