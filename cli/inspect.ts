import { createHash } from 'node:crypto';
import type { Command } from 'commander';
import { originFrom, originTextIn } from '../core/finish/frame-origin';
import { channelSize } from '../core/formats/exr/blocks';
import { type Attributes, type Box, boxHeight, boxWidth } from '../core/formats/exr/types';
import { FileError } from '../core/formats/file-error';
import type { FilePart, OpenFile } from '../core/formats/file-info';
import { floatsOf, type Plane, type SampleType } from '../core/formats/samples';
import { declared, ended, UsageError } from '../engine/node/command-line';
import { MediaError, openMediaFile, readBytes } from '../engine/node/media-file';

type Wanted = { digest: boolean; pixel?: [number, number]; deep: boolean };

const corners = (b: Box) => [b.xMin, b.yMin, b.xMax, b.yMax];

/** A number as JSON can say it: what is not finite becomes a word. */
const said = (v: number) => (Number.isFinite(v) ? v : Number.isNaN(v) ? 'nan' : v > 0 ? 'inf' : '-inf');

function attributesAsJson(attributes: Attributes): Record<string, unknown> {
  return Object.fromEntries(
    Object.entries(attributes).map(([name, a]) => {
      if (a.type === 'opaque') return [name, { type: a.of, bytes: a.value.length }];
      if (a.type === 'box2i') return [name, corners(a.value)];
      return [name, typeof a.value === 'number' ? said(a.value) : a.value];
    }),
  );
}

/** Values in the units of the file: integers of 8 and 16 bits stay integers. */
const valuesOf = (plane: Plane, type: SampleType): ArrayLike<number> =>
  type === 'half' ? floatsOf(plane, type) : plane;

function measured(plane: Plane, type: SampleType) {
  const values = valuesOf(plane, type);
  let [min, max, nan, inf] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY, 0, 0];
  for (let i = 0; i < values.length; i++) {
    const v = values[i];
    if (Number.isNaN(v)) nan++;
    else if (v === Number.POSITIVE_INFINITY || v === Number.NEGATIVE_INFINITY) inf++;
    else {
      if (v < min) min = v;
      if (v > max) max = v;
    }
  }
  return min <= max ? { min, max, nan, inf } : { min: null, max: null, nan, inf };
}

/** Value of a channel at a pixel of the data window; null outside it. */
function valueAt(plane: Plane, c: FilePart['channels'][number], part: FilePart, [x, y]: [number, number]) {
  const b = part.dataWindow;
  if (x < b.xMin || y < b.yMin || x > b.xMax || y > b.yMax) return null;
  const first = (v: number, step: number) => Math.ceil(v / step);
  const column = Math.floor(x / c.xSampling) - first(b.xMin, c.xSampling);
  const row = Math.floor(y / c.ySampling) - first(b.yMin, c.ySampling);
  if (column < 0 || row < 0) return null;
  return said(valuesOf(plane, c.type)[row * channelSize(c, b).width + column]);
}

async function describePart(file: OpenFile, part: FilePart, index: number, wanted: Wanted) {
  const { planes, lacking } = wanted.deep
    ? await file.read(
        index,
        part.channels.map((c) => c.name),
      )
    : { planes: new Map<string, Plane>(), lacking: undefined };
  const channels = part.channels.map((c) => {
    const { name, type, xSampling, ySampling } = c;
    const plane = planes.get(name);
    return {
      name,
      type,
      xSampling,
      ySampling,
      ...(plane ? measured(plane, type) : {}),
      ...(plane && wanted.digest
        ? {
            sha256: createHash('sha256')
              .update(new Uint8Array(plane.buffer, plane.byteOffset, plane.byteLength))
              .digest('hex'),
          }
        : {}),
      ...(plane && wanted.pixel ? { value: valueAt(plane, c, part, wanted.pixel) } : {}),
    };
  });
  return {
    name: part.name,
    type: part.type,
    width: boxWidth(part.dataWindow),
    height: boxHeight(part.dataWindow),
    dataWindow: corners(part.dataWindow),
    displayWindow: corners(part.displayWindow),
    pixelAspectRatio: part.pixelAspectRatio,
    lineOrder: part.lineOrder,
    compression: part.compression,
    channels,
    attributes: attributesAsJson(part.attributes),
    ...(lacking ? { partial: { missing: lacking.share, why: lacking.why.message } } : {}),
  };
}

/** How a frame was made, where it knows. */
function originOf(bytes: Uint8Array) {
  const text = originTextIn(bytes);
  if (text === undefined) return;
  try {
    return originFrom(text);
  } catch (error) {
    return { problem: (error as Error).message };
  }
}

/** Output of `zafiro inspect --json` for one file. */
async function describe(path: string, wanted: Wanted) {
  try {
    const bytes = readBytes(path, '');
    const file = await openMediaFile(path, bytes);
    const origin = originOf(bytes);
    const { format, parts, passes } = file.info;
    const described = [];
    for (const [i, part] of parts.entries()) described.push(await describePart(file, part, i, wanted));
    return {
      file: path,
      ok: true as const,
      format,
      parts: described,
      passes: passes.map(({ name, kind, channels }) => ({ name, kind, channels })),
      ...(origin ? { origin } : {}),
    };
  } catch (error) {
    if (!(error instanceof MediaError || error instanceof FileError)) throw error;
    return { file: path, ok: false as const, error: { code: error.code, message: error.message } };
  }
}

type Described = Awaited<ReturnType<typeof describe>>;

function inWords(d: Described): string {
  if (!d.ok) return '';
  const lines: string[] = [];
  for (const p of d.parts) {
    const name = p.name ? `, part ${p.name}` : '';
    lines.push(
      `${d.file}${name}: ${d.format}, ${p.width} by ${p.height}, data ${p.dataWindow.join(' ')}, ${p.compression}`,
    );
  }
  for (const p of d.passes) {
    const types = d.parts.flatMap((part) =>
      part.channels.filter((c) => p.channels.includes(c.name)).map((c) => c.type),
    );
    lines.push(
      `  ${(p.name || 'beauty').padEnd(16)} ${p.kind.padEnd(9)} ${[...new Set(types)].join('+').padEnd(6)} ${p.channels.join(' ')}`,
    );
  }
  if (d.origin)
    lines.push(
      'finish' in d.origin
        ? `  made by the finish “${d.origin.finish.name}”, frame ${d.origin.frame}, Zafiro ${d.origin.zafiro}, of ${Object.values(d.origin.media).join(', ')}`
        : `  ${d.origin.problem}`,
    );
  return `${lines.join('\n')}\n`;
}

function pixelOf(text: string | undefined): [number, number] | undefined {
  if (text === undefined) return;
  const found = /^(-?\d+),(-?\d+)$/.exec(text);
  if (!found) throw new UsageError('--pixel takes X,Y, such as 120,64.');
  return [Number(found[1]), Number(found[2])];
}

/** `zafiro inspect`: sizes, windows, channels with types and ranges, and passes of files. */
export const declareInspect = (program: Command): void =>
  void declared(
    program,
    'inspect',
    'Sizes, windows, channels and passes of EXR, PNG, TIFF, JPEG and HDR files.',
    ['inspect hall.0001.exr', 'inspect hall.0001.exr --json --digest --pixel 120,64'],
  )
    .argument('<FILE...>')
    .option('--json', 'all of it, with the range of each channel')
    .option('--digest', 'a digest of the samples')
    .option('--pixel <X,Y>', 'the values of a pixel')
    .action(ended(inspect));

type Words = { json?: boolean; digest?: boolean; pixel?: string };

/** Gives the exit status. */
async function inspect(paths: string[], values: Words): Promise<number> {
  const wanted = { digest: values.digest ?? false, pixel: pixelOf(values.pixel), deep: values.json ?? false };
  const files: Described[] = [];
  for (const path of paths) files.push(await describe(path, wanted));
  if (values.json) process.stdout.write(`${JSON.stringify({ files }, null, 2)}\n`);
  else process.stdout.write(files.map(inWords).join(''));
  for (const f of files) if (!f.ok && !values.json) process.stderr.write(`zafiro: ${f.error.message}\n`);
  return files.every((f) => f.ok) ? 0 : 3;
}
