import { useQueryClient } from '@tanstack/react-query';
import { Download, RotateCcw, Trash2, X } from 'lucide-react';
import { useEffect, useState } from 'react';
import { addressOf } from '@/api/contract';
import {
  cancelExport,
  downloadExport,
  type ExportRun,
  isOver,
  removeExport,
  retryExport,
} from '@/api/exports';
import { request } from '@/api/request';
import type { ShotDetail } from '@/api/shots';
import { mayOnlyLook } from '@/browser/session/store';
import { exportsKey, useExports } from '@/browser/session/use-shot-data';
import { movieCodecs } from '@/core/formats/export-formats';
import { LeaveLink } from '../parts/LeaveLink';
import { t } from '../words/words';
import { ExportForm } from './ExportForm';
import { type Counts, frameNote, movieWords, progressWords, tones } from './run-words';

/** Writes a range of finished frames, and shows how far each export is. */
type Props = { shot: ShotDetail; diskFull: boolean; onClose(): void };
export function ExportPanel({ shot, diskFull, onClose }: Props) {
  const [problem, setProblem] = useState('');
  const { data: runs = [], error } = useExports(shot.id);
  useEffect(() => {
    const close = (e: KeyboardEvent) => e.key === 'Escape' && onClose();
    window.addEventListener('keydown', close);
    return () => window.removeEventListener('keydown', close);
  }, [onClose]);

  return (
    <aside
      className="fixed inset-y-0 right-0 z-30 flex w-[400px] flex-col border-l border-line bg-base-100 shadow-2xl"
      aria-label={t`Exports`}
      data-holds-keys
    >
      <header className="flex h-11 items-center border-b border-line px-4">
        <h2 className="font-semibold">{t`Export`}</h2>
        <LeaveLink href="/queue" className="ml-3 text-xs text-quiet hover:underline">
          {t`All exports`}
        </LeaveLink>
        <button
          type="button"
          className="btn btn-ghost btn-sm btn-square ml-auto"
          aria-label={t`Close`}
          title={t`Close (Esc)`}
          onClick={onClose}
        >
          <X size={16} />
        </button>
      </header>
      <div className="min-h-0 flex-1 overflow-y-auto">
        {shot.looksOnly ? (
          <p role="note" className="border-b border-line p-4 text-sm text-quiet">
            {mayOnlyLook.problem} {mayOnlyLook.remedy}
          </p>
        ) : (
          <ExportForm shot={shot}>
            {error && (
              <p role="alert" className="text-error">
                {error.message}
              </p>
            )}
            {diskFull && (
              <p role="status" className="text-warning">
                {t`The disk is full or read-only. Free some space, or mount it writable: exports wait, and go on by themselves.`}
              </p>
            )}
          </ExportForm>
        )}
        {problem && (
          <p role="alert" className="px-4 pt-3 text-[13px] text-error">
            {problem}
          </p>
        )}
        <ul>
          {runs.length === 0 && (
            <li className="p-4 text-sm text-quiet">
              {t`Exports of this shot are listed here, with a state for every frame.`}
            </li>
          )}
          {runs.map((run) => (
            <Run key={run.id} run={run} mayChange={!shot.looksOnly} onProblem={setProblem} />
          ))}
        </ul>
      </div>
    </aside>
  );
}

const stateWords: Record<ExportRun['frames'][number]['state'], string> = {
  waiting: t`waiting`,
  rendering: t`rendering`,
  done: t`done`,
  failed: t`failed`,
  cancelled: t`cancelled`,
  expected: t`not here yet`,
};

/** One export: a cell per frame, what went wrong where, and the finished files. */
type RunProps = { run: ExportRun; mayChange: boolean; onProblem(problem: string): void };
function Run({ run, mayChange, onProblem }: RunProps) {
  const { frames } = run;
  const params = { run: run.id };
  const client = useQueryClient();
  const [isAsked, setAsked] = useState(false);
  const ask = (work: Promise<unknown>) =>
    work.then(
      () => client.invalidateQueries({ queryKey: exportsKey(run.shot) }),
      (error) => onProblem((error as Error).message),
    );
  const done = frames.filter((f) => f.state === 'done').length;
  const over = isOver(run);
  const notes = frames.filter((f) => f.note);
  const counts: Counts = {};
  for (const { state } of frames) counts[state] = (counts[state] ?? 0) + 1;
  const again = (counts.failed ?? 0) + (counts.cancelled ?? 0);
  const words =
    over || run.standing || run.paused
      ? progressWords(run, counts)
      : t`frame ${Math.min(frames.length, done + 1)} of ${frames.length}`;
  return (
    <li
      className="grid gap-2 border-b border-line p-4 text-[13px]"
      data-export={run.id}
      data-over={over}
      data-done={done}
    >
      <div className="flex items-baseline gap-2">
        <span className="truncate font-medium" title={run.fileName}>
          {run.fileName}
        </span>
        <span className="ml-auto text-xs whitespace-nowrap text-quiet">{words}</span>
      </div>
      <div className="flex h-2.5 gap-px overflow-hidden rounded" role="img" aria-label={words}>
        {frames.map((f) => (
          <span
            key={f.frame}
            className={`flex-1 ${tones[f.state]}`}
            title={t`Frame ${f.frame}: ${stateWords[f.state]}${f.millis ? t`, ${f.millis} ms` : ''}${f.note ? `. ${f.note}` : ''}`}
          />
        ))}
      </div>
      {run.folder && (
        <p className="text-xs break-all text-quiet" title={t`Where the frames are written`}>
          {run.folder}
        </p>
      )}
      {run.movie && (
        <p
          className={`text-xs break-words ${run.movie.state === 'failed' ? 'text-error' : 'text-quiet'}`}
          data-movie={run.movie.state}
        >
          {movieCodecs[run.movie.codec].split(',')[0]}: {movieWords(run.movie)}
        </p>
      )}
      {notes.map((f) => (
        <p
          key={f.frame}
          className={`text-xs break-words ${f.state === 'failed' ? 'text-error' : 'text-warning'}`}
        >
          {frameNote(f)}
        </p>
      ))}
      <div className="flex flex-wrap gap-2">
        {run.movie?.state === 'done' && (
          <a className="btn btn-xs" href={addressOf(downloadExport, { params: { run: run.id } })} download>
            <Download size={13} /> {t`Download the movie`}
          </a>
        )}
        {done > 0 && !run.movie && (
          <a className="btn btn-xs" href={addressOf(downloadExport, { params: { run: run.id } })} download>
            <Download size={13} /> {t`Download ${done} frames`}
          </a>
        )}
        {mayChange && (!over || (run.standing && !run.cancelled)) && (
          <button
            type="button"
            className="btn btn-xs btn-ghost"
            onClick={() => ask(request(cancelExport, { params }))}
          >
            {over ? t`Stop waiting for frames` : t`Cancel`}
          </button>
        )}
        {again > 0 && over && mayChange && (
          <button type="button" className="btn btn-xs" onClick={() => ask(request(retryExport, { params }))}>
            <RotateCcw size={13} /> {t`Try ${again} frames again`}
          </button>
        )}
        {over && mayChange && (!run.standing || run.cancelled) && (
          <button
            type="button"
            className={`btn btn-xs ml-auto ${isAsked ? 'btn-error' : 'btn-ghost'}`}
            title={
              run.folder
                ? t`Takes it off the list. Its frames stay in their folder.`
                : t`Takes it off the list, with its frames in Zafiro’s store.`
            }
            // What cannot be brought back is asked once more.
            onClick={() =>
              done > 0 && !run.folder && !isAsked ? setAsked(true) : ask(request(removeExport, { params }))
            }
            onBlur={() => setAsked(false)}
          >
            <Trash2 size={13} /> {isAsked ? t`Remove it and ${done} frames for good` : t`Remove`}
          </button>
        )}
      </div>
    </li>
  );
}
