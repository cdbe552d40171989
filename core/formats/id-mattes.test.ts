import { expect, test } from 'vitest';
import { murmur3 } from '../math/murmur3';
import { idBits, idFloat, idMatteAttributes, idMatteLayers, idMattesOf, isLayerOf } from './id-mattes';

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

/** Manifests by the open specification 1.2. */
test('manifests are read from the header or a file beside; what cannot be read is said', () => {
  const attributes = idMatteAttributes('idobject', ['floor', 'globe']);
  const nowhere = () => {
    throw new Error('it is not there');
  };
  const [inside] = idMattesOf(attributes, nowhere);
  expect(inside).toMatchObject({ layer: 'idobject', manifest: 'header' });
  expect(inside.names!.get(idBits('globe'))).toBe('globe');

  const text = (value: string) => ({ type: 'string', value }) as const;
  const beside = {
    'cryptomatte/abc/name': text('idobject'),
    'cryptomatte/abc/manif_file': text('names.json'),
  };
  const read = (name: string) => (name === 'names.json' ? '{"moth":"0000beef"}' : nowhere());
  expect(idMattesOf(beside, read)[0].names!.get(0xbeef)).toBe('moth');
  expect(idMattesOf(beside, nowhere)[0]).toMatchObject({
    manifest: 'file',
    problem: 'The manifest names.json cannot be read: it is not there',
  });

  const bare = { 'cryptomatte/abc/name': text('idobject') };
  expect(idMattesOf(bare, nowhere)[0]).toEqual({ layer: 'idobject', manifest: 'missing' });
  const broken = { ...bare, 'cryptomatte/abc/manifest': text('{"moth":') };
  expect(idMattesOf(broken, nowhere)[0].problem).toMatch(/manifest in the header cannot be read/);
});

test('layers of an id-matte are its name and two digits', () => {
  expect(['id', 'id00', 'id17', 'id1', 'id001', 'other00'].map((n) => isLayerOf('id', n))).toEqual([
    true,
    true,
    true,
    false,
    false,
    false,
  ]);
});
