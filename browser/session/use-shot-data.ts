import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useMemo, useRef, useState } from 'react';
import type { ShotEvent } from '../../api/events';
import { type ExportRun, listExports } from '../../api/exports';
import type { FrameState, MediaDetail } from '../../api/media';
import { request } from '../../api/request';
import { readShot, type ShotDetail } from '../../api/shots';
import type { MediaIndex } from '../engine/pass-source';
import { followEvents } from './events';
import { heard } from './heard';
import type { Session } from './session';
import type { Versions } from './versions';

/** Data of a shot from the server, updated by its events. */

export const shotKey = (shot: number) => ['shot', shot];
export const exportsKey = (shot: number) => ['exports', shot];

/** Frames with some of them in a newer state. */
function withFrames(known: readonly FrameState[], fresh: readonly FrameState[]): FrameState[] {
  const byFrame = new Map(known.map((f) => [f.frame, f]));
  for (const f of fresh) byFrame.set(f.frame, f);
  return [...byFrame.values()].sort((a, b) => a.frame - b.frame);
}

const withMedia = (
  shot: ShotDetail,
  id: number,
  change: (media: MediaDetail) => MediaDetail,
): ShotDetail => ({
  ...shot,
  media: shot.media.map((m) => (m.id === id ? change(m) : m)),
});

/** Runs, newest first, with one of them in a newer state: its frames may be some of all. */
export function withRun(runs: readonly ExportRun[], fresh: ExportRun): ExportRun[] {
  const known = runs.find((r) => r.id === fresh.id);
  if (!known) return [fresh, ...runs].sort((a, b) => b.id - a.id);
  const byFrame = new Map(known.frames.map((f) => [f.frame, f]));
  for (const f of fresh.frames) byFrame.set(f.frame, f);
  const frames = [...byFrame.values()].sort((a, b) => a.frame - b.frame);
  return runs.map((r) => (r === known ? { ...fresh, frames } : r));
}

/** The shot as it is now; `away` while the server does not answer, `diskFull` while it has no room to write. */
export function useShotData(
  initial: ShotDetail,
  session: Session,
  versions: Versions,
): { shot: ShotDetail; away: boolean; diskFull: boolean } {
  const client = useQueryClient();
  const [away, setAway] = useState(false);
  const [diskFull, setDiskFull] = useState(false);
  const key = useMemo(() => shotKey(initial.id), [initial.id]);
  const { data: shot } = useQuery({
    queryKey: key,
    queryFn: () => request(readShot, { params: { shot: initial.id } }),
    initialData: initial,
    // Events tell of every change.
    staleTime: Number.POSITIVE_INFINITY,
  });
  const hear = useRef<(event: ShotEvent) => void>(() => {});
  hear.current = (event) => {
    switch (event.type) {
      case 'frames':
        heard<ShotDetail>(client, key, (known) =>
          withMedia(known, event.media, (m) => ({ ...m, frames: withFrames(m.frames, event.frames) })),
        );
        return;
      case 'shot':
        client.invalidateQueries({ queryKey: key });
        // An export that was removed is in no event of its own.
        client.invalidateQueries({ queryKey: exportsKey(initial.id) });
        return;
      case 'export':
        heard<ExportRun[]>(client, exportsKey(initial.id), (runs) => withRun(runs, event.run));
        return;
      case 'version':
        if (event.finish !== session.finish) return;
        versions.hear(event.version);
        session.autosave.hear(event.version.version);
        return;
      case 'disk':
        setDiskFull(event.full);
        return;
      case 'missed':
        client.invalidateQueries();
        versions.refresh();
        session.autosave.hear(Number.POSITIVE_INFINITY);
    }
  };
  // From what this page began with: a newer `initial` says nothing of what the session has heard.
  const began = useRef(initial.seq);
  useEffect(
    () => followEvents(initial.id, began.current, (event) => hear.current(event), setAway),
    [initial.id],
  );
  return { shot, away, diskFull };
}

/** Export runs of the shot, once somebody looks. */
export function useExports(shot: number) {
  return useQuery({
    queryKey: exportsKey(shot),
    queryFn: () => request(listExports, { query: { shot } }),
    // Not kept up to date while nobody looked: events change only what is known.
    staleTime: 0,
  });
}

/** The media of a shot for the engine. */
export const mediaIndexOf = (shot: Pick<ShotDetail, 'media'>): MediaIndex =>
  Object.fromEntries(
    shot.media.map((m) => [
      m.name,
      {
        id: m.id,
        still: m.still,
        gaps: m.gaps,
        read: JSON.stringify([m.encoding, m.kinds]),
        contents: Object.fromEntries(
          m.frames.filter((f) => f.state !== 'failed').map((f) => [f.frame, f.content]),
        ),
        problems: Object.fromEntries(
          m.frames.filter((f) => f.state === 'failed').map((f) => [f.frame, f.problem ?? '']),
        ),
      },
    ]),
  );

/** The same as a hook: the same object until a frame arrives or changes. */
export function useMediaIndex(shot: ShotDetail): MediaIndex {
  const key = JSON.stringify(mediaIndexOf(shot));
  return useMemo(() => JSON.parse(key), [key]);
}
