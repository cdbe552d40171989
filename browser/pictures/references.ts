import { addressOf } from '../../api/contract';
import { type AddedReference, addReference, type Reference, readReference } from '../../api/references';
import { request } from '../../api/request';
import { decodeSrgb } from '../../core/colour/srgb';
import { lightHistogram } from '../../core/scopes/light';
import { scopesOf } from '../../core/scopes/waveform';
import type { Measured } from '../engine/answers';
import { webpOf } from './webp';

/** Reference pictures in the page: taken in, and their light. Their codes are sRGB. */

const mostSide = 2048;
/** Scopes are measured on a picture no larger than this. */
const measuredSide = 480;

/** Sends a still to the server as a reference of a shot; the same picture is kept once. @throws {Error} in words where a browser does not read it. */
export async function takeReference(shot: number, file: File): Promise<AddedReference> {
  const bitmap = await createImageBitmap(file).catch(() => {
    throw new Error(
      `${file.name} is no still that a browser reads. A reference is PNG, JPEG, WebP or AVIF; frames in other formats are imported.`,
    );
  });
  try {
    const sent = await webpOf(bitmap, mostSide, 0.94);
    const body = { name: file.name, ...sent };
    return await request(addReference, { params: { shot }, body });
  } finally {
    bitmap.close();
  }
}

export const referenceAddress = ({ id }: Pick<Reference, 'id'>): string =>
  addressOf(readReference, { params: { reference: id } });

type Light = { data: Float32Array; width: number; height: number };

/** The light of an image element that has loaded, linear RGBA, no larger than `most` pixels a side. */
export function lightOf(image: HTMLImageElement, most = Number.POSITIVE_INFINITY): Light {
  const scale = Math.min(1, most / Math.max(image.naturalWidth, image.naturalHeight));
  const width = Math.max(1, Math.round(image.naturalWidth * scale));
  const height = Math.max(1, Math.round(image.naturalHeight * scale));
  const g = new OffscreenCanvas(width, height).getContext('2d', { willReadFrequently: true })!;
  g.drawImage(image, 0, 0, width, height);
  const { data: codes } = g.getImageData(0, 0, width, height);
  const data = new Float32Array(codes.length);
  const table = Float32Array.from({ length: 256 }, (_, i) => decodeSrgb(i / 255));
  for (let i = 0; i < codes.length; i += 4) {
    const alpha = codes[i + 3] / 255;
    for (let c = 0; c < 3; c++) data[i + c] = table[codes[i + c]] * alpha;
    data[i + 3] = alpha;
  }
  return { data, width, height };
}

/** The scopes of a reference. */
export function measuredReference(image: HTMLImageElement): Measured {
  const picture = { ...lightOf(image, measuredSide), channels: 4 as const };
  return { scopes: scopesOf(picture as never), light: lightHistogram(picture as never) };
}
