'use client';

import { QueryClient, QueryClientProvider, useQuery, useQueryClient } from '@tanstack/react-query';
import { ArrowLeft, ChevronLeft, ChevronRight, Plus } from 'lucide-react';
import Link from 'next/link';
import { useState } from 'react';
import { addressOf } from '@/api/contract';
import { changeMedia, type MediaDetail, readContents, readContentsPicture } from '@/api/media';
import { request } from '@/api/request';
import type { ShotDetail } from '@/api/shots';
import type { PassKind } from '@/core/formats/pass-kinds';
import { AppHeader } from '../parts/AppHeader';
import { IconButton } from '../parts/IconButton';
import { State } from '../parts/State';
import { useKey } from '../parts/use-key';
import { t } from '../words/words';
import { PassCard } from './PassCard';
import { PassLarge } from './PassLarge';
import { PassWait } from './PassWait';
import type { PassSummary } from './pass-summary';

/** Every pass of a shot's media at a glance: what is in it, and what it can be used for. */
export function PassesScreen({ shot, finish }: { shot: ShotDetail; finish?: number }) {
  const [client] = useState(() => new QueryClient({ defaultOptions: { queries: { retry: false } } }));
  return (
    <QueryClientProvider client={client}>
      <Overview shot={shot} back={addressOfShot(shot.id, finish)} />
    </QueryClientProvider>
  );
}

/** The shot's screen, with the finish that one came from. */
const addressOfShot = (shot: number, finish?: number) =>
  `/shots/${shot}${finish === undefined ? '' : `?finish=${finish}`}`;

function Overview({ shot, back }: { shot: ShotDetail; back: string }) {
  const [frame, setFrame] = useState(
    shot.media[0]?.frames.find((f) => f.state !== 'failed')?.frame ?? shot.first,
  );
  useKey('left', () => setFrame((f) => Math.max(shot.first, f - 1)));
  useKey('right', () => setFrame((f) => Math.min(shot.last, f + 1)));
  return (
    <main className="grid h-dvh grid-rows-[auto_minmax(0,1fr)]">
      <AppHeader
        title={t`Passes of ${shot.name}, ${shot.project}`}
        place={
          <nav className="flex min-w-0 items-center gap-2 text-sm text-quiet" aria-label={t`Location`}>
            <span className="truncate">{shot.project}</span> <span aria-hidden="true">›</span>
            <span className="truncate">{shot.name}</span> <span aria-hidden="true">›</span>
            <span className="text-base-content">{t`Passes`}</span>
          </nav>
        }
      >
        <IconButton
          icon={ChevronLeft}
          label={t`Previous frame`}
          keys="←"
          disabled={frame <= shot.first}
          onClick={() => setFrame(frame - 1)}
        />
        <span className="w-24 text-center text-sm">{t`Frame ${frame}`}</span>
        <IconButton
          icon={ChevronRight}
          label={t`Next frame`}
          keys="→"
          disabled={frame >= shot.last}
          onClick={() => setFrame(frame + 1)}
        />
        {!shot.looksOnly && (
          <Link href={`/import?shot=${shot.id}`} className="btn btn-ghost btn-sm ml-2">
            <Plus size={15} aria-hidden="true" /> {t`More frames …`}
          </Link>
        )}
        <Link href={back} className="btn btn-ghost btn-sm">
          <ArrowLeft size={15} /> {t`Back to the shot`}
        </Link>
      </AppHeader>
      <div className="min-h-0 overflow-auto px-5 pb-8">
        {shot.media.map((m) => (
          <MediaPasses key={m.id} shot={shot} media={m} frame={frame} />
        ))}
      </div>
    </main>
  );
}

function MediaPasses({ shot, media, frame }: { shot: ShotDetail; media: MediaDetail; frame: number }) {
  const [large, setLarge] = useState<number | null>(null);
  const [problem, setProblem] = useState('');
  const [began] = useState(() => Date.now());
  // A still is the same on every frame.
  const at = media.still ? media.first : frame;
  const client = useQueryClient();
  const queryKey = ['contents', media.id, at];
  const { data, error, isFetching, refetch } = useQuery({
    queryKey,
    queryFn: async ({ signal }): Promise<{ passes: PassSummary[]; stamp: string }> => ({
      passes: await request(readContents, { params: { media: media.id, frame: at } }, { signal }),
      stamp: String(Date.now()),
    }),
    staleTime: Number.POSITIVE_INFINITY,
  });
  const setKind = async (name: string, kind: PassKind) => {
    const kinds = Object.fromEntries((data?.passes ?? []).map(({ pass }) => [pass.name, pass.kind]));
    const body = { kinds: { ...kinds, [name]: kind } };
    try {
      await request(changeMedia, { params: { media: media.id }, body });
    } catch (error) {
      setProblem((error as Error).message);
    }
    await refetch();
  };
  const pictureOf = (i: number) =>
    addressOf(readContentsPicture, {
      params: { media: media.id, frame: at, pass: i },
      query: { stamp: data?.stamp },
    });
  return (
    <section className="pt-5" aria-label={t`Passes of ${media.name}`}>
      <h2 className="mb-3 flex items-baseline gap-3 text-base font-semibold">
        {media.name}
        <span className="text-xs font-normal text-quiet">{data && t`${data.passes.length} passes`}</span>
        {isFetching && (
          <span className="flex items-center gap-3 text-xs font-normal text-quiet" role="status">
            {t`reading ${media.passes.length} passes of frame ${at}`}
            <progress className="progress progress-primary w-28" />
            <button
              type="button"
              className="btn btn-ghost btn-xs"
              onClick={() => client.cancelQueries({ queryKey })}
            >
              {t`Stop`}
            </button>
          </span>
        )}
        {!isFetching && !data && !error && (
          <button type="button" className="btn btn-xs" onClick={() => refetch()}>
            {t`Read the passes`}
          </button>
        )}
      </h2>
      {error && (
        <State is="failed" title={t`The passes could not be read`} words={error.message}>
          <button type="button" className="btn btn-sm btn-primary" onClick={() => refetch()}>
            {t`Try again`}
          </button>
        </State>
      )}
      {problem && (
        <p role="alert" className="text-sm text-warning">
          {problem}
        </p>
      )}
      <ul className="grid grid-cols-[repeat(auto-fill,minmax(17.5rem,1fr))] gap-4">
        {!data &&
          !error &&
          isFetching &&
          media.passes.map((pass, i) => (
            <li key={pass.name}>
              <PassWait
                pass={pass}
                pictureAt={(attempt) =>
                  addressOf(readContentsPicture, {
                    params: { media: media.id, frame: at, pass: i },
                    query: { stamp: `${began}-${attempt}`, soon: '1' },
                  })
                }
              />
            </li>
          ))}
        {data?.passes.map((summary, i) => (
          <li key={summary.pass.name}>
            <PassCard
              summary={summary}
              picture={pictureOf(i)}
              start={`/shots/${shot.id}?strand=${encodeURIComponent(`${media.name}/${summary.pass.name}`)}`}
              onKind={(kind) => setKind(summary.pass.name, kind)}
              onLarge={() => setLarge(i)}
            />
          </li>
        ))}
      </ul>
      {data && large !== null && (
        <PassLarge
          summary={data.passes[large]}
          picture={pictureOf(large)}
          media={media.id}
          frame={at}
          onClose={() => setLarge(null)}
        />
      )}
    </section>
  );
}
