import type { FrameSource } from '../../core/evaluate/run';
import type { PassHead } from '../../core/finish/finish';
import { boxHeight, boxWidth } from '../../core/formats/exr/types';
import type { FilePart, Lacking, OpenFile } from '../../core/formats/file-info';
import { type PassPlanes, passPicture } from '../../core/formats/pass-picture';
import { joinedPlanes, planesOf } from '../../core/formats/pass-wire';
import { type DecodedStore, decodedKey } from './decoded-store';
import type { PartReader } from './files/exr';
import { fileStamp, frameFile, type MediaSpecs } from './media';
import { MediaError, openMediaFile, type PassFrame, passesOf, readBytes } from './media-file';
import { metadataOf } from './metadata';
import { insideRoots } from './roots';

type Options = {
  /** Folders that files must be under. */
  roots?: readonly string[];
  /** Called with the file that is being read, and with nothing at its end. */
  reading?: (path?: string) => void;
  /** Where passes are kept that were unpacked once. */
  decoded?: DecodedStore;
  /** Unpacks files with several threads. */
  reader?: PartReader;
};

/** Frames from files. `partOf` gives the part of a file that a pass is in, whose attributes an export keeps. */
export type Files = FrameSource & { partOf(head: PassHead, frame: number): Promise<FilePart | undefined> };

/**
 * Frames from files. Passes that are announced (`ahead`) are read together with the first of them that is loaded, and kept until they are loaded; those
 * that are kept in unpacked form are not read at all.
 */
export function fileSource(
  media: MediaSpecs,
  { roots, reading = () => {}, decoded, reader }: Options = {},
): Files {
  /** State of each media file: the open file, the announced passes, and those that are read and not yet loaded. */
  type Opened = { file?: Promise<OpenFile>; wanted: Set<string>; ready: Map<string, Ready> };
  type Ready = PassPlanes & { lacking?: Lacking };
  const opened = new Map<string, Opened>();
  const openedOf = (name: string, path: string): Opened => {
    const key = `${name}\n${path}`;
    const known = opened.get(key);
    if (known) return known;
    const fresh: Opened = { wanted: new Set(), ready: new Map() };
    opened.set(key, fresh);
    return fresh;
  };
  /** Opens a file once. @throws {MediaError} */
  const fileOf = (name: string, path: string, about: string): Promise<OpenFile> => {
    const one = openedOf(name, path);
    one.file ??= openMediaFile(path, readBytes(path, about, reader !== undefined), about, reader);
    return one.file;
  };
  const keyOf = (name: string, path: string, pass: string) => decodedKey(path, pass, 1, media[name]);
  /** A pass as it was unpacked before. */
  async function keptPass(name: string, path: string, pass: string): Promise<Ready | undefined> {
    const found = decoded && (await keyOf(name, path, pass).then(decoded.get, () => undefined));
    if (found?.info.type !== 'planes') return;
    return { ...found.info, planes: planesOf(found.info, found.bytes) };
  }
  async function keep(frames: ReadonlyMap<string, PassFrame>, keys: string[]) {
    let i = 0;
    for (const { pass, planes, dataWindow, displayWindow, colour, lacking } of frames.values()) {
      const key = keys[i++];
      if (lacking || !decoded || key === undefined) continue;
      const info = { type: 'planes' as const, pass, dataWindow, displayWindow, colour };
      await decoded.put(key, { info, bytes: joinedPlanes(planes) });
    }
  }
  /** Reads passes of a file together: what was only announced, and is not there, is left out. */
  async function readTogether(name: string, path: string, about: string, names: string[], must: string) {
    // Before they are read: what is written over the file meanwhile has other keys.
    const keys = decoded
      ? await Promise.all(names.map((pass) => keyOf(name, path, pass))).catch(() => [])
      : [];
    const file = await fileOf(name, path, about);
    const there = file.info.passes.map((p) => p.name);
    const wanted = names.filter((pass) => pass === must || there.includes(pass));
    const read = await passesOf(file, path, wanted, about, media[name]);
    const keyed = new Map(names.map((pass, i) => [pass, keys[i]]));
    void keep(
      read,
      [...read.keys()].map((pass) => keyed.get(pass)!),
    );
    return read;
  }
  return {
    identity(name, frame) {
      const { path, empty } = frameFile(media, name, frame);
      const { encoding = '', kinds = {} } = media[name];
      return `${fileStamp(path, `Frame ${frame}: `)}:${encoding}:${JSON.stringify(kinds)}:${empty}`;
    },
    async ahead({ media: name, pass }, frame) {
      try {
        openedOf(name, frameFile(media, name, frame).path).wanted.add(pass);
      } catch {
        // Whoever loads it hears of it.
      }
    },
    async load(head, frame) {
      const { path, empty } = frameFile(media, head.media, frame);
      const about = `Frame ${frame}: `;
      const one = openedOf(head.media, path);
      if (roots) insideRoots(path, roots, about);
      if (!one.ready.has(head.pass)) {
        reading(path);
        const lacking: string[] = [];
        for (const pass of new Set([head.pass, ...one.wanted])) {
          const kept = await keptPass(head.media, path, pass);
          if (kept) one.ready.set(pass, kept);
          else lacking.push(pass);
        }
        if (lacking.length > 0)
          for (const [pass, frame] of await readTogether(head.media, path, about, lacking, head.pass))
            one.ready.set(pass, frame);
        reading();
      }
      const read = one.ready.get(head.pass)!;
      one.ready.delete(head.pass);
      one.wanted.delete(head.pass);
      // Half a frame is for looking at, not for finishing.
      if (read.lacking)
        throw new MediaError(`${about}${path}: ${read.lacking.why.message}`, read.lacking.why.code);
      const { displayWindow: d } = read;
      return (workspace) =>
        empty ? workspace.blank(boxWidth(d), boxHeight(d)) : passPicture(workspace, read);
    },
    async metadata(name, frame) {
      const { path } = frameFile(media, name, frame);
      if (roots) insideRoots(path, roots, `Frame ${frame}: `);
      reading(path);
      const file = await fileOf(name, path, `Frame ${frame}: `);
      reading();
      return metadataOf(file.info.parts, path);
    },
    async partOf({ media: name, pass }, frame) {
      const { path } = frameFile(media, name, frame);
      if (roots) insideRoots(path, roots, `Frame ${frame}: `);
      reading(path);
      const { info } = await fileOf(name, path, `Frame ${frame}: `);
      reading();
      const found = info.passes.find((p) => p.name === pass);
      return found && info.parts[found.part];
    },
  };
}
