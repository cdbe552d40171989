'use client';

import { QueryClient, QueryClientProvider, useQuery, useQueryClient } from '@tanstack/react-query';
import {
  BookOpen,
  CircleHelp,
  CircleUser,
  Clapperboard,
  FolderPlus,
  LayoutGrid,
  ListOrdered,
  Plus,
  Search,
  SearchX,
  Trash2,
} from 'lucide-react';
import Link from 'next/link';
import { useMemo, useState } from 'react';
import { Toaster } from 'sonner';
import { request } from '@/api/request';
import { readShelf, type Shelf as ShelfData } from '@/api/shelf';
import { finishShown, postersMissing } from '@/browser/shelf/posters';
import { AppHeader } from '../parts/AppHeader';
import { formatBytes } from '../parts/format-value';
import { State } from '../parts/State';
import { t } from '../words/words';
import { Bin } from './Bin';
import { NameDialog } from './NameDialog';
import { type ShelfOrder, shelfOrders, shownProjects } from './order';
import { PosterMaker } from './PosterMaker';
import { ProjectSection } from './ProjectSection';
import { shelfKey, useShelfActions } from './use-shelf';

/** The home screen: projects and shots with their finished pictures, what was opened last on top. */
export function Shelf({ initial }: { initial: ShelfData }) {
  const [client] = useState(() => new QueryClient({ defaultOptions: { queries: { retry: 1 } } }));
  return (
    <QueryClientProvider client={client}>
      <ShelfScreen initial={initial} />
      <Toaster theme="dark" position="bottom-left" />
    </QueryClientProvider>
  );
}

/** Milliseconds after which the shelf is looked at again: while something is on its way, and otherwise. */
const [soon, later] = [1500, 20_000];

function ShelfScreen({ initial }: { initial: ShelfData }) {
  const client = useQueryClient();
  const { data: shelf } = useQuery({
    queryKey: shelfKey,
    queryFn: () => request(readShelf, {}),
    initialData: initial,
    staleTime: 0,
    refetchInterval: ({ state }) =>
      state.data?.projects.some((p) => p.shots.some((s) => s.exporting || s.arrived < s.expected))
        ? soon
        : later,
  });
  const { addProject } = useShelfActions();
  const [words, setWords] = useState('');
  const [order, setOrder] = useState<ShelfOrder>('opened');
  const [archive, setArchive] = useState(false);
  const [naming, setNaming] = useState(false);
  const [bin, setBin] = useState(false);
  const missing = useMemo(() => postersMissing(shelf), [shelf]);
  const projects = useMemo(
    () => shownProjects(shelf.projects, words, order, archive),
    [shelf, words, order, archive],
  );
  const all = shelf.projects;
  const isEmpty = all.length === 0;
  const edits = shelf.who?.edits ?? true;
  const looksOnly = !edits && !isEmpty;
  const archived =
    all.filter((p) => p.archived).length + all.flatMap((p) => p.shots).filter((s) => s.archived).length;
  const running = all.flatMap((p) => p.shots.filter((s) => s.exporting).map((s) => ({ ...s, of: p.name })));
  const [last] = all
    .flatMap((p) => (p.archived ? [] : p.shots.map((s) => ({ ...s, project: p.name }))))
    .filter((s) => s.openedAt && !s.archived)
    .sort((a, b) => b.openedAt!.localeCompare(a.openedAt!));
  return (
    <>
      <AppHeader
        title={t`Projects`}
        place={
          <nav className="flex flex-wrap items-center gap-1" aria-label={t`Screens`}>
            {!isEmpty && (
              <Link href="/sheet" className="btn btn-sm btn-ghost">
                <LayoutGrid size={16} aria-hidden="true" /> {t`Contact sheet`}
              </Link>
            )}
            <Link href="/recipes" className="btn btn-sm btn-ghost">
              <BookOpen size={16} aria-hidden="true" /> {t`Recipes`}
            </Link>
            <Link href="/queue" className="btn btn-sm btn-ghost">
              <ListOrdered size={16} aria-hidden="true" /> {t`Exports`}
            </Link>
            <Link href="/handbook" className="btn btn-sm btn-ghost">
              <CircleHelp size={16} aria-hidden="true" /> {t`Handbook`}
            </Link>
          </nav>
        }
      >
        {shelf.who && (
          <Link href="/account" className="btn btn-sm btn-ghost">
            <CircleUser size={16} aria-hidden="true" /> {shelf.who.name}
          </Link>
        )}
        {looksOnly ? (
          <span className="text-sm text-quiet" role="note">
            {t`You may look at these projects. The manager of a project can let you change it.`}
          </span>
        ) : (
          <button type="button" className="btn btn-sm" onClick={() => setNaming(true)}>
            <FolderPlus size={16} aria-hidden="true" /> {t`New project …`}
          </button>
        )}
        {edits && (
          <Link href="/import" className="btn btn-sm btn-primary">
            <Plus size={16} aria-hidden="true" /> {t`Import frames`}
          </Link>
        )}
      </AppHeader>
      <main className="mx-auto max-w-[120rem] px-8 pb-16">
        {isEmpty ? (
          <State
            is="empty"
            icon={Clapperboard}
            title={t`No shots yet`}
            words={
              edits
                ? t`Begin with numbered frames of a render, or layers of drawings. They stay where they are; Zafiro only reads them.`
                : t`Begin with a new project, then import frames into it. Or ask somebody to let you into theirs.`
            }
          >
            {edits && (
              <Link href="/import" className="btn btn-primary">
                {t`Import frames`}
              </Link>
            )}
          </State>
        ) : (
          <div className="flex flex-wrap items-center gap-3 pt-5">
            <label className="input input-sm w-64">
              <Search size={14} aria-hidden="true" />
              <input
                type="search"
                placeholder={t`Project, shot or finish`}
                aria-label={t`Search the shelf`}
                value={words}
                onChange={(e) => setWords(e.target.value)}
              />
            </label>
            <select
              className="select select-sm w-44"
              aria-label={t`Order`}
              value={order}
              onChange={(e) => setOrder(e.target.value as ShelfOrder)}
            >
              {Object.entries(shelfOrders).map(([key, name]) => (
                <option key={key} value={key}>
                  {name}
                </option>
              ))}
            </select>
            {archived > 0 && (
              <label className="flex items-center gap-2 text-sm text-quiet">
                <input
                  type="checkbox"
                  className="toggle toggle-xs"
                  checked={archive}
                  onChange={(e) => setArchive(e.target.checked)}
                />
                {t`Archived (${archived})`}
              </label>
            )}
            {last && words === '' && (
              <Link
                href={`/shots/${last.id}?finish=${finishShown(last)?.id}`}
                className="btn btn-sm btn-ghost"
                data-testid="go-on"
              >
                {t`Go on with ${last.name} of ${last.project}`}
              </Link>
            )}
            {running.length > 0 && (
              <Link href="/queue" className="text-sm text-secondary hover:underline" role="status">
                {t`Exporting ${running.map((s) => `${s.name}, ${s.exporting!.done} of ${s.exporting!.of}`).join(' · ')}`}
              </Link>
            )}
          </div>
        )}
        {!isEmpty && projects.length === 0 && (
          <State
            is="empty"
            icon={SearchX}
            title={t`Nothing has that name`}
            words={
              archived > 0 && !archive
                ? t`What is archived is not shown.`
                : t`Projects, shots and finishes are searched by their names.`
            }
          >
            <button type="button" className="btn btn-sm" onClick={() => setWords('')}>
              {t`Show all`}
            </button>
          </State>
        )}
        {projects.map((project) => (
          <ProjectSection key={project.id} project={project} projects={all} who={shelf.who} />
        ))}
        <footer className="mt-10 flex items-center gap-4 border-t border-line pt-3 text-xs text-quiet">
          <span data-testid="free">{t`${formatBytes(shelf.free)} free of ${formatBytes(shelf.disk)}`}</span>
          {shelf.deleted.length > 0 && (
            <button type="button" className="btn btn-ghost btn-xs ml-auto" onClick={() => setBin(true)}>
              <Trash2 size={13} aria-hidden="true" /> {t`Deleted (${shelf.deleted.length})`}
            </button>
          )}
        </footer>
      </main>
      {naming && (
        <NameDialog
          title={t`New project`}
          label={t`Name of the project`}
          value=""
          action={t`Make`}
          onName={addProject}
          onClose={() => setNaming(false)}
        />
      )}
      {bin && <Bin deleted={shelf.deleted} onClose={() => setBin(false)} />}
      {missing.length > 0 && (
        <PosterMaker missing={missing} onMade={() => client.invalidateQueries({ queryKey: shelfKey })} />
      )}
    </>
  );
}
