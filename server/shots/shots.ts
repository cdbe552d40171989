import type { Pass } from '../../core/formats/passes';
import { rows } from '../db/connect';

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
};
export type MediaDetail = {
  id: number;
  name: string;
  first: number;
  last: number;
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

/** A shot with its media, the frames that arrived, the passes of the first ready frame, and its finishes. */
export async function shotDetail(id: number): Promise<ShotDetail | undefined> {
  const [shot] = await rows<Omit<ShotDetail, 'media' | 'finishes'>>(
    `SELECT s.id, s.name, p.name AS project, s.first_frame AS first, s.last_frame AS last, s.rate, s.width, s.height
     FROM shot s JOIN project p ON p.id = s.project_id WHERE s.id = ?`,
    [id],
  );
  if (!shot) return;
  const media = await rows<Omit<MediaDetail, 'frames' | 'passes'>>(
    'SELECT id, name, first_frame AS first, last_frame AS last FROM media WHERE shot_id = ? ORDER BY id',
    [id],
  );
  const frames = await rows<FrameState & { media_id: number }>(
    `SELECT media_id, frame, state, problem, content FROM media_frame
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
    const own = frames.filter((f) => f.media_id === m.id).map(({ media_id: _, ...f }) => f);
    return { ...m, frames: own, passes: known?.passes ?? [] };
  });
  return { ...shot, media: await Promise.all(detailed), finishes };
}

/** Media of a shot by the names its finishes use, each a path pattern. */
export async function mediaPatterns(shotId: number): Promise<Record<string, string>> {
  const media = await rows<{ name: string; pattern: string }>(
    'SELECT name, pattern FROM media WHERE shot_id = ?',
    [shotId],
  );
  return Object.fromEntries(media.map((m) => [m.name, m.pattern]));
}
