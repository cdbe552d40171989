type FormatOfFiles = {
  /** As it is called on the screen. */
  name: string;
  /** Ends of names, the usual one first. */
  endings: readonly [string, ...string[]];
  /** RFC 6838. */
  mime: string;
  /** Bytes that such a file begins with. */
  begins: readonly (readonly number[])[];
};

/** The kinds of picture files. What reads them is in `engine/node/files/open.ts`, what writes them in `engine/node/encode.ts`. */
export const fileFormats = {
  exr: { name: 'OpenEXR', endings: ['exr'], mime: 'image/x-exr', begins: [[0x76, 0x2f, 0x31, 0x01]] },
  png: { name: 'PNG', endings: ['png'], mime: 'image/png', begins: [[0x89, 0x50, 0x4e, 0x47]] },
  tiff: {
    name: 'TIFF',
    endings: ['tif', 'tiff'],
    mime: 'image/tiff',
    // In both orders of bytes, with offsets of 32 and of 64 bits.
    begins: [
      [0x49, 0x49, 42, 0],
      [0x4d, 0x4d, 0, 42],
      [0x49, 0x49, 43, 0],
      [0x4d, 0x4d, 0, 43],
    ],
  },
  jpeg: { name: 'JPEG', endings: ['jpg', 'jpeg'], mime: 'image/jpeg', begins: [[0xff, 0xd8, 0xff]] },
  hdr: {
    name: 'Radiance HDR',
    endings: ['hdr', 'pic', 'rgbe'],
    mime: 'image/vnd.radiance',
    // “#?”.
    begins: [[0x23, 0x3f]],
  },
} as const satisfies Record<string, FormatOfFiles>;

export type FileFormat = keyof typeof fileFormats;

const formats = Object.entries(fileFormats) as [FileFormat, FormatOfFiles][];

/** The format that a file's name promises. */
export function formatByName(name: string): FileFormat | undefined {
  const ending = name.slice(name.lastIndexOf('.') + 1).toLowerCase();
  return name.includes('.') ? formats.find(([, { endings }]) => endings.includes(ending))?.[0] : undefined;
}

/** The format that a file has, by its first bytes. */
export function formatByBytes(bytes: Uint8Array): FileFormat | undefined {
  const fits = (first: readonly number[]) => first.every((byte, i) => bytes[i] === byte);
  return formats.find(([, { begins }]) => begins.some(fits))?.[0];
}

/** Files that may be pictures, by the ends of their names. */
export const isPictureName = (name: string): boolean => formatByName(name) !== undefined;
