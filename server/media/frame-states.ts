import type { FrameState } from '../../api/media';
import { rows } from '../base/connect';

type FrameRow = Omit<FrameState, 'differs'> & {
  media_id: number;
  width: number | null;
  height: number | null;
  passes: string | null;
};

const columns =
  'media_id, frame, state, problem, content, bytes, width, height, MD5(passes) AS passes FROM media_frame';

/** State of a frame, compared with the first complete frame of its media. */
function stateOf(
  { frame, state, problem, content, bytes, width, height, passes }: FrameRow,
  first?: FrameRow,
): FrameState {
  const isHere = state !== 'failed';
  const differences = [
    ...(first && isHere && (width !== first.width || height !== first.height)
      ? [`${width} by ${height} pixels in place of ${first.width} by ${first.height}`]
      : []),
    ...(first && isHere && passes !== first.passes ? [`other passes than frame ${first.frame}`] : []),
  ];
  const differs = differences.length > 0 ? `Frame ${frame} has ${differences.join(' and ')}.` : null;
  return { frame, state, problem, content, bytes, differs };
}

/** Frames of every media of a shot, by media. */
export async function framesOfShot(shot: number): Promise<Map<number, FrameState[]>> {
  const found = await rows<FrameRow>(
    `SELECT ${columns} WHERE media_id IN (SELECT id FROM media WHERE shot_id = ?) ORDER BY media_id, frame`,
    [shot],
  );
  const byMedia = new Map<number, FrameRow[]>();
  for (const row of found) {
    const list = byMedia.get(row.media_id);
    if (list) list.push(row);
    else byMedia.set(row.media_id, [row]);
  }
  return new Map(
    [...byMedia].map(([media, list]) => {
      const first = list.find((f) => f.state === 'ready');
      return [media, list.map((f) => stateOf(f, first))];
    }),
  );
}

/** Some frames of a media. */
export async function frameStates(media: number, frames: readonly number[]): Promise<FrameState[]> {
  if (frames.length === 0) return [];
  const [first] = await rows<FrameRow>(
    `SELECT ${columns} WHERE media_id = ? AND state = 'ready' ORDER BY frame LIMIT 1`,
    [media],
  );
  const found = await rows<FrameRow>(`SELECT ${columns} WHERE media_id = ? AND frame IN (?) ORDER BY frame`, [
    media,
    frames,
  ]);
  return found.map((f) => stateOf(f, first));
}
