import { expect, test } from 'vitest';
import { idBits, idFloat, idMatteAttributes, idMatteLayers } from './id-mattes';
import { murmur3 } from './murmur3';

// Verification values published with MurmurHash3_x86_32 test suites: '' seed 0 → 0, '' seed 1 → 0x514e28b7,
// 'test' → 0xba6bd213, 'Hello, world!' → 0xc0363e43 (quoted from memory).
test('MurmurHash3_x86_32 gives its published values', () => {
  expect(murmur3('')).toBe(0);
  expect(murmur3('', 1)).toBe(0x514e28b7);
  expect(murmur3('test')).toBe(0xba6bd213);
  expect(murmur3('Hello, world!')).toBe(0xc0363e43);
});

test('ids are finite, normal floats that keep the bits of the hash', () => {
  for (const name of ['globe-left', 'ring-3', 'floor', '', 'ünïcode']) {
    const value = idFloat(name);
    expect(Number.isFinite(value)).toBe(true);
    expect(Math.abs(value)).toBeGreaterThanOrEqual(2 ** -126);
    expect(new Uint32Array(Float32Array.of(value).buffer)[0]).toBe(idBits(name));
  }
});

test('the metadata names the layer and its objects', () => {
  const attributes = idMatteAttributes('idobject', ['floor', 'globe']);
  expect(idMatteLayers(attributes)).toEqual(['idobject']);
  const manifest = Object.entries(attributes).find(([k]) => k.endsWith('/manifest'))![1];
  expect(JSON.parse(manifest.value as string).floor).toBe(idBits('floor').toString(16).padStart(8, '0'));
});
