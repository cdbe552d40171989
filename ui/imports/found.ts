import { type FoundSequence, lookAtFirst } from '@/api/files';
import { request } from '@/api/request';
import { readParts } from '@/core/formats/exr/header';
import { boxHeight, boxWidth } from '@/core/formats/exr/types';
import { formatByName } from '@/core/formats/file-formats';
import { type FramePattern, pathOf } from '@/core/formats/frame-pattern';
import type { GapRule } from '@/core/formats/gap-rules';
import { readHdrHead } from '@/core/formats/hdr';
import { passesOf } from '@/core/formats/passes';
import { patternText, sequencesOf } from '@/core/formats/sequences';

/** A sequence before it is imported. */
export type Look = { width: number; height: number; passes: string[] } | { problem: string };

/** A sequence that may be imported: on the server, or files that the page was given. */
export type Found = {
  key: string;
  name: string;
  folder: string;
  frames: number[];
  gaps: [number, number][];
  bytes: number;
  gapRule: GapRule;
  /** Files by frame, where the page has them. */
  files?: Map<number, GivenFile>;
  pattern: string;
};

/** A file with the path it had in what was dropped: its name, with one folder before it at most. */
export type GivenFile = { path: string; file: File };

/** A sequence of drawings most likely holds what a renderer most likely lost. */
const likelyRule = (gaps: unknown[], pattern: string): GapRule =>
  gaps.length > 0 && /\.(png|tiff?)$/i.test(pattern) ? 'hold' : 'missing';

export const fromServer = (s: FoundSequence): Found => ({
  key: s.pattern,
  name: s.name,
  folder: s.folder,
  frames: s.frames,
  gaps: s.gaps,
  bytes: s.bytes,
  gapRule: likelyRule(s.gaps, s.pattern),
  pattern: s.pattern,
});

/** Sequences among files that the page was given; `ignored` are those that are no pictures. */
export function fromFiles(given: GivenFile[]): { found: Found[]; ignored: number } {
  const byPath = new Map(given.map((g) => [g.path, g]));
  const sequences = sequencesOf([...byPath.keys()]);
  const found = sequences.map(({ name, pattern, frames, gaps }): Found => {
    const files = new Map(frames.map((f) => [f, byPath.get(pathOf(pattern as FramePattern, f))!]));
    const bytes = [...files.values()].reduce((sum, { file }) => sum + file.size, 0);
    const text = patternText(pattern);
    const folder = text.includes('/') ? text.slice(0, text.lastIndexOf('/')) : '';
    return {
      key: text,
      name,
      folder,
      frames,
      gaps,
      bytes,
      gapRule: likelyRule(gaps, text),
      files,
      pattern: text,
    };
  });
  return { found, ignored: given.length - found.reduce((sum, f) => sum + f.frames.length, 0) };
}

/** Headers are far shorter than this, unless one contains a manifest of very many objects. */
const headerBytes = 1 << 20;

async function lookAtFile(file: File): Promise<Look> {
  const format = formatByName(file.name);
  if (format === 'exr') {
    const bytes = new Uint8Array(await file.slice(0, headerBytes).arrayBuffer());
    const parts = readParts(bytes);
    const passes = passesOf(parts);
    const { displayWindow } = parts[passes[0].part];
    return {
      width: boxWidth(displayWindow),
      height: boxHeight(displayWindow),
      passes: passes.map((p) => p.label),
    };
  }
  if (format === 'png' || format === 'jpeg') {
    const bitmap = await createImageBitmap(file);
    const { width, height } = bitmap;
    bitmap.close();
    return { width, height, passes: ['picture'] };
  }
  if (format === 'hdr') {
    const head = readHdrHead(new Uint8Array(await file.slice(0, headerBytes).arrayBuffer()));
    return { width: head.width, height: head.height, passes: ['picture'] };
  }
  return { width: 0, height: 0, passes: ['picture'] };
}

/** Looks into the first frame of a sequence. */
export async function lookInto(found: Found): Promise<Look> {
  try {
    if (found.files) return await lookAtFile(found.files.get(found.frames[0])!.file);
    const { width, height, passes } = await request(lookAtFirst, { query: { pattern: found.pattern } });
    return { width, height, passes: passes.map((p) => p.label) };
  } catch (error) {
    return { problem: (error as Error).message };
  }
}

export const megabytes = (bytes: number) =>
  bytes >= 1e9
    ? `${(bytes / 1e9).toFixed(1)} GB`
    : `${Math.max(0.1, bytes / 1e6).toFixed(bytes < 1e7 ? 1 : 0)} MB`;
