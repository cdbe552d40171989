import { useQueryClient } from '@tanstack/react-query';
import { Download, X } from 'lucide-react';
import { type FormEvent, useEffect, useState } from 'react';
import { addressOf } from '@/api/contract';
import { cancelExport, createExport, downloadExport, type ExportRun, isOver } from '@/api/exports';
import { request } from '@/api/request';
import type { ShotDetail } from '@/api/shots';
import { useShotStore } from '@/browser/session/store';
import { useSession } from '@/browser/session/use-session';
import { exportsKey, useExports } from '@/browser/session/use-shot-data';
import {
  canCarryFinish,
  type ExportFormat,
  exportFormats,
  exrCompressions,
  isExr,
} from '@/core/formats/export-formats';
import { LeaveLink } from '../parts/LeaveLink';
import { Options } from '../parts/Options';
import { type Counts, frameNote, progressWords, tones } from './run-words';

/** Writes a range of finished frames, and shows how far each export is. */
type Props = { shot: ShotDetail; diskFull: boolean; onClose(): void };
export function ExportPanel({ shot, diskFull, onClose }: Props) {
  const store = useShotStore();
  const { autosave } = useSession();
  const { finish } = store.getState();
  const outputs = finish.strands.flatMap((s) => s.output ?? []);
  const client = useQueryClient();
  const [problem, setProblem] = useState('');
  const [format, setFormat] = useState<ExportFormat>('exr');
  const { data: runs = [], error } = useExports(shot.id);
  useEffect(() => {
    const close = (e: KeyboardEvent) => e.key === 'Escape' && onClose();
    window.addEventListener('keydown', close);
    return () => window.removeEventListener('keydown', close);
  }, [onClose]);

  async function submit(event: FormEvent<HTMLFormElement>) {
    event.preventDefault();
    setProblem('');
    const given = Object.fromEntries(new FormData(event.currentTarget)) as Record<string, string>;
    const { frames, name, output, carries, compression, quality, standing } = given;
    try {
      const document = store.getState().finish;
      const body = {
        shot: shot.id,
        document,
        frames,
        format,
        name,
        carriesFinish: carries === 'on',
        standing: standing === 'on',
        ...(compression ? { compression: compression as keyof typeof exrCompressions } : {}),
        ...(quality ? { quality: Number(quality) } : {}),
        ...(output ? { output } : {}),
      };
      await request(createExport, { body });
    } catch (error) {
      setProblem((error as Error).message);
    }
    await client.invalidateQueries({ queryKey: exportsKey(shot.id) });
  }

  return (
    <aside
      className="fixed inset-y-0 right-0 z-30 flex w-[400px] flex-col border-l border-line bg-base-100 shadow-2xl"
      aria-label="Exports"
    >
      <header className="flex h-11 items-center border-b border-line px-4">
        <h2 className="font-semibold">Export</h2>
        <LeaveLink href="/queue" className="ml-3 text-xs text-quiet hover:underline">
          All exports
        </LeaveLink>
        <button
          type="button"
          className="btn btn-ghost btn-sm btn-square ml-auto"
          aria-label="Close"
          title="Close (Esc)"
          onClick={onClose}
        >
          <X size={16} />
        </button>
      </header>
      <form className="grid gap-3 border-b border-line p-4 text-[13px]" onSubmit={submit}>
        <label className="grid grid-cols-[88px_1fr] items-center">
          Frames
          <input
            name="frames"
            className="input input-sm w-full"
            defaultValue={`${shot.first}-${shot.last}`}
            required
          />
        </label>
        {outputs.length > 0 && (
          <label className="grid grid-cols-[88px_1fr] items-center">
            Picture
            <select name="output" className="select select-sm w-full">
              <option value="">Finished picture</option>
              {outputs.map((o) => (
                <option key={o} value={o}>
                  Output {o}
                </option>
              ))}
            </select>
          </label>
        )}
        <label className="grid grid-cols-[88px_1fr] items-center">
          Format
          <select
            name="format"
            className="select select-sm w-full"
            value={format}
            onChange={(e) => setFormat(e.target.value as ExportFormat)}
          >
            <Options of={exportFormats} />
          </select>
        </label>
        {isExr(format) && (
          <label className="grid grid-cols-[88px_1fr] items-center">
            Compression
            <select name="compression" className="select select-sm w-full">
              <Options of={exrCompressions} />
            </select>
          </label>
        )}
        {format === 'jpeg' && (
          <label className="grid grid-cols-[88px_1fr] items-center">
            Quality
            <input
              name="quality"
              type="number"
              min={1}
              max={100}
              className="input input-sm w-24"
              defaultValue={95}
              required
            />
          </label>
        )}
        <label className="grid grid-cols-[88px_1fr] items-center">
          Name
          <input
            name="name"
            className="input input-sm w-full"
            defaultValue={plain(`${shot.name}_${finish.name}_v${autosave.version()}`)}
            required
          />
        </label>
        {canCarryFinish(format) && (
          <label
            className="flex items-center gap-2"
            title="EXR and PNG frames know how they were made: drop one onto a shot to open its finish."
          >
            <input type="checkbox" name="carries" className="checkbox checkbox-xs" defaultChecked />
            Keep the finish in each frame
          </label>
        )}
        <label
          className="flex items-center gap-2"
          title="Frames are finished as soon as their files are whole, while a renderer goes on, and again when they are written anew."
        >
          <input type="checkbox" name="standing" className="checkbox checkbox-xs" />
          Go on as frames come
        </label>
        {(problem || error) && (
          <p role="alert" className="text-error">
            {problem || error?.message}
          </p>
        )}
        {diskFull && (
          <p role="status" className="text-warning">
            The disk is full. Free some space: exports wait, and go on by themselves.
          </p>
        )}
        <button type="submit" className="btn btn-primary btn-sm justify-self-end">
          Start export
        </button>
      </form>
      <ul className="min-h-0 flex-1 overflow-y-auto">
        {runs.length === 0 && (
          <li className="p-4 text-sm text-quiet">
            Exports of this shot are listed here, with a state for every frame.
          </li>
        )}
        {runs.map((run) => (
          <Run key={run.id} run={run} onProblem={setProblem} />
        ))}
      </ul>
    </aside>
  );
}

const plain = (text: string) =>
  text
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '_')
    .replace(/^_+|_+$/g, '');

/** One export: a cell per frame, what went wrong where, and the finished files. */
function Run({ run, onProblem }: { run: ExportRun; onProblem(problem: string): void }) {
  const { frames } = run;
  const done = frames.filter((f) => f.state === 'done').length;
  const over = isOver(run);
  const notes = frames.filter((f) => f.note);
  const counts: Counts = {};
  for (const { state } of frames) counts[state] = (counts[state] ?? 0) + 1;
  const words =
    over || run.standing || run.paused
      ? progressWords(run, counts)
      : `frame ${Math.min(frames.length, done + 1)} of ${frames.length}`;
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
            title={`Frame ${f.frame}: ${f.state === 'expected' ? 'not here yet' : f.state}${f.millis ? `, ${f.millis} ms` : ''}${f.note ? `. ${f.note}` : ''}`}
          />
        ))}
      </div>
      {notes.map((f) => (
        <p
          key={f.frame}
          className={`text-xs break-words ${f.state === 'failed' ? 'text-error' : 'text-warning'}`}
        >
          {frameNote(f)}
        </p>
      ))}
      <div className="flex gap-2">
        {done > 0 && (
          <a className="btn btn-xs" href={addressOf(downloadExport, { params: { run: run.id } })} download>
            <Download size={13} /> {done === 1 ? 'Download the frame' : `Download ${done} frames`}
          </a>
        )}
        {(!over || (run.standing && !run.cancelled)) && (
          <button
            type="button"
            className="btn btn-xs btn-ghost"
            onClick={() =>
              request(cancelExport, { params: { run: run.id } }).catch((error) =>
                onProblem((error as Error).message),
              )
            }
          >
            {over ? 'Stop waiting for frames' : 'Cancel'}
          </button>
        )}
      </div>
    </li>
  );
}
