import { expect, test } from 'vitest';
import { sharesMemory, writeShared } from './shared-memory';

type Fake = { onmessage?: () => void; onerror?: (e: { preventDefault(): void }) => void };
/** A worker that does with the memory what is said. */
const worker = (does: (memory: WebAssembly.Memory, self: Fake) => void) => {
  const self: Fake & { postMessage(m: WebAssembly.Memory): void; ended: boolean; terminate(): void } = {
    ended: false,
    postMessage: (memory) => does(memory, self),
    terminate: () => {
      self.ended = true;
    },
  };
  return self;
};
const tried = (fake: ReturnType<typeof worker>) => sharesMemory(() => fake as unknown as Worker, 20);

test('memory counts as shared once a worker has written into it', async () => {
  const fake = worker((memory, self) => {
    writeShared(memory);
    self.onmessage?.();
  });
  expect(await tried(fake)).toBe(true);
  expect(fake.ended).toBe(true);
});

test('a worker that gets a copy, refuses the memory, fails or says nothing leaves one thread', async () => {
  const refuses = worker(() => {
    throw new DOMException('The object can not be cloned.', 'DataCloneError');
  });
  const copies = worker((_, self) => self.onmessage?.());
  const fails = worker((_, self) => self.onerror?.({ preventDefault() {} }));
  for (const fake of [refuses, copies, fails, worker(() => {})]) {
    expect(await tried(fake)).toBe(false);
    expect(fake.ended).toBe(true);
  }
  expect(
    await sharesMemory(() => {
      throw new Error('no workers in workers');
    }),
  ).toBe(false);
});
