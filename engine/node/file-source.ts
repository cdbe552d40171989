import type { FrameSource } from '../../core/evaluate/run';
import { boxHeight, boxWidth } from '../../core/formats/exr/types';
import type { FilePart } from '../../core/formats/file-info';
import { passPicture } from '../../core/formats/pass-picture';
import { fileStamp, frameFile, type MediaSpecs } from './media';
import { MediaError, openMediaFile, readBytes, readPass } from './media-file';
import { metadataOf } from './metadata';
import { insideRoots } from './roots';

/**
 * Frames straight from files, which lie under `roots` where these are given; `parts` keeps what was read last of each media, for what goes on into the output. `reading` hears which file
 * is being read, and when that is over.
 */
export function fileSource(
  media: MediaSpecs,
  roots?: readonly string[],
  reading: (path?: string) => void = () => {},
): FrameSource & { parts: Map<string, FilePart> } {
  const parts = new Map<string, FilePart>();
  return {
    parts,
    identity(name, frame) {
      const { path, empty } = frameFile(media, name, frame);
      const { encoding = '', kinds = {} } = media[name];
      return `${fileStamp(path, `Frame ${frame}: `)}:${encoding}:${JSON.stringify(kinds)}:${empty}`;
    },
    async load(head, frame) {
      const { path, empty } = frameFile(media, head.media, frame);
      const about = `Frame ${frame}: `;
      if (roots) insideRoots(path, roots, about);
      reading(path);
      const read = await readPass(path, head.pass, about, media[head.media]);
      reading();
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
      const about = `Frame ${frame}: `;
      if (roots) insideRoots(path, roots, about);
      reading(path);
      const file = await openMediaFile(path, readBytes(path, about), about);
      reading();
      return metadataOf(file.info.parts, path);
    },
  };
}
