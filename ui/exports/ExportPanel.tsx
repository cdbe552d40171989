import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Download, X } from 'lucide-react';
import { type FormEvent, useCallback, useEffect, useMemo, useState } from 'react';
import { useShotStore } from '@/browser/shot-store';
import type { ExportRun } from '@/server/exports/exports';
import type { ShotDetail } from '@/server/shots/shots';
import { Options } from '../parts/Options';

const formats = {
  exr: 'EXR — half float, ZIP, premultiplied, linear',
  png16: 'PNG — 16 bit, straight alpha, sRGB',
} as const;

/** Writes a range of finished frames, and shows how far each export is. */
export function ExportPanel({ shot, onClose }: { shot: ShotDetail; onClose(): void }) {
  const store = useShotStore();
  const outputs = store.getState().finish.strands.flatMap((s) => s.output ?? []);
  const client = useQueryClient();
  const [problem, setProblem] = useState('');
  const key = useMemo(() => ['exports', shot.id], [shot.id]);
  const { data: runs = [] } = useQuery({
    queryKey: key,
    queryFn: async (): Promise<ExportRun[]> => (await fetch(`/api/exports?shot=${shot.id}`)).json(),
  });
  const update = useCallback(
    (run: ExportRun) =>
      client.setQueryData<ExportRun[]>(key, (all = []) => all.map((r) => (r.id === run.id ? run : r))),
    [client, key],
  );
  useEffect(() => {
    const close = (e: KeyboardEvent) => e.key === 'Escape' && onClose();
    window.addEventListener('keydown', close);
    return () => window.removeEventListener('keydown', close);
  }, [onClose]);

  async function submit(event: FormEvent<HTMLFormElement>) {
    event.preventDefault();
    setProblem('');
    const given = Object.fromEntries(new FormData(event.currentTarget));
    const body = JSON.stringify({ ...given, shot: shot.id, document: store.getState().finish });
    const response = await fetch('/api/exports', { method: 'POST', body }).catch(() => null);
    const told = await response?.json().catch(() => null);
    if (!told?.run) setProblem(told?.error ?? 'The server does not answer. Nothing was started.');
    await client.invalidateQueries({ queryKey: key });
  }

  return (
    <aside
      className="fixed inset-y-0 right-0 z-30 flex w-[400px] flex-col border-l border-line bg-base-100 shadow-2xl"
      aria-label="Exports"
    >
      <header className="flex h-11 items-center border-b border-line px-4">
        <h2 className="font-semibold">Export</h2>
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
        <label className="grid grid-cols-[64px_1fr] items-center">
          Frames
          <input
            name="frames"
            className="input input-sm w-full"
            defaultValue={`${shot.first}-${shot.last}`}
            required
          />
        </label>
        {outputs.length > 0 && (
          <label className="grid grid-cols-[64px_1fr] items-center">
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
        <label className="grid grid-cols-[64px_1fr] items-center">
          Format
          <select name="format" className="select select-sm w-full">
            <Options of={formats} />
          </select>
        </label>
        <label className="grid grid-cols-[64px_1fr] items-center">
          Name
          <input
            name="name"
            className="input input-sm w-full"
            defaultValue={plain(`${shot.project}_${shot.name}`)}
            required
          />
        </label>
        {problem && (
          <p role="alert" className="text-error">
            {problem}
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
          <Run key={run.id} run={run} onChange={update} />
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

const tones = {
  waiting: 'bg-neutral',
  rendering: 'bg-secondary animate-pulse',
  done: 'bg-success',
  failed: 'bg-error',
  cancelled: 'bg-[repeating-linear-gradient(135deg,#444_0_3px,#222_3px_6px)]',
} as const;

/** One export: a cell per frame, what went wrong where, and the finished files. */
function Run({ run, onChange }: { run: ExportRun; onChange(run: ExportRun): void }) {
  const { frames } = run;
  const done = frames.filter((f) => f.state === 'done').length;
  const over = frames.every((f) => f.state !== 'waiting' && f.state !== 'rendering');
  const notes = frames.filter((f) => f.note);
  useEffect(() => {
    if (over) return;
    const events = new EventSource(`/api/exports/${run.id}/events`);
    events.onmessage = (e) => onChange(JSON.parse(e.data));
    return () => events.close();
  }, [run.id, over, onChange]);
  const words = over
    ? run.cancelled && done < frames.length
      ? `cancelled, ${done} of ${frames.length} frames done`
      : `${done} of ${frames.length} frames done`
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
            title={`Frame ${f.frame}: ${f.state}${f.millis ? `, ${f.millis} ms` : ''}${f.note ? `. ${f.note}` : ''}`}
          />
        ))}
      </div>
      {notes.map((f) => (
        <p
          key={f.frame}
          className={`text-xs break-words ${f.state === 'failed' ? 'text-error' : 'text-warning'}`}
        >
          {f.note?.startsWith('Frame') ? f.note : `Frame ${f.frame}: ${f.note}`}
        </p>
      ))}
      <div className="flex gap-2">
        {done > 0 && (
          <a className="btn btn-xs" href={`/api/exports/${run.id}/download`} download>
            <Download size={13} /> {done === 1 ? 'Download the frame' : `Download ${done} frames`}
          </a>
        )}
        {!over && (
          <button
            type="button"
            className="btn btn-xs btn-ghost"
            onClick={() => fetch(`/api/exports/${run.id}/cancel`, { method: 'POST' })}
          >
            Cancel
          </button>
        )}
      </div>
    </li>
  );
}
