import { expect, test } from 'vitest';
import { addStep, newFinish } from '@/core/finish/edits';
import { spokenDrag } from './drag';

test('a drag is spoken in names, without the program’s ids', () => {
  const base = newFinish('f', 'F', { type: 'pass', media: 'hall', pass: '' });
  const doc = addStep('main', 0, 'bloom', 'bloom-1').apply(base);
  const { announcements } = spokenDrag(doc);
  const heard = (active: string, over?: string) => {
    const event = { active: { id: active }, over: over ? { id: over } : null } as never;
    return [
      announcements.onDragStart(event),
      announcements.onDragOver(event),
      announcements.onDragEnd(event),
      announcements.onDragCancel(event),
    ].join(' ');
  };
  expect(heard('bloom-1', 'point:main:1')).toContain('Bloom was put after Bloom.');
  expect(heard('bloom-1', 'point:main:0')).toContain(`at the head of ${doc.strands[0].name}`);
  expect(heard('tap:main:bloom-1', 'step:bloom-1')).toContain('Picked up a link from Bloom.');
  expect(heard('tap:main:head')).toContain('stays where it was');
  for (const words of [heard('bloom-1', 'point:main:0'), heard('tap:main:head', 'step:bloom-1')])
    expect(words).not.toMatch(/point:|tap:|step:|bloom-1/);
});
