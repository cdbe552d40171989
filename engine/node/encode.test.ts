import { expect, test } from 'vitest';
import { encode } from './encode';

const encodePng16 = (p: Parameters<typeof encode>[0]) => encode(p, 'png16');
const picture = (...rgba: number[]) => ({ width: 1, height: 1, data: Float32Array.from(rgba) });

test('a PNG warns of light without alpha where it would have been visible, and not where it is fainter than a code', async () => {
  expect((await encodePng16(picture(0.5, 0, 0, 0))).note).toMatch(/^1 pixels have light but no alpha/);
  // Alpha has grown with such light, to less than a float can say.
  expect((await encodePng16(picture(1e-9, 0, 0, 0))).note).toBeUndefined();
  expect((await encodePng16(picture(1e-9, 0, 0, 1e-9))).note).toBeUndefined();
});
