import { lookAtFirst } from '@/api/files';
import { parsePattern, pathOf } from '@/core/formats/frame-pattern';
import { framesOnDisk } from '@/engine/node/media';
import { rootsLooked } from '@/server/access/roots';
import { answer, NotFound } from '@/server/http/answer';
import { lookAt } from '@/server/media/reader/reader';
import { insideRoots } from '@/server/media/roots';

/** Size and passes of the first frame of a pattern. */
export const GET = answer(lookAtFirst, async ({ query, who }, { signal }) => {
  const roots = await rootsLooked(who);
  const pattern = insideRoots(query.pattern, '', roots);
  const parsed = parsePattern(pattern);
  const [first] = framesOnDisk(parsed);
  if (first === undefined) throw new NotFound(`There are no frames under ${pattern}.`);
  const path = insideRoots(pathOf(parsed, first), `Frame ${first}: `, roots);
  return lookAt({ path, about: '' }, signal);
});
