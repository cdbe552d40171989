import { LRUCache } from 'lru-cache';
import { rows } from '../base/connect';

/** A frame that can be shown, by its media, number and content. */
type ShownFrame = { media: number; frame: number; content: string };

/** What of a shot's frames is there. */
export type ShotFrames = {
  /** Frames of its first media, and how many of them are whole. */
  expected: number;
  arrived: number;
  /** The first of them that can be shown. */
  first: ShownFrame | null;
  /** Of each media by its name the frame that is seen in the shot's first: the newest up to it, or else the first there is. */
  nearest: ReadonlyMap<string, ShownFrame>;
};

/**
 * Counting a quarter of a million rows for each look at the shelf would take longer than all the rest of it: what was found holds until the shot's
 * clock goes on, which every change of its frames moves in the same transaction.
 */
const known = new LRUCache<number, { seq: number; frames: ShotFrames }>({ max: 20_000 });

/** Frames of shots, by shot; `seq` is the shot's clock, read before. */
export async function framesOfShots(
  shots: readonly { id: number; seq: number | null }[],
): Promise<Map<number, ShotFrames>> {
  const stale = shots.filter(({ id, seq }) => known.get(id)?.seq !== (seq ?? 0));
  const found = await readFrames(stale.map((s) => s.id));
  for (const { id, seq } of stale) known.set(id, { seq: seq ?? 0, frames: found.get(id) ?? none });
  return new Map(shots.map(({ id }) => [id, found.get(id) ?? known.get(id)?.frames ?? none]));
}

const none: ShotFrames = { expected: 0, arrived: 0, first: null, nearest: new Map() };

type FoundMedia = {
  shot: number;
  media: number;
  name: string;
  expected: number;
  isFirst: number;
  arrived: number | null;
  shown: string | null;
  nearest: string | null;
};

/** A frame and its content are read together, as one text, from where the index leads to. */
const frameWhere = (where: string, order: 'ASC' | 'DESC') =>
  `(SELECT CONCAT(f.frame, ':', f.content) FROM media_frame f WHERE f.media_id = m.id AND f.state <> 'failed' ${where}
    ORDER BY f.frame ${order} LIMIT 1)`;

async function readFrames(shots: readonly number[]): Promise<Map<number, ShotFrames>> {
  if (shots.length === 0) return new Map();
  const found = await rows<FoundMedia>(
    `SELECT m.shot_id AS shot, m.id AS media, m.name, m.last_frame - m.first_frame + 1 AS expected, m.id = a.id AS isFirst,
       IF(m.id = a.id, (SELECT COUNT(*) FROM media_frame f WHERE f.media_id = m.id AND f.state = 'ready'), NULL) AS arrived,
       ${frameWhere('', 'ASC')} AS shown, ${frameWhere('AND f.frame <= s.first_frame', 'DESC')} AS nearest
     FROM media m JOIN shot s ON s.id = m.shot_id
       JOIN (SELECT shot_id, MIN(id) AS id FROM media GROUP BY shot_id) a ON a.shot_id = m.shot_id
     WHERE m.shot_id IN (?)`,
    [shots],
  );
  const all = new Map<number, ShotFrames & { nearest: Map<string, ShownFrame> }>();
  for (const { shot, media, name, expected, isFirst, arrived, shown, nearest } of found) {
    const frames = all.get(shot) ?? { ...none, nearest: new Map() };
    if (isFirst) Object.assign(frames, { expected, arrived: Number(arrived), first: shownIn(media, shown) });
    const near = shownIn(media, nearest ?? shown);
    if (near) frames.nearest.set(name, near);
    all.set(shot, frames);
  }
  return all;
}

function shownIn(media: number, text: string | null): ShownFrame | null {
  const [frame, content] = text?.split(':') ?? [];
  return content ? { media, frame: Number(frame), content } : null;
}
