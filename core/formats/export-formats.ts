/** Formats of finished frames, with their labels. */
export const exportFormats = {
  exr: 'EXR — half float, ZIP, premultiplied, linear',
  exr32: 'EXR — 32-bit float, ZIP, premultiplied, linear',
  png16: 'PNG — 16 bit, straight alpha, sRGB',
  png8: 'PNG — 8 bit, dithered, straight alpha, sRGB',
  tiff16: 'TIFF — 16 bit, straight alpha, sRGB',
  tiff32: 'TIFF — 32-bit float, premultiplied, linear',
} as const;
export type ExportFormat = keyof typeof exportFormats;

export const extensions = {
  exr: 'exr',
  exr32: 'exr',
  png16: 'png',
  png8: 'png',
  tiff16: 'tif',
  tiff32: 'tif',
} as const satisfies Record<ExportFormat, string>;
