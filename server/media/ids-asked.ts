import { idSorts } from '../../core/finish/heads';
import { BadRequest } from '../answer';
import type { IdsOf } from './reader/answers';

/** The id pass that a query means by `pass` and `sort`; undefined where it names none. @throws {BadRequest} */
export function idsAsked(query: URLSearchParams, needed = true): IdsOf | undefined {
  const [pass, sort] = [query.get('pass'), query.get('sort')];
  if (pass === null && !needed) return undefined;
  const known = idSorts.find((s) => s === sort);
  if (pass === null || !known) throw new BadRequest('Name an id pass and how it holds its ids.');
  return { pass, sort: known };
}
