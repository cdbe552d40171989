import { useDraggable } from '@dnd-kit/core';
import { Check, ChevronRight, Download, GripVertical, Pause, Play, RotateCcw, Trash2, X } from 'lucide-react';
import Link from 'next/link';
import { useState } from 'react';
import { addressOf } from '@/api/contract';
import {
  cancelExport,
  downloadExport,
  type ExportFrame,
  pauseExport,
  removeExport,
  retryExport,
  type Urgency,
} from '@/api/exports';
import type { QueuedRun } from '@/api/queue';
import { request } from '@/api/request';
import { frameNote, movieWords, progressWords, timeWords, tones } from '../exports/run-words';
import { IconButton } from '../parts/IconButton';
import { Options } from '../parts/Options';
import { t } from '../words/words';

const urgencyNames: Record<Urgency, string> = { first: t`First`, usual: t`In turn`, last: t`Last` };
const order = ['done', 'rendering', 'failed', 'waiting', 'expected', 'cancelled'] as const;

/** Something of it is still to come. */
export const isGoing = ({ counts, standing, cancelled, movie }: QueuedRun) =>
  Boolean(
    counts.waiting ||
      counts.rendering ||
      (!cancelled && (standing || movie?.state === 'waiting' || movie?.state === 'encoding')),
  );

type Props = {
  run: QueuedRun;
  onChange(work: Promise<unknown>): void;
  onMove(run: number, urgency: Urgency): void;
};

/** An export: whose it is, how far, how fast, and what can be done with it. */
export function QueuedRow({ run, onChange, onMove }: Props) {
  const { counts, notable } = run;
  const [isUnfolded, setUnfolded] = useState(false);
  const [isAsked, setAsked] = useState(false);
  const isOpen = isGoing(run);
  const { setNodeRef, listeners, attributes, transform } = useDraggable({ id: run.id, disabled: !isOpen });
  const params = { run: run.id };
  const done = counts.done ?? 0;
  const again = (counts.failed ?? 0) + (isOpen ? 0 : (counts.cancelled ?? 0));
  const words = progressWords(run, counts);
  const downloadWords = run.movie
    ? t`Download the movie`
    : done === 1
      ? t`Download the frame`
      : t`Download ${done} frames`;
  const speed = [
    ...(run.framesPerMinute ? [t`${run.framesPerMinute.toFixed(1)} frames a minute`] : []),
    ...(run.secondsLeft ? [t`about ${timeWords(run.secondsLeft)} left`] : []),
  ].join(', ');
  return (
    <li
      ref={setNodeRef}
      className={`px-3 py-2.5 text-[13px] ${transform ? 'relative z-10 rounded-box bg-base-300 opacity-90' : ''}`}
      style={transform ? { transform: `translate(${transform.x}px, ${transform.y}px)` } : undefined}
      data-export={run.id}
    >
      <div className="grid grid-cols-[20px_minmax(0,1fr)_minmax(0,1.4fr)_auto] items-center gap-x-3">
        {isOpen ? (
          <button
            type="button"
            className="cursor-grab text-quiet"
            aria-label={t`Move ${run.fileName}`}
            title={t`Drag to reorder`}
            {...listeners}
            {...attributes}
          >
            <GripVertical size={15} />
          </button>
        ) : (
          <span />
        )}
        <div className="min-w-0">
          <div className="truncate font-medium" title={run.fileName}>
            {run.fileName}
          </div>
          <Link href={`/shots/${run.shot}`} className="truncate text-xs text-quiet hover:underline">
            {run.project} › {run.shotName}
          </Link>
        </div>
        <div className="min-w-0">
          <div className="flex h-2 gap-px overflow-hidden rounded" role="img" aria-label={words}>
            {order.map((state) =>
              counts[state] ? (
                <span key={state} className={tones[state]} style={{ flexGrow: counts[state] }} />
              ) : null,
            )}
          </div>
          <div className="mt-1 flex flex-wrap gap-x-3 text-xs text-quiet">
            <span>
              {words}
              {run.movie && `; movie: ${movieWords(run.movie)}`}
            </span>
            {speed && <span className="ml-auto">{speed}</span>}
          </div>
        </div>
        <div className="flex items-center">
          {isOpen && (
            <>
              <select
                className="select select-xs mr-1 w-20"
                aria-label={t`When ${run.fileName} goes`}
                value={run.urgency}
                onChange={(e) => onMove(run.id, e.target.value as Urgency)}
              >
                <Options of={urgencyNames} />
              </select>
              <IconButton
                icon={run.paused ? Play : Pause}
                label={run.paused ? t`Go on` : t`Pause: what is being rendered is rendered to its end`}
                onClick={() => onChange(request(pauseExport, { params, body: { paused: !run.paused } }))}
              />
              <IconButton
                icon={X}
                label={t`Cancel what is not done`}
                onClick={() => onChange(request(cancelExport, { params }))}
              />
            </>
          )}
          {again > 0 && (
            <IconButton
              icon={RotateCcw}
              label={t`Try ${again} frames again`}
              onClick={() => onChange(request(retryExport, { params }))}
            />
          )}
          {!isOpen && (
            <IconButton
              icon={isAsked ? Check : Trash2}
              label={
                isAsked
                  ? t`Remove ${run.fileName} and its frames in Zafiro’s store for good`
                  : t`Remove ${run.fileName}`
              }
              pressed={isAsked}
              // What cannot be brought back is asked once more.
              onClick={() =>
                done > 0 && !isAsked ? setAsked(true) : onChange(request(removeExport, { params }))
              }
            />
          )}
          {!isOpen && done > 0 && (!run.movie || run.movie.state === 'done') && (
            <a
              className="btn btn-ghost btn-sm btn-square"
              href={addressOf(downloadExport, { params })}
              download
              aria-label={downloadWords}
              title={downloadWords}
            >
              <Download size={16} />
            </a>
          )}
        </div>
      </div>
      {notable.length > 0 && (
        <div className="mt-1 pl-8">
          <button
            type="button"
            className="flex items-center gap-1 text-xs text-warning"
            aria-expanded={isUnfolded}
            onClick={() => setUnfolded(!isUnfolded)}
          >
            <ChevronRight size={13} className={isUnfolded ? 'rotate-90' : ''} />
            {notableWords(notable)}
          </button>
          {isUnfolded && (
            <ul className="mt-1 grid gap-1 pl-4 text-xs">
              {notable.map((f) => (
                <li
                  key={f.frame}
                  className={`break-words ${f.state === 'failed' ? 'text-error' : 'text-quiet'}`}
                >
                  {f.note ? frameNote(f) : t`Frame ${f.frame}`}{' '}
                  <span className="text-quiet">{triedWords(f)}</span>
                </li>
              ))}
            </ul>
          )}
        </div>
      )}
    </li>
  );
}

const triedWords = ({ tries, machine }: ExportFrame) =>
  `${tries <= 1 ? t`Tried once` : t`Begun ${tries} times`}${machine ? t`, last on ${machine}` : ''}.`;

function notableWords(frames: readonly ExportFrame[]): string {
  const failed = frames.filter((f) => f.state === 'failed').length;
  const again = frames.length - failed;
  return [
    ...(failed > 0 ? [t`${failed} frames failed`] : []),
    ...(again > 0 ? [t`${again} begun more than once`] : []),
  ].join(', ');
}
