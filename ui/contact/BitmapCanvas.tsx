import { useEffect, useRef, useState } from 'react';
import type { Made } from '@/browser/contact/use-pictures';

/** A picture of a sheet, as wide as there is room; its problem, or an empty place of its shape while it is made. */
export function BitmapCanvas({ made, ratio }: { made: Made | undefined; ratio: number }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const bitmap = made && 'bitmap' in made ? made.bitmap : undefined;
  /** The last picture stays until the next is there. */
  const [drawn, setDrawn] = useState(false);
  useEffect(() => {
    if (!canvas.current || !bitmap || bitmap.width === 0) return;
    canvas.current.width = bitmap.width;
    canvas.current.height = bitmap.height;
    canvas.current.getContext('2d')!.drawImage(bitmap, 0, 0);
    setDrawn(true);
  }, [bitmap]);
  return (
    <span
      className="relative block w-full overflow-hidden bg-neutral text-xs"
      style={{ aspectRatio: String(1 / ratio) }}
      data-ready={bitmap !== undefined}
    >
      <canvas
        ref={canvas}
        className={`h-full w-full ${drawn ? '' : 'hidden'} ${bitmap ? '' : 'opacity-50'}`}
      />
      {made && 'problem' in made && (
        <span role="alert" className="absolute inset-0 grid place-content-center p-3 text-center text-error">
          {made.problem}
        </span>
      )}
      {!made && !drawn && <span className="absolute inset-0 grid place-content-center text-quiet">…</span>}
    </span>
  );
}
