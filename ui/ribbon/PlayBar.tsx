import { ChartSpline, Play, Settings2, Square } from 'lucide-react';
import type { ShotDetail } from '@/api/shots';
import { loops } from '@/browser/play/clock';
import { type PlaySettings, speeds, withIn, withMark, withOut } from '@/browser/play/settings';
import { usePlay, usePlayer, usePlaySettings } from '@/browser/play/use-player';
import { useShot } from '@/browser/session/store';
import { Dropdown } from '../parts/Dropdown';
import { IconButton } from '../parts/IconButton';
import { Options } from '../parts/Options';
import { t } from '../words/words';

/** Starts and stops play. */
export function PlayBar() {
  const player = usePlayer();
  const status = usePlay((s) => s.status);
  const direction = usePlay((s) => s.direction);
  const drawer = useShot((s) => s.drawer);
  const change = useShot((s) => s.change);
  const backwards = status !== 'still' && direction === -1;
  const forwards = status !== 'still' && direction === 1;
  return (
    <div className="flex items-center" role="group" aria-label={t`Play`}>
      <span className="flex -scale-x-100">
        <IconButton
          icon={backwards ? Square : Play}
          label={backwards ? t`Stop` : t`Play backwards`}
          keys="Shift Space"
          pressed={backwards}
          onClick={() => player.play(-1)}
        />
      </span>
      <IconButton
        icon={forwards ? Square : Play}
        label={forwards ? t`Stop` : t`Play`}
        keys="Space"
        pressed={forwards}
        onClick={() => player.play(1)}
      />
      <PlayMenu />
      <IconButton
        icon={ChartSpline}
        label={t`Time: lanes, curves, keys and guides`}
        keys="T"
        pressed={drawer !== undefined}
        onClick={() => change({ drawer: drawer ? undefined : 'lanes' })}
      />
    </div>
  );
}

const row = 'flex items-center justify-between gap-3';

/** How it plays. */
function PlayMenu() {
  const player = usePlayer();
  const settings = usePlaySettings((s) => s);
  const set = (part: Partial<PlaySettings>) => player.settings.setState(part);
  const frame = () => player.state.getState().frame;
  return (
    <Dropdown
      className="dropdown-top dropdown-start"
      summary={
        <summary
          className="btn btn-ghost btn-sm btn-square"
          aria-label={t`How it plays`}
          title={t`How it plays`}
        >
          <Settings2 size={16} />
        </summary>
      }
    >
      <div className="dropdown-content z-30 mb-1 grid w-64 gap-2 rounded-box border border-line bg-base-100 p-3 text-sm shadow-xl">
        <label className={row}>
          {t`Repeat`}
          <select
            className="select select-xs w-32"
            value={settings.loop}
            onChange={(e) => set({ loop: e.target.value as PlaySettings['loop'] })}
          >
            <Options of={loops} />
          </select>
        </label>
        <label className={row}>
          {t`Speed`}
          <select
            className="select select-xs w-32"
            value={settings.speed}
            onChange={(e) => set({ speed: e.target.value as PlaySettings['speed'] })}
          >
            <Options of={speeds} />
          </select>
        </label>
        <label className={row} title={t`Otherwise it shows those that are ready when their time comes.`}>
          {t`Wait until all frames are ready`}
          <input
            type="checkbox"
            className="toggle toggle-xs"
            checked={settings.waits}
            onChange={(e) => set({ waits: e.target.checked })}
          />
        </label>
        <div className="flex flex-wrap gap-1 border-t border-line pt-2" data-stays>
          <button
            type="button"
            className="btn btn-xs"
            title={t`I`}
            onClick={() => set(withIn(settings, frame()))}
          >
            {t`From this frame`}
          </button>
          <button
            type="button"
            className="btn btn-xs"
            title={t`O`}
            onClick={() => set(withOut(settings, frame()))}
          >
            {t`To this frame`}
          </button>
          <button
            type="button"
            className="btn btn-xs"
            disabled={settings.in === undefined && settings.out === undefined}
            onClick={() => set({ in: undefined, out: undefined })}
          >
            {t`Whole shot`}
          </button>
          <button
            type="button"
            className="btn btn-xs"
            title={t`B`}
            onClick={() => set(withMark(settings, frame()))}
          >
            {settings.marks.includes(frame()) ? t`Take the mark away` : t`Mark this frame`}
          </button>
        </div>
      </div>
    </Dropdown>
  );
}

/** What play does just now, in words. */
export function PlayWords({ shot, otherwise }: { shot: ShotDetail; otherwise: React.ReactNode }) {
  const status = usePlay((s) => s.status);
  const fps = usePlay((s) => s.fps);
  const late = usePlay((s) => s.late);
  const ready = usePlay((s) => s.ready);
  const possible = usePlay((s) => s.possible);
  const speed = usePlaySettings((s) => s.speed);
  const rate = shot.rate * Number(speed);
  if (status === 'still') return otherwise;
  return (
    <span className="text-xs text-quiet" data-testid="playing" data-late={late} data-fps={fps}>
      {status === 'waiting'
        ? t`getting ready, ${ready} of ${possible}`
        : t`playing ${Math.min(fps, rate).toFixed(fps < 10 ? 1 : 0)} of ${rate} fps, ${ready} of ${possible} ready`}
      {late > 0 && <span className="text-secondary">{t`, ${late} late`}</span>}
    </span>
  );
}
