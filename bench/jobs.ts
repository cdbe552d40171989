import { spawnSync } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { availableParallelism, tmpdir } from 'node:os';
import { join } from 'node:path';
import { addStep, addStrand, newFinish } from '../core/finish/edits';
import type { Finish } from '../core/finish/finish';
import { parseFinish } from '../core/finish/validation';
import { setValue } from '../core/finish/value-edits';
import { readExr } from '../core/formats/exr/read';
import { writeExr } from '../core/formats/exr/write';
import { floatsToHalves } from '../core/formats/half';
import { decodedKey, decodedStore } from '../engine/node/decoded-store';
import { fileSource } from '../engine/node/file-source';
import { nodeZlib } from '../engine/node/zlib';

/**
 * `./zafiro bench`, whole jobs: what somebody waits for from the command to the last file, with the start of all processes. Arguments: the
 * folder of demo frames of Orrery Hall (at least one), and that of the drawings of Moth and Comet.
 */
const [hall, moth] = process.argv.slice(2);
const rounds = Number(process.env.ZAFIRO_JOB_ROUNDS ?? 3);
const folder = mkdtempSync(join(tmpdir(), 'zafiro-jobs-'));
const processes = availableParallelism();
const median = (v: number[]) => [...v].sort((a, b) => a - b)[v.length >> 1];
const documents = new URL('../tests/documents/version-2/', import.meta.url).pathname;
const cli = new URL('../dist/cli.mjs', import.meta.url).pathname;

function timed(work: () => void): number {
  const began = performance.now();
  work();
  return (performance.now() - began) / 1000;
}
function done(command: string, args: string[]): string {
  const { status, stdout, stderr } = spawnSync(command, args, { encoding: 'utf8' });
  if (status !== 0) throw new Error(`${command} ${args.join(' ')}: ${stderr}`);
  return stdout;
}

/** Frames 1 to `count` under a name: links of those that were rendered, over and over. */
function frames(name: string, count: number, files: readonly string[]): string {
  for (let n = 1; n <= count; n++)
    symlinkSync(files[(n - 1) % files.length], join(folder, `${name}.${String(n).padStart(4, '0')}.exr`));
  return join(folder, `${name}.####.exr`);
}

/** A frame at `times` its size: every channel of it, the last bit of halves noise, so that it does not pack better than a render. */
function enlarged(from: string, times: number, to: string): string {
  const { header, samples } = readExr(readFileSync(from), nodeZlib);
  const [w, h] = [header.dataWindow.xMax + 1, header.dataWindow.yMax + 1];
  const [wide, high] = [Math.round(w * times), Math.round(h * times)];
  const channels = [...samples].map(([name, small], n) => {
    const large = new (small.constructor as new (n: number) => typeof small)(wide * high);
    const isHalf = small instanceof Uint16Array;
    let noise = n + 1;
    for (let y = 0, o = 0; y < high; y++)
      for (let x = 0; x < wide; x++, o++) {
        const v = small[Math.min(h - 1, Math.floor(y / times)) * w + Math.min(w - 1, Math.floor(x / times))];
        noise = (Math.imul(noise, 1664525) + 1013904223) | 0;
        large[o] = isHalf && times > 1 && v !== 0 ? v ^ ((noise >>> 16) & 1) : v;
      }
    const type = isHalf
      ? ('half' as const)
      : small instanceof Uint32Array
        ? ('uint' as const)
        : ('float' as const);
    return { name, type, samples: large };
  });
  const { attributes } = header;
  const dataWindow = { xMin: 0, yMin: 0, xMax: wide - 1, yMax: high - 1 };
  writeFileSync(to, writeExr({ channels, dataWindow, attributes }, nodeZlib));
  return to;
}

const out = join(folder, 'out.####.exr');
const run = (document: string, media: readonly string[], range: string) =>
  timed(() => done(process.execPath, [cli, 'run', document, ...media, '--frames', range, '--out', out]));
const several = (work: () => number, times = rounds) => median(Array.from({ length: times }, work));
function saved(name: string, doc: Finish): string {
  const path = join(folder, `${name}.json`);
  writeFileSync(path, JSON.stringify(doc));
  return path;
}

const rendered = readdirSync(hall)
  .filter((f) => /orrery_hall\.\d+\.exr$/.test(f))
  .sort()
  .slice(0, 4)
  .map((f) => join(hall, f));
process.stderr.write('enlarging frames …\n');
const large = rendered.slice(0, 2).map((f, i) => enlarged(f, 2, join(folder, `large${i}.exr`)));
const small = frames('hall', 100, rendered);
const full = frames('wide', 24, large);
const lines: string[] = [];
const say = (...cells: (string | number)[]) => {
  lines.push(`| ${cells.join(' | ')} |`);
  process.stderr.write(`${cells.join(' · ')}\n`);
};
const s = (v: number) => v.toFixed(2);

// Lamps lit against a plain pipeline, alternating.
const lamps = join(documents, 'lamps-lit.json');
const pairs = Array.from({ length: rounds }, () => {
  const ours = run(lamps, ['--media', `orrery_hall=${full}`], '1-24');
  const script = new URL('../bench/pipeline.py', import.meta.url).pathname;
  const printf = (pattern: string) => pattern.replace('####', '%04d');
  const args = [script, String(processes), printf(full), printf(join(folder, 'theirs.####.exr')), '1', '24'];
  const theirs = timed(() => done('/usr/bin/python3', args));
  return [ours, theirs] as const;
});
say(
  'run of Lamps lit, 24 frames of 1080p',
  s(median(pairs.map(([a]) => a))),
  s(24 / median(pairs.map(([a]) => a))),
  `OpenImageIO and OpenCV, ${processes} processes: ${s(median(pairs.map(([, b]) => b)))}; ratio ${s(median(pairs.map(([a, b]) => a / b)))}`,
  'ratio 0.7',
);
for (const [name, file, count] of [
  ['Lamps lit', 'lamps-lit', 24],
  ['Morning mist', 'morning-mist', 24],
  ['Light in the hall', 'light-in-the-hall', 24],
] as const) {
  const time = several(() =>
    run(join(documents, `${file}.json`), ['--media', `orrery_hall=${small}`], `1-${count}`),
  );
  say(
    `run of ${name}, ${count} frames of 540p`,
    s(time),
    s(count / time),
    '',
    name === 'Morning mist' ? '4 a second' : '',
  );
}
const mist = join(documents, 'morning-mist.json');
const wide = several(() => run(mist, ['--media', `orrery_hall=${full}`], '1-8'), 2);
say('run of Morning mist, 8 frames of 1080p', s(wide), s(8 / wide), '', '1 a second');
const comet = parseFinish(JSON.parse(readFileSync(join(documents, 'comet-on-fire.json'), 'utf8')));
const layers = [...new Set(readdirSync(moth).map((f) => f.split('.')[0]))].flatMap((name) => [
  '--media',
  `${name}=${join(moth, readdirSync(moth).some((f) => f === `${name}.png`) ? `${name}.png` : `${name}.####.png`)}`,
  ...(readdirSync(moth).some((f) => f === `${name}.png`) ? [] : ['--gaps', `${name}=hold`]),
]);
const burning = several(() => run(saved('comet', comet), layers, '1-12'), 2);
say('run of Comet on fire, 12 frames', s(burning), s(12 / burning), '', '');

// Reading.
const needed = ['', 'diffuse', 'emission', 'Z', 'N', 'P'];
const media = { hall: { pattern: full } };
async function reading(passes: readonly string[], store?: ReturnType<typeof decodedStore>) {
  const began = performance.now();
  const source = fileSource(media, { decoded: store });
  for (const pass of passes) await source.ahead!({ type: 'pass', media: 'hall', pass }, 1);
  for (const pass of passes) await source.load({ type: 'pass', media: 'hall', pass }, 1);
  return performance.now() - began;
}
const { header } = readExr(readFileSync(large[0]), nodeZlib, ['R']);
const names = new Set(header.channels.map((c) => c.name.split('.').slice(0, -1).join('.')));
const there = needed.filter((n) => names.has(n) || n === 'Z');
const passes = [...names]
  .filter((n) => n === '' || there.includes(n) || /direct|reflect|specular|position|normal/i.test(n))
  .slice(0, 6);
const times = { one: [] as number[], all: [] as number[], again: [] as number[] };
const kept = decodedStore({ folder: join(folder, 'decoded'), bytes: 2 ** 32 });
await reading(passes, kept);
for (const pass of passes)
  for (let i = 0; i < 100 && !(await kept.get(await decodedKey(join(folder, 'wide.0001.exr'), pass, 1))); i++)
    await new Promise((ready) => setTimeout(ready, 100));
for (let i = 0; i < rounds * 2 + 1; i++) {
  times.one.push(await reading(passes.slice(0, 1)));
  times.all.push(await reading(passes));
  times.again.push(await reading(passes.slice(1, 2), kept));
}
const [one, all, again] = [times.one, times.all, times.again].map(median);
say(
  `reading ${passes.length} passes of a 1080p frame, milliseconds`,
  all.toFixed(0),
  '',
  `one pass ${one.toFixed(0)}: ratio ${s(all / one)}`,
  '1.2',
);
say(
  'a further pass of a frame that was read, milliseconds',
  again.toFixed(0),
  '',
  `${s(again / all)} of the first`,
  '0.1',
);

// Growth.
const growth: string[] = [];
const grow = (
  what: string,
  sizes: readonly (number | string)[],
  took: readonly number[],
  work: readonly number[],
) => {
  const base = took[0];
  growth.push(
    `| ${what} | ${sizes.map((size, i) => `${size}: ${s(took[i])} s`).join(', ')} | ${sizes
      .map((_, i) => s(took[i] / base / (work[i] / work[0])))
      .join(', ')} |`,
  );
  process.stderr.write(`${growth.at(-1)}\n`);
};
const counts = [1, 10, 100];
grow(
  'frames, Lamps lit at 540p',
  counts,
  counts.map((n) => run(lamps, ['--media', `orrery_hall=${small}`], `1-${n}`)),
  counts,
);
const areas = [0.25, 0.5, 1, 2, 4];
const sized = areas.map((area, i) => {
  const path = enlarged(rendered[0], Math.sqrt(area), join(folder, `size${i}.0001.exr`));
  return run(lamps, ['--media', `orrery_hall=${path.replace('0001', '####')}`], '1');
});
grow('pixels, times 540p', areas, sized, areas);
function plainFrame() {
  const [w, h] = [960, 540];
  const samples = floatsToHalves(
    Float32Array.from({ length: w * h }, (_, i) => (i % 977 === 0 ? 30 : (i % 89) / 200)),
  );
  const channels = [...'RGBA'].map((name) => ({ name, type: 'half' as const, samples }));
  writeFileSync(
    join(folder, 'plain.0001.exr'),
    writeExr({ channels, dataWindow: { xMin: 0, yMin: 0, xMax: w - 1, yMax: h - 1 } }, nodeZlib),
  );
  return join(folder, 'plain.####.exr');
}
const plain = plainFrame();
const head = { type: 'pass', media: 'hall', pass: '' } as const;
const stepped = [1, 4, 16, 64].map((count) => {
  let doc = newFinish('steps', 'Steps', head);
  for (let i = 0; i < count; i++) {
    doc = addStep('main', i, 'bloom', `b${i}`).apply(doc);
    doc = setValue(doc, `b${i}`, 'amount', 0.02).apply(doc);
  }
  return run(saved(`steps${count}`, doc), ['--media', `hall=${plain}`], '1');
});
grow('steps, blooms at 540p', [1, 4, 16, 64], stepped, [1, 4, 16, 64]);
const branched = [1, 4, 16, 40].map((count) => {
  let doc = newFinish('strands', 'Strands', head);
  for (let i = 0; i < count; i++) {
    doc = addStrand(doc, head, 'picture', `Strand ${i}`).apply(doc);
    const strand = doc.strands.at(-1)!.id;
    doc = addStep(strand, 0, 'bloom', `light${i}`).apply(doc);
    doc = addStep('main', i, 'join', `join${i}`).apply(doc);
    doc = {
      ...doc,
      strands: doc.strands.map((x) =>
        x.id === 'main'
          ? {
              ...x,
              steps: x.steps.map((step, k) =>
                k === i ? { ...step, slots: { picture: { strand, after: 'end' } } } : step,
              ),
            }
          : x,
      ),
    };
    doc = setValue(doc, `light${i}`, 'radius', 20 + i).apply(doc);
  }
  return run(saved(`strands${count}`, doc), ['--media', `hall=${plain}`], '1');
});
grow('strands, each with a bloom, joined', [1, 4, 16, 40], branched, [1, 4, 16, 40]);

rmSync(folder, { recursive: true, force: true });
process.stdout.write(`
Whole jobs, ${processes} processes, seconds with the start of the program, medians of ${rounds} rounds

| job | seconds | frames a second | beside | goal |
|---|---|---|---|---|
${lines.join('\n')}

Growth: seconds, and how they grow against the work (1: as the work; what a start costs makes the first larger and so the others smaller)

| of | seconds | against the work |
|---|---|---|
${growth.join('\n')}
`);
