import { useEffect, useState } from 'react';
import { referenceAddress } from '@/browser/pictures/references';
import type { Painting } from '@/browser/workspace/mirror';
import type { Size } from '@/core/picture/region';

/** The number of the reference picture that a comparison names, if it names one. */
export const referenceIn = (what: string): number | undefined =>
  what.startsWith('reference:') ? Number(what.slice('reference:'.length)) : undefined;

/** The reference picture of a comparison, once it is there. */
export function useReferenceImage(what: string): ImageBitmap | undefined {
  const id = referenceIn(what);
  const [loaded, setLoaded] = useState<{ id: number; image: ImageBitmap }>();
  useEffect(() => {
    if (id === undefined) return;
    let current = true;
    fetch(referenceAddress({ id }))
      .then((answer) => (answer.ok ? answer.blob() : undefined))
      .then((blob) => blob && createImageBitmap(blob))
      .then((image) => current && image && setLoaded({ id, image }))
      // One that was removed meanwhile is compared with no more.
      .catch(() => undefined);
    return () => {
      current = false;
    };
  }, [id]);
  return loaded && loaded.id === id ? loaded.image : undefined;
}

/** A still as the other picture of a comparison: whole, as large as fits into the frame, and of it the part that is shown. */
export function beside(
  image: ImageBitmap,
  { width, height, region }: Pick<Painting, 'width' | 'height' | 'region'>,
  full: Size,
): HTMLCanvasElement {
  const canvas = document.createElement('canvas');
  [canvas.width, canvas.height] = [width, height];
  const g = canvas.getContext('2d')!;
  const { x, y, of } = region ?? { x: 0, y: 0, of: { width, height } };
  // In pixels of the full frame, which is drawn as large as `of`.
  const k = Math.min(full.width / image.width, full.height / image.height);
  const [w, h] = [image.width * k, image.height * k];
  const [sx, sy] = [of.width / full.width, of.height / full.height];
  g.imageSmoothingQuality = 'high';
  g.drawImage(image, ((full.width - w) / 2) * sx - x, ((full.height - h) / 2) * sy - y, w * sx, h * sy);
  return canvas;
}
