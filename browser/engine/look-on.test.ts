import { expect, test } from 'vitest';
import { addStep, newFinish } from '../../core/finish/edits';
import type { Finish } from '../../core/finish/finish';
import { toggleKey } from '../../core/finish/key-edits';
import { setValue } from '../../core/finish/value-edits';
import { type FrameKeys, keysOfLook, type Look, onFrame } from './look-on';

const head = { type: 'pass', media: 'hall', pass: '' } as const;
const looking = { look: 'colour', stops: 0, gamma: 1, backing: 'black', marks: false } as const;
const lookAt = (finish: Finish, over: Partial<Look> = {}): Look => ({
  request: { finish, point: { strand: 'main', after: 'end' }, frame: 0 },
  view: looking,
  beside: {},
  ...over,
});
const identity = (media: string, frame: number) => `${media} ${frame}`;
const keys = (look: Look, scale = 1): FrameKeys[] =>
  Array.from({ length: 24 }, (_, i) => keysOfLook(onFrame(look, i + 1), scale, identity));
/** Frames whose pictures differ. */
const differing = (a: FrameKeys[], b: FrameKeys[], of: keyof FrameKeys = 'look') =>
  a.flatMap((key, i) => (key[of] === b[i][of] ? [] : [i + 1]));

const lit = addStep('main', 0, 'bloom', 'bloom').apply(newFinish('f', 'F', head));
const keyed = (value: number) => {
  let doc = lit;
  for (const frame of [1, 10, 20, 24]) doc = toggleKey(doc, 'bloom', 'amount', frame).apply(doc);
  doc = toggleKey(doc, 'bloom', 'amount', 15).apply(doc);
  return setValue(doc, 'bloom', 'amount', value, 15).apply(doc);
};

test('a key between the keys of frames 10 and 20 changes the pictures between them alone', () => {
  expect(differing(keys(lookAt(keyed(1.2))), keys(lookAt(keyed(1.5))))).toEqual([
    11, 12, 13, 14, 15, 16, 17, 18, 19,
  ]);
});

test('another exposure changes what is seen, and not the place', () => {
  const [one, two] = [keys(lookAt(lit)), keys(lookAt(lit, { view: { ...looking, stops: 1 } }))];
  expect(differing(one, two)).toHaveLength(24);
  expect(differing(one, two, 'place')).toEqual([]);
});

test('a comparison goes along with the frame, one that is pinned stays', () => {
  const against = (pinned: boolean) => ({
    against: { finish: lit, point: { strand: 'main', after: 'head' }, frame: 7, pinned },
  });
  expect(onFrame(lookAt(lit, { beside: against(false) }), 3).beside.against?.frame).toBe(3);
  expect(onFrame(lookAt(lit, { beside: against(true) }), 3).beside.against?.frame).toBe(7);
  const alone = keys(lookAt(lit));
  expect(differing(alone, keys(lookAt(lit, { beside: against(false) })))).toHaveLength(24);
});

test('a frame that is not there has no keys', () => {
  const gone = () => {
    throw new Error('not here');
  };
  expect(() => keysOfLook(lookAt(lit), 1, gone)).toThrow('not here');
});
