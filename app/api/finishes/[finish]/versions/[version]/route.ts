import * as v from 'valibot';
import { answer, BadRequest, NotFound, wholeNumber } from '@/server/answer';
import { labelVersion, loadVersion } from '@/server/shots/finishes';

type At = { params: Promise<{ finish: string; version: string }> };

const gone = 'This version is not there any more.';

/** The document of a version. */
export const GET = (_: Request, { params }: At) =>
  answer(async () => {
    const { finish, version } = await params;
    const document = await loadVersion(wholeNumber(finish), wholeNumber(version));
    if (!document) throw new NotFound(gone);
    return document;
  });

const body = v.object({ label: v.nullable(v.pipe(v.string(), v.trim(), v.maxLength(200))) });

/** Names a version, or takes its name (null or nothing). */
export const PATCH = (request: Request, { params }: At) =>
  answer(async () => {
    const { finish, version } = await params;
    const given = v.safeParse(body, await request.json().catch(() => null));
    if (!given.success) throw new BadRequest('A name has up to 200 characters.');
    const named = await labelVersion(wholeNumber(finish), wholeNumber(version), given.output.label || null);
    if (!named) throw new NotFound(gone);
    return {};
  });
