import { useMemo } from 'react';
import type { ShotDetail } from '@/api/shots';
import { usePlay } from '@/browser/play/use-player';
import { useShot } from '@/browser/session/store';
import { useWorkspace } from '@/browser/workspace/workspace';
import { keyedFramesOf } from '@/core/finish/keys';
import { t } from '../words/words';
import { Cells } from './Cells';
import { frameStates } from './frame-states';
import { PlayBar, PlayWords } from './PlayBar';
import { Track } from './Track';

const gapWords = {
  missing: t`frames here`,
  hold: t`drawn, others held`,
  empty: t`drawn, others empty`,
} as const;

/** The frames of the shot: which are here, which are ready, which one is looked at, and how they play. */
export function Ribbon({ shot }: { shot: ShotDetail }) {
  const frame = usePlay((s) => s.frame);
  const folded = useWorkspace((w) => w.ribbonFolded);
  const finish = useShot((s) => s.finish);
  const selected = useShot((s) => s.selected);
  const states = useMemo(() => frameStates(shot, finish), [shot, finish]);
  const keyed = useMemo(() => keyedFramesOf(finish, selected), [finish, selected]);
  const { media, ready } = states;
  const count = shot.last - shot.first + 1;
  const { known } = states.stateOf(frame);
  const trouble = known?.problem ?? known?.differs;
  return (
    <section
      className={`flex items-stretch gap-4 px-4 ${folded ? 'h-9 py-1' : 'h-[96px] py-2'}`}
      aria-label={t`Frames`}
    >
      <div className={`grid shrink-0 content-center ${folded ? 'max-h-7 overflow-hidden' : 'w-52'}`}>
        <div className="flex items-center gap-3">
          <span className="text-2xl font-semibold" data-testid="frame">
            {String(frame).padStart(4, '0')}
          </span>
          <PlayBar />
        </div>
        <PlayWords
          shot={shot}
          otherwise={
            <span className="text-xs text-quiet">{t`${shot.first}–${shot.last} · ${shot.rate} fps`}</span>
          }
        />
        <span
          className={`text-xs ${ready < (media?.still ? 1 : count) ? 'text-secondary' : 'text-quiet'}`}
          data-testid="arrived"
        >
          {media?.still
            ? ready > 0
              ? t`a still, on every frame`
              : t`the still is not here yet`
            : ready >= count
              ? t`all frames here`
              : t`${ready} of ${count} ${gapWords[media?.gaps ?? 'missing']}`}
        </span>
      </div>
      <div className="flex min-w-0 flex-1 flex-col gap-1">
        <Track shot={shot} states={states} keyed={keyed} />
        {!folded && <Cells shot={shot} states={states} keyed={keyed} />}
      </div>
      {trouble && (
        <p role="alert" className="w-64 self-center text-xs text-error">
          {trouble}
        </p>
      )}
    </section>
  );
}
