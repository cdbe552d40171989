import type { ExportFrame, ExportRun } from '@/api/exports';
import { t } from '../words/words';

/** What is said of an export. */

export type Counts = Partial<Record<ExportFrame['state'], number>>;

export const tones: Record<ExportFrame['state'], string> = {
  waiting: 'bg-neutral',
  rendering: 'bg-secondary animate-pulse',
  done: 'bg-success',
  failed: 'bg-error',
  cancelled: 'bg-[repeating-linear-gradient(135deg,#444_0_3px,#222_3px_6px)]',
  expected: 'bg-base-300 ring-1 ring-line ring-inset',
};

export function progressWords(
  run: Pick<ExportRun, 'cancelled' | 'paused' | 'standing'>,
  counts: Counts,
): string {
  const of = Object.values(counts).reduce((sum, n) => sum + n, 0);
  const { done = 0, failed = 0, expected = 0 } = counts;
  const words = of === 1 ? t`${done} of 1 frame done` : t`${done} of ${of} frames done`;
  if (run.cancelled && done < of) return `cancelled, ${words}`;
  const more = [
    ...(failed > 0 ? [`${failed} failed`] : []),
    ...(run.standing && expected > 0 ? [t`${expected} not here yet`] : []),
    ...(run.paused ? ['paused'] : []),
  ];
  return [words, ...more].join(', ');
}

/** A time to wait, roughly. */
export function timeWords(seconds: number): string {
  if (seconds < 50) return `${Math.max(5, 5 * Math.round(seconds / 5))} s`;
  if (seconds < 5400) return `${Math.max(1, Math.round(seconds / 60))} min`;
  return `${(seconds / 3600).toFixed(1)} h`;
}

export const frameNote = ({ frame, note }: Pick<ExportFrame, 'frame' | 'note'>) =>
  note?.startsWith('Frame') ? note : t`Frame ${frame}: ${note}`;

/** What is said of a movie. */
export function movieWords({ state, note, bytes }: NonNullable<ExportRun['movie']>): string {
  switch (state) {
    case 'waiting':
      return t`made once all frames are done`;
    case 'encoding':
      return t`being made`;
    case 'done':
      return `${((bytes ?? 0) / 2 ** 20).toFixed(1)} MB`;
    case 'failed':
      return note ?? t`it could not be made`;
  }
}
