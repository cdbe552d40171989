import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { availableParallelism, cpus, tmpdir, totalmem } from 'node:os';
import { join } from 'node:path';
import { writeExr } from '../core/formats/exr/write';
import { floatsToHalves } from '../core/formats/half';
import { kernelSpectrum } from '../core/kernels/fourier';
import { shrink } from '../core/kernels/sample';
import { openWorkspace } from '../core/kernels/workspace';
import type { Picture } from '../core/picture/picture';
import { readShared } from '../engine/node/exr-threads';
import { openFile } from '../engine/node/files/open';
import { readBytes } from '../engine/node/media-file';
import { nodeThreadPool } from '../engine/node/thread-pool';
import { nodeZlib } from '../engine/node/zlib';
import { growth } from './growth';
import { startReferences } from './references';
import { height, kh, kw, type Subject, subjects, width } from './subjects';
import { writeWideFrame } from './wide-frame';

/**
 * `./zafiro bench [FRAME.exr]`: the kernels on 1920 by 1080 RGBA float against OpenCV, SciPy, NumPy and OpenImageIO, in one
 * run on the same input, alternating; medians and ratios as a table in Markdown.
 */
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

const temporary = mkdtempSync(join(tmpdir(), 'zafiro-bench-'));
const demoFrame = process.argv[2];
const exrFile = demoFrame && join(temporary, 'wide.exr');
if (exrFile) writeWideFrame(demoFrame, exrFile);
const threadPools = [1, 2].map((threads) => nodeThreadPool(threads, programs, 3072));

const inputs = threadPools.map((threadPool) => {
  const workspace = openWorkspace(threadPool);
  const [p, q, m, kernel] = [
    workspace.picture(width, height),
    workspace.picture(width, height),
    workspace.picture(width, height, 1),
    workspace.picture(kw, kh, 1),
  ];
  fillPicture(p.data);
  for (let y = 0; y < height; y++)
    q.data.set(p.data.subarray((height - 1 - y) * width * 4, (height - y) * width * 4), y * width * 4);
  for (let i = 0; i < m.data.length; i++) m.data[i] = p.data[i * 4] > 0.5985 ? 1 : 0;
  for (let i = 0; i < kernel.data.length; i++) {
    kernel.data[i] = 1 / (1 + ((i % kw) - (kw >> 1)) ** 2 + (Math.floor(i / kw) - (kh >> 1)) ** 2);
  }
  // As light lies in a frame: a dim picture, two dozen lamps, and as many sparks of a pixel.
  const lamps = workspace.picture(width, height);
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
    const ranks = workspace.blank(width, height);
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
  const vectors = workspace.blank(width, height);
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i += 4) {
      const [dx, dy] = [x - width / 2, y - height / 2];
      if (dx * dx + dy * dy > (height / 3) ** 2) continue;
      vectors.data[i] = (dy * 24) / (height / 3);
      vectors.data[i + 1] = (dx * 24) / (height / 3);
    }
  const depth = workspace.picture(width, height);
  for (let i = 0; i < depth.data.length; i++) {
    const [x, y] = [(i >> 2) % width, Math.floor((i >> 2) / width)];
    const ground = y > 300 ? 5000 / (y - 290) : Number.POSITIVE_INFINITY;
    depth.data[i] = x % 240 < 40 ? 8 : ground;
  }
  return {
    threadPool,
    p,
    q,
    m,
    kernel,
    extra: {
      ids,
      lamps,
      half: shrink(workspace, lamps, 0.5),
      depth,
      vectors,
      spectrum: kernelSpectrum(threadPool, kernel, width, height),
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
  const workspace = openWorkspace(input.threadPool);
  const began = performance.now();
  subject.run(workspace, input.p, input.q, input.m, input.extra);
  const millis = performance.now() - began;
  workspace.clear();
  return millis;
}

/** `times`: two threads' time in that of a plain copy beside it, round by round. */
type Line = { ours: number; two?: number; theirs?: number; ratio?: number; times?: number };
async function measure(
  ours: (threads: number) => number | Promise<number>,
  command?: string,
  twice = true,
  beside?: () => number,
): Promise<Line> {
  const [one, two, reference, ratios, times]: number[][] = [[], [], [], [], []];
  for (let i = 0; i <= rounds; i++) {
    const a = await ours(1);
    const r = command ? await references.time(command, 1) : Number.NaN;
    const plain = beside?.() ?? Number.NaN;
    const b = twice ? await ours(2) : Number.NaN;
    // The first round warms up.
    if (i === 0) continue;
    one.push(a);
    two.push(b);
    reference.push(r);
    ratios.push(a / r);
    times.push(b / plain);
  }
  return {
    ours: median(one),
    two: twice ? median(two) : undefined,
    theirs: command && median(reference) ? median(reference) : undefined,
    ratio: median(ratios),
    times: median(times),
  };
}

const cell = (v: number | undefined, digits = 1) =>
  v === undefined || Number.isNaN(v) ? '' : v.toFixed(digits);
const rows: string[] = [];
const row = (name: string, reference: string, line: Line, goal?: number) =>
  rows.push(
    `| ${name} | ${cell(line.ours)} | ${cell(line.two)} | ${line.two ? cell(line.ours / line.two, 2) : ''} | ${reference} ${cell(line.theirs)} | ${cell(line.ratio, 3)} | ${goal ?? ''} |`,
  );

const plain = subjects.find((s) => s.name === 'copy')!;
let [plainCopy, twoCopy] = [0, 0];
const inCopies: string[] = [];
/** `ZAFIRO_BENCH_ONLY` times only the kernels whose names it fits, and the copy. */
const only = new RegExp(process.env.ZAFIRO_BENCH_ONLY ?? '');
for (const subject of subjects.filter((s) => s.name === 'copy' || only.test(s.name))) {
  process.stderr.write(`${subject.name} …\n`);
  const beside = subject.copies === undefined ? undefined : () => timeOurs(plain, inputs[1]);
  const ours = (threads: number) => timeOurs(subject, inputs[threads - 1]);
  const line = await measure(ours, subject.against?.[0], true, beside);
  if (subject.name === 'copy') [plainCopy, twoCopy] = [line.ours, line.two!];
  if (subject.copies !== undefined) {
    inCopies.push(
      `| ${subject.name} | ${cell(line.ours)} | ${cell(line.two)} | ${cell(line.times)} | ${subject.copies} |`,
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
for (const { threadPool } of inputs) threadPool.end();
rmSync(temporary, { recursive: true, force: true });

const [cpu] = cpus();
process.stdout.write(`${availableParallelism()} cores of ${cpu.model.trim()}, ${Math.round(totalmem() / 2 ** 30)} GiB, Node ${process.versions.node}; ${references.versions}
${width} × ${height} RGBA float32, median milliseconds of ${rounds} alternating rounds, one thread each unless said

| kernel | Zafiro | two threads | gain | reference | ratio | goal |
|---|---|---|---|---|---|---|
${rows.join('\n')}

As multiples of a plain copy of an RGBA picture on two threads (${cell(twoCopy)} ms), timed beside each round:

| kernel | one thread | two threads | copies | goal |
|---|---|---|---|---|
${inCopies.join('\n')}

Planning and checking a document whose steps each take from the point above, milliseconds:

| steps | nodes | plan | check |
|---|---|---|---|
${growth().join('\n')}
`);
process.exit(0);
