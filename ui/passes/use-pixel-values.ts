import { useQuery } from '@tanstack/react-query';
import { readObject, readPass } from '@/api/media';
import { request, requestBytes } from '@/api/request';
import { boxWidth } from '@/core/formats/exr/types';
import { type PassInfo, planesOf } from '@/core/formats/pass-wire';
import type { Pass } from '@/core/formats/passes';
import { floatsOf } from '@/core/formats/samples';

export type At = { x: number; y: number };

/** The numbers of a pass under a hand, channel by channel, as the file has them; undefined while nothing is there. */
export function usePixelValues(
  media: number,
  frame: number,
  pass: Pass,
  at: At | undefined,
): number[] | undefined {
  const { data } = useQuery({
    queryKey: ['samples', media, frame, pass.name],
    queryFn: async ({ signal }) => {
      const answer = await requestBytes(
        readPass,
        { params: { media, frame }, query: { name: pass.name } },
        { signal },
      );
      const info: PassInfo = JSON.parse(decodeURIComponent(answer.headers.get('x-zafiro-pass')!));
      if (info.type !== 'planes') return undefined;
      return { info, planes: planesOf(info, new Uint8Array(await answer.arrayBuffer())) };
    },
    staleTime: Number.POSITIVE_INFINITY,
    // Whole passes are large: the one that is looked at is enough.
    gcTime: 0,
  });
  if (!data || !at) return undefined;
  const { dataWindow: d, displayWindow: w } = data.info;
  const [x, y] = [at.x + w.xMin - d.xMin, at.y + w.yMin - d.yMin];
  if (x < 0 || y < 0 || x > d.xMax - d.xMin || y > d.yMax - d.yMin) return undefined;
  const i = y * boxWidth(d) + x;
  return data.planes.map(
    (plane, c) => floatsOf(plane.subarray(i, i + 1) as typeof plane, data.info.pass.types[c])[0],
  );
}

/** The name of the object of an id pass under a hand. */
export function useObjectName(
  media: number,
  frame: number,
  pass: Pass,
  at: At | undefined,
): string | undefined {
  const isId = pass.kind === 'id' || pass.kind === 'id-matte';
  const { data } = useQuery({
    queryKey: ['object', media, frame, pass.name, at?.x, at?.y],
    queryFn: ({ signal }) =>
      request(
        readObject,
        {
          params: { media, frame },
          query: {
            x: at!.x,
            y: at!.y,
            pass: pass.kind === 'id-matte' ? pass.name.replace(/\d\d$/, '') : pass.name,
            idFormat: pass.kind === 'id-matte' ? 'ranked' : pass.channels.length >= 3 ? 'colour' : 'number',
          },
        },
        { signal },
      ),
    enabled: isId && at !== undefined,
    staleTime: Number.POSITIVE_INFINITY,
  });
  if (!isId || !data) return undefined;
  return data.name ?? (data.id === null ? undefined : `id ${data.id}`);
}
