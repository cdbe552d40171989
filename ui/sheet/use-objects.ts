import { keepPreviousData, useQuery } from '@tanstack/react-query';
import type { IdsHead } from '@/core/finish/heads';
import type { ObjectShare } from '@/server/media/reader/answers';
import type { ShotDetail } from '@/server/shots/shots';

/** The objects of an id pass on a frame, by the share they cover. */
export function useObjects(shot: ShotDetail, head: IdsHead, frame: number) {
  const media = shot.media.find((m) => m.name === head.media);
  return useQuery({
    queryKey: ['objects', media?.id, frame, head.pass, head.sort],
    enabled: media !== undefined,
    staleTime: Number.POSITIVE_INFINITY,
    placeholderData: keepPreviousData,
    queryFn: async (): Promise<ObjectShare[]> => {
      const query = new URLSearchParams({ pass: head.pass, sort: head.sort });
      const response = await fetch(`/api/media/${media!.id}/frames/${frame}/objects?${query}`);
      const told = await response.json();
      if (!response.ok) throw new Error(told.error);
      return told;
    },
  });
}
