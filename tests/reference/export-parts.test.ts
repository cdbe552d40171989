import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import { afterAll, describe, expect, test } from 'vitest';
import { readExr } from '../../core/formats/exr/read';
import { writeExr } from '../../core/formats/exr/write';
import { halvesToFloats } from '../../core/formats/half';
import { encode, type Layer } from '../../engine/node/encode';
import { nodeZlib } from '../../engine/node/zlib';
import { noise } from '../runtime';

/** Layers, parts, chosen channels, trimmed windows and lossy EXR, read by OpenImageIO (Debian's python3-openimageio). */
const folder = mkdtempSync(join(tmpdir(), 'zafiro-parts-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const script = `
import json, sys
import OpenImageIO as oiio
i = oiio.ImageInput.open(sys.argv[1])
parts = []
n = 0
while i.seek_subimage(n, 0):
    s = i.spec()
    p = i.read_image(n, 0, 0, s.nchannels, oiio.FLOAT)
    open(sys.argv[1] + '.' + str(n), 'wb').write(p.tobytes())
    parts.append({'name': s.getattribute('name') or s.getattribute('oiio:subimagename'), 'channels': list(s.channelnames), 'formats': [str(f) for f in s.channelformats] or [str(s.format)],
      'data': [s.x, s.y, s.width, s.height], 'display': [s.full_x, s.full_y, s.full_width, s.full_height],
      'compression': s.getattribute('compression'), 'owner': s.getattribute('owner') or s.getattribute('Copyright')})
    n += 1
print(json.dumps(parts))
`;
type Found = {
  name: string;
  channels: string[];
  formats: string[];
  data: number[];
  display: number[];
  compression: string;
  owner: string | null;
  pixels: Float32Array;
};
function byOpenImageIO(bytes: Uint8Array, name: string): Found[] {
  const file = join(folder, name);
  writeFileSync(file, bytes);
  const { stdout, stderr, status } = spawnSync('/usr/bin/python3', ['-c', script, file], {
    encoding: 'utf8',
  });
  if (status !== 0) throw new Error(stderr);
  return (JSON.parse(stdout) as Found[]).map((part, n) => {
    const raw = readFileSync(`${file}.${n}`);
    return {
      ...part,
      pixels: new Float32Array(raw.buffer.slice(raw.byteOffset, raw.byteOffset + raw.length)),
    };
  });
}

const [width, height] = [83, 47];
const random = noise(11, 1);
/** Something smooth with a lamp of 400 and grain, in a box that leaves an edge empty. */
const data = Float32Array.from({ length: width * height * 4 }, (_, i) => {
  const [x, y, c] = [(i >> 2) % width, Math.floor((i >> 2) / width), i & 3];
  if (x < 9 || x > 70 || y < 5 || y > 40) return 0;
  if (c === 3) return 1;
  const lamp = 400 * Math.exp(-((x - 40) ** 2 + (y - 20) ** 2) / 8);
  return 0.05 + 0.2 * (x / width) * (c + 1) + lamp + 0.01 * random(i);
});
const picture = { width, height, data };
const depth = { width, height, data: Float32Array.from(data, (_, i) => 3 + (i >> 2) * 0.37 + random(i)) };
const matte = { width, height, data: Float32Array.from(data, (_, i) => ((i >> 2) % 7) / 6) };
const layers: Layer[] = [
  { name: 'glow', kind: 'picture', picture: { width, height, data: data.map((v) => v / 2) } },
  { name: 'depth', kind: 'data', picture: depth },
  { name: 'lamp', kind: 'matte', picture: matte },
];
const source = {
  displayWindow: { xMin: 0, yMin: 0, xMax: width - 1, yMax: height - 1 },
  pixelAspectRatio: 1,
  attributes: { owner: { type: 'string', value: 'Orrery Hall' } },
} as never;

const every = (pixels: Float32Array, of: number, c: number) => pixels.filter((_, i) => i % of === c);
const channel = (p: { data: Float32Array }, c: number) => p.data.filter((_, i) => i % 4 === c);

test('other outputs are layers of one part: colour as asked for, data and mattes as floats of their own names', async () => {
  const { bytes } = await encode(picture, { format: 'exr' }, source, undefined, undefined, layers);
  const [part, ...more] = byOpenImageIO(bytes, 'layers.exr');
  expect(more).toEqual([]);
  expect([...part.channels].sort()).toEqual(
    [
      'R',
      'G',
      'B',
      'A',
      'glow.R',
      'glow.G',
      'glow.B',
      'glow.A',
      'depth.X',
      'depth.Y',
      'depth.Z',
      'lamp.Y',
    ].sort(),
  );
  const at = (name: string) => every(part.pixels, part.channels.length, part.channels.indexOf(name));
  expect(at('depth.Z')).toEqual(channel(depth, 2));
  expect(at('lamp.Y')).toEqual(channel(matte, 0));
  const glow = at('glow.G');
  channel({ data: layers[0].picture.data }, 1).forEach((v, i) => {
    expect(Math.abs(glow[i] - v)).toBeLessThanOrEqual(Math.abs(v) / 2048 + 1e-7);
  });
  expect(part.owner).toBe('Orrery Hall');
});

test('or parts, each with its name; ours reads what it wrote', async () => {
  const settings = { format: 'exr32', arrangement: 'parts', carriesAttributes: false } as const;
  const { bytes } = await encode(picture, settings, source, undefined, undefined, layers);
  const parts = byOpenImageIO(bytes, 'parts.exr');
  expect(parts.map((p) => [p.name, p.channels])).toEqual([
    ['finished', ['R', 'G', 'B', 'A']],
    ['glow', ['R', 'G', 'B', 'A']],
    ['depth', expect.arrayContaining(['X', 'Y', 'Z'])],
    ['lamp', ['Y']],
  ]);
  expect(parts[0].pixels).toEqual(data);
  expect(every(parts[2].pixels, 3, parts[2].channels.indexOf('Y'))).toEqual(channel(depth, 1));
  expect(parts[0].owner).toBeNull();
});

test('the data window is cut to what is not empty, the display window stays', async () => {
  const { bytes } = await encode(picture, { format: 'exr32', trim: true }, source);
  const [part] = byOpenImageIO(bytes, 'trim.exr');
  expect(part.data).toEqual([9, 5, 62, 36]);
  expect(part.display).toEqual([0, 0, width, height]);
  for (let y = 0; y < 36; y++)
    for (let x = 0; x < 62 * 4; x++)
      expect(part.pixels[y * 62 * 4 + x]).toBe(data[((y + 5) * width + 9) * 4 + x]);
  const empty = { width, height, data: new Float32Array(data.length) };
  const [none] = byOpenImageIO(
    (await encode(empty, { format: 'exr', trim: true }, source)).bytes,
    'empty.exr',
  );
  expect(none.data).toEqual([0, 0, 1, 1]);
  // A part each by itself.
  const settings = { format: 'exr', trim: true, arrangement: 'parts' } as const;
  const two = byOpenImageIO(
    (await encode(picture, settings, source, undefined, undefined, layers)).bytes,
    'two.exr',
  );
  expect(two.map((p) => p.data.slice(2))).toEqual([
    [62, 36],
    [62, 36],
    [width, height],
    [width, height],
  ]);
});

describe.each(['rgb', 'alpha'] as const)('channels %s', (channels) => {
  test('of an EXR, a TIFF of floats and of 16 bits, a PNG of 8 and 16', async () => {
    const names = channels === 'rgb' ? ['R', 'G', 'B'] : ['A'];
    const [exr] = byOpenImageIO(
      (await encode(picture, { format: 'exr32', channels })).bytes,
      `${channels}.exr`,
    );
    expect(exr.channels).toEqual(names);
    const wanted = data.filter((_, i) => (channels === 'rgb' ? i % 4 < 3 : i % 4 === 3));
    expect(exr.pixels).toEqual(wanted);
    const [float] = byOpenImageIO(
      (await encode(picture, { format: 'tiff32', channels })).bytes,
      `${channels}.tif`,
    );
    expect(float.pixels).toEqual(wanted);
    const [codes] = byOpenImageIO(
      (await encode(picture, { format: 'tiff16', channels })).bytes,
      `${channels}16.tif`,
    );
    expect(codes.channels).toHaveLength(names.length);
    for (const format of ['png8', 'png16'] as const) {
      const meta = await sharp((await encode(picture, { format, channels })).bytes).metadata();
      expect([meta.channels, meta.depth]).toEqual([names.length, format === 'png8' ? 'uchar' : 'ushort']);
    }
  });
});

describe.each(['dwaa', 'dwab'] as const)('%s', (compression) => {
  /** How far two pictures lie apart where they are seen, in the values that the format rounds: x^(1/2.2), logarithmic past 1. */
  const perceived = (x: number) =>
    Math.abs(x) <= 1 ? Math.sign(x) * Math.abs(x) ** (1 / 2.2) : Math.log(Math.abs(x)) / 2.2 + 1;
  const apart = (a: ArrayLike<number>, b: ArrayLike<number>) => {
    let [sum, most] = [0, 0];
    for (let i = 0; i < a.length; i++) {
      const d = Math.abs(perceived(a[i]) - perceived(b[i]));
      sum += d * d;
      most = Math.max(most, d);
    }
    return { rms: Math.sqrt(sum / a.length), most };
  };

  test.each([0, 10, 45, 200])(
    'level %d is as near as that says, for OpenImageIO and for Zafiro',
    async (level) => {
      const { bytes } = await encode(picture, { format: 'exr', compression, level });
      const [part] = byOpenImageIO(bytes, `${compression}-${level}.exr`);
      expect(part.compression).toMatch(compression);
      const colour = part.pixels.filter((_, i) => i % 4 < 3);
      const { rms, most } = apart(
        colour,
        data.filter((_, i) => i % 4 < 3),
      );
      // A coefficient is off by its step at most: a hundred thousandth of the level times up to 12 for luminance and 6 for colour, over 8.
      expect(rms).toBeLessThan(0.002 + level * 2e-5 * 3);
      expect(most).toBeLessThan(0.02 + level * 1e-3);
      // Alpha keeps every bit.
      expect(every(part.pixels, 4, 3)).toEqual(channel(picture, 3));
      const { samples } = readExr(bytes, nodeZlib);
      for (const [c, name] of [...'RGB'].entries()) {
        const ours = halvesToFloats(samples.get(name) as Uint16Array);
        const theirs = every(part.pixels, 4, c);
        expect(apart(ours, theirs).most).toBeLessThan(2e-3);
      }
    },
  );

  test('says its own level, whatever the source was packed with', async () => {
    const attributes = { dwaCompressionLevel: { type: 'float', value: 45 } };
    const packed = { ...(source as object), attributes } as never;
    const { bytes } = await encode(picture, { format: 'exr', compression, level: 7 }, packed);
    const header = Buffer.from(bytes.subarray(0, 2000)).toString('latin1');
    expect(header.match(/dwaCompressionLevel/g)).toHaveLength(1);
    const at = header.indexOf('dwaCompressionLevel') + 'dwaCompressionLevel\0float\0'.length + 4;
    expect(Buffer.from(bytes).readFloatLE(at)).toBe(7);
    // Nor does a file without a level say one.
    const plain = await encode(picture, { format: 'exr' }, packed);
    expect(Buffer.from(plain.bytes.subarray(0, 2000)).toString('latin1')).not.toContain(
      'dwaCompressionLevel',
    );
  });

  test('coarser levels are smaller, and smaller than ZIP', async () => {
    const size = async (level: number) =>
      (await encode(picture, { format: 'exr', compression, level })).bytes.length;
    const sizes = [await size(0), await size(45), await size(500)];
    expect(sizes[0]).toBeGreaterThan(sizes[1]);
    expect(sizes[1]).toBeGreaterThan(sizes[2]);
    expect(sizes[1]).toBeLessThan((await encode(picture, { format: 'exr' })).bytes.length);
  });

  test('never touches data: layers and parts of data and mattes keep every bit', async () => {
    const settings = { format: 'exr', compression, level: 400 } as const;
    const [part] = byOpenImageIO(
      (await encode(picture, settings, source, undefined, undefined, layers)).bytes,
      `${compression}-data.exr`,
    );
    const at = (name: string) => every(part.pixels, part.channels.length, part.channels.indexOf(name));
    for (const [c, name] of [...'XYZ'].entries()) expect(at(`depth.${name}`)).toEqual(channel(depth, c));
    expect(at('lamp.Y')).toEqual(channel(matte, 0));
    const parts = byOpenImageIO(
      (await encode(picture, { ...settings, arrangement: 'parts' }, source, undefined, undefined, layers))
        .bytes,
      `${compression}-parts.exr`,
    );
    expect(parts.map((p) => p.compression.slice(0, 4))).toEqual([compression, compression, 'zip', 'zip']);
    expect(every(parts[2].pixels, 3, parts[2].channels.indexOf('X'))).toEqual(channel(depth, 0));
  });

  test('floats too, odd sizes down to one pixel, and what is not finite becomes 0 and harms nothing beside it', async () => {
    for (const [w, h] of [
      [1, 1],
      [7, 9],
      [8, 8],
      [33, 300],
    ]) {
      const values = Float32Array.from({ length: w * h * 4 }, (_, i) =>
        i % 4 === 3 ? 1 : 0.2 + 0.1 * random(i),
      );
      const { bytes } = await encode(
        { width: w, height: h, data: values },
        { format: 'exr32', compression, level: 5 },
      );
      const [part] = byOpenImageIO(bytes, `${compression}-${w}-${h}.exr`);
      expect(apart(part.pixels, values).most).toBeLessThan(0.03);
    }
    const broken = data.slice();
    broken[4 * (20 * width + 20)] = Number.NaN;
    broken[4 * (20 * width + 21)] = Number.POSITIVE_INFINITY;
    const [part] = byOpenImageIO(
      (await encode({ ...picture, data: broken }, { format: 'exr32', compression })).bytes,
      `${compression}-nan.exr`,
    );
    expect(part.pixels.every(Number.isFinite)).toBe(true);
  });
});

test('a red without green and blue is refused by DWA', () => {
  const channels = [{ name: 'R', type: 'half' as const, samples: new Uint16Array(64) }];
  const dataWindow = { xMin: 0, yMin: 0, xMax: 7, yMax: 7 };
  expect(() => writeExr({ channels, dataWindow, compression: 'dwaa' }, nodeZlib)).toThrow(
    /red, green and blue together/,
  );
});
