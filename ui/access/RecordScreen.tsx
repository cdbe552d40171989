'use client';
import { useInfiniteQuery } from '@tanstack/react-query';
import { type RecordEntry, readRecord } from '@/api/access';
import { request } from '@/api/request';
import { State } from '../parts/State';
import { when } from '../parts/when';
import { t } from '../words/words';
import { AccessFrame } from './AccessFrame';

/** Who did what, the newest first, for administrators. */
export const RecordScreen = () => (
  <AccessFrame page="/record" isAdmin>
    <Entries />
  </AccessFrame>
);

const told = (subject: RecordEntry['subject']) =>
  Object.entries(subject)
    .map(([key, value]) => `${key} ${value}`)
    .join(' · ');

function Entries() {
  const { data, error, hasNextPage, fetchNextPage, isFetching } = useInfiniteQuery({
    queryKey: ['record'],
    initialPageParam: undefined as number | undefined,
    queryFn: ({ pageParam }) => request(readRecord, { query: { before: pageParam } as never }),
    getNextPageParam: (page) => (page.length === 100 ? page[page.length - 1].id : undefined),
  });
  if (error) return <State is="failed" title={t`The record could not be read`} words={error.message} />;
  if (!data) return <State is="loading" title={t`Reading the record …`} />;
  const entries = data.pages.flat();
  if (entries.length === 0)
    return (
      <State
        is="empty"
        title={t`Nothing was done yet`}
        words={t`Sign-ins, edits, exports and deletions are listed here.`}
      />
    );
  return (
    <>
      <table className="table-sm table mt-2">
        <thead>
          <tr>
            <th scope="col">{t`When`}</th>
            <th scope="col">{t`Who`}</th>
            <th scope="col">{t`What`}</th>
            <th scope="col">{t`Project`}</th>
            <th scope="col">{t`About`}</th>
            <th scope="col">{t`From`}</th>
          </tr>
        </thead>
        <tbody>
          {entries.map((e) => (
            <tr key={e.id}>
              <td className="whitespace-nowrap text-quiet">{when(e.at, true)}</td>
              <td>{e.who}</td>
              <td>{e.did}</td>
              <td>{e.project ?? ''}</td>
              <td className="max-w-72 truncate text-quiet" title={told(e.subject)}>
                {told(e.subject)}
              </td>
              <td className="text-quiet">{e.address}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {hasNextPage && (
        <button
          type="button"
          className="btn btn-sm mt-3"
          disabled={isFetching}
          onClick={() => fetchNextPage()}
        >
          {t`Earlier`}
        </button>
      )}
    </>
  );
}
