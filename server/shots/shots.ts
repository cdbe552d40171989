import type { Pass } from '../../core/formats/passes';
import type { MediaSpecs } from '../../engine/node/media';
import { database, rows } from '../db/connect';
import { type Media, mediaColumns, specOf } from '../media/frames';

export type ShotSummary = {
  id: number;
  name: string;
  first: number;
  last: number;
  rate: number;
  width: number;
  height: number;
  /** Media and frame of the poster, once there is one. */
  poster: { media: number; frame: number; content: string } | null;
  arrived: number;
  expected: number;
};
export type ProjectSummary = { id: number; name: string; shots: ShotSummary[] };

export type FrameState = {
  frame: number;
  state: 'ready' | 'failed';
  problem: string | null;
  content: string;
  /** As large as its file is. */
  bytes: number;
  /** Another size, or other passes, than the media's first frame. */
  differs: string | null;
};
export type MediaDetail = Media & {
  frames: FrameState[];
  passes: Pass[];
};
export type ShotDetail = Omit<ShotSummary, 'poster' | 'arrived' | 'expected'> & {
  project: string;
  media: MediaDetail[];
  finishes: { id: number; name: string }[];
};

/** All projects with their shots, newest first. */
export async function listProjects(): Promise<ProjectSummary[]> {
  const projects = await rows<{ id: number; name: string }>('SELECT id, name FROM project ORDER BY id DESC');
  type Found = Omit<ShotSummary, 'poster'> & {
    project_id: number;
    media: number | null;
    poster: string | null;
  };
  const shots = await rows<Found>(
    `SELECT s.id, s.project_id, s.name, s.first_frame AS first, s.last_frame AS last, s.rate, s.width, s.height,
       m.id AS media, m.last_frame - m.first_frame + 1 AS expected,
       COUNT(f.frame) AS arrived,
       MIN(IF(f.state = 'ready', CONCAT(LPAD(f.frame + 1000000, 8, '0'), ':', f.content), NULL)) AS poster
     FROM shot s LEFT JOIN media m ON m.shot_id = s.id LEFT JOIN media_frame f ON f.media_id = m.id
     GROUP BY s.id, m.id ORDER BY s.id, m.id`,
  );
  const seen = new Set<number>();
  const first = shots.filter((s) => !seen.has(s.id) && seen.add(s.id));
  return projects.map((project) => ({
    ...project,
    shots: first
      .filter((s) => s.project_id === project.id)
      .map(({ project_id: _, media, poster, ...shot }) => {
        const [frame, content] = poster?.split(':') ?? [];
        return {
          ...shot,
          poster: media && content ? { media, frame: Number(frame) - 1000000, content } : null,
        };
      }),
  }));
}

type FrameRow = Omit<FrameState, 'differs'> & {
  media_id: number;
  width: number | null;
  height: number | null;
  passes: string | null;
};

function stateOf(
  { frame, state, problem, content, bytes, width, height, passes }: FrameRow,
  first?: FrameRow,
): FrameState {
  const differences = [
    ...(first && state === 'ready' && (width !== first.width || height !== first.height)
      ? [`${width} by ${height} pixels in place of ${first.width} by ${first.height}`]
      : []),
    ...(first && state === 'ready' && passes !== first.passes
      ? [`other passes than frame ${first.frame}`]
      : []),
  ];
  const differs = differences.length > 0 ? `Frame ${frame} has ${differences.join(' and ')}.` : null;
  return { frame, state, problem, content, bytes, differs };
}

/** A shot with its media, the frames that arrived, the passes of the first ready frame, and its finishes. */
export async function shotDetail(id: number): Promise<ShotDetail | undefined> {
  const [shot] = await rows<Omit<ShotDetail, 'media' | 'finishes'>>(
    `SELECT s.id, s.name, p.name AS project, s.first_frame AS first, s.last_frame AS last, s.rate, s.width, s.height
     FROM shot s JOIN project p ON p.id = s.project_id WHERE s.id = ?`,
    [id],
  );
  if (!shot) return;
  const media = await rows<Media>(`SELECT ${mediaColumns} FROM media WHERE shot_id = ? ORDER BY id`, [id]);
  const frames = await rows<FrameRow>(
    `SELECT media_id, frame, state, problem, content, bytes, width, height, MD5(passes) AS passes FROM media_frame
     WHERE media_id IN (SELECT id FROM media WHERE shot_id = ?) ORDER BY frame`,
    [id],
  );
  const finishes = await rows<{ id: number; name: string }>(
    'SELECT id, name FROM finish WHERE shot_id = ? ORDER BY id',
    [id],
  );
  const detailed = media.map(async (m): Promise<MediaDetail> => {
    const [known] = await rows<{ passes: Pass[] }>(
      "SELECT passes FROM media_frame WHERE media_id = ? AND state = 'ready' ORDER BY frame LIMIT 1",
      [m.id],
    );
    const own = frames.filter((f) => f.media_id === m.id);
    const first = own.find((f) => f.state === 'ready');
    const passes = (known?.passes ?? []).map((p) => ({ ...p, kind: m.kinds?.[p.name] ?? p.kind }));
    return { ...m, frames: own.map((f) => stateOf(f, first)), passes };
  });
  return { ...shot, media: await Promise.all(detailed), finishes };
}

/** Media of a shot by the names its finishes use. */
export async function mediaOfShot(shotId: number): Promise<MediaSpecs> {
  const media = await rows<Media>(`SELECT ${mediaColumns} FROM media WHERE shot_id = ?`, [shotId]);
  return Object.fromEntries(media.map((m) => [m.name, specOf(m)]));
}

/** Changes how a media is read. False where there is no such media. */
export async function changeMedia(
  id: number,
  { gaps, encoding, kinds }: Partial<Pick<Media, 'gaps' | 'encoding' | 'kinds'>>,
): Promise<boolean> {
  const [done] = await database().query(
    `UPDATE media SET gaps = COALESCE(?, gaps), kinds = COALESCE(?, kinds),
       encoding = IF(?, ?, encoding) WHERE id = ?`,
    [gaps ?? null, kinds ? JSON.stringify(kinds) : null, encoding !== undefined, encoding ?? null, id],
  );
  // Their small pictures are made anew.
  if (encoding !== undefined)
    await database().query('UPDATE media_frame SET modified_ms = 0 WHERE media_id = ?', [id]);
  return (done as { affectedRows: number }).affectedRows > 0;
}
