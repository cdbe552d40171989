import { createStore, type StoreApi } from 'zustand';
import type { FramePicture, Thumbnail } from '../engine/answers';
import type { Engine } from '../engine/engine';
import { type Look, onFrame } from '../engine/look-on';
import { type Course, type Direction, frameAfter, nearest, type Span, startOf, upcoming } from './clock';
import { type Kept, ReadyFrames } from './ready-frames';
import { type PlaySettingsStore, spanOf } from './settings';

/** What there is to play. */
export type Scene = Span & {
  engine: Pick<Engine, 'frameKeys' | 'framePicture' | 'dropFrames'>;
  look: Look;
  scale: number;
  /** Frames a second of the shot. */
  rate: number;
  /** The look is the finished picture as it is, so small pictures of it stand for the frames. */
  finished: boolean;
};

export type Picture = FramePicture & Kept;
type SmallPicture = Thumbnail & { key: string };

export type PlayState = {
  /** `waiting`: play begins when all frames are ready. */
  status: 'still' | 'waiting' | 'playing';
  direction: Direction;
  /** Where the clock is. */
  frame: number;
  /** The picture on the screen while playing. */
  picture?: Picture;
  /** Frames that were shown in the last second. */
  fps: number;
  /** Frames whose time went by without their picture, since play began. */
  late: number;
  /** Frames of the span that are ready, and that can be. */
  ready: number;
  possible: number;
  /** Counts every change of what is ready. */
  changes: number;
};

/** The browser's clock and screen, so that tests can have their own. */
export type Host = {
  now(): number;
  nextFrame(work: () => void): number;
  cancel(id: number): void;
  after(millis: number, work: () => void): number;
  cancelAfter(id: number): void;
};
const browserHost: Host = {
  now: () => performance.now(),
  nextFrame: (work) => requestAnimationFrame(work),
  cancel: (id) => cancelAnimationFrame(id),
  after: (millis, work) => window.setTimeout(work, millis),
  cancelAfter: (id) => window.clearTimeout(id),
};

/** Bytes of pictures that are kept ready: some hundred frames of 1080p. */
export const readyBytes = 768 * 2 ** 20;
/** What was changed just now may change again: pictures are made once it rests. */
const restMillis = { still: 600, playing: 60 } as const;

/** Frames around the playhead that are planned; of a longer shot others follow as it moves. */
const mostPlanned = 4000;

const bytesOf = ({ width, height, second }: FramePicture) => width * height * 4 * (second ? 2 : 1);

/**
 * Makes pictures of frames ready ahead of the playhead, while the engine has nothing more urgent, and plays them by the clock: a frame whose
 * picture is late is left out and counted. `stopped` is told of the frame at which play ended, or is.
 */
export function createPlayer(
  settings: PlaySettingsStore,
  stopped: (frame: number) => void,
  host: Host = browserHost,
  limit = readyBytes,
) {
  const state: StoreApi<PlayState> = createStore<PlayState>()(() => ({
    status: 'still',
    direction: 1,
    frame: 0,
    fps: 0,
    late: 0,
    ready: 0,
    possible: 0,
    changes: 0,
  }));
  const frames = new ReadyFrames<Picture>(limit);
  /** Small pictures of finished frames, with the key of the place that they show; and what those keys are now. */
  const smalls = new Map<number, SmallPicture>();
  const places = new Map<number, string>();
  /** Frames whose picture cannot be made, by key: they are not tried again. */
  const refused = new Set<string>();
  let scene: Scene | undefined;
  /** The playhead when frames were planned last, and of which scene: the keys are of no other. */
  let plannedAt = 0;
  let plannedFor = -1;
  /** The frame that was told without play being over. */
  let told: number | undefined;
  /** Counts scenes, so that answers about an earlier one are known. */
  let round = 0;
  let resting: number | undefined;
  let filling = false;
  let lastMillis = 0;
  let lastBytes = 0;
  /** The clock: the course of play, when its first frame stood, and which step is on the screen. */
  let clock: { course: Course; began: number; step: number; shown: boolean } | undefined;
  let ticking: number | undefined;
  const shownAt: number[] = [];

  const isPlaying = () => state.getState().status !== 'still';
  const span = (): Span => spanOf(settings.getState(), scene?.first ?? 0, scene?.last ?? 0);
  const rate = () => (scene?.rate ?? 24) * Number(settings.getState().speed);

  const courseFrom = (from: number): Course => ({
    ...span(),
    from,
    direction: state.getState().direction,
    loop: settings.getState().loop,
  });
  /** The step of the clock, on the course as it is now. */
  const ahead = () => (clock ? clock.step + Math.max(1, Math.ceil((lastMillis / 1000) * rate())) : 0);

  /** All frames by need: the most needed first. */
  function order(): number[] {
    if (!scene) return [];
    const { frame, status } = state.getState();
    if (status === 'playing' && clock) return upcoming(clock.course, ahead(), mostPlanned);
    if (status === 'waiting') return upcoming(courseFrom(frame), 0, mostPlanned);
    return nearest(scene, span(), frame, mostPlanned);
  }
  const isRefused = (frame: number) => refused.has(frames.keyOf(frame) ?? '');
  const lacking = () =>
    frames.lacking(
      order().filter((f) => !isRefused(f)),
      lastBytes,
    );

  function tell() {
    const { first, last } = span();
    let [ready, possible] = [0, 0];
    for (let f = first; f <= last; f++) {
      if (frames.keyOf(f) === undefined || isRefused(f)) continue;
      possible++;
      if (frames.pictureOf(f)) ready++;
    }
    state.setState((s) => ({ ready, possible, changes: s.changes + 1 }));
  }

  /** Asks which frames are what, then makes those that are not ready. */
  async function prepare() {
    const now = scene;
    const mine = round;
    if (!now) return;
    plannedAt = state.getState().frame;
    const all = nearest(now, span(), plannedAt, mostPlanned);
    const keys = await now.engine.frameKeys(now.look, all, now.scale).catch(() => undefined);
    if (!keys || mine !== round) return;
    plannedFor = mine;
    places.clear();
    frames.setKeys(
      all.flatMap((frame, i) => {
        const known = keys[i];
        if (!known) return [];
        places.set(frame, known.place);
        return [[frame, known.look] as const];
      }),
    );
    tell();
    show();
    fill();
  }

  async function fill() {
    if (filling) return;
    filling = true;
    try {
      for (;;) {
        const now = scene;
        // Until the frames of a new scene are planned there is nothing to make.
        if (!now || plannedFor !== round) break;
        const next = lacking();
        if (next === undefined) break;
        const [key, place] = [frames.keyOf(next)!, places.get(next)!];
        const following = order().find((f) => f !== next && frames.keyOf(f) && !frames.pictureOf(f));
        const mine = round;
        const made = await now.engine
          .framePicture(onFrame(now.look, next), now.scale, now.finished, following)
          .catch(() => null);
        // What was made of an earlier scene keeps its key.
        if (made) take(next, key, place, made);
        else if (made === null && mine === round) {
          refused.add(key);
          tell();
        } else if (mine === round) break;
      }
    } finally {
      filling = false;
    }
    begin();
  }

  function take(frame: number, key: string, place: string, made: FramePicture) {
    [lastMillis, lastBytes] = [made.millis, bytesOf(made)];
    const close = () => {
      made.bitmap.close();
      made.second?.close();
    };
    if (made.thumbnail) smalls.set(frame, { ...made.thumbnail, key: place });
    frames.put(key, { ...made, bytes: lastBytes, close }, order());
    tell();
    show();
  }

  /** Starts the clock of play that has waited, once nothing is left to wait for. */
  function begin() {
    const { status, frame } = state.getState();
    if (status !== 'waiting' || plannedFor !== round || lacking() !== undefined) return;
    start(frame);
  }

  function start(from: number) {
    const course = courseFrom(from);
    clock = { course, began: host.now(), step: 0, shown: false };
    shownAt.length = 0;
    state.setState({ status: 'playing', frame: startOf(course), fps: 0, late: 0 });
    show();
    ticking ??= host.nextFrame(tick);
    fill();
  }

  /** Puts the picture of the clock's frame on the screen, where it is ready and not yet there. */
  function show() {
    if (!clock || clock.shown) return;
    const picture = frames.pictureOf(state.getState().frame);
    if (!picture) return;
    clock.shown = true;
    shownAt.push(host.now());
    state.setState({ picture });
  }

  /** Frames whose time has gone by unseen; one that cannot be made is not missed. */
  function missedUntil(step: number): number {
    const { course, shown, step: from } = clock!;
    let count = 0;
    for (let n = from + (shown ? 1 : 0); n < step; n++)
      if (frames.keyOf(frameAfter(course, n).frame) !== undefined) count++;
    return count;
  }

  /** Pictures a second, over the last second. */
  function shownRate(): number {
    while (shownAt[0] < host.now() - 1000) shownAt.shift();
    const seconds = (host.now() - shownAt[0]) / 1000;
    return shownAt.length > 1 ? Math.round((shownAt.length / seconds) * 10) / 10 : shownAt.length;
  }

  function tick() {
    ticking = undefined;
    if (!clock) return;
    const step = Math.floor(((host.now() - clock.began) / 1000) * rate());
    if (step > clock.step) {
      const missed = missedUntil(step);
      const { frame, over } = frameAfter(clock.course, step);
      clock.step = step;
      clock.shown = false;
      state.setState((s) => ({ frame, late: s.late + missed, fps: shownRate() }));
      if (over) return stop();
      show();
      if (Math.abs(frame - plannedAt) > mostPlanned / 4) prepare();
      else fill();
    }
    ticking = host.nextFrame(tick);
  }

  /** Ends the clock. */
  function halt() {
    clock = undefined;
    told = undefined;
    if (ticking !== undefined) host.cancel(ticking);
    ticking = undefined;
    state.setState({ status: 'still', picture: undefined });
  }

  function stop() {
    if (!isPlaying()) return;
    halt();
    stopped(state.getState().frame);
  }

  /** What is asked of the engine no longer counts; it is asked anew once things rest. */
  function renew() {
    round++;
    if (filling) scene?.engine.dropFrames().catch(() => {});
    host.cancelAfter(resting ?? 0);
    resting = host.after(isPlaying() ? restMillis.playing : restMillis.still, prepare);
  }

  // Another rate, span or loop begins where the clock is.
  const unfollow = settings.subscribe((now, before) => {
    tell();
    if (now.marks !== before.marks) return;
    const { status, frame } = state.getState();
    if (status === 'playing') start(frame);
    else if (status === 'still') fill();
    else begin();
  });

  return {
    state,
    settings,
    span,
    /** Whether a picture is ready, as far as is known just now. */
    isReady: (frame: number) => frames.pictureOf(frame) !== undefined,
    /** The picture of a frame, if it is ready and of what is looked at now. */
    pictureOf: (frame: number) => (plannedFor === round ? frames.pictureOf(frame) : undefined),
    /** The finished frame made small, as it was last; `fresh` if that is what it is now. */
    smallOf(frame: number): { picture: Thumbnail; fresh: boolean } | undefined {
      const picture = smalls.get(frame);
      return picture && { picture, fresh: !scene?.finished || picture.key === places.get(frame) };
    },
    /** Puts the playhead where the user has it, unless the clock has it. */
    moveTo(frame: number) {
      if (isPlaying()) {
        if (frame === told) return;
        halt();
      }
      if (state.getState().frame === frame) return;
      state.setState({ frame });
      if (Math.abs(frame - plannedAt) > mostPlanned / 4) renew();
      else fill();
    },
    /** Tells where the clock is while play goes on: what is edited then is that frame. */
    catchUp() {
      if (!isPlaying()) return;
      told = state.getState().frame;
      stopped(told);
    },
    setScene(next: Scene | undefined) {
      scene = next;
      renew();
      if (!next) stop();
    },
    play(direction: Direction) {
      const { status, frame } = state.getState();
      if (status !== 'still') return stop();
      if (!scene) return;
      state.setState({ direction, late: 0, fps: 0 });
      if (settings.getState().waits) {
        state.setState({ status: 'waiting', frame: startOf(courseFrom(frame)) });
        prepare().then(begin);
      } else {
        start(frame);
        prepare();
      }
    },
    stop,
    end() {
      unfollow();
      round++;
      host.cancelAfter(resting ?? 0);
      if (ticking !== undefined) host.cancel(ticking);
      clock = undefined;
      scene = undefined;
      frames.clear();
    },
  };
}
export type Player = ReturnType<typeof createPlayer>;
