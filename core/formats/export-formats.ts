/** What finished frames are written as, with the words that say what is in the files. */
export const exportFormats = {
  exr: 'EXR — half float, ZIP, premultiplied, linear',
  png16: 'PNG — 16 bit, straight alpha, sRGB',
} as const;
export type ExportFormat = keyof typeof exportFormats;
