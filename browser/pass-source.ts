import { Bounded } from '../core/evaluate/bounded';
import type { FrameSource } from '../core/evaluate/run';
import type { Head } from '../core/finish/finish';
import { type Box, boxHeight, boxWidth, bytesPerSample, type Samples } from '../core/formats/exr/types';
import { type Pass, passPicture } from '../core/formats/passes';

/** What the browser knows of a shot's media: where frames are fetched, and the content of each. */
export type MediaIndex = Record<string, { id: number; contents: Record<number, string> }>;

const arrays = { uint: Uint32Array, half: Uint16Array, float: Float32Array } as const;

type Fetched<T> = { told: T; bytes: ArrayBuffer };
type Whole = { pass: Pass; dataWindow: Box; displayWindow: Box };
type Small = { width: number; height: number };

async function fetchPass<T>(address: string): Promise<Fetched<T>> {
  const response = await fetch(address);
  if (!response.ok) {
    const { error } = await response
      .json()
      .catch(() => ({ error: `The server answered ${response.status}.` }));
    throw new Error(error);
  }
  const told = JSON.parse(decodeURIComponent(response.headers.get('x-zafiro-pass')!));
  return { told, bytes: await response.arrayBuffer() };
}

export type PassSource = FrameSource & {
  /** Fetches a frame that will be wanted soon, if it is there; says nothing if it fails. */
  ahead(head: Head, frame: number): Promise<void>;
};

/** Frames from the server: the samples the files hold, or a draft of them; what was fetched lately is kept. */
export function passSource(media: () => MediaIndex): PassSource {
  const kept = new Bounded<Fetched<unknown>>(256 * 1024 * 1024);
  const addressOf = (head: Head, frame: number, scale = 1) => {
    const known = media()[head.media];
    if (!known)
      throw new Error(`The shot has no media “${head.media}”. Choose another pass at the strand’s head.`);
    const content = known.contents[frame];
    if (!content)
      throw new Error(
        `Frame ${frame} of ${head.media} has not arrived yet. It is shown as soon as it is there.`,
      );
    const query = new URLSearchParams({
      name: head.pass,
      content,
      ...(scale < 1 ? { scale: String(scale) } : {}),
    });
    return `/api/media/${known.id}/frames/${frame}/pass?${query}`;
  };
  const fetched = async <T>(address: string): Promise<Fetched<T>> => {
    const known = kept.get(address);
    if (known) return known as Fetched<T>;
    const fresh = await fetchPass<T>(address);
    kept.set(address, fresh, fresh.bytes.byteLength);
    return fresh;
  };
  return {
    identity: (name, frame) => addressOf({ type: 'pass', media: name, pass: '' }, frame),
    async load(head, frame) {
      const { told, bytes } = await fetched<Whole>(addressOf(head, frame));
      const count = boxWidth(told.dataWindow) * boxHeight(told.dataWindow);
      let at = 0;
      const planes = told.pass.types.map((type): Samples => {
        const from = at;
        at += count * bytesPerSample[type];
        // A copy: a float plane behind a half plane may begin at an odd place.
        return new arrays[type](bytes.slice(from, at));
      });
      return (desk) => passPicture(desk, told.pass, planes, told.dataWindow, told.displayWindow);
    },
    async draft(head, frame, scale) {
      if (kept.get(addressOf(head, frame))) return;
      const { told, bytes } = await fetched<Small>(addressOf(head, frame, scale));
      return (desk) => {
        const picture = desk.picture(told.width, told.height);
        picture.data.set(new Float32Array(bytes));
        return picture;
      };
    },
    async ahead(head, frame) {
      if (media()[head.media]?.contents[frame]) await fetched(addressOf(head, frame)).catch(() => undefined);
    },
  };
}
