import { Activity, Columns2, Crop, Images } from 'lucide-react';
import { useRef, useState } from 'react';
import { toast } from 'sonner';
import type { ShotDetail } from '@/api/shots';
import { useEngine, useEngineState } from '@/browser/engine/use-engine';
import { usePlay, useScene } from '@/browser/play/use-player';
import { type DrawTool, type ShotState, type Tool, useShot, useShotStore } from '@/browser/session/store';
import { shownPoint, useLook } from '@/browser/viewer/use-look';
import { useShown } from '@/browser/viewer/use-shown';
import type { Progress } from '@/core/evaluate/run';
import { chooseObjects } from '@/core/finish/edits';
import { type Finish, findStep, headOf, stepName } from '@/core/finish/finish';
import { kindAt } from '@/core/finish/flow';
import { setValues } from '@/core/finish/value-edits';
import { channelNames } from '@/core/formats/pass-kinds';
import { type Look, looks } from '@/core/kernels/display';
import { FirstLook } from '../help/FirstLook';
import { RangeInput } from '../parts/RangeInput';
import { PlayWords } from '../ribbon/PlayBar';
import { measureGuide } from '../time/measure-guide';
import { t } from '../words/words';
import { CompareBar } from './CompareBar';
import { DataRange } from './DataRange';
import { Journey } from './Journey';
import { LookMenu } from './LookMenu';
import { PictureCanvas, type Pointed } from './PictureCanvas';
import { pickColour } from './pick-colour';
import { Readout } from './Readout';
import { References } from './References';
import { Scopes } from './Scopes';
import { objectUnder, useObjectUnder } from './use-object-under';

const lookNames: Record<Look, string> = {
  colour: t`Colour`,
  red: 'R',
  green: 'G',
  blue: 'B',
  alpha: t`Alpha`,
  luminance: t`Luminance`,
};

const drawHints: Record<DrawTool, string> = {
  path: t`Click points, drag for curves; Enter or the first point closes, Backspace takes one back.`,
  rectangle: t`Drag a rectangle; Shift makes a square.`,
  ellipse: t`Drag an ellipse; Shift makes a circle.`,
  freehand: t`Draw around it; the line closes by itself.`,
};

/** The strand whose objects a click on the picture chooses: the one that is being chosen for, or the selected one. */
const strandOfObjects = ({ tool, selected }: Pick<ShotState, 'tool' | 'selected'>) =>
  tool?.type === 'pick-objects' ? tool.strand : selected;

const chip = (on: boolean) =>
  `btn btn-xs min-w-[24px] px-1.5 text-xs font-normal ${on ? 'btn-soft btn-primary' : 'btn-ghost text-quiet'}`;

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
  const channels = useShot((s) => s.look);
  const stops = useShot((s) => s.stops);
  const shows = useShot((s) => s.shows);
  const before = useShot((s) => s.before);
  const change = useShot((s) => s.change);
  const store = useShotStore();
  const started = useEngine();
  const tool = useShot((s) => s.tool);
  const region = useShot((s) => s.region);
  const scopes = useShot((s) => s.scopes);
  const references = useShot((s) => s.references);
  const theatre = useShot((s) => s.theatre);
  const compare = useShot((s) => s.compare);
  const [picked, setPicked] = useState<Pointed | null>(null);
  const chosen = useShot((s) => {
    const found = findStep(s.finish, s.selected ?? '');
    return found
      ? t`After ${stepName(found.step)}`
      : (s.finish.strands.find((x) => x.id === s.selected)?.name ?? t`Selected`);
  });

  const clicks = useRef<Promise<unknown>>(undefined);
  /** Adds the object under a click to the chosen matte, or takes it away. */
  const pickObject = async (at: Pointed, shift: boolean) => {
    const { frame, edit } = store.getState();
    const strand = strandOfObjects(store.getState());
    // Asked for at once, taken in the order of the clicks, whichever answer comes first.
    const [asked, former] = [objectUnder(shot, ids, at, frame), clicks.current];
    clicks.current = asked;
    await former;
    const name = await asked;
    if (!name || strand === undefined) return;
    // By then another click may have taken another object.
    edit((finish) => {
      const head = headOf(finish, strand, 'ids');
      const others = (head?.objects ?? []).filter((o) => o !== name);
      return chooseObjects(finish, strand, shift ? others : [...others, name]);
    });
  };
  /** What comes to a step at a pixel; says why where it cannot be had. */
  const pixelUnder = async (finish: Finish, stepId: string, frame: number, { x, y }: Pointed) => {
    try {
      return await started?.engine.pixel(finish, stepId, frame, x, y);
    } catch (error) {
      toast.error((error as Error).message);
      return undefined;
    }
  };
  /** The place in the scene under a click becomes the step's. */
  const pickPosition = async (tool: Extract<Tool, { type: 'pick-position' }>, at: Pointed) => {
    const { finish, frame, edit } = store.getState();
    const found = await pixelUnder(finish, tool.step, frame, at);
    if (!found) return;
    if (!found.slice(0, 3).every(Number.isFinite)) {
      toast.error(t`There is nothing of the scene at this pixel. Click on a surface.`);
      return;
    }
    const values = Object.fromEntries(
      tool.coordinates.map((key, i) => [key, Number(found[i].toPrecision(5))]),
    );
    edit((doc) => setValues(doc, tool.step, values, frame));
  };
  /** A colour that comes to the step becomes its value: the one before the step has changed it. */
  const pickColourAt = async (tool: Extract<Tool, { type: 'pick-colour' }>, at: Pointed) => {
    const { finish, frame, edit } = store.getState();
    const rgba = await pixelUnder(finish, tool.step, frame, at);
    if (rgba) edit((doc) => pickColour(doc, tool, rgba.length === 1 ? [...Array(3).fill(rgba[0]), 1] : rgba));
  };
  const pick = (at: Pointed, shift: boolean) => {
    const { tool } = store.getState();
    if (tool?.type === 'pick-guide') {
      change({ tool: undefined });
      if (started)
        measureGuide(started.engine, store, shot, tool.guide, { type: tool.how, at: { x: at.x, y: at.y } });
      return;
    }
    if (tool?.type !== 'pick-position' && tool?.type !== 'pick-colour')
      return ids ? pickObject(at, shift) : setPicked(at);
    change({ tool: undefined });
    return tool.type === 'pick-position' ? pickPosition(tool, at) : pickColourAt(tool, at);
  };

  // A picture of another frame is marked as such.
  const isOther = shown !== undefined && shown.frame !== frame && !isPlaying;
  return (
    <section
      className="grid h-full grid-cols-[minmax(0,1fr)] grid-rows-[auto_minmax(0,1fr)_auto_28px]"
      aria-label={t`Viewer`}
    >
      <div className="flex min-h-[38px] flex-wrap items-center gap-0.5 px-2 py-0.5">
        <div className="flex gap-0.5" role="group" aria-label={t`What is shown`}>
          <button
            type="button"
            className={chip(shows === 'finished')}
            aria-pressed={shows === 'finished'}
            onClick={() => change({ shows: 'finished' })}
          >
            {t`Finished`}
          </button>
          <button
            type="button"
            className={chip(shows === 'selected')}
            aria-pressed={shows === 'selected'}
            onClick={() => change({ shows: 'selected' })}
          >
            <span className="max-w-18 truncate">{chosen}</span>
          </button>
        </div>
        <span className="mx-0.5 h-4 border-l border-line" />
        <div className="flex" role="group" aria-label={t`Channels`}>
          {looks.map((l) => (
            <button
              key={l}
              type="button"
              className={chip(channels === l)}
              aria-pressed={channels === l}
              onClick={() => change({ look: l })}
            >
              {lookNames[l]}
            </button>
          ))}
        </div>
        <button
          type="button"
          className={`btn btn-ghost btn-xs btn-square ml-auto ${compare.mode === 'off' ? 'text-quiet' : 'text-primary'}`}
          aria-label={t`Compare`}
          aria-pressed={compare.mode !== 'off'}
          title={t`Compare with another picture (C)`}
          onClick={() => change({ compare: { ...compare, mode: compare.mode === 'off' ? 'wipe' : 'off' } })}
        >
          <Columns2 size={14} />
        </button>
        <button
          type="button"
          className={`btn btn-ghost btn-xs btn-square ${scopes ? 'text-primary' : 'text-quiet'}`}
          aria-label={t`Scopes`}
          aria-pressed={scopes}
          title={t`Waveform, histogram, stops (S)`}
          onClick={() => change({ scopes: !scopes })}
        >
          <Activity size={14} />
        </button>
        <button
          type="button"
          className={`btn btn-ghost btn-xs btn-square ${references ? 'text-primary' : 'text-quiet'}`}
          aria-label={t`References`}
          aria-pressed={references}
          title={t`Reference pictures (Q)`}
          onClick={() => change({ references: !references })}
        >
          <Images size={14} />
        </button>
        <button
          type="button"
          className={`btn btn-ghost btn-xs btn-square ${region || tool?.type === 'region' ? 'text-primary' : 'text-quiet'}`}
          aria-label={t`Region`}
          aria-pressed={region !== undefined}
          title={t`Compute only a part of the picture (R)`}
          onClick={() =>
            change(region ? { region: undefined, tool: undefined } : { tool: { type: 'region' } })
          }
        >
          <Crop size={14} />
        </button>
        <LookMenu />
        <button
          type="button"
          className={chip(before)}
          aria-pressed={before}
          title={t`Bypass all steps while comparing (W)`}
          onClick={() => change({ before: !before })}
        >
          {t`Bypass all`}
        </button>
        <span
          className="flex items-center gap-1.5 text-xs text-quiet"
          title={t`Exposure for looking only. Double-click for 0.`}
        >
          <RangeInput
            min={-6}
            max={6}
            step={0.25}
            value={stops}
            aria-label={t`Exposure in stops`}
            className="range range-xs w-12"
            onPreview={(to) => change({ stops: to })}
            onCommit={(to) => change({ stops: to })}
            onCancel={() => {}}
            onDoubleClick={() => change({ stops: 0 })}
          />
          <span className="w-13 text-right whitespace-nowrap">
            {t`${stops > 0 ? '+' : ''}${stops.toFixed(2)} EV`}
          </span>
        </span>
      </div>
      <div className="flex min-h-0">
        <div className="relative min-h-0 min-w-0 flex-1">
          <PictureCanvas
            shown={shown}
            full={{ width: shot.width, height: shot.height }}
            onPoint={setPointed}
            onZoom={setZoom}
            onPick={pick}
            dimmed={isOther && problem !== undefined}
          />
          {compare.mode !== 'off' && <CompareBar shot={shot} />}
          <FirstLook shot={shot} />
          {before && <Note>{t`Without ${shows === 'finished' ? t`any step` : t`the selected step`}`}</Note>}
          {tool?.type === 'region' && (
            <Note>{t`Drag a frame: only what is in it is computed. Esc leaves.`}</Note>
          )}
          {tool?.type === 'pick-objects' && (
            <Note>{t`Click objects on the picture; Shift takes one out. Esc when done.`}</Note>
          )}
          {tool?.type === 'pick-position' && <Note>{t`Click a surface on the picture. Esc leaves.`}</Note>}
          {tool?.type === 'pick-guide' && (
            <Note>
              {t`Click ${tool.how === 'scene' ? t`a surface` : t`what is to be followed`} on the picture. Esc leaves.`}
            </Note>
          )}
          {tool?.type === 'pick-colour' && <Note>{t`Click a colour on the picture. Esc leaves.`}</Note>}
          {tool?.type === 'draw' && <Note>{t`${drawHints[tool.with]} Esc leaves.`}</Note>}
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

function Note({ low, children }: { low?: boolean; children: React.ReactNode }) {
  return (
    <p
      className={`pointer-events-none absolute ${low ? 'bottom-3' : 'top-3'} left-1/2 -translate-x-1/2 rounded bg-black/70 px-2 py-1 text-xs`}
    >
      {children}
    </p>
  );
}
