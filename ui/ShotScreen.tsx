'use client';

import { QueryClient, QueryClientProvider, useQuery } from '@tanstack/react-query';
import { useEffect, useMemo, useRef, useState } from 'react';
import { Toaster } from 'sonner';
import { type Autosave, startAutosave } from '@/browser/autosave';
import type { MediaEntry, MediaIndex } from '@/browser/pass-source';
import { recallUndo, rememberUndo } from '@/browser/remembered-undo';
import { createShotStore, ShotContext, type ShotStore, useShot } from '@/browser/shot-store';
import { EngineContext, useStartedEngine } from '@/browser/use-engine';
import { useSavedVersions, VersionsContext } from '@/browser/versions';
import { addStrand } from '@/core/finish/edits';
import { strandKind } from '@/core/formats/passes';
import type { SavedFinish } from '@/server/shots/finishes';
import type { ShotDetail } from '@/server/shots/shots';
import { Board } from './board/Board';
import { ExportPanel } from './exports/ExportPanel';
import { KeyHelp } from './help/KeyHelp';
import { HistoryPanel } from './history/HistoryPanel';
import { Ribbon } from './ribbon/Ribbon';
import { Sheet } from './sheet/Sheet';
import { useShotKeys } from './shot-keys';
import { TopBar } from './TopBar';
import { Viewer } from './viewer/Viewer';

/** The screen in which a shot is finished. */
export function ShotScreen({ shot, saved }: { shot: ShotDetail; saved: SavedFinish }) {
  const [client] = useState(() => new QueryClient());
  const [store] = useState(() =>
    createShotStore(saved.document, shot.first, { width: shot.width, height: shot.height }),
  );
  return (
    <QueryClientProvider client={client}>
      <ShotContext.Provider value={store}>
        <Panels initial={shot} saved={saved} store={store} />
      </ShotContext.Provider>
    </QueryClientProvider>
  );
}

/** The shot, asked for again as long as frames are arriving. */
function useArriving(initial: ShotDetail): ShotDetail {
  const arriving = (shot: ShotDetail) =>
    shot.media.some((m) => m.frames.filter((f) => f.state === 'ready').length < m.last - m.first + 1);
  const { data } = useQuery({
    queryKey: ['shot', initial.id],
    queryFn: async (): Promise<ShotDetail> => {
      const response = await fetch(`/api/shots/${initial.id}`);
      if (!response.ok) throw new Error('The server does not answer.');
      return response.json();
    },
    initialData: initial,
    // A second, and longer where there is much to tell.
    refetchInterval: ({ state }) =>
      state.data && arriving(state.data)
        ? 1000 + state.data.media.reduce((n, m) => n + m.frames.length, 0)
        : false,
  });
  return data;
}

/** What the engine needs to know of the shot's frames; the same object until one arrives or changes. */
function useMediaIndex(shot: ShotDetail): MediaIndex {
  const key = JSON.stringify(
    shot.media.map((m) => [
      m.name,
      { id: m.id, gaps: m.gaps, read: JSON.stringify([m.encoding, m.kinds]) },
      m.frames.map((f) => [f.frame, f.content]),
    ]),
  );
  return useMemo(() => {
    const media = JSON.parse(key) as [string, Omit<MediaEntry, 'contents'>, [number, string][]][];
    return Object.fromEntries(
      media.map(([name, entry, frames]) => [name, { ...entry, contents: Object.fromEntries(frames) }]),
    );
  }, [key]);
}

/** The address may ask for a strand (`?strand=media/pass`), as the overview of passes does: it is started once. */
function useAskedStrand(shot: ShotDetail, store: ShotStore) {
  // biome-ignore lint/correctness/useExhaustiveDependencies: once, with the page
  useEffect(() => {
    const query = new URLSearchParams(location.search);
    const asked = query.get('strand');
    if (asked === null) return;
    query.delete('strand');
    history.replaceState(null, '', `${location.pathname}${query.size ? `?${query}` : ''}`);
    for (const media of shot.media) {
      const pass = media.passes.find((p) => `${media.name}/${p.name}` === asked);
      if (!pass) continue;
      const { finish, edit, change } = store.getState();
      const head = { type: 'pass', media: media.name, pass: pass.name } as const;
      edit(addStrand(finish, head, strandKind(pass), pass.label));
      change({ selected: store.getState().finish.strands.at(-1)!.id, shows: 'selected' });
    }
  }, []);
}

function Panels({ initial, saved, store }: { initial: ShotDetail; saved: SavedFinish; store: ShotStore }) {
  const shot = useArriving(initial);
  const started = useStartedEngine(useMediaIndex(shot));
  const theatre = useShot((s) => s.theatre);
  const [exporting, setExporting] = useState(false);
  const autosave = useRef<Autosave>(undefined);
  useEffect(() => {
    const running = startAutosave(store, saved.id, saved.version);
    autosave.current = running;
    return () => running.end();
  }, [store, saved]);
  const versions = useSavedVersions(saved.id);
  const [history, setHistory] = useState(false);
  useEffect(() => {
    recallUndo(store, saved.id);
    return rememberUndo(store, saved.id);
  }, [store, saved]);
  useShotKeys(shot);
  useAskedStrand(shot, store);

  const side = theatre ? 'hidden' : '';
  return (
    <EngineContext.Provider value={started}>
      <VersionsContext.Provider value={versions}>
        <div
          className={`grid h-dvh grid-rows-[44px_minmax(0,1fr)_auto] overflow-hidden ${
            theatre ? 'grid-cols-1' : 'grid-cols-[316px_minmax(0,1fr)_272px]'
          }`}
        >
          <div className="col-span-full">
            <TopBar
              shot={shot}
              finish={saved.id}
              autosave={autosave}
              onExport={() => setExporting(true)}
              onHistory={() => setHistory(true)}
            />
          </div>
          <div className={`min-h-0 border-r border-line bg-base-200 ${side}`}>
            <Board shot={shot} />
          </div>
          <div className="min-h-0 min-w-0 bg-[#161616]">
            <Viewer shot={shot} />
          </div>
          <div className={`min-h-0 border-l border-line bg-base-100 ${side}`}>
            <Sheet shot={shot} />
          </div>
          <div className={`col-span-full border-t border-line bg-base-100 ${side}`}>
            <Ribbon shot={shot} />
          </div>
        </div>
        <KeyHelp />
        <Toaster theme="dark" position="bottom-left" offset={96} />
        {history && <HistoryPanel onClose={() => setHistory(false)} />}
        {exporting && <ExportPanel shot={shot} onClose={() => setExporting(false)} />}
      </VersionsContext.Provider>
    </EngineContext.Provider>
  );
}
