import type { Attributes, Box } from './exr/types';
import type { FileError } from './file-error';
import type { FileFormat } from './file-formats';
import type { Colour } from './pass-picture';
import type { Pass } from './passes';
import type { Plane, SampleType } from './samples';

/** A flat picture in a file. A file that knows no parts has one without a name. */
export type FilePart = {
  name: string;
  /** `scanline` or `tiled`. */
  type: string;
  dataWindow: Box;
  displayWindow: Box;
  pixelAspectRatio: number;
  lineOrder: string;
  compression: string;
  channels: { name: string; type: SampleType; xSampling: number; ySampling: number }[];
  attributes: Attributes;
};

/** Contents of a file without its pixels. */
export type FileInfo = { format: FileFormat; parts: FilePart[]; passes: Pass[] };

/** Rows or chunks that a file lacks; zero in the planes. */
export type Lacking = { share: number; why: FileError };

/** A file whose header was read; pixels are read as they are asked for. */
export type OpenFile = {
  info: FileInfo;
  /** How its numbers encode light, unless the media sets it. */
  colourOf(pass: Pass): Colour;
  /** Samples of channels of a part as the file has them; subsampled channels have fewer than one a pixel. */
  read(part: number, channels: readonly string[]): Promise<{ planes: Map<string, Plane>; lacking?: Lacking }>;
};
