import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { availableParallelism, cpus, tmpdir, totalmem } from 'node:os';
import { join } from 'node:path';
import { writeExr } from '../core/formats/exr/write';
import { floatsToHalves } from '../core/formats/half';
import { cover, type Outline } from '../core/kernels/cover';
import { type Desk, openDesk } from '../core/kernels/desk';
import { toDisplay } from '../core/kernels/display';
import { convolve, kernelSpectrum } from '../core/kernels/fourier';
import { exactGaussian, gaussian, gaussianPlane } from '../core/kernels/gaussian';
import { band, colourKey, type Facing, facingKey } from '../core/kernels/key';
import { addRanked, clean } from '../core/kernels/plane';
import { copy, over } from '../core/kernels/point';
import { sumOfGaussians } from '../core/kernels/pyramid';
import { radialGather, shrink } from '../core/kernels/sample';
import { dilate, distance, grow } from '../core/kernels/shape';
import { edgesOf } from '../core/mattes/path';
import type { Picture } from '../core/picture/picture';
import { defaultsOf, type Values } from '../core/steps/define';
import { stepSpec } from '../core/steps/registry';
import { nodeCrew } from '../engine/node/crew';
import { readShared } from '../engine/node/exr-threads';
import { openFile } from '../engine/node/files/open';
import { readBytes } from '../engine/node/media-file';
import { nodeZlib } from '../engine/node/zlib';
import { startReferences } from './references';
import { writeWideFrame } from './wide-frame';

/**
 * `./zafiro bench [FRAME.exr]`: the kernels on 1920 by 1080 RGBA float against OpenCV, SciPy, NumPy and OpenImageIO, in one
 * run on the same input, alternating; medians and ratios as a table in Markdown.
 */
const [width, height] = [1920, 1080];
const [kw, kh] = [1153, 541];
const rounds = Number(process.env.ZAFIRO_BENCH_ROUNDS ?? 9);
const programs = new URL('./', import.meta.url);

const median = (v: number[]) => [...v].sort((a, b) => a - b)[v.length >> 1];

/** Light as in a rendered frame: dim noise and a few bright spots. */
function fillPicture(data: Float32Array) {
  let s = 12345;
  for (let i = 0; i < data.length; i++) {
    s = (Math.imul(s, 1664525) + 1013904223) | 0;
    const u = (s >>> 8) / 2 ** 24;
    data[i] = i % 4 === 3 ? u : u * 0.6 + (u > 0.9995 ? 20 : 0);
  }
}

type Subject = {
  name: string;
  /** The reference's command and its name. */
  against?: [command: string, name: string];
  goal?: number;
  /** At most as many plain copies of the picture, two threads each, in the same run. */
  copies?: number;
  /** Not bound by memory: two threads should pay. */
  computes?: boolean;
  run(desk: Desk, p: Picture, q: Picture, m: Picture, extra: Extra): void;
};
type Extra = { spectrum: ReturnType<typeof kernelSpectrum>; ids: Picture[]; lamps: Picture; half: Picture };

/** Shapes of 20 points that fill a good part of the frame together. */
const fiftyShapes = Array.from({ length: 50 }, (_, k): Outline => {
  const [cx, cy] = [120 + (k % 10) * 186, 110 + Math.floor(k / 10) * 210];
  const points = Array.from({ length: 20 }, (_, i) => {
    const turn = (i / 20) * 2 * Math.PI;
    const [r, pull] = [70 + 30 * Math.sin(3 * turn + k), 12];
    const along: [number, number] = [-Math.sin(turn) * pull, Math.cos(turn) * pull];
    return {
      x: cx + r * Math.cos(turn),
      y: cy + r * Math.sin(turn),
      in: [-along[0], -along[1]] as const,
      out: along,
    };
  });
  return { edges: edgesOf(points), sort: 'add', opacity: 1 };
});
const wide = { low: 0.2, lowSoft: 0.1, high: 0.5, highSoft: 0.1 };
const idBits = Int32Array.from({ length: 8 }, (_, i) => 0x3f000000 + i);
const shot: Facing = {
  sort: 'exact',
  index: 1.5,
  black: 0.1,
  gamma: 1.2,
  invert: false,
  view: { angle: 50 },
};
const mattes: Subject[] = [
  { name: '50 shapes of 20 points', copies: 8, run: (d) => cover(d, width, height, fiftyShapes) },
  {
    name: 'objects, 8 ids of 3 layers',
    copies: 12,
    run: (d, _p, _q, _m, { ids }) => {
      const out = d.blank(width, height, 1);
      for (const layer of ids) addRanked(d, out, layer, [...idBits]);
    },
  },
  { name: 'luminance key', copies: 12, run: (d, p) => band(d, p, 'luminance', wide) },
  {
    name: 'colour key, 3 samples',
    copies: 12,
    run: (d, p) =>
      colourKey(d, p, {
        samples: [
          [0.5, 0.2, 0.1],
          [0.1, 0.4, 0.2],
          [0.3, 0.3, 0.3],
        ],
        near: 0.1,
        soft: 0.1,
        lightness: 0.5,
      }),
  },
  { name: 'depth band', copies: 12, run: (d, p) => band(d, p, 'red', wide) },
  { name: 'Fresnel, exact', copies: 7, run: (d, p) => facingKey(d, p, shot) },
  { name: 'matte grown by 20.5', copies: 12, run: (d, _p, _q, m) => grow(d, m, 20.5) },
  {
    name: 'matte feathered by 12',
    copies: 12,
    run: (d, _p, _q, m) => gaussianPlane(d, m, 12, 'continued'),
  },
  {
    name: 'matte cleaned',
    copies: 12,
    run: (d, _p, _q, m) => clean(d, m, 25, false),
  },
];

/** A light step as the interface begins it, on the whole picture. */
const light = (name: string, id: string, copies: number, values: Values = {}): Subject => ({
  name,
  copies,
  run(d, _p, _q, _m, { lamps }) {
    const spec = stepSpec(id)!;
    spec.run(d, lamps, {}, { ...defaultsOf(spec.values), threshold: 2, ...values } as never);
  },
});
const halfOf = (of: Subject): Subject => ({
  ...of,
  run: (d, p, q, m, extra) => of.run(d, p, q, m, { ...extra, lamps: extra.half }),
});
const lights: Subject[] = [
  light('Glow, σ 24, 2 sizes', 'glow', 10),
  light('Bloom, radius 180', 'bloom', 10, { radius: 180 }),
  light('Glare, full size, spectrum cached', 'glare', 30),
  { ...halfOf(light('', 'glare', 8)), name: 'Glare, half size (copies of the full picture)' },
  light('Spikes, 6 rays', 'spikes', 20),
  light('Diffraction, 6 blades, spectra cached', 'aperture-spikes', 30),
  light('Light rays from a centre', 'light-rays', 50),
  light('Light rays of a far sun', 'light-rays', 50, { from: 'direction' }),
  light('Lens reflections, 5', 'lens-reflections', 30),
];

const seven = Array.from({ length: 7 }, (_, i) => ({ sigma: 48 / 2 ** i, weight: 1 / 7 }));
const subjects: Subject[] = [
  { name: 'copy', against: ['copy', 'NumPy'], run: (d, p) => copy(d, p) },
  { name: 'over', against: ['over', 'NumPy'], run: (d, p, q) => over(d, p, q) },
  {
    name: 'Gaussian σ 20',
    against: ['gaussian', 'OpenCV'],
    goal: 0.12,
    computes: true,
    run: (d, p) => gaussian(d, p, 20, 'continued'),
  },
  {
    name: 'Gaussian σ 20, exact',
    against: ['gaussian', 'OpenCV'],
    computes: true,
    run: (d, p) => exactGaussian(d, p, 20, 'continued'),
  },
  {
    name: 'bloom, 7 Gaussians σ 48 to 0.75',
    against: ['bloom', 'OpenCV'],
    goal: 0.4,
    computes: true,
    run: (d, p) => sumOfGaussians(d, p, seven),
  },
  {
    name: `FFT convolution, kernel ${kw} × ${kh}, spectrum cached`,
    against: ['convolution', 'SciPy'],
    goal: 0.9,
    computes: true,
    run: (d, p, _q, _m, { spectrum }) => convolve(d, p, spectrum),
  },
  {
    name: 'dilation, disc 20',
    against: ['dilation', 'OpenCV'],
    goal: 0.3,
    computes: true,
    run: (d, _p, _q, m) => dilate(d, m, 20),
  },
  {
    name: 'exact distance',
    against: ['distance', 'OpenCV'],
    goal: 1.1,
    computes: true,
    run: (d, _p, _q, m) => distance(d, m),
  },
  {
    name: 'light rays, 7 doublings',
    against: ['rays', 'OpenCV'],
    goal: 0.65,
    computes: true,
    run: (d, p) => radialGather(d, p, { cx: 700, cy: 300, length: 0.5, fade: 0.1 }),
  },
  ...mattes,
  ...lights,
  { name: 'to half size, area mean', against: ['shrink', 'OpenCV'], run: (d, p) => shrink(d, p, 0.5) },
  {
    name: 'to 8-bit sRGB, exact',
    against: ['display', 'NumPy'],
    computes: true,
    run: (d, p) => toDisplay(d, p, { look: 'colour', stops: 0 }),
  },
];

const temporary = mkdtempSync(join(tmpdir(), 'zafiro-bench-'));
const demoFrame = process.argv[2];
const exrFile = demoFrame && join(temporary, 'wide.exr');
if (exrFile) writeWideFrame(demoFrame, exrFile);
const crews = [1, 2].map((threads) => nodeCrew(threads, programs, 3072));

const inputs = crews.map((crew) => {
  const desk = openDesk(crew);
  const [p, q, m, kernel] = [
    desk.picture(width, height),
    desk.picture(width, height),
    desk.picture(width, height, 1),
    desk.picture(kw, kh, 1),
  ];
  fillPicture(p.data);
  for (let y = 0; y < height; y++)
    q.data.set(p.data.subarray((height - 1 - y) * width * 4, (height - y) * width * 4), y * width * 4);
  for (let i = 0; i < m.data.length; i++) m.data[i] = p.data[i * 4] > 0.5985 ? 1 : 0;
  for (let i = 0; i < kernel.data.length; i++) {
    kernel.data[i] = 1 / (1 + ((i % kw) - (kw >> 1)) ** 2 + (Math.floor(i / kw) - (kh >> 1)) ** 2);
  }
  // As light lies in a frame: a dim picture, two dozen lamps, and as many sparks of a pixel.
  const lamps = desk.picture(width, height);
  for (let i = 0; i < lamps.data.length; i++) lamps.data[i] = Math.min(1, p.data[i]);
  for (let k = 0; k < 48; k++) {
    const [cx, cy, r] = [(k * 797) % width, (k * 463) % height, k < 24 ? 4 + (k % 7) * 3 : 0.5];
    for (let y = Math.max(0, Math.ceil(cy - r)); y < Math.min(height, cy + r); y++)
      for (let x = Math.max(0, Math.ceil(cx - r)); x < Math.min(width, cx + r); x++)
        if (Math.hypot(x - cx, y - cy) <= r)
          lamps.data.fill(12, (y * width + x) * 4, (y * width + x) * 4 + 3);
  }
  // As objects lie in a frame: one covers a pixel, but for one in sixteen, which two or three share.
  const ids = [0, 1, 2].map((layer) => {
    const ranks = desk.blank(width, height);
    const bits = new Int32Array(ranks.data.buffer, ranks.at, ranks.data.length);
    for (let i = 0; i < width * height; i++) {
      const shared = i % 16 === 0;
      if (layer > (shared ? 1 : 0)) continue;
      bits[i * 4] = 0x3f000000 + ((i >> 9) % 40);
      ranks.data[i * 4 + 1] = layer === 0 ? (shared ? 0.5 : 1) : 0.2;
      if (!shared) continue;
      bits[i * 4 + 2] = 0x3f000000 + ((i >> 5) % 40);
      ranks.data[i * 4 + 3] = 0.15;
    }
    return ranks;
  });
  return {
    crew,
    p,
    q,
    m,
    kernel,
    extra: {
      ids,
      lamps,
      half: shrink(desk, lamps, 0.5),
      spectrum: kernelSpectrum(crew, kernel, width, height),
    },
  };
});
const write = (name: string, { data }: Picture) => {
  const path = join(temporary, name);
  writeFileSync(path, new Uint8Array(data.slice().buffer));
  return path;
};
const [first] = inputs;
const references = await startReferences([
  write('picture.f32', first.p),
  write('kernel.f32', first.kernel),
  write('matte.f32', first.m),
  ...[width, height, kw, kh].map(String),
  exrFile ?? '',
]);

function timeOurs(subject: Subject, input: (typeof inputs)[number]): number {
  const desk = openDesk(input.crew);
  const began = performance.now();
  subject.run(desk, input.p, input.q, input.m, input.extra);
  const millis = performance.now() - began;
  desk.clear();
  return millis;
}

type Line = { ours: number; two?: number; theirs?: number; ratio?: number };
async function measure(
  ours: (threads: number) => number | Promise<number>,
  command?: string,
  twice = true,
): Promise<Line> {
  const [one, two, reference, ratios]: number[][] = [[], [], [], []];
  for (let i = 0; i <= rounds; i++) {
    const a = await ours(1);
    const r = command ? await references.time(command, 1) : Number.NaN;
    const b = twice ? await ours(2) : Number.NaN;
    // The first round warms up.
    if (i === 0) continue;
    one.push(a);
    two.push(b);
    reference.push(r);
    ratios.push(a / r);
  }
  return {
    ours: median(one),
    two: twice ? median(two) : undefined,
    theirs: command && median(reference) ? median(reference) : undefined,
    ratio: median(ratios),
  };
}

const cell = (v: number | undefined, digits = 1) =>
  v === undefined || Number.isNaN(v) ? '' : v.toFixed(digits);
const rows: string[] = [];
const row = (name: string, reference: string, line: Line, goal?: number) =>
  rows.push(
    `| ${name} | ${cell(line.ours)} | ${cell(line.two)} | ${line.two ? cell(line.ours / line.two, 2) : ''} | ${reference} ${cell(line.theirs)} | ${cell(line.ratio, 3)} | ${goal ?? ''} |`,
  );

let [plainCopy, twoCopy] = [0, 0];
const inCopies: string[] = [];
/** `ZAFIRO_BENCH_ONLY` times only the kernels whose names it fits, and the copy. */
const only = new RegExp(process.env.ZAFIRO_BENCH_ONLY ?? '');
for (const subject of subjects.filter((s) => s.name === 'copy' || only.test(s.name))) {
  process.stderr.write(`${subject.name} …\n`);
  const line = await measure((threads) => timeOurs(subject, inputs[threads - 1]), subject.against?.[0]);
  if (subject.name === 'copy') [plainCopy, twoCopy] = [line.ours, line.two!];
  if (subject.copies !== undefined) {
    const times = line.two! / twoCopy;
    inCopies.push(
      `| ${subject.name} | ${cell(line.ours)} | ${cell(line.two)} | ${times.toFixed(1)} | ${subject.copies} |`,
    );
    continue;
  }
  const name =
    subject.name === 'over'
      ? `over (${(line.ours / plainCopy).toFixed(2)} times our copy; goal 2)`
      : subject.name;
  row(name, subject.against?.[1] ?? '', line, subject.goal);
}
if (exrFile) {
  const samples = floatsToHalves(first.p.data.slice(0, width * height));
  const channels = [...'RGBA'].map((name) => ({ name, type: 'half' as const, samples }));
  const dataWindow = { xMin: 0, yMin: 0, xMax: width - 1, yMax: height - 1 };
  /** From the file's name to samples, as the application reads: on this thread, or on all. */
  const reading = (beauty: boolean) => async (threads: number) => {
    const began = performance.now();
    const file = await openFile(readBytes(exrFile, '', threads > 1), threads > 1 ? readShared : undefined);
    const [part] = file.info.parts;
    await file.read(0, beauty ? ['R', 'G', 'B', 'A'] : part.channels.map((c) => c.name));
    return performance.now() - began;
  };
  const whole = await measure(reading(false), 'exr_read');
  row('EXR: read 24 half channels, ZIP, 1920 × 1080', 'OpenImageIO', whole, 1.2);
  const beauty = await measure(reading(true), 'exr_read_beauty');
  row(
    `EXR: read its beauty alone (${(beauty.ours / whole.ours).toFixed(2)} of the whole; goal 0.6)`,
    'OpenImageIO',
    beauty,
  );
  const writing = () => {
    const began = performance.now();
    writeExr({ channels, dataWindow }, nodeZlib);
    return performance.now() - began;
  };
  row('EXR: write 1920 × 1080 RGBA half, ZIP 4', 'OpenImageIO', await measure(writing, 'exr_write', false));
}
references.end();
for (const { crew } of inputs) crew.end();
rmSync(temporary, { recursive: true, force: true });

const [cpu] = cpus();
process.stdout.write(`${availableParallelism()} cores of ${cpu.model.trim()}, ${Math.round(totalmem() / 2 ** 30)} GiB, Node ${process.versions.node}; ${references.versions}
${width} × ${height} RGBA float32, median milliseconds of ${rounds} alternating rounds, one thread each unless said

| kernel | Zafiro | two threads | gain | reference | ratio | goal |
|---|---|---|---|---|---|---|
${rows.join('\n')}

As multiples of a plain copy of an RGBA picture on two threads (${cell(twoCopy)} ms) in the same run:

| kernel | one thread | two threads | copies | goal |
|---|---|---|---|---|
${inCopies.join('\n')}
`);
process.exit(0);
