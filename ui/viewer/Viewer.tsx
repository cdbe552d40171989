import { useMemo, useState } from 'react';
import type { ShotDetail } from '@/api/shots';
import { useEngineState } from '@/browser/engine/use-engine';
import { usePlay, useScene } from '@/browser/play/use-player';
import { useShot } from '@/browser/session/store';
import { shownPoint, useLook } from '@/browser/viewer/use-look';
import { useShown } from '@/browser/viewer/use-shown';
import type { Progress } from '@/core/evaluate/run';
import { kindAt } from '@/core/finish/flow';
import { channelNames } from '@/core/formats/pass-kinds';
import { FirstLook } from '../help/FirstLook';
import { PlayWords } from '../ribbon/PlayBar';
import { t } from '../words/words';
import { CompareBar } from './CompareBar';
import { DataRange } from './DataRange';
import { Journey } from './Journey';
import { Note } from './Note';
import { PictureCanvas, type Pointed } from './PictureCanvas';
import { Readout } from './Readout';
import { References } from './References';
import { Scopes } from './Scopes';
import { ToolHint } from './ToolHint';
import { strandOfObjects, useClicks } from './use-clicks';
import { useObjectUnder } from './use-object-under';
import { ViewerBar } from './ViewerBar';

/** The picture, how it is looked at, and the values under the cursor. */
export function Viewer({ shot }: { shot: ShotDetail }) {
  const look = useLook();
  const isPlaying = usePlay((s) => s.status !== 'still');
  const { shown, problem, busy, progress, stop } = useShown(look, isPlaying);
  const { failed, restart } = useEngineState();
  const frame = useShot((s) => s.frame);
  const [pointed, setPointed] = useState<Pointed | null>(null);
  const ids = useShot((s) => {
    const head = s.finish.strands.find((x) => x.id === strandOfObjects(s))?.head;
    return head?.type === 'ids' ? head : undefined;
  });
  const object = useObjectUnder(shot, pointed, ids);
  const numbers = useShot((s) => {
    const { strand, after } = shownPoint(s);
    const kind = kindAt(s.finish, strand, after);
    if (kind === 'picture') return 'colour';
    const head = s.finish.strands.find((x) => x.id === strand)?.head;
    const media = head?.type === 'pass' ? shot.media.find((m) => m.name === head.media) : undefined;
    const pass = head?.type === 'pass' ? media?.passes.find((p) => p.name === head.pass) : undefined;
    return kind === 'matte' ? 'M' : (pass ? channelNames(pass) : ['X', 'Y', 'Z']).slice(0, 4).join(' ');
  });
  const [zoom, setZoom] = useState(1);
  useScene(look, zoom, shot);
  const shows = useShot((s) => s.shows);
  const before = useShot((s) => s.before);
  const scopes = useShot((s) => s.scopes);
  const references = useShot((s) => s.references);
  const theatre = useShot((s) => s.theatre);
  const compare = useShot((s) => s.compare);
  const full = useMemo(() => ({ width: shot.width, height: shot.height }), [shot.width, shot.height]);
  const [picked, setPicked] = useState<Pointed | null>(null);

  const pick = useClicks(shot, ids, setPicked);

  // A picture of another frame is marked as such.
  const isOther = shown !== undefined && shown.frame !== frame && !isPlaying;
  return (
    <section
      className="grid h-full grid-cols-[minmax(0,1fr)] grid-rows-[auto_minmax(0,1fr)_auto_28px]"
      aria-label={t`Viewer`}
    >
      <ViewerBar />
      <div className="flex min-h-0">
        <div className="relative min-h-0 min-w-0 flex-1">
          <PictureCanvas
            shown={shown}
            full={full}
            onPoint={setPointed}
            onZoom={setZoom}
            onPick={pick}
            dimmed={isOther && problem !== undefined}
          />
          {compare.mode !== 'off' && <CompareBar shot={shot} />}
          <FirstLook shot={shot} />
          {before && <Note>{t`Without ${shows === 'finished' ? t`any step` : t`the selected step`}`}</Note>}
          <ToolHint />
          {theatre && isPlaying && (
            <Note low>
              <PlayWords shot={shot} otherwise={null} />
            </Note>
          )}
          {!shown && !problem && !failed && !progress && <Note>{t`Waiting for the frame…`}</Note>}
          {progress && !problem && !failed && <Working progress={progress} onStop={stop} />}
          {isOther && problem && <Note low>{t`The picture of frame ${shown.frame}`}</Note>}
          {shown?.range && <DataRange range={shown.range} />}
          {(failed || problem) && (
            <div
              role="alert"
              className="absolute inset-x-8 top-4 flex items-center gap-3 rounded-box border border-error bg-base-100 px-3 py-2 text-sm"
            >
              {failed ? t`The engine stopped. ${failed}` : problem}
              {failed && (
                <button type="button" className="btn btn-sm ml-auto" onClick={restart}>
                  {t`Try again`}
                </button>
              )}
            </div>
          )}
        </div>
        {references && <References shot={shot.id} />}
      </div>
      {!picked && scopes && <Scopes />}
      {picked && <Journey at={picked} onClose={() => setPicked(null)} />}
      <div className="row-start-4">
        <Readout
          shown={shown}
          pointed={pointed}
          zoom={zoom}
          busy={busy}
          object={object}
          numbers={numbers === 'colour' ? numbers : numbers.split(' ')}
        />
      </div>
    </section>
  );
}

/** What takes long just now, how far it is, and the way out. */
function Working({ progress: { what, done, of }, onStop }: { progress: Progress; onStop(): void }) {
  return (
    <div
      role="status"
      data-testid="working"
      className="absolute bottom-3 left-1/2 flex -translate-x-1/2 items-center gap-3 rounded bg-black/75 px-3 py-1.5 text-xs"
    >
      <span className="w-44 truncate">{t`${what}, ${done + 1} of ${of}`}</span>
      <progress className="progress progress-primary w-28" value={done} max={of} />
      <button type="button" className="btn btn-ghost btn-xs" onClick={onStop}>
        {t`Stop`}
      </button>
    </div>
  );
}
