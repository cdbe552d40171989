import { Diamond } from 'lucide-react';
import { addressOf } from '@/api/contract';
import { type MediaDetail, readThumbnail } from '@/api/media';
import type { ShotDetail } from '@/api/shots';
import { useShot } from '@/browser/session/store';
import { type Finish, findStep, leadingPass, originalOf, passesUsed } from '@/core/finish/finish';
import { limits } from '@/core/formats/limits';

const gapWords = {
  missing: 'frames here',
  hold: 'drawn, others held',
  empty: 'drawn, others empty',
} as const;

/** The media of a finish whose drawings are held on the most frames. A still has no frames. */
function mostDrawn(shot: ShotDetail, finish: Finish): MediaDetail | undefined {
  const used = new Set(finish.strands.flatMap((s) => passesUsed(s.head).map((p) => p.media)));
  const drawn = ({ frames }: MediaDetail) => frames.reduce((sum, f) => sum + f.bytes, 0);
  return shot.media
    .filter((m) => used.has(m.name) && !m.still)
    .reduce<MediaDetail | undefined>((a, b) => (a && drawn(a) >= drawn(b) ? a : b), undefined);
}

/** The frames of the shot: which are here, which one is looked at. */
export function Ribbon({ shot }: { shot: ShotDetail }) {
  const frame = useShot((s) => s.frame);
  const name = useShot((s) => leadingPass(s.finish)?.media);
  const change = useShot((s) => s.change);
  const finish = useShot((s) => s.finish);
  const step = useShot((s) => findStep(s.finish, s.selected ?? '')?.step);
  const keyed = new Set(
    Object.values((step && originalOf(finish, step).keys) ?? {}).flatMap((keys) => keys.map((k) => k.frame)),
  );
  const leading = shot.media.find((m) => m.name === name) ?? shot.media[0];
  const media = leading && !leading.still ? leading : (mostDrawn(shot, finish) ?? leading);
  const states = new Map(media?.frames.map((f) => [f.frame, f]));
  /** The drawing that a frame without one holds. */
  const heldOn = (f: number) =>
    media?.gaps === 'hold' ? media.frames.findLast((k) => k.frame < f && k.state !== 'failed') : undefined;
  const count = shot.last - shot.first + 1;
  // Of a range that no screen can show, the frames that are there.
  const frames =
    count <= limits.shownFrames
      ? Array.from({ length: count }, (_, i) => shot.first + i)
      : (media?.frames ?? []).slice(0, limits.shownFrames).map((f) => f.frame);
  const ready = media?.frames.filter((f) => f.state === 'ready').length ?? 0;
  const state = media?.still ? media.frames[0] : states.get(frame);
  return (
    <section className="flex h-[78px] items-stretch gap-4 px-4 py-2" aria-label="Frames">
      <div className="grid w-32 shrink-0 content-center">
        <span className="text-2xl font-semibold" data-testid="frame">
          {String(frame).padStart(4, '0')}
        </span>
        <span className="text-xs text-quiet">
          {shot.first}–{shot.last} · {shot.rate} fps
        </span>
        <span
          className={`text-xs ${ready < (media?.still ? 1 : count) ? 'text-secondary' : 'text-quiet'}`}
          data-testid="arrived"
        >
          {media?.still
            ? ready > 0
              ? 'a still, on every frame'
              : 'the still is not here yet'
            : ready >= count
              ? 'all frames here'
              : `${ready} of ${count} ${gapWords[media?.gaps ?? 'missing']}`}
        </span>
      </div>
      <ol className="flex min-w-0 flex-1 gap-[3px] overflow-x-auto overflow-y-hidden">
        {frames.map((f) => {
          // A still is used on every frame.
          const known = media?.still ? media.frames[0] : states.get(f);
          const here = known !== undefined && known.state !== 'failed';
          const held = known ? undefined : heldOn(f);
          const drawing = here ? known : held;
          return (
            <li key={f} className="min-w-[34px] flex-1">
              <button
                type="button"
                aria-label={`Frame ${f}${known?.state === 'partial' ? ', partial' : here ? '' : known ? ', failed' : held ? `, holds ${held.frame}` : ', not here yet'}`}
                aria-current={f === frame}
                title={
                  known?.problem ??
                  known?.differs ??
                  (held ? `Frame ${f} holds the drawing of ${held.frame}` : `Frame ${f}`)
                }
                className={`relative block h-full w-full cursor-pointer overflow-hidden rounded-sm border ${
                  f === frame ? 'border-primary ring-1 ring-primary' : 'border-transparent'
                }`}
                onClick={() => change({ frame: f })}
              >
                {drawing ? (
                  <img
                    src={addressOf(readThumbnail, {
                      params: { media: media!.id, frame: drawing.frame },
                      query: { content: drawing.content },
                    })}
                    alt=""
                    draggable={false}
                    className={`h-full w-full object-cover ${held ? 'opacity-35' : ''}`}
                  />
                ) : (
                  <span
                    className={`block h-full w-full ${known ? 'bg-error/30' : 'bg-[repeating-linear-gradient(135deg,#262626_0_5px,#1e1e1e_5px_10px)]'}`}
                  />
                )}
                {(known?.differs || (here && known?.problem)) && (
                  <span className="absolute top-0.5 right-0.5 size-2 rounded-full bg-warning" />
                )}
                {keyed.has(f) && (
                  <Diamond
                    size={10}
                    className="absolute top-0.5 left-1/2 -translate-x-1/2 text-secondary"
                    fill="currentColor"
                    stroke="#151515"
                    aria-label="key of the selected step"
                  />
                )}
                <span className="absolute bottom-0 left-0 bg-black/60 px-1 text-[10px]">{f}</span>
              </button>
            </li>
          );
        })}
      </ol>
      {(state?.problem ?? state?.differs) && (
        <p role="alert" className="w-64 self-center text-xs text-error">
          {state?.problem ?? state?.differs}
        </p>
      )}
    </section>
  );
}
