import { luminance } from '../colour/luminance';
import { blank, type Picture } from '../picture/picture';

export type MatteFrom = 'alpha' | 'luminance';

/** A matte from a picture: its alpha or its luminance, held to 0…1; what is not finite counts as 0. */
export function matteOf(picture: Picture, from: MatteFrom): Picture {
  const matte = blank(picture.width, picture.height, 1);
  const { data, channels } = picture;
  for (let i = 0, p = 0; i < matte.data.length; i++, p += channels) {
    let v: number;
    if (channels === 1) v = data[p];
    else v = from === 'alpha' ? data[p + 3] : luminance(data[p], data[p + 1], data[p + 2]);
    matte.data[i] = v > 0 ? Math.min(v, 1) : 0;
  }
  return matte;
}
