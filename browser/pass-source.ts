import type { FrameSource } from '../core/evaluate/run';
import { type Box, boxHeight, boxWidth, bytesPerSample, type Samples } from '../core/formats/exr/types';
import { type Pass, passPicture } from '../core/formats/passes';

/** What the browser knows of a shot's media: where frames are fetched, and the content of each. */
export type MediaIndex = Record<string, { id: number; contents: Record<number, string> }>;

const arrays = { uint: Uint32Array, half: Uint16Array, float: Float32Array } as const;

/** Frames from the server, as the samples the files hold. */
export function passSource(media: () => MediaIndex): FrameSource {
  const contentOf = (name: string, frame: number) => {
    const known = media()[name];
    if (!known) throw new Error(`The shot has no media “${name}”. Choose another pass at the strand’s head.`);
    const content = known.contents[frame];
    if (!content)
      throw new Error(`Frame ${frame} of ${name} has not arrived yet. It is shown as soon as it is there.`);
    return { id: known.id, content };
  };
  return {
    identity: (name, frame) => contentOf(name, frame).content,
    async load(head, frame) {
      const { id, content } = contentOf(head.media, frame);
      const query = new URLSearchParams({ name: head.pass, content });
      const response = await fetch(`/api/media/${id}/frames/${frame}/pass?${query}`);
      if (!response.ok) {
        const { error } = await response
          .json()
          .catch(() => ({ error: `The server answered ${response.status}.` }));
        throw new Error(error);
      }
      type Told = { pass: Pass; dataWindow: Box; displayWindow: Box };
      const told: Told = JSON.parse(decodeURIComponent(response.headers.get('x-zafiro-pass')!));
      const bytes = await response.arrayBuffer();
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
  };
}
