import { spawnSync } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { FinishError } from '../../core/finish/finish-error';
import { checkFinish, openFinish } from '../../core/finish/validation';
import { FileError } from '../../core/formats/file-error';
import { frameOf, parseFrames, parsePattern, pathOf } from '../../core/formats/frame-pattern';
import { sequencesOf } from '../../core/formats/sequences';
import { fitsPattern } from '../../core/mattes/ids';
import { fromSvg } from '../../core/mattes/svg';
import { openFile } from '../../engine/node/files/open';
import { givenTrial, prepare } from './given';
import {
  changedExr,
  changedHdr,
  changedJpeg,
  changedJson,
  changedPng,
  changedTiff,
  jumbled,
} from './structural';

/**
 * A seeded fuzzer of everything that reads what comes from outside: `fuzz.mjs VARIANTS [SEED]`. Of the variants three in five are picture files,
 * changed blindly (flipped bytes, cuts, doubled and deleted pieces) or knowing how they are built (`structural.ts`); three in ten of all are what `given.ts` tries; the others are
 * documents, frame patterns and ranges, patterns of names, and SVG. What is read may refuse in words of its own or read something; it may not throw
 * anything else, take over 2 s, or more than 512 MB beyond where it began. Prints one JSON line; its exit status is 1 if anything was wrong.
 */
const variants = Number(process.argv[2] ?? 10_000);
const seed = Number(process.argv[3] ?? 1);
const reference = process.argv[4] ?? 'tests/reference';
/** `given` tries nothing but what people and programs give as text. */
const only = process.argv[5] ?? '';
/** Where the slowest variant is kept to be looked at, if anywhere. */
const keep = process.env.ZAFIRO_FUZZ_KEEP;
const longest = 2000;
const mostExtra = 512;

let state = seed * 2654435761;
const random = (below: number): number => {
  state = Math.imul(state ^ (state >>> 15), 0x2c1b3c6d) + 0x9e3779b9;
  state ^= state >>> 13;
  return (state >>> 0) % below;
};

const folder = mkdtempSync(join(tmpdir(), 'zafiro-fuzz-'));
for (const script of ['exr-corpus.py', 'raster-corpus.py']) {
  const made = spawnSync('/usr/bin/python3', [join(reference, script), folder], { encoding: 'utf8' });
  if (made.status !== 0) throw new Error(made.stderr);
}
const pictures = (at: string) =>
  readdirSync(at)
    .filter((f) => /\.(exr|png|tif|jpg|hdr)$/.test(f))
    .map((f) => ({ name: f, bytes: readFileSync(join(at, f)) }));
const sound = [...pictures(folder), ...pictures(join(reference, 'subsampled'))].filter(
  (f) => f.bytes.length < 200_000,
);
rmSync(folder, { recursive: true });

const largeNumbers = [0, 1, 0x7f, 0xff, 0x7fff, 0xffff, 0x7fffffff, 0x80000000, 0xffffffff, 0x10000000];

function changed(bytes: Uint8Array): Uint8Array {
  let out = Uint8Array.from(bytes);
  for (let k = 1 + random(4); k > 0; k--) {
    // Headers decide most, so most changes fall there.
    const reach = random(3) === 0 ? out.length : Math.min(out.length, 600);
    const at = random(Math.max(1, reach));
    switch (random(6)) {
      case 0:
      case 1:
        out[at] ^= 1 << random(8);
        break;
      case 2:
        out[at] = random(256);
        break;
      case 3:
        if (at + 4 <= out.length)
          new DataView(out.buffer).setUint32(at, largeNumbers[random(largeNumbers.length)], random(2) === 0);
        break;
      case 4:
        out = out.slice(0, random(out.length) + 1);
        break;
      case 5: {
        const end = Math.min(out.length, at + 1 + random(64));
        const piece = out.subarray(at, end);
        out = Uint8Array.from(
          random(2)
            ? [...out.subarray(0, at), ...out.subarray(end)]
            : [...out.subarray(0, end), ...piece, ...out.subarray(end)],
        );
        break;
      }
    }
  }
  return out;
}

const megabytes = () => process.memoryUsage().rss / 2 ** 20;

const documents = ['as-drawn', 'comet-on-fire', 'lamps-lit', 'light-in-the-hall', 'morning-mist'].map(
  (name) => JSON.parse(readFileSync(join(reference, '../documents/version-1', `${name}.json`), 'utf8')),
);

const structural: Record<string, (bytes: Uint8Array, random: (below: number) => number) => Uint8Array> = {
  exr: changedExr,
  png: changedPng,
  tif: changedTiff,
  jpg: changedJpeg,
  hdr: changedHdr,
};

/** What came of one variant. */
type Outcome = 'read' | 'partial' | 'refused';
type Trial = { name: string; bytes?: Uint8Array; go(): Promise<Outcome> | Outcome };

/** Runs what may refuse with errors that `isRefusal` knows. */
function refusing(work: () => void, isRefusal: (error: unknown) => boolean): Outcome {
  try {
    work();
    return 'read';
  } catch (error) {
    if (isRefusal(error)) return 'refused';
    throw error;
  }
}

function fileTrial(isStructural: boolean): Trial {
  const from = sound[random(sound.length)];
  const bytes = isStructural
    ? structural[from.name.split('.').pop()!](from.bytes, random)
    : changed(from.bytes);
  return {
    name: `${from.name}${isStructural ? ', by structure' : ''}`,
    bytes,
    async go() {
      try {
        const file = await openFile(bytes);
        let outcome: Outcome = 'read';
        for (const [p, part] of file.info.parts.entries()) {
          const { lacking } = await file.read(
            p,
            part.channels.map((c) => c.name),
          );
          if (lacking) outcome = 'partial';
        }
        return outcome;
      } catch (error) {
        if (error instanceof FileError) return 'refused';
        throw error;
      }
    },
  };
}

function documentTrial(): Trial {
  const doc = changedJson(documents[random(documents.length)], random);
  return {
    name: 'document',
    bytes: Buffer.from(JSON.stringify(doc) ?? ''),
    go: () =>
      refusing(
        () => {
          const { finish } = openFinish(JSON.parse(JSON.stringify(doc) ?? 'null'));
          // What is accepted can be worked with.
          checkFinish(finish);
          if (({} as { polluted?: boolean }).polluted) throw new Error('prototypes are changed');
        },
        (error) => error instanceof FinishError,
      ),
  };
}

const framePieces = [
  '#',
  '####',
  '%04d',
  '%',
  'd',
  '[',
  ']',
  '1',
  '24',
  '-',
  ',',
  '.',
  '/',
  'moth',
  '9'.repeat(16),
  ' ',
  'x',
  '\u0000',
  'é',
];
const namePieces = ['*', '?', '**', 'a', 'lamp', '_', '.', '[', '\\', 'İ', 'ß'];
const svgPieces = [
  'M',
  'L',
  'C',
  'Z',
  'a',
  'A',
  'q',
  'T',
  's',
  'h',
  ' 1 ',
  ',2',
  '-3.5',
  '1e9',
  '1e-9',
  '.5.5',
  'NaN',
  '0 0 1 1 0 10 10',
  '99999',
];
const svgAround = [
  '<svg>',
  '</svg>',
  '<path d="',
  '"/>',
  '<path',
  ' d=',
  '<!--',
  '-->',
  '<![CDATA[',
  ']]>',
  '&amp;',
  '<g transform="',
  '" ',
  '<!DOCTYPE svg [',
  '<!ENTITY a "b">',
];

function textTrial(): Trial {
  switch (random(4)) {
    case 0: {
      const text = jumbled(framePieces, 30, random);
      return {
        name: `range ${text}`,
        go: () =>
          refusing(
            () => void parseFrames(text),
            (error) => error instanceof RangeError,
          ),
      };
    }
    case 1: {
      const [text, path] = [jumbled(framePieces, 30, random), jumbled(framePieces, 30, random)];
      return {
        name: `pattern ${text}`,
        go() {
          const pattern = parsePattern(text);
          frameOf(pattern, path);
          pathOf(pattern, random(1000));
          sequencesOf([text, path, `${path}.png`, 'a.0001.exr']);
          return 'read';
        },
      };
    }
    case 2: {
      const [pattern, name] = [jumbled(namePieces, 400, random), jumbled(namePieces, 4000, random)];
      return {
        name: `names ${pattern}`,
        go() {
          fitsPattern(pattern, name);
          return 'read';
        },
      };
    }
    default: {
      const inside = jumbled(svgPieces, 400, random);
      const text = random(2)
        ? `<svg><path d="${inside}"/></svg>`
        : jumbled([...svgAround, inside], 60, random);
      return {
        name: 'svg',
        bytes: Buffer.from(text),
        go: () =>
          refusing(
            () => void fromSvg(text),
            (error) => (error as Error).constructor === Error,
          ),
      };
    }
  }
}

/** What `given.ts` tries: tracks, recipes, tables, colour files, bodies of requests. */
function givenOne(): Trial {
  const { name, bytes, go } = givenTrial(random);
  return { name, bytes, go: () => (go() ? 'read' : 'refused') };
}

function trial(): Trial {
  if (only === 'given' || (only === '' && random(10) < 3)) return givenOne();
  const which = random(20);
  if (which < 12) return fileTrial(which % 2 === 0);
  return which < 17 ? documentTrial() : textTrial();
}

async function main() {
  prepare(join(reference, '../documents'));
  const outcomes = { read: 0, partial: 0, refused: 0 };
  const wrong: string[] = [];
  const kinds: Record<string, number> = {};
  let [slowest, most, slowestName] = [0, 0, ''];
  const before = megabytes();
  for (let i = 0; i < variants; i++) {
    const { name, bytes, go } = trial();
    const kind = /^body /.test(name) ? 'body' : bytes ? name.replace(/^.*\.(\w+)/, '$1') : name.split(' ')[0];
    kinds[kind] = (kinds[kind] ?? 0) + 1;
    const began = performance.now();
    try {
      outcomes[await go()]++;
    } catch (error) {
      wrong.push(`${name.slice(0, 200)}, variant ${i}: ${(error as Error).stack?.slice(0, 400)}`);
      if (keep && bytes) writeFileSync(`${keep}.${i}`, bytes);
    }
    const took = performance.now() - began;
    if (took > slowest) {
      [slowest, slowestName] = [took, `${name.slice(0, 100)}, variant ${i}`];
      if (keep && bytes) writeFileSync(keep, bytes);
    }
    if (took > longest) wrong.push(`${name.slice(0, 200)}, variant ${i}: took ${Math.round(took)} ms`);
    if (i % 50 === 0) most = Math.max(most, megabytes() - before);
  }
  if (most > mostExtra) wrong.push(`memory grew by ${Math.round(most)} MB`);
  const report = {
    variants,
    seed,
    files: sound.length,
    ...outcomes,
    kinds,
    slowest: Math.round(slowest),
    slowestName,
    megabytes: Math.round(most),
    wrongs: wrong.length,
    wrong: wrong.slice(0, 10),
  };
  process.stdout.write(`${JSON.stringify(report)}\n`);
  process.exitCode = wrong.length > 0 ? 1 : 0;
}

await main();
