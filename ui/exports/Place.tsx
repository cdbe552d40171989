import { useQuery } from '@tanstack/react-query';
import type { ReactNode } from 'react';
import { lookAtPlace } from '@/api/exports';
import { request } from '@/api/request';
import type { ShotDetail } from '@/api/shots';
import { t } from '../words/words';
import { type FormValues, frameFormat } from './form-values';

type PlaceProps = {
  values: FormValues;
  shot: ShotDetail;
  finish: string;
  version: number;
  children: ReactNode;
};

/** A folder for the frames, where they would go, and what is there. */
export function Place({ values, shot, finish, version, children }: PlaceProps) {
  const { into, name, frames } = values;
  const format = frameFormat(values.format);
  const { data, error } = useQuery({
    queryKey: ['place', into, name, frames, format, shot.id, finish, version],
    queryFn: ({ signal }) =>
      request(
        lookAtPlace,
        { body: { shot: shot.id, ...{ finish, name, format, frames, into, version } } },
        { signal },
      ),
    enabled: into !== '',
    retry: false,
  });
  return (
    <div title={t`With {project}, {shot}, {finish} and {version}; empty for Zafiro’s own store.`}>
      {children}
      {/* Its room is kept, so that nothing below moves while one types. */}
      <p
        className={`mt-1 min-h-8 pl-[88px] text-xs break-all ${error || data?.there ? 'text-warning' : 'text-quiet'}`}
      >
        {into === ''
          ? t`A folder on the server, with {project}, {shot}, {finish} and {version}.`
          : error
            ? error.message
            : data && `${data.path}${data.there ? t`: ${data.there} of ${data.of} frames are there` : ''}`}
      </p>
    </div>
  );
}
