import { useEffect, useState } from 'react';
import { useShot } from '@/browser/shot-store';
import { leadingPass } from '@/core/finish/finish';
import type { ObjectAnswer } from '@/server/media/reader/answers';
import type { ShotDetail } from '@/server/shots/shots';
import type { Pointed } from './PictureCanvas';

/** A hand that rests this long wants to know. */
const rest = 90;

/** What the frame's id passes say of the pixel under the cursor; empty where they say nothing. */
export function useObjectUnder(shot: ShotDetail, pointed: Pointed | null): string {
  const frame = useShot((s) => s.frame);
  const name = useShot((s) => leadingPass(s.finish)?.media);
  const [found, setFound] = useState('');
  const media = shot.media.find((m) => m.name === name);
  const knows = media?.passes.some((p) => p.kind === 'id' || p.kind === 'id-matte');
  const [x, y] = pointed ? [pointed.x, pointed.y] : [-1, -1];
  const id = media?.id;
  const inside = x >= 0 && y >= 0 && x < shot.width && y < shot.height;
  useEffect(() => {
    setFound('');
    if (!knows || !inside) return;
    const abort = new AbortController();
    const timer = setTimeout(async () => {
      const address = `/api/media/${id}/frames/${frame}/object?x=${x}&y=${y}`;
      const response = await fetch(address, { signal: abort.signal }).catch(() => null);
      if (!response?.ok) return;
      const told: ObjectAnswer = await response.json();
      setFound(told.name ?? (told.id === null ? '' : `id ${told.id}`));
    }, rest);
    return () => {
      clearTimeout(timer);
      abort.abort();
    };
  }, [knows, inside, id, frame, x, y]);
  return found;
}
