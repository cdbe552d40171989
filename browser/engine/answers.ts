import type { Facts } from '../../core/advice/advice';
import type { StrandPoint } from '../../core/evaluate/plan/node';
import type { Finish, Tap } from '../../core/finish/finish';
import type { Kind } from '../../core/picture/kind';
import type { Region } from '../../core/picture/region';
import type { LightHistogram } from '../../core/scopes/light';
import type { MatteLook } from '../../core/scopes/looking';
import type { Scopes } from '../../core/scopes/waveform';

/** Requests and answers of the engine. */

export type Shown = {
  width: number;
  height: number;
  /** Linear RGBA. */
  data: Float32Array;
  /** sRGB for the canvas. */
  pixels: Uint8ClampedArray<ArrayBuffer>;
  /** The other picture of a comparison, as large. */
  other?: Uint8ClampedArray<ArrayBuffer>;
  /** The frame that this is of. */
  frame: number;
  millis: number;
  scale: number;
  /** The part of the draft that this is, if not all of it. */
  region?: Region;
  /** For data: the values shown as black and white. */
  range?: readonly [number, number];
};

/** Comparison picture of the viewer: a point of this document or of another version, or a pinned picture. */
export type Against = {
  finish: Finish;
  point: StrandPoint;
  frame: number;
  /** It stays on its frame while others are looked at. */
  pinned: boolean;
  /** Shows the difference, this many times, in place of both. */
  difference?: number;
};

/** Shown besides the picture: another picture, or a matte as a tint over it. */
export type Beside = { against?: Against; matte?: Tap; matteLook?: MatteLook };

/** One place on a pixel's way: its value after it, and what the strand carries there. */
export type Stop = { strand: string; step?: string; kind: Kind; rgba: [number, number, number, number] };

/** Data of the scopes. */
export type Measured = { scopes: Scopes; light: LightHistogram };

export type Thumbnail = {
  width: number;
  height: number;
  pixels: Uint8ClampedArray<ArrayBuffer>;
  /** Share of the light that a light step added. */
  share?: number;
  /** Share of the frame that a matte covers. */
  covers?: number;
};

/** The picture of a frame, ready for the screen. */
export type FramePicture = Pick<
  Shown,
  'frame' | 'width' | 'height' | 'scale' | 'region' | 'range' | 'millis'
> & {
  bitmap: ImageBitmap;
  /** The other picture of a comparison, as large. */
  second?: ImageBitmap;
  thumbnail?: Thumbnail;
};

/** The small pictures of a finish on a frame, and what was noticed in them. */
export type Noticed = { thumbnails: Record<string, Thumbnail> } & Pick<
  Facts,
  'broken' | 'negative' | 'emptyMattes' | 'byAlpha' | 'beyondAlpha'
>;
