/**
 * A picture: RGBA interleaved, float32, scene-linear, premultiplied; or one plane for mattes and data.
 * Rows run from top to bottom. Nobody writes to a picture that came in as an input.
 */
export type Picture = {
  readonly width: number;
  readonly height: number;
  readonly channels: 1 | 4;
  readonly data: Float32Array;
};

/** A fresh picture of zeros (transparent black, or an empty matte). */
export function blank(width: number, height: number, channels: 1 | 4 = 4): Picture {
  return { width, height, channels, data: new Float32Array(width * height * channels) };
}

export const byteSize = (p: Picture) => p.data.byteLength;
