import sharp from 'sharp';
import { describe, expect, test } from 'vitest';
import { addStep, newFinish } from '../../core/finish/edits';
import { originFrom, originText, originTextIn } from '../../core/finish/frame-origin';
import { readExr } from '../../core/formats/exr/read';
import { encode } from './encode';
import { nodeZlib } from './zlib';

const encodePng16 = (p: Parameters<typeof encode>[0]) => encode(p, { format: 'png16' });
const picture = (...rgba: number[]) => ({ width: 1, height: 1, data: Float32Array.from(rgba) });

test('a PNG warns of light without alpha where it would have been visible, and not where it is fainter than a code', async () => {
  expect((await encodePng16(picture(0.5, 0, 0, 0))).note).toMatch(/^1 pixels have light but no alpha/);
  // Alpha has grown with such light, to less than a float can say.
  expect((await encodePng16(picture(1e-9, 0, 0, 0))).note).toBeUndefined();
  expect((await encodePng16(picture(1e-9, 0, 0, 1e-9))).note).toBeUndefined();
});

describe('a finished frame knows its finish', () => {
  const finish = addStep('main', 0, 'glow', 'glow').apply(
    newFinish('a', 'Évening — 夕', { type: 'pass', media: 'hall', pass: '' }),
  );
  const words = originText(finish, { hall: { pattern: '/renders/night/hall.####.exr' } }, 12, '0.1.0');
  const frame = { width: 3, height: 2, data: Float32Array.from({ length: 24 }, (_, i) => i / 24) };

  test.each(['exr', 'exr32', 'png16', 'png8'] as const)(
    '%s carries it, and nothing of it where it is left out',
    async (format) => {
      const { bytes } = await encode(frame, { format }, undefined, undefined, words);
      const bare = await encode(frame, { format });
      expect(originFrom(originTextIn(bytes)!)).toEqual({
        format: 'zafiro-frame',
        zafiro: '0.1.0',
        frame: 12,
        media: { hall: 'hall.####.exr' },
        finish,
      });
      expect(originTextIn(bare.bytes)).toBeUndefined();
      if (format.startsWith('png')) {
        // libvips reads the same text, and the same pixels.
        const { comments } = await sharp(bytes).metadata();
        expect(comments).toEqual([{ keyword: 'zafiro', text: words }]);
        expect(await sharp(bytes).raw().toBuffer()).toEqual(await sharp(bare.bytes).raw().toBuffer());
      } else {
        const [a, b] = [bytes, bare.bytes].map((file) => readExr(file, nodeZlib).samples);
        expect(a).toEqual(b);
      }
    },
  );

  test('what a source carried is not carried on', async () => {
    const part = {
      attributes: { zafiro: { type: 'string', value: 'old' }, capDate: { type: 'string', value: 'x' } },
    };
    const { bytes } = await encode(frame, { format: 'exr' }, part as never);
    expect(originTextIn(bytes)).toBeUndefined();
    expect(() => originFrom('{}')).toThrow('damaged');
    expect(() => originFrom(words.replace('"version":6', '"version":99'))).toThrow('newer Zafiro');
  });
});
