import type { FrameSource } from '../../core/evaluate/run';
import { boxHeight, boxWidth } from '../../core/formats/exr/types';
import type { FilePart, OpenFile } from '../../core/formats/file-info';
import { passPicture } from '../../core/formats/pass-picture';
import { fileStamp, frameFile, type MediaSpecs } from './media';
import { MediaError, openMediaFile, type PassFrame, passesOf, readBytes } from './media-file';
import { metadataOf } from './metadata';
import { insideRoots } from './roots';

/**
 * Frames from files, which must be under `roots` if these are given. `parts` keeps the file part of each media that was read last, whose attributes
 * an export keeps. `reading` is called with the file that is being read, and with nothing at its end. Passes that are announced (`ahead`)
 * are read together with the first of them that is loaded, and kept until they are loaded.
 */
export function fileSource(
  media: MediaSpecs,
  roots?: readonly string[],
  reading: (path?: string) => void = () => {},
): FrameSource & { parts: Map<string, FilePart> } {
  const parts = new Map<string, FilePart>();
  /** State of each media file: the open file, the announced passes, and those that are read and not yet loaded. */
  type Opened = { file?: Promise<OpenFile>; wanted: Set<string>; ready: Map<string, PassFrame> };
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
    if (roots) insideRoots(path, roots, about);
    one.file ??= openMediaFile(path, readBytes(path, about), about);
    return one.file;
  };
  return {
    parts,
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
      if (!one.ready.has(head.pass)) {
        reading(path);
        const file = await fileOf(head.media, path, about);
        const there = file.info.passes.map((p) => p.name).filter((name) => one.wanted.has(name));
        const names = [...new Set([head.pass, ...there])];
        one.ready = await passesOf(file, path, names, about, media[head.media]);
        reading();
      }
      const read = one.ready.get(head.pass)!;
      one.ready.delete(head.pass);
      one.wanted.delete(head.pass);
      // Half a frame is for looking at, not for finishing.
      if (read.lacking)
        throw new MediaError(`${about}${path}: ${read.lacking.why.message}`, read.lacking.why.code);
      parts.set(head.media, read.part);
      const { displayWindow: d } = read;
      return (workspace) =>
        empty ? workspace.blank(boxWidth(d), boxHeight(d)) : passPicture(workspace, read);
    },
    async metadata(name, frame) {
      const { path } = frameFile(media, name, frame);
      reading(path);
      const file = await fileOf(name, path, `Frame ${frame}: `);
      reading();
      return metadataOf(file.info.parts, path);
    },
  };
}
