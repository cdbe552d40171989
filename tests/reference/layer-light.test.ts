import sharp from 'sharp';
import { afterAll, expect, test } from 'vitest';
import { decodeSrgb } from '../../core/colour/srgb';
import { fill, over } from '../../core/kernels/point';
import { glow } from '../../core/steps/light/glow';
import { defaultsOf } from '../../core/steps/shared/define';
import { encode } from '../../engine/node/encode';
import { pictureOf, workspace } from '../runtime';

afterAll(() => workspace.clear());

/** A glow on a transparent layer, written as PNG, read by sharp and laid over anything: what Zafiro itself shows over that backing. */
test('light on a layer keeps its alpha right through a PNG, wherever its colour fits that alpha', async () => {
  const [width, height] = [64, 48];
  const layer = pictureOf(width, height, (i) => {
    const away = Math.hypot(((i >> 2) % width) - 30, Math.floor((i >> 2) / width) - 24);
    const alpha = Math.max(0, Math.min(1, 9 - away));
    return (i & 3) === 3 ? alpha : [0.5, 0.35, 0.1][i & 3] * alpha;
  });
  const values = { ...defaultsOf(glow.values), size: 5, amount: 0.8 } as never;
  const lit = glow.run(workspace, layer, {}, values);
  const { bytes } = await encode({ width, height, data: lit.data.slice() }, { format: 'png16' });
  const raw = await sharp(Buffer.from(bytes)).toColourspace('rgb16').raw({ depth: 'ushort' }).toBuffer();
  const codes = new Uint16Array(raw.buffer, raw.byteOffset, raw.length / 2);
  let [compared, worst] = [0, 0];
  for (const backing of [
    [0, 0, 0],
    [0.18, 0.5, 0.02],
    [1, 1, 1],
  ]) {
    const shown = over(workspace, lit, fill(workspace, width, height, [...backing, 1]));
    for (let p = 0; p < width * height; p++) {
      const [r, g, b, a] = lit.data.subarray(p * 4, p * 4 + 4);
      if (Math.max(r, g, b) > a) continue;
      compared++;
      const alpha = codes[p * 4 + 3] / 65535;
      for (let c = 0; c < 3; c++) {
        const laid = decodeSrgb(codes[p * 4 + c] / 65535) * alpha + backing[c] * (1 - alpha);
        worst = Math.max(worst, Math.abs(laid - shown.data[p * 4 + c]));
      }
    }
  }
  expect(compared).toBeGreaterThan(width * height);
  // A code of alpha, and one of colour, half a step each; the sRGB curve is at most 2.3 times as steep.
  expect(worst).toBeLessThan(2.3 / 65535);
});
