/** The parts of an OpenEXR file, in the terms of "Technical Introduction to OpenEXR" and "OpenEXR File Layout". */

export type PixelType = 'uint' | 'half' | 'float';
export const pixelTypes: readonly PixelType[] = ['uint', 'half', 'float'];
export const bytesPerSample = { uint: 4, half: 2, float: 4 } as const;

export type Channel = {
  name: string;
  type: PixelType;
  linear: boolean;
  xSampling: number;
  ySampling: number;
};

/** Inclusive corners, in pixels; y points down. */
export type Box = { xMin: number; yMin: number; xMax: number; yMax: number };

export const compressions = [
  'none',
  'rle',
  'zips',
  'zip',
  'piz',
  'pxr24',
  'b44',
  'b44a',
  'dwaa',
  'dwab',
] as const;
export type Compression = (typeof compressions)[number];

/** An attribute value by its type name; types without a reader here keep their bytes. */
export type Attribute =
  | { type: 'string'; value: string }
  | { type: 'stringvector'; value: string[] }
  | { type: 'int' | 'float' | 'double'; value: number }
  | { type: 'v2i' | 'v2f' | 'v3i' | 'v3f' | 'm33f' | 'm44f' | 'chromaticities' | 'rational'; value: number[] }
  | { type: 'box2i'; value: Box }
  | { type: 'box2f'; value: number[] }
  | { type: 'timecode' | 'keycode'; value: number[] }
  | { type: 'opaque'; of: string; value: Uint8Array };

export type Attributes = Record<string, Attribute>;

export type Header = {
  channels: Channel[];
  compression: Compression;
  dataWindow: Box;
  displayWindow: Box;
  lineOrder: 'increasing' | 'decreasing' | 'random';
  pixelAspectRatio: number;
  screenWindowCenter: [number, number];
  screenWindowWidth: number;
  /** Everything that is not one of the fields above. */
  attributes: Attributes;
};

/** How a tiled part is cut; mip and rip maps hold smaller levels too, of which only level 0 is read. */
export type Tiles = { xSize: number; ySize: number; levels: 'one' | 'mip' | 'rip'; roundsUp: boolean };

/** A flat picture of a file, and where its chunks are listed. A file of one part gives it no name. */
export type Part = Header & {
  name: string;
  tiles?: Tiles;
  /** Number in the file, as its chunks repeat it; undefined where the file has one part. */
  number?: number;
  /** Bytes of the file where the table of this part's chunks begins, its entries, and where the first chunk may begin. */
  tableAt: number;
  tableLength: number;
  chunksAt: number;
};

/** Samples of one channel over the data window, row by row, in the type the file holds: half as its bits. */
export type Samples = Uint16Array | Float32Array | Uint32Array;

export const boxWidth = (b: Box) => b.xMax - b.xMin + 1;
export const boxHeight = (b: Box) => b.yMax - b.yMin + 1;

/** Deflate from the host: node:zlib on the server, fflate in the browser. `inflate` gives at most `limit` bytes. */
export type Zlib = {
  inflate(bytes: Uint8Array, limit: number): Uint8Array;
  deflate(bytes: Uint8Array): Uint8Array;
  /**
   * Undoes prediction and the parting of even and odd bytes, where the host does it faster than the core: the result holds until
   * the next call.
   */
  unpredict?(bytes: Uint8Array): Uint8Array;
  /** Its inverse, likewise. */
  predict?(bytes: Uint8Array): Uint8Array;
};
