import { lookAtFirst } from '@/api/files';
import { parsePattern, pathOf } from '@/core/formats/frame-pattern';
import { framesOnDisk } from '@/engine/node/media';
import { rootsLooked } from '@/server/access/roots';
import { answer, NotFound } from '@/server/answer';
import { lookAt } from '@/server/media/reader/reader';
import { insideRoots } from '@/server/media/roots';

/** Size and passes of the first frame of a pattern. */
export const GET = answer(lookAtFirst, async ({ query, who }, { signal }) => {
  const pattern = insideRoots(query.pattern, '', await rootsLooked(who));
  const parsed = parsePattern(pattern);
  const [first] = framesOnDisk(parsed);
  if (first === undefined) throw new NotFound(`There are no frames under ${pattern}.`);
  return lookAt({ path: pathOf(parsed, first), about: '' }, signal);
});
