import { Bounded } from '../core/evaluate/bounded';
import type { FrameSource, FrameTold } from '../core/evaluate/run';
import type { PassHead } from '../core/finish/finish';
import { boxHeight, boxWidth } from '../core/formats/exr/types';
import type { GapRule } from '../core/formats/gap-rules';
import { passPicture } from '../core/formats/pass-picture';
import type { PassTold } from '../core/formats/pass-wire';
import { type Plane, planeArrays, sampleSize } from '../core/formats/samples';
import type { Desk } from '../core/kernels/desk';
import type { Picture } from '../core/picture/picture';

/** What the browser knows of a media: where frames are fetched, the content of each, and how it is read. */
export type MediaEntry = { id: number; contents: Record<number, string>; gaps: GapRule; read: string };
export type MediaIndex = Record<string, MediaEntry>;

type Fetched = { told: PassTold; bytes: ArrayBuffer };

/** What a frame shows, and of which frame: its content, that of the drawing it holds, or the word for nothing. */
function contentAt(
  { contents, gaps }: MediaEntry,
  frame: number,
): { of: number; content: string } | undefined {
  if (contents[frame]) return { of: frame, content: contents[frame] };
  if (gaps === 'missing') return;
  const before = Object.keys(contents)
    .map(Number)
    .filter((f) => f <= frame && contents[f]);
  if (gaps === 'hold' && before.length > 0) {
    const of = Math.max(...before);
    return { of, content: contents[of] };
  }
  return { of: frame, content: 'nothing' };
}

async function problemOf(response: Response): Promise<Error> {
  const { error } = await response.json().catch(() => ({ error: `The server answered ${response.status}.` }));
  return new Error(error);
}

async function fetchJson(address: string) {
  const response = await fetch(address);
  if (!response.ok) throw await problemOf(response);
  return response.json();
}

async function fetchPass(address: string): Promise<Fetched> {
  const response = await fetch(address);
  if (!response.ok) throw await problemOf(response);
  const told = JSON.parse(decodeURIComponent(response.headers.get('x-zafiro-pass')!));
  return { told, bytes: await response.arrayBuffer() };
}

/** Places what was fetched on a desk. */
function placer(told: PassTold, bytes: ArrayBuffer): (desk: Desk) => Picture {
  switch (told.sort) {
    case 'empty':
      return (desk) => desk.blank(told.width, told.height);
    case 'draft':
      return (desk) => {
        const picture = desk.picture(told.width, told.height);
        picture.data.set(new Float32Array(bytes));
        return picture;
      };
    case 'planes': {
      const count = boxWidth(told.dataWindow) * boxHeight(told.dataWindow);
      let at = 0;
      const planes = told.pass.types.map((type): Plane => {
        const from = at;
        at += count * sampleSize[type];
        // A copy: a float plane behind a half plane may begin at an odd place.
        return new planeArrays[type](bytes.slice(from, at));
      });
      return (desk) => passPicture(desk, { ...told, planes });
    }
  }
}

/** Frames from the server: the samples the files hold, or a draft of them; what was fetched lately is kept. */
export function passSource(media: () => MediaIndex): Required<FrameSource> {
  const kept = new Bounded<Fetched>(256 * 1024 * 1024);
  const facts = new Map<string, Promise<FrameTold>>();
  const addressOf = (head: PassHead, frame: number, scale = 1) => {
    const known = media()[head.media];
    if (!known)
      throw new Error(`The shot has no media “${head.media}”. Choose another pass at the strand’s head.`);
    const shown = contentAt(known, frame);
    if (!shown)
      throw new Error(
        `Frame ${frame} of ${head.media} has not arrived yet. It is shown as soon as it is there.`,
      );
    const query = new URLSearchParams({
      name: head.pass,
      content: `${shown.content}-${known.read}`,
      ...(scale < 1 ? { scale: String(scale) } : {}),
    });
    return `/api/media/${known.id}/frames/${shown.of}/pass?${query}`;
  };
  const coming = new Map<string, Promise<Fetched>>();
  const fetched = async (address: string): Promise<Fetched> => {
    const known = kept.get(address);
    if (known) return known;
    const fetching = coming.get(address) ?? fetchPass(address).finally(() => coming.delete(address));
    coming.set(address, fetching);
    const fresh = await fetching;
    kept.set(address, fresh, fresh.bytes.byteLength);
    return fresh;
  };
  return {
    identity: (name, frame) => addressOf({ type: 'pass', media: name, pass: '' }, frame),
    async load(head, frame) {
      const { told, bytes } = await fetched(addressOf(head, frame));
      return placer(told, bytes);
    },
    async draft(head, frame, scale) {
      if (kept.get(addressOf(head, frame))) return;
      const { told, bytes } = await fetched(addressOf(head, frame, scale));
      return told.sort === 'empty' ? undefined : placer(told, bytes);
    },
    told(name, frame) {
      const known = media()[name];
      const address = `/api/media/${known?.id}/frames/${frame}/told`;
      const told = facts.get(address) ?? fetchJson(address);
      facts.set(address, told);
      told.catch(() => facts.delete(address));
      return told;
    },
    async ahead(head, frame, scale) {
      const known = media()[head.media];
      if (!known || !contentAt(known, frame) || kept.get(addressOf(head, frame))) return;
      await fetched(addressOf(head, frame, scale)).catch(() => undefined);
    },
  };
}
