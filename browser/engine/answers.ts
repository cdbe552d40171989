import type { Facts } from '../../core/advice/advice';
import type { StrandPoint } from '../../core/evaluate/plan';
import type { Finish, Tap } from '../../core/finish/finish';
import type { Kind } from '../../core/picture/kind';
import type { Region } from '../../core/picture/region';
import type { LightHistogram } from '../../core/scopes/light';
import type { MatteLook } from '../../core/scopes/looking';
import type { Scopes } from '../../core/scopes/waveform';

/** What the engine answers with, and what it is asked by. */

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
  /** Of data: the values shown darkest and brightest. */
  range?: readonly [number, number];
};

/** What the viewer compares with: a place of this document or of another version, or a picture that was pinned. */
export type Against = {
  finish: Finish;
  point: StrandPoint;
  frame: number;
  /** Shows the difference, this many times, in place of both. */
  difference?: number;
};

/** What is shown beside the picture itself: another one, or a matte as a tint over it. */
export type Beside = { against?: Against; matte?: Tap; matteLook?: MatteLook };

/** One place on a pixel's way: its value after it, and what the strand carries there. */
export type Stop = { strand: string; step?: string; kind: Kind; rgba: [number, number, number, number] };

/** What the scopes show. */
export type Measured = { scopes: Scopes; light: LightHistogram };

export type Thumbnail = {
  width: number;
  height: number;
  pixels: Uint8ClampedArray<ArrayBuffer>;
  /** Of the light, what a light step added. */
  share?: number;
  /** Of the frame, what a matte covers. */
  covers?: number;
};

/** The small pictures of a finish on a frame, and what was noticed in them. */
export type Noticed = { thumbnails: Record<string, Thumbnail> } & Pick<
  Facts,
  'broken' | 'emptyMattes' | 'byAlpha' | 'beyondAlpha'
>;
