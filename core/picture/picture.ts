/**
 * A picture: RGBA interleaved, float32, scene-linear, premultiplied; or one plane for mattes and data. Rows run from
 * top to bottom. It is a handle: its pixels lie in the engine's memory at byte `at`, `data` is the view of them. Nobody
 * writes to a picture that came in as an input.
 */
export type Picture = {
  readonly width: number;
  readonly height: number;
  readonly channels: 1 | 4;
  readonly at: number;
  readonly data: Float32Array;
};

export const byteSize = (p: Pick<Picture, 'width' | 'height' | 'channels'>) =>
  p.width * p.height * p.channels * 4;

/** Bytes to take for a picture: kernels on planes work in fours and may touch the rest of the last one. */
export const reservedBytes = (p: Pick<Picture, 'width' | 'height' | 'channels'>) => byteSize(p) + 64;
