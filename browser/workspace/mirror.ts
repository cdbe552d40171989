import { createContext, useContext } from 'react';
import type { Size } from '../../core/picture/region';
import type { Shown } from '../engine/answers';
import type { Box, Comparing } from '../session/store';

/**
 * The viewer in a window of its own: the page of the shot sends what its viewer shows, the window paints it at its own zoom, and sends keys back.
 * They speak over a BroadcastChannel named after the finish, so either may be loaded anew at any time. Nothing is sent while no window listens.
 */

/** What is painted besides the pictures, with a number that the window sends back when it has it. */
export type Mirrored = Pick<Shown, 'width' | 'height' | 'scale' | 'region'> & {
  frame: number;
  full: Size;
  compare: Comparing;
  flipped: boolean;
  shownRegion?: Box;
  moving: boolean;
};

type ToWindow =
  | { type: 'picture'; picture: ImageBitmap; other?: ImageBitmap; mirrored: Mirrored }
  | { type: 'gone' };
type ToPage =
  /** The window is there, and has painted what it got; `isNew` if it has nothing yet. */
  | { type: 'ready'; isNew: boolean }
  | { type: 'key'; key: string; code: string; ctrl: boolean; shift: boolean; alt: boolean };

export const channelOf = (finish: number) => `zafiro-viewer-${finish}`;

/** A window that says nothing for so long is closed, in milliseconds. It says something every second. */
const silence = 3500;
export const heartbeat = 1000;

/** What is put on a canvas: a picture, and the other of a comparison. */
export type Painting = Pick<Shown, 'width' | 'height' | 'scale' | 'region'> & {
  picture: CanvasImageSource;
  other?: CanvasImageSource;
};
type Showing = Pick<Mirrored, 'frame' | 'full' | 'compare' | 'flipped' | 'moving'> & {
  painting: Painting;
  region?: Box;
};

/** The page's end. Of pictures that follow quickly the window gets those that it has time for, and always the last one. */
export class Mirror {
  private readonly channel: BroadcastChannel;
  private heard = Number.NEGATIVE_INFINITY;
  private waiting?: Showing;
  private last?: Showing;
  private sending = false;
  private painted = true;

  constructor(finish: number, onKey: (e: KeyboardEventInit) => void) {
    this.channel = new BroadcastChannel(channelOf(finish));
    this.channel.onmessage = ({ data }: MessageEvent<ToPage>) => {
      if (data.type === 'key') {
        const { key, code, ctrl, shift, alt } = data;
        return onKey({
          key,
          code,
          ctrlKey: ctrl,
          shiftKey: shift,
          altKey: alt,
          bubbles: true,
          cancelable: true,
        });
      }
      const isNew = data.isNew || performance.now() - this.heard > silence;
      this.heard = performance.now();
      this.painted = true;
      if (isNew) this.waiting ??= this.last;
      this.send();
    };
  }

  show(showing: Showing) {
    this.last = this.waiting = showing;
    if (performance.now() - this.heard < silence) this.send();
  }

  private async send() {
    const showing = this.waiting;
    if (!showing || this.sending || !this.painted) return;
    this.sending = true;
    this.waiting = undefined;
    const { painting, region, ...others } = showing;
    const { picture, other, width, height, scale, region: part } = painting;
    try {
      const bitmaps = await Promise.all([
        createImageBitmap(picture as ImageBitmapSource),
        other && createImageBitmap(other as ImageBitmapSource),
      ]);
      const mirrored = { ...others, width, height, scale, region: part, shownRegion: region };
      this.painted = false;
      this.channel.postMessage({
        type: 'picture',
        picture: bitmaps[0],
        other: bitmaps[1],
        mirrored,
      } satisfies ToWindow);
      for (const bitmap of bitmaps) bitmap?.close();
    } catch {
      // A picture that play let go of in the meantime: the next one comes.
    } finally {
      this.sending = false;
    }
  }

  /** Says that the page goes. */
  leave() {
    this.channel.postMessage({ type: 'gone' } satisfies ToWindow);
  }

  end() {
    this.leave();
    this.channel.close();
  }
}

export const MirrorContext = createContext<Mirror | null>(null);
export const useMirror = () => useContext(MirrorContext);

type OnPicture = (picture: ImageBitmap, other: ImageBitmap | undefined, mirrored: Mirrored) => void;

/** The window's end. */
export function watchViewer(finish: number, onPicture: OnPicture, onGone: () => void) {
  const channel = new BroadcastChannel(channelOf(finish));
  const say = (message: ToPage) => channel.postMessage(message);
  channel.onmessage = ({ data }: MessageEvent<ToWindow>) => {
    if (data.type === 'gone') return onGone();
    onPicture(data.picture, data.other, data.mirrored);
    say({ type: 'ready', isNew: false });
  };
  say({ type: 'ready', isNew: true });
  const beat = setInterval(() => say({ type: 'ready', isNew: false }), heartbeat);
  return {
    key: ({ key, code, ctrlKey: ctrl, shiftKey: shift, altKey: alt }: KeyboardEvent) =>
      say({ type: 'key', key, code, ctrl, shift, alt }),
    end() {
      clearInterval(beat);
      channel.close();
    },
  };
}
