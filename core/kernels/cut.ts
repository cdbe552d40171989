import type { Picture } from '../picture/picture';
import type { Region } from '../picture/region';
import type { Workspace } from './workspace';

/** A part of a picture of which `at` is the part that is there (all of it if undefined). */
export function cut(workspace: Workspace, from: Picture, region: Region, at?: Region): Picture {
  const out = workspace.picture(region.width, region.height, from.channels);
  const n = from.channels;
  const [dx, dy] = [region.x - (at?.x ?? 0), region.y - (at?.y ?? 0)];
  for (let y = 0; y < region.height; y++) {
    const begin = ((y + dy) * from.width + dx) * n;
    out.data.set(from.data.subarray(begin, begin + region.width * n), y * region.width * n);
  }
  return out;
}
