import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { listObjects } from '@/api/media';
import { request } from '@/api/request';
import type { ShotDetail } from '@/api/shots';
import type { IdsHead } from '@/core/finish/heads';

/** The objects of an id pass on a frame, by the share they cover. */
export function useObjects(shot: ShotDetail, head: IdsHead, frame: number) {
  const media = shot.media.find((m) => m.name === head.media);
  // A frame that is rendered anew may show others.
  const content = media?.frames.find((f) => f.frame === (media.still ? media.first : frame))?.content;
  return useQuery({
    queryKey: ['objects', media?.id, frame, content, head.pass, head.idFormat],
    enabled: media !== undefined,
    staleTime: Number.POSITIVE_INFINITY,
    placeholderData: keepPreviousData,
    queryFn: ({ signal }) =>
      request(
        listObjects,
        { params: { media: media!.id, frame }, query: { pass: head.pass, idFormat: head.idFormat, content } },
        { signal },
      ),
  });
}
