import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, describe, expect, test } from 'vitest';
import { encodeSrgb } from '../../core/colour/srgb';
import {
  type ExportFormat,
  exportFormats,
  exrCompressions,
  extensionOf,
} from '../../core/formats/export-formats';
import { isLossy } from '../../core/formats/exr/compression/chunk';
import { passPicture } from '../../core/formats/pass-picture';
import { openWorkspace } from '../../core/kernels/workspace';
import { encode } from '../../engine/node/encode';
import { openFile } from '../../engine/node/files/open';
import { noise, runtime } from '../runtime';

/** What is exported, read by OpenImageIO (Debian's python3-openimageio) and by Zafiro itself. */
const folder = mkdtempSync(join(tmpdir(), 'zafiro-exports-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const [width, height] = [67, 41];
const random = noise(4, 900);
/** HDR, premultiplied, of partial alpha; a column of light without alpha. */
const picture = {
  width,
  height,
  data: Float32Array.from({ length: width * height * 4 }, (_, i) => {
    const p = i >> 2;
    const alpha = p % width === 9 ? 0 : Math.min(1, noise(7, 1)(p));
    return (i & 3) === 3 ? alpha : p % width === 9 ? random(i) : random(i) * alpha;
  }),
};

const script = `
import json, sys
import OpenImageIO as oiio
i = oiio.ImageInput.open(sys.argv[1])
s = i.spec()
pixels = i.read_image(0, 0, 0, s.nchannels, oiio.FLOAT)
open(sys.argv[2], 'wb').write(pixels.tobytes())
print(json.dumps({'width': s.width, 'height': s.height, 'channels': list(s.channelnames), 'format': str(s.format),
  'compression': s.getattribute('compression'), 'unassociated': s.getattribute('oiio:UnassociatedAlpha') or 0}))
`;
function byOpenImageIO(file: string) {
  const out = `${file}.bin`;
  const { stdout, stderr, status } = spawnSync('/usr/bin/python3', ['-c', script, file, out], {
    encoding: 'utf8',
  });
  if (status !== 0) throw new Error(stderr);
  const raw = readFileSync(out);
  return {
    ...JSON.parse(stdout),
    pixels: new Float32Array(raw.buffer.slice(raw.byteOffset, raw.byteOffset + raw.length)),
  };
}

/** Those that keep alpha and every code; JPEG keeps neither. */
const formats = (Object.keys(exportFormats) as ExportFormat[]).filter((f) => f !== 'jpeg') as Exclude<
  ExportFormat,
  'jpeg'
>[];
describe.each(formats)('%s', (format) => {
  const file = join(folder, `frame-${format}.${extensionOf(format)}`);

  test('says what it is, and has the numbers, by OpenImageIO', async () => {
    const { bytes, note } = await encode(picture, { format });
    writeFileSync(file, bytes);
    const found = byOpenImageIO(file);
    const straight = /png|tiff16/.test(format);
    expect([found.width, found.height, found.channels]).toEqual([width, height, ['R', 'G', 'B', 'A']]);
    const type = {
      exr: 'half',
      exr32: 'float',
      png16: 'uint16',
      png8: 'uint8',
      tiff16: 'uint16',
      tiff32: 'float',
    };
    expect(found.format).toBe(type[format]);
    if (/exr|tiff/.test(format)) expect(found.compression).toBe('zip');
    // Light without alpha is lost in straight files alone, and that is said.
    if (straight) expect(note).toMatch(/pixels have light but no alpha/);
    else expect(note).toBeUndefined();
    // OpenImageIO multiplies straight colour by alpha as it reads, on the encoded values.
    const step = format === 'png8' ? 1 / 255 : straight ? 0.5 / 65535 : 0;
    let worst = 0;
    for (let p = 0; p < picture.data.length; p += 4) {
      const a = picture.data[p + 3];
      for (let c = 0; c < 4; c++) {
        const v = picture.data[p + c];
        const want = !straight
          ? v
          : c === 3
            ? a
            : a > 0
              ? Math.min(1, encodeSrgb(v / a)) * (found.unassociated ? 1 : a)
              : 0;
        const by = format === 'exr' ? Math.abs(want) / 2048 : straight ? 5 * step : 0;
        worst = Math.max(worst, Math.abs(found.pixels[p + c] - want) - by);
      }
    }
    expect(worst).toBeLessThanOrEqual(1e-7);
  });

  test('comes back as it was, as far as the format can say it', async () => {
    const { bytes } = await encode(picture, { format });
    const opened = await openFile(Buffer.from(bytes));
    const [pass] = opened.info.passes;
    const { planes } = await opened.read(pass.part, pass.channels);
    const [part] = opened.info.parts;
    const workspace = openWorkspace(runtime);
    const back = passPicture(workspace, {
      pass,
      planes: pass.channels.map((name) => planes.get(name)!),
      dataWindow: part.dataWindow,
      displayWindow: part.displayWindow,
      colour: opened.colourOf(pass),
    });
    const float = format === 'exr32' || format === 'tiff32';
    for (let i = 0; i < back.data.length; i++) {
      const [got, want, a] = [back.data[i], picture.data[i], picture.data[i | 3]];
      if (float) expect(got).toBe(want);
      else if (format === 'exr')
        expect(Math.abs(got - want)).toBeLessThanOrEqual(Math.abs(want) / 2048 + 3e-8);
      else if (a > 0.02)
        expect(Math.abs(got - Math.min(want, a))).toBeLessThan(format === 'png8' ? 0.02 : 2e-4);
    }
    workspace.clear();
  });
});

const compressions = (Object.keys(exrCompressions) as (keyof typeof exrCompressions)[]).filter(
  (c) => !isLossy(c),
);
test.each(compressions)(
  'an EXR in %s has the same numbers, and says how it is packed',
  async (compression) => {
    for (const format of ['exr', 'exr32'] as const) {
      const [file, plain] = [
        join(folder, `${format}-${compression}.exr`),
        join(folder, `${format}-plain.exr`),
      ];
      writeFileSync(file, (await encode(picture, { format, compression })).bytes);
      writeFileSync(plain, (await encode(picture, { format })).bytes);
      const found = byOpenImageIO(file);
      expect(found.compression).toBe(compression);
      expect(found.pixels).toEqual(byOpenImageIO(plain).pixels);
    }
  },
);

test('a JPEG is the picture over black in sRGB, as good as its quality', async () => {
  // Slopes, as JPEG is meant for, of partial alpha.
  const slopes = {
    width,
    height,
    data: Float32Array.from({ length: width * height * 4 }, (_, i) => {
      const [x, y] = [(i >> 2) % width, Math.floor((i >> 2) / width)];
      return [0.5 * (x / width), 0.4 * (y / height), 0.3, 0.75][i & 3];
    }),
  };
  const errorAt = async (quality: number) => {
    const file = join(folder, `frame-${quality}.jpg`);
    const { bytes, note } = await encode(slopes, { format: 'jpeg', quality });
    expect(note).toBe('JPEG has no alpha: the picture lies over black.');
    writeFileSync(file, bytes);
    const found = byOpenImageIO(file);
    expect([found.width, found.height, found.channels, found.format]).toEqual([
      width,
      height,
      ['R', 'G', 'B'],
      'uint8',
    ]);
    let worst = 0;
    for (let p = 0, o = 0; p < slopes.data.length; p += 4, o += 3)
      for (let c = 0; c < 3; c++)
        worst = Math.max(worst, Math.abs(found.pixels[o + c] - encodeSrgb(slopes.data[p + c])));
    return worst;
  };
  // A code of dither; rounded luminance and colour differences give back up to 1.8 times as much; and the transform rounds.
  expect(await errorAt(100)).toBeLessThan(5 / 255);
  expect(await errorAt(10)).toBeGreaterThan(await errorAt(100));
  expect(
    (
      await encode(
        { ...slopes, data: slopes.data.map((v, i) => ((i & 3) === 3 ? 1 : v)) },
        { format: 'jpeg' },
      )
    ).note,
  ).toBeUndefined();
  await expect(encode(slopes, { format: 'jpeg', quality: 101 })).rejects.toThrow('at most 100');
});
