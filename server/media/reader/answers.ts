import { createHash } from 'node:crypto';
import { existsSync, readFileSync } from 'node:fs';
import { LRUCache } from 'lru-cache';
import sharp from 'sharp';
import type { FrameMetadata } from '../../../core/evaluate/run';
import type { IdsHead } from '../../../core/finish/heads';
import { boxHeight, boxWidth } from '../../../core/formats/exr/types';
import type { OpenFile } from '../../../core/formats/file-info';
import { type IdMatte, isLayerOf } from '../../../core/formats/id-mattes';
import { strandKindOf } from '../../../core/formats/pass-kinds';
import { lightOf, passPicture } from '../../../core/formats/pass-picture';
import { joinedPlanes } from '../../../core/formats/pass-wire';
import { type Pass, strandKind } from '../../../core/formats/passes';
import { type Plane, sampleSize } from '../../../core/formats/samples';
import { toDisplay } from '../../../core/kernels/display';
import { pickCentres, shrink } from '../../../core/kernels/sample';
import { openWorkspace, type Workspace } from '../../../core/kernels/workspace';
import { idName } from '../../../core/mattes/ids';
import { type PassContent, passContent, pictureOfData } from '../../../core/scopes/pass-content';
import type { Decoded } from '../../../engine/node/decoded-store';
import { readShared } from '../../../engine/node/exr-threads';
import { fileStamp } from '../../../engine/node/media';
import {
  openMediaFile,
  type PassFrame,
  passesOf,
  passOf,
  readBytes,
  type Wishes,
} from '../../../engine/node/media-file';
import {
  colourName,
  flatShares,
  idMattesIn,
  metadataOf,
  numberName,
  type ObjectShare,
  rankedShares,
} from '../../../engine/node/metadata';
import { threadRuntime } from '../../../engine/node/runtime';
import { writeWhole } from '../../../engine/node/write-file';
import { decoded } from './decoded';

/** A file to read: `about` names the frame in what is said of it. */
type Of = { path: string; about: string; wishes?: Wishes };

export type Question =
  /** By `key` it is kept unpacked, if it is whole. `soon` are other passes of the file that wait to be asked for: they are unpacked with this one. */
  | ({ ask: 'pass'; name: string; scale: number; empty: boolean; key?: string; soon?: string[] } & Of)
  | ({ ask: 'look'; thumbnails?: { folder: string; height: number } } & Of)
  | ({ ask: 'contents'; folder: string; width: number } & Of)
  | ({ ask: 'object'; x: number; y: number; of?: IdsOf } & Of)
  | ({ ask: 'metadata' } & Of)
  | ({ ask: 'objects' } & IdsOf & Of);

/** An id pass and how it holds its ids. */
export type IdsOf = Pick<IdsHead, 'pass' | 'idFormat'>;

export type PassAnswer = Decoded;

/** The contents of a file; `content` identifies them. */
export type LookAnswer = {
  content: string;
  format: string;
  width: number;
  height: number;
  rate?: number;
  passes: Pass[];
  /** Why some of it could not be read. */
  partial?: string;
};

/** Ids of an id-matte pass that its manifest names. */
export type Names = { named: number } & Pick<IdMatte, 'manifest' | 'problem'>;

export type ContentsAnswer = {
  pass: Pass;
  content: Omit<PassContent, 'ids'> & { idCount?: number };
  names?: Names;
  picture: string;
  width: number;
  height: number;
  partial?: string;
}[];

export type { ObjectShare };

/** The object at a pixel: its name, or its number if it has none. */
export type ObjectAnswer = { name: string | null; id: number | null };

/** Files opened lately, as they are now: drafts, the full picture and a second page ask for the same ones. Bounded by their bytes. */
const files = new LRUCache<string, { file: OpenFile; bytes: Uint8Array }>({
  maxSize: 128 * 2 ** 20,

  sizeCalculation: ({ bytes }) => Math.max(1, bytes.length),
});
/** Passes unpacked lately, bounded by their samples: what is a hundredth of that packed counts whole. */
const frames = new LRUCache<string, PassFrame>({
  maxSize: 192 * 2 ** 20,
  sizeCalculation: ({ planes }) =>
    Math.max(
      1,
      planes.reduce((sum, p) => sum + p.byteLength, 0),
    ),
});

async function opened({ path, about }: Of) {
  const stamp = fileStamp(path, about);
  const known = files.get(stamp);
  if (known) return known;
  const bytes = readBytes(path, about, true);
  const entry = { file: await openMediaFile(path, bytes, about, readShared), bytes };
  files.set(stamp, entry);
  return entry;
}

async function frameOf(of: Of, name: string, soon: readonly string[] = []): Promise<PassFrame> {
  const { encoding, kinds } = of.wishes ?? {};
  const stamp = fileStamp(of.path, of.about);
  const keyOf = (pass: string) => JSON.stringify([stamp, pass, encoding ?? null, kinds ?? null]);
  const known = frames.get(keyOf(name));
  if (known) return known;
  const { file } = await opened(of);
  const there = file.info.passes.map((p) => p.name);
  const others = soon.filter((pass) => there.includes(pass) && !frames.has(keyOf(pass)));
  const read = await passesOf(file, of.path, [...new Set([name, ...others])], of.about, of.wishes);
  // The one that is asked for last, so that it stays longest.
  for (const pass of [...others, name]) frames.set(keyOf(pass), read.get(pass)!);
  return read.get(name)!;
}

const partialOf = ({ lacking }: PassFrame) => lacking?.why.message;

async function withWorkspace<T>(work: (workspace: Workspace) => Promise<T> | T): Promise<T> {
  const workspace = openWorkspace(threadRuntime());
  try {
    return await work(workspace);
  } finally {
    workspace.clear();
  }
}

async function pass(q: Extract<Question, { ask: 'pass' }>): Promise<PassAnswer> {
  const frame = await frameOf(q, q.name, q.soon);
  const { dataWindow, displayWindow, colour } = frame;
  const [width, height] = [boxWidth(displayWindow), boxHeight(displayWindow)];
  if (q.empty) return { info: { type: 'empty', width, height }, bytes: new Uint8Array(0) };
  const partial = partialOf(frame);
  const answer =
    q.scale < 1
      ? await withWorkspace((workspace): PassAnswer => {
          const whole = passPicture(workspace, frame);
          const small = (strandKind(frame.pass) === 'data' ? pickCentres : shrink)(workspace, whole, q.scale);
          const { buffer, byteOffset, byteLength } = small.data;
          const bytes = new Uint8Array(buffer, byteOffset, byteLength).slice();
          return { info: { type: 'draft', width: small.width, height: small.height, partial }, bytes };
        })
      : {
          info: { type: 'planes' as const, pass: frame.pass, dataWindow, displayWindow, colour, partial },
          bytes: joinedPlanes(frame.planes),
        };
  // Half a frame changes soon.
  if (q.key && partial === undefined) void decoded.put(q.key, answer);
  return answer;
}

/**
 * Divides colours by how far they cover what is below, and returns that from 0 to 1: so small pictures of layers can be laid over one another. Light without
 * alpha covers as far as it is bright.
 */
function straight(premultiplied: Float32Array): Float32Array {
  const covers = new Float32Array(premultiplied.length / 4);
  for (let i = 0; i < covers.length; i++) {
    const pixel = premultiplied.subarray(i * 4, i * 4 + 4);
    const cover = Math.min(1, Math.max(0, ...pixel));
    covers[i] = cover;
    if (cover > 0) for (let c = 0; c < 3; c++) pixel[c] /= cover;
  }
  return covers;
}

/** A small picture of a pass, as WebP: pictures as they look, data scaled so that its content shows. */
async function writeSmall(frame: PassFrame, to: string, width: number, known?: PassContent) {
  const isPicture = strandKindOf(frame.pass.kind) === 'picture' && frame.pass.channels.length > 1;
  const [w, h] = [boxWidth(frame.displayWindow), boxHeight(frame.displayWindow)];
  const scale = Math.min(1, width / w);
  if (isPicture) {
    await withWorkspace(async (workspace) => {
      const small = shrink(workspace, passPicture(workspace, frame), scale);
      const covers = straight(small.data);
      const pixels = toDisplay(workspace, small, { look: 'colour', stops: 0 });
      covers.forEach((cover, i) => {
        pixels[i * 4 + 3] = Math.round(cover * 255);
      });
      const raw = { width: small.width, height: small.height, channels: 4 } as const;
      await writeWhole(to, await sharp(pixels, { raw }).webp({ quality: 88 }).toBuffer());
    });
    return;
  }
  const raw = {
    width: boxWidth(frame.dataWindow),
    height: boxHeight(frame.dataWindow),
    channels: 4,
  } as const;
  const kernel = frame.pass.kind.startsWith('id') ? 'nearest' : 'lanczos3';
  const small = sharp(pictureOfData(frame, known ?? passContent(frame)), { raw }).resize(
    Math.max(1, Math.round(w * scale)),
    Math.max(1, Math.round(h * scale)),
    {
      kernel,
      fit: 'fill',
    },
  );
  await writeWhole(to, await small.webp({ quality: 88 }).toBuffer());
}

async function look(q: Extract<Question, { ask: 'look' }>): Promise<LookAnswer> {
  const { file, bytes } = await opened(q);
  const content = createHash('sha1').update(bytes).digest('hex');
  const { format, parts, passes } = file.info;
  const [first] = passes;
  const { displayWindow, attributes } = parts[first.part];
  const rate = attributes.framesPerSecond;
  const answer: LookAnswer = {
    content,
    format,
    width: boxWidth(displayWindow),
    height: boxHeight(displayWindow),
    rate: rate?.type === 'rational' && rate.value[1] > 0 ? rate.value[0] / rate.value[1] : undefined,
    passes,
  };
  if (!q.thumbnails) return answer;
  const { folder, height } = q.thumbnails;
  const to = `${folder}/${content.slice(0, 2)}/${content}.webp`;
  // What a look at the same content found before: the picture, and beside it what the file lacks.
  const lacks = `${to}.partial`;
  if (existsSync(to))
    return { ...answer, partial: existsSync(lacks) ? readFileSync(lacks, 'utf8') : undefined };
  // Not kept: whoever wants to see the frame asks the other reader, for what nobody waits for is looked at here.
  const frame = await passOf(file, q.path, first.name, q.about, q.wishes);
  const partial = partialOf(frame);
  if (partial !== undefined) await writeWhole(lacks, Buffer.from(partial));
  await writeSmall(frame, to, Math.round((height * answer.width) / answer.height));
  return { ...answer, partial };
}

/** How many of a pass's ids have names, and what is wrong with the others. */
function namesOf({ pass, part }: PassFrame, { ids = [] }: PassContent, path: string): Names | undefined {
  if (pass.kind !== 'id-matte') return undefined;
  const matte = idMattesIn(part, path).find((m) => isLayerOf(m.layer, pass.name));
  const named = ids.filter((id) => matte?.names?.has(id)).length;
  return { named, manifest: matte?.manifest ?? 'missing', problem: matte?.problem };
}

/** Bytes of samples that are unpacked together. */
const togetherBytes = 256 * 2 ** 20;

/** Every pass of a file, unpacked as many together as fit: each chunk once, where all of them do. */
async function* everyPass({ info, ...file }: OpenFile, q: Of): AsyncGenerator<PassFrame> {
  let group: string[] = [];
  let bytes = 0;
  for (const [i, { name, part, types }] of info.passes.entries()) {
    const { dataWindow: d } = info.parts[part];
    group.push(name);
    bytes += types.reduce((sum, type) => sum + sampleSize[type], 0) * boxWidth(d) * boxHeight(d);
    if (bytes < togetherBytes && i + 1 < info.passes.length) continue;
    const frames = await passesOf({ info, ...file }, q.path, group, q.about, q.wishes);
    for (const one of group) yield frames.get(one)!;
    [group, bytes] = [[], 0];
  }
}

async function contents(q: Extract<Question, { ask: 'contents' }>): Promise<ContentsAnswer> {
  const { file } = await opened(q);
  const answer: ContentsAnswer = [];
  for await (const frame of everyPass(file, q)) {
    const i = answer.length;
    const content = passContent(frame);
    const picture = `${q.folder}/${i}.webp`;
    await writeSmall(frame, picture, q.width, content);
    const { displayWindow: d } = frame;
    const names = namesOf(frame, content, q.path);
    const counted = { ...content, ids: undefined, idCount: content.ids?.length };
    answer.push({
      pass: frame.pass,
      content: counted,
      names,
      picture,
      width: boxWidth(d),
      height: boxHeight(d),
      partial: partialOf(frame),
    });
  }
  return answer;
}

/**
 * The object that covers most of a pixel: by the pass that is asked for, else by the first rank of an id matte, else by an integer id
 * pass.
 */
async function object(q: Extract<Question, { ask: 'object' }>): Promise<ObjectAnswer> {
  const { file } = await opened(q);
  const passes = file.info.passes.map((p) => ({ ...p, kind: q.wishes?.kinds?.[p.name] ?? p.kind }));
  const chosen = q.of
    ? passes.find((p) => p.name === (q.of!.idFormat === 'ranked' ? `${q.of!.pass}00` : q.of!.pass))
    : (passes.find((p) => p.kind === 'id-matte' && p.channels.length >= 2) ??
      passes.find((p) => p.kind === 'id'));
  if (!chosen) return { name: null, id: null };
  const frame = await frameOf(q, chosen.name);
  const { xMin, yMin, xMax, yMax } = frame.dataWindow;
  const [x, y] = [q.x + frame.displayWindow.xMin, q.y + frame.displayWindow.yMin];
  if (x < xMin || y < yMin || x > xMax || y > yMax) return { name: null, id: null };
  const at = (y - yMin) * boxWidth(frame.dataWindow) + x - xMin;
  if (q.of?.idFormat === 'colour')
    return { name: colourName(lights(frame, at, at + 1).map(([v]) => v)), id: null };
  if (chosen.kind === 'id' || q.of?.idFormat === 'number')
    return { name: q.of ? numberName([frame.planes[0][at]]) : null, id: frame.planes[0][at] };
  const id = new Uint32Array(Float32Array.of(frame.planes[0][at]).buffer)[0];
  if (id === 0) return { name: null, id: null };
  const matte = idMattesIn(frame.part, q.path).find((m) => isLayerOf(m.layer, chosen.name));
  return { name: matte?.names?.get(id) ?? (q.of ? idName(id) : null), id };
}

/** Light of the colours of a pass, from sample `from` up to `to`, as it is read into pictures. */
const lights = ({ planes, pass, colour }: PassFrame, from = 0, to?: number) =>
  planes.slice(0, 3).map((p, i) => lightOf(p.subarray(from, to) as Plane, pass.types[i], colour.encoding));

async function metadata(q: Extract<Question, { ask: 'metadata' }>): Promise<FrameMetadata> {
  const { file } = await opened(q);
  return metadataOf(file.info.parts, q.path);
}

/** The objects of an id pass on a frame, by the share they cover. */
async function objects(q: Extract<Question, { ask: 'objects' }>): Promise<ObjectShare[]> {
  const { file } = await opened(q);
  if (q.idFormat !== 'ranked') {
    const frame = await frameOf(q, q.pass);
    if (q.idFormat === 'number') return flatShares(frame, (planes, i) => numberName([planes[0][i]]));
    const colours = lights(frame);
    return flatShares(frame, (_, i) => colourName(colours.map((c) => c[i])));
  }
  const layers: PassFrame[] = [];
  for (const { name } of file.info.passes)
    if (name.startsWith(q.pass) && /^\d\d$/.test(name.slice(q.pass.length)))
      layers.push(await frameOf(q, name));
  if (layers.length === 0) return [];
  const matte = idMattesIn(layers[0].part, q.path).find((m) => m.layer === q.pass);
  return rankedShares(layers, matte);
}

/** Answers one question about a file. @throws {MediaError} */
export function answerOf(
  q: Question,
): Promise<PassAnswer | LookAnswer | ContentsAnswer | ObjectAnswer | FrameMetadata | ObjectShare[]> {
  switch (q.ask) {
    case 'pass':
      return pass(q);
    case 'look':
      return look(q);
    case 'contents':
      return contents(q);
    case 'object':
      return object(q);
    case 'metadata':
      return metadata(q);
    case 'objects':
      return objects(q);
  }
}
