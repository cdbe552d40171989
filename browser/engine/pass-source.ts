import { LRUCache } from 'lru-cache';
import { addressOf } from '../../api/contract';
import { readFrameMetadata, readPass } from '../../api/media';
import { request, requestBytes } from '../../api/request';
import type { FrameMetadata, FrameSource } from '../../core/evaluate/run';
import type { PassHead } from '../../core/finish/finish';
import type { GapRule } from '../../core/formats/gap-rules';
import { passPicture } from '../../core/formats/pass-picture';
import { type PassInfo, planesOf } from '../../core/formats/pass-wire';
import type { Workspace } from '../../core/kernels/workspace';
import type { Picture } from '../../core/picture/picture';

/** A media in the browser: its id, the content of each frame, and how it is read. */
export type MediaEntry = {
  id: number;
  /** One file is used on every frame. */
  still: boolean;
  contents: Record<number, string>;
  /** Why the file of a frame cannot be used. */
  problems?: Record<number, string>;
  gaps: GapRule;
  read: string;
};
export type MediaIndex = Record<string, MediaEntry>;

type Fetched = { info: PassInfo; bytes: ArrayBuffer };

const keptBytes = 256 * 1024 * 1024;

/** The content shown on a frame and the frame that it comes from: its own, that of the held drawing, or 'nothing'. */
export function contentAt(
  { contents, gaps, still }: MediaEntry,
  frame: number,
): { of: number; content: string } | undefined {
  if (still) {
    const [of] = Object.keys(contents);
    return of === undefined ? undefined : { of: Number(of), content: contents[Number(of)] };
  }
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

/** Places what was fetched on a workspace. */
function unpack(info: PassInfo, bytes: ArrayBuffer): (workspace: Workspace) => Picture {
  switch (info.type) {
    case 'empty':
      return (workspace) => workspace.blank(info.width, info.height);
    case 'draft':
      return (workspace) => {
        const picture = workspace.picture(info.width, info.height);
        picture.data.set(new Float32Array(bytes));
        return picture;
      };
    case 'planes': {
      const planes = planesOf(info, new Uint8Array(bytes));
      return (workspace) => passPicture(workspace, { ...info, planes });
    }
  }
}

type Asked = {
  params: { media: number; frame: number };
  query: { name: string; scale?: number; content: string };
};

/** Frames from the server: the samples the files hold, or a draft of them; what was fetched lately is kept. */
export function passSource(media: () => MediaIndex): Required<FrameSource> {
  const kept = new LRUCache<string, Fetched>({
    maxSize: keptBytes,
    sizeCalculation: ({ bytes }) => Math.max(1, bytes.byteLength),
  });
  const facts = new LRUCache<string, Promise<FrameMetadata>>({ max: 500 });
  const entryOf = (name: string): MediaEntry => {
    const known = media()[name];
    if (known) return known;
    throw new Error(`The shot has no media “${name}”. Choose another pass at the strand’s head.`);
  };
  const shownOn = (name: string, frame: number) => {
    const shown = contentAt(entryOf(name), frame);
    if (shown) return shown;
    throw new Error(
      entryOf(name).problems?.[frame] ??
        `Frame ${frame} of ${name} has not arrived yet. It is shown as soon as it is there.`,
    );
  };
  const asked = ({ media: name, pass }: PassHead, frame: number, scale = 1): Asked => {
    const { id, read } = entryOf(name);
    const { of, content } = shownOn(name, frame);
    return {
      params: { media: id, frame: of },
      query: {
        name: pass,
        content: `${content}-${read}`,
        ...(scale < 1 ? { scale } : {}),
      },
    };
  };
  const addressed = (given: Asked) => addressOf(readPass, given);

  type Coming = { fetching: Promise<Fetched>; abort: AbortController; users: number };
  const coming = new Map<string, Coming>();
  /** One fetch for all that want the same; it ends when the last of them no longer does. */
  async function fetched(given: Asked, signal?: AbortSignal): Promise<Fetched> {
    signal?.throwIfAborted();
    const address = addressed(given);
    const known = kept.get(address);
    if (known) return known;
    let one = coming.get(address);
    if (!one) {
      const abort = new AbortController();
      const fetching = (async (): Promise<Fetched> => {
        const response = await requestBytes(readPass, given, { signal: abort.signal });
        const info = JSON.parse(decodeURIComponent(response.headers.get('x-zafiro-pass')!));
        const fresh = { info, bytes: await response.arrayBuffer() };
        kept.set(address, fresh);
        return fresh;
      })().finally(() => {
        if (coming.get(address) === made) coming.delete(address);
      });
      const made: Coming = { fetching, abort, users: 0 };
      one = made;
      coming.set(address, made);
    }
    const used = one;
    used.users++;
    if (!signal) return used.fetching;
    return new Promise((done, failed) => {
      const leave = () => {
        if (--used.users === 0) {
          used.abort.abort();
          if (coming.get(address) === used) coming.delete(address);
        }
        failed(signal.reason);
      };
      signal.addEventListener('abort', leave, { once: true });
      used.fetching.then(done, failed).finally(() => signal.removeEventListener('abort', leave));
    });
  }
  return {
    identity: (name, frame) => addressed(asked({ type: 'pass', media: name, pass: '' }, frame)),
    async load(head, frame, signal) {
      const { info, bytes } = await fetched(asked(head, frame), signal);
      return unpack(info, bytes);
    },
    async draft(head, frame, scale, signal) {
      if (kept.has(addressed(asked(head, frame)))) return;
      const { info, bytes } = await fetched(asked(head, frame, scale), signal);
      return info.type === 'empty' ? undefined : unpack(info, bytes);
    },
    metadata(name, frame) {
      // By content: a frame that is rendered anew may say something else.
      const { of, content } = shownOn(name, frame);
      const given = { params: { media: entryOf(name).id, frame: of }, query: { content } };
      const key = addressOf(readFrameMetadata, given);
      const known = facts.get(key) ?? request(readFrameMetadata, given);
      facts.set(key, known);
      known.catch(() => facts.delete(key));
      return known;
    },
    async ahead(head, frame, scale, signal) {
      const known = media()[head.media];
      if (!known || !contentAt(known, frame) || kept.has(addressed(asked(head, frame)))) return;
      await fetched(asked(head, frame, scale), signal).catch(() => undefined);
    },
  };
}
