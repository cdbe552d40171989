import type { MediaDetail } from '@/api/media';
import type { ShotDetail } from '@/api/shots';
import { type Finish, leadingPass, passesUsed } from '@/core/finish/finish';
import { flatLayers } from '@/core/finish/flat-layers';
import { t } from '../words/words';

type State = MediaDetail['frames'][number];

/** The drawing of a layer that is seen on a frame. */
export type LayerDrawing = { media: number; drawing: State; opacity: number };

/** What is there of a frame of the shot. */
export type FrameState = {
  known?: State;
  /** The drawing that is seen on it: its own, or an earlier one that it holds. */
  drawing?: State;
  /** The drawings of all its layers, the lowest first, where there are several. */
  layers: readonly LayerDrawing[];
  held: boolean;
  /** In words, after “Frame 12”. */
  words: string;
};

/** The media of a finish whose drawings are held on the most frames. A still has no frames. */
function mostDrawn(shot: ShotDetail, finish: Finish): MediaDetail | undefined {
  const used = new Set(finish.strands.flatMap((s) => passesUsed(s.head).map((p) => p.media)));
  const drawn = ({ frames }: MediaDetail) => frames.reduce((sum, f) => sum + f.bytes, 0);
  return shot.media
    .filter((m) => used.has(m.name) && !m.still)
    .reduce<MediaDetail | undefined>((a, b) => (a && drawn(a) >= drawn(b) ? a : b), undefined);
}

/** What frames without a drawing hold: the last that is drawn before them. */
function heldFrames(media: MediaDetail, shot: ShotDetail): Map<number, State> {
  const held = new Map<number, State>();
  if (media.gaps !== 'hold') return held;
  const states = new Map(media.frames.map((f) => [f.frame, f]));
  let last: State | undefined;
  for (const f of media.frames) if (f.frame < shot.first && f.state !== 'failed') last = f;
  for (let f = shot.first; f <= shot.last; f++) {
    const own = states.get(f);
    if (own && own.state !== 'failed') last = own;
    else if (last && !own) held.set(f, last);
  }
  return held;
}

/** The media whose frames stand for those of the shot, and what is there of each. */
export function frameStates(shot: ShotDetail, finish: Finish) {
  const name = leadingPass(finish)?.media;
  const leading = shot.media.find((m) => m.name === name) ?? shot.media[0];
  const media = leading && !leading.still ? leading : (mostDrawn(shot, finish) ?? leading);
  const states = new Map(media?.frames.map((f) => [f.frame, f]));
  const heldOn = media ? heldFrames(media, shot) : new Map<number, State>();
  // Small pictures are those of a media’s first pass.
  const layers = flatLayers(finish).flatMap(({ media: name, pass, opacity }) => {
    const of = shot.media.find((m) => m.name === name);
    if (!of || of.passes[0]?.name !== pass) return [];
    const own = new Map(of.frames.map((f) => [f.frame, f]));
    return [{ of, own, held: heldFrames(of, shot), opacity }];
  });
  return {
    media,
    ready: media?.frames.filter((f) => f.state === 'ready').length ?? 0,
    stateOf(frame: number): FrameState {
      // A still is used on every frame.
      const known = media?.still ? media.frames[0] : states.get(frame);
      const here = known !== undefined && known.state !== 'failed';
      const held = known ? undefined : heldOn.get(frame);
      const words =
        known?.state === 'partial'
          ? ', partial'
          : here
            ? ''
            : known
              ? ', failed'
              : held
                ? `, holds ${held.frame}`
                : t`, not here yet`;
      const seen = layers.flatMap(({ of, own, held, opacity }) => {
        const drawing = (of.still ? of.frames[0] : own.get(frame)) ?? held.get(frame);
        return drawing && drawing.state !== 'failed' ? [{ media: of.id, drawing, opacity }] : [];
      });
      return {
        known,
        drawing: here ? known : held,
        held: held !== undefined,
        words,
        layers: layers.length > 1 ? seen : [],
      };
    },
  };
}
export type FrameStates = ReturnType<typeof frameStates>;
