'use client';

import { useEffect, useRef, useState } from 'react';
import { type Mirrored, watchViewer } from '@/browser/workspace/mirror';
import { t } from '../words/words';
import { paint } from './paint';
import { usePictureZoom } from './use-picture-zoom';

type Got = { picture: ImageBitmap; other?: ImageBitmap; mirrored: Mirrored };
type Props = { finish: number; name: string; full: { width: number; height: number } };

/** The picture of a shot that is open in another window of this browser, at its own zoom; keys go to that window. */
export function ViewerWindow({ finish, name, full }: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const { box, view, fitIn, fullSize } = usePictureZoom(canvas, full);
  const [got, setGot] = useState<Got>();
  const [isGone, setGone] = useState(false);
  useEffect(() => {
    document.title = `${name} · Viewer`;
    const watching = watchViewer(
      finish,
      (picture, other, mirrored) => {
        setGone(false);
        setGot((before) => {
          before?.picture.close();
          before?.other?.close();
          return { picture, other, mirrored };
        });
      },
      () => setGone(true),
    );
    const key = (e: KeyboardEvent) => {
      // Zoom is the window's own; all else is the shot's.
      if (e.key === 'f') fitIn();
      else if (e.key === '1') fullSize();
      else if (e.key === 'F11' || e.key === 'F5' || (e.ctrlKey && !'zyZYcv'.includes(e.key))) return;
      else watching.key(e);
      e.preventDefault();
    };
    window.addEventListener('keydown', key);
    return () => {
      window.removeEventListener('keydown', key);
      watching.end();
    };
  }, [finish, name, fitIn, fullSize]);
  useEffect(() => {
    if (!got) return;
    const { picture, other, mirrored } = got;
    const { compare, flipped, shownRegion: region, moving } = mirrored;
    const how = { compare, flipped, region, view, box, full, dense: window.devicePixelRatio, moving };
    paint(canvas.current!.getContext('2d')!, { ...mirrored, picture, other }, how);
    canvas.current!.dataset.frame = String(mirrored.frame);
  }, [got, view, box, full]);
  return (
    <main className="relative h-dvh overflow-clip bg-[#161616]" aria-label={t`Viewer of ${name}`}>
      <canvas
        ref={canvas}
        data-testid="viewer-window"
        className="absolute inset-0 h-full w-full touch-none"
        role="img"
        aria-label={t`The picture`}
        onDoubleClick={fitIn}
      />
      <p className="absolute right-3 bottom-2 text-xs text-quiet tabular-nums" role="status">
        {isGone
          ? t`The shot was left. Open it again and its picture comes back.`
          : got
            ? t`Frame ${String(got.mirrored.frame).padStart(4, '0')}${got.mirrored.scale < 1 ? t` · draft` : ''}`
            : t`Waiting for the window in which the shot is open …`}
      </p>
    </main>
  );
}
