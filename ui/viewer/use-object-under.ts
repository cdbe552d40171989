import { useEffect, useState } from 'react';
import { readObject } from '@/api/media';
import { request } from '@/api/request';
import type { ShotDetail } from '@/api/shots';
import { useShot } from '@/browser/session/store';
import { leadingPass } from '@/core/finish/finish';
import type { IdsHead } from '@/core/finish/heads';
import type { Pointed } from './PictureCanvas';

/** A hand that is still for so long wants to know. */
const rest = 4;

/** The name of the object at a pixel: by an ids head's pass, or by those of a media. */
async function ask(
  media: number,
  ids: IdsHead | undefined,
  { x, y }: Pointed,
  frame: number,
  signal?: AbortSignal,
): Promise<string> {
  try {
    const query = { x, y, ...(ids ? { pass: ids.pass, idFormat: ids.idFormat } : {}) };
    const { name, id } = await request(readObject, { params: { media, frame }, query }, { signal });
    return name ?? (id === null ? '' : `id ${id}`);
  } catch {
    return '';
  }
}

/** The object of an ids head's pass at a pixel; empty where there is none. */
export async function objectUnder(
  shot: ShotDetail,
  ids: IdsHead | undefined,
  at: Pointed,
  frame: number,
): Promise<string> {
  const media = shot.media.find((m) => m.name === ids?.media);
  return media ? ask(media.id, ids, at, frame) : '';
}

/** Name of the object under the cursor, by the frame's id passes or that of the chosen matte; empty if there is none. */
export function useObjectUnder(shot: ShotDetail, pointed: Pointed | null, ids: IdsHead | undefined): string {
  const frame = useShot((s) => s.frame);
  const leading = useShot((s) => leadingPass(s.finish)?.media);
  const [found, setFound] = useState('');
  const media = shot.media.find((m) => m.name === (ids?.media ?? leading));
  const knows = ids !== undefined || media?.passes.some((p) => p.kind === 'id' || p.kind === 'id-matte');
  const [x, y] = pointed ? [pointed.x, pointed.y] : [-1, -1];
  const id = media?.id;
  const inside = x >= 0 && y >= 0 && x < shot.width && y < shot.height;
  useEffect(() => {
    setFound('');
    if (!knows || !inside || id === undefined) return;
    const abort = new AbortController();
    const timer = setTimeout(async () => {
      const name = await ask(id, ids, { x, y }, frame, abort.signal);
      if (!abort.signal.aborted) setFound(name);
    }, rest);
    return () => {
      clearTimeout(timer);
      abort.abort();
    };
  }, [knows, inside, id, ids, frame, x, y]);
  return found;
}
