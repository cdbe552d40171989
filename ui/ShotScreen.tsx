'use client';

import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import Link from 'next/link';
import { useEffect, useRef, useState } from 'react';
import { Toaster, toast } from 'sonner';
import { request } from '@/api/request';
import { openedShot } from '@/api/shelf';
import type { ShotDetail } from '@/api/shots';
import { EngineContext, useStartedEngine } from '@/browser/engine/use-engine';
import { PlayerContext, useStartedPlayer } from '@/browser/play/use-player';
import { ShotContext, type ShotStore, useShot } from '@/browser/session/store';
import { SessionContext, useOpenedSession, useSession } from '@/browser/session/use-session';
import { useMediaIndex, useShotData } from '@/browser/session/use-shot-data';
import { useSavedVersions, type Versions, VersionsContext } from '@/browser/session/versions';
import { MirrorContext } from '@/browser/workspace/mirror';
import { addStrand } from '@/core/finish/edits';
import type { Head } from '@/core/finish/finish';
import { passTitle, strandKind } from '@/core/formats/passes';
import type { Kind } from '@/core/picture/kind';
import { Board } from './board/Board';
import { ShotDrops } from './drops/ShotDrops';
import { PanelBoundary } from './errors/PanelBoundary';
import { ExportPanel } from './exports/ExportPanel';
import { RunEnds } from './exports/RunEnds';
import { HistoryPanel } from './history/HistoryPanel';
import { KeyHelp } from './keys/KeyHelp';
import { useCommand } from './keys/use-command';
import { State } from './parts/State';
import { useFreeFocus } from './parts/use-free-focus';
import { Ribbon } from './ribbon/Ribbon';
import { Sheet } from './sheet/Sheet';
import { useShotKeys } from './shot-keys';
import { TopBar } from './TopBar';
import { TimeDrawer } from './time/TimeDrawer';
import { Viewer } from './viewer/Viewer';
import { t } from './words/words';
import { Panels } from './workspace/Panels';
import { openViewerWindow, useStartedMirror } from './workspace/use-mirror';

/** The screen in which a shot is finished. */
export function ShotScreen({ shot, finish }: { shot: ShotDetail; finish: number }) {
  const [client] = useState(() => new QueryClient({ defaultOptions: { queries: { retry: 1 } } }));
  const { session, problem, retry } = useOpenedSession(finish, shot.first, {
    width: shot.width,
    height: shot.height,
  });
  if (!session) return <Opening name={shot.name} problem={problem} onRetry={retry} />;
  return (
    <QueryClientProvider client={client}>
      <SessionContext.Provider value={session}>
        <ShotContext.Provider value={session.store}>
          <OpenShot initial={shot} />
        </ShotContext.Provider>
      </SessionContext.Provider>
    </QueryClientProvider>
  );
}

/** Says each change of the document to who does not see it. */
function Announcer() {
  const label = useShot((s) => s.label);
  const count = useShot((s) => s.history.past.length);
  const first = useRef({ label, count });
  const isFirst = first.current.label === label && first.current.count === count;
  return (
    <p className="sr-only" role="status" data-testid="announced">
      {isFirst ? '' : t`Done: ${label}`}
    </p>
  );
}

/** While the document is fetched, or why it could not be. */
function Opening({ name, problem, onRetry }: { name: string; problem?: string; onRetry(): void }) {
  return (
    <main className="grid h-dvh place-content-center">
      {problem ? (
        <State is="failed" whole title={t`${name} could not be opened`} words={problem}>
          <button type="button" className="btn btn-sm btn-primary" onClick={onRetry}>
            {t`Try again`}
          </button>
          <Link href="/" className="btn btn-sm">
            {t`To the projects`}
          </Link>
        </State>
      ) : (
        <State is="loading" title={t`Opening ${name}…`} />
      )}
    </main>
  );
}

/**
 * The address may ask for strands (`?strand=media/pass`, or a media by its name; several with `stack=1` as the layers of one), as the overview of
 * passes and the import of more media do, and for a comparison with another finish (`?compare=`): once.
 */
function useAsked(shot: ShotDetail, store: ShotStore, versions: Versions) {
  // biome-ignore lint/correctness/useExhaustiveDependencies: once, with the page
  useEffect(() => {
    const query = new URLSearchParams(location.search);
    const asked = query.getAll('strand');
    const [stacked, other] = [query.has('stack'), Number(query.get('compare'))];
    if (asked.length === 0 && !other) return;
    for (const key of ['strand', 'stack', 'compare']) query.delete(key);
    history.replaceState(null, '', `${location.pathname}${query.size ? `?${query}` : ''}`);
    const { edit, change } = store.getState();
    if (other)
      versions.fetchOther(other).then((found) => {
        const { compare } = store.getState();
        if (found) change({ compare: { ...compare, mode: 'wipe', with: `finish:${other}` } });
      });
    const passes = asked.flatMap((name) =>
      shot.media.flatMap((media) => {
        const pass =
          media.name === name
            ? media.passes[0]
            : media.passes.find((p) => `${media.name}/${p.name}` === name);
        return pass ? [{ media, pass }] : [];
      }),
    );
    const begin = (head: Head, kind: Kind, name: string) => {
      if (edit((doc) => addStrand(doc, head, kind, name)))
        change({ selected: store.getState().finish.strands.at(-1)!.id, shows: 'selected' });
    };
    if (stacked && passes.length > 1) {
      const layers = passes.map(({ media, pass }) => ({
        media: media.name,
        pass: pass.name,
        show: true,
        opacity: 1,
      }));
      begin({ type: 'stack', layers }, 'picture', t`Layers`);
    } else
      for (const { media, pass } of passes)
        begin(
          { type: 'pass', media: media.name, pass: pass.name },
          strandKind(pass),
          passTitle(media.name, pass),
        );
  }, []);
}

/** The shelf has what was opened last on top. */
function useOpened(shot: number, finish: number) {
  useEffect(() => {
    request(openedShot, { params: { shot }, body: { finish } }).catch(() => {});
  }, [shot, finish]);
}

/** Says what the document refused, and what had to be changed of it to open it. */
function useSpokenRefusals(repairs: readonly string[]) {
  const refusal = useShot((s) => s.refusal);
  useEffect(() => {
    if (refusal) toast.error(refusal.problem, { description: refusal.remedy });
  }, [refusal]);
  useEffect(() => {
    if (repairs.length === 0) return;
    const [first, ...others] = repairs;
    const more = others.length > 0 ? t` And ${others.length} more.` : '';
    toast.warning(t`Values of this finish were brought inside today’s bounds.`, {
      description: t`${first}${more} Undo does not lead back; the saved version stays in the history.`,
      duration: 20_000,
    });
  }, [repairs]);
}

function OpenShot({ initial }: { initial: ShotDetail }) {
  const session = useSession();
  const { store, repairs } = session;
  const versions = useSavedVersions(session.finish);
  const { shot, away, diskFull } = useShotData(initial, session, versions);
  const engine = useStartedEngine(useMediaIndex(shot));
  const drawer = useShot((s) => s.drawer);
  const [exporting, setExporting] = useState(false);
  const [history, setHistory] = useState(false);
  const [keys, setKeys] = useState(false);
  const player = useStartedPlayer(session.finish);
  const mirror = useStartedMirror(session.finish);
  useCommand('window', () => openViewerWindow(shot.id, session.finish));
  useShotKeys(shot, player);
  useFreeFocus();
  useAsked(shot, store, versions);
  useOpened(shot.id, session.finish);
  useSpokenRefusals(repairs);
  const looksOnly = shot.looksOnly ?? false;
  useEffect(() => store.getState().change({ looksOnly }), [store, looksOnly]);

  if (!player) return null;
  return (
    <EngineContext.Provider value={engine}>
      <PlayerContext.Provider value={player}>
        <VersionsContext.Provider value={versions}>
          <MirrorContext.Provider value={mirror}>
            <Panels
              top={
                <TopBar
                  shot={shot}
                  away={away}
                  onExport={() => setExporting(true)}
                  onHistory={() => setHistory(true)}
                  onKeys={() => setKeys(true)}
                />
              }
              board={
                <PanelBoundary name={t`The board`}>
                  <Board shot={shot} />
                </PanelBoundary>
              }
              viewer={
                <PanelBoundary name={t`The viewer`}>
                  <Viewer shot={shot} />
                </PanelBoundary>
              }
              sheet={
                <div
                  className="h-full"
                  // What is edited while it plays is the frame that one saw.
                  onPointerDownCapture={() => player.catchUp()}
                  onFocusCapture={() => player.catchUp()}
                >
                  <PanelBoundary name={t`The sheet`}>
                    <Sheet shot={shot} />
                  </PanelBoundary>
                </div>
              }
              drawer={
                drawer && (
                  <PanelBoundary name={t`The time drawer`}>
                    <TimeDrawer shot={shot} look={drawer} />
                  </PanelBoundary>
                )
              }
              ribbon={
                <PanelBoundary name={t`The ribbon`}>
                  <Ribbon shot={shot} />
                </PanelBoundary>
              }
            />
            <KeyHelp open={keys} onOpen={() => setKeys(true)} onClose={() => setKeys(false)} />
            <Announcer />
            <ShotDrops shot={shot} />
            <Toaster theme="dark" position="bottom-center" offset={140} />
            <RunEnds shot={shot.id} />
            {history && <HistoryPanel onClose={() => setHistory(false)} />}
            {exporting && <ExportPanel shot={shot} diskFull={diskFull} onClose={() => setExporting(false)} />}
          </MirrorContext.Provider>
        </VersionsContext.Provider>
      </PlayerContext.Provider>
    </EngineContext.Provider>
  );
}
