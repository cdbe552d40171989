import { useEffect, useRef } from 'react';
import type { Thumbnail } from '@/browser/engine/answers';

/** A small picture from the engine; an even grey until there is one. */
export function PixelCanvas({ picture, className }: { picture: Thumbnail | undefined; className: string }) {
  const ref = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const canvas = ref.current;
    if (!canvas || !picture) return;
    canvas.width = picture.width;
    canvas.height = picture.height;
    canvas.getContext('2d')!.putImageData(new ImageData(picture.pixels, picture.width, picture.height), 0, 0);
  }, [picture]);
  return <canvas ref={ref} className={`bg-neutral object-cover ${className}`} />;
}
