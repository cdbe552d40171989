import * as v from 'valibot';
import type { AnswerOf, ErrorAnswer, ErrorCode, Received, Route } from '../../api/contract';
import { FinishError } from '../../core/finish/finish';
import { limits } from '../../core/formats/limits';
import { MediaError } from '../../engine/node/media-file';
import { spend } from '../access/limits';
import { ruleOf } from '../access/policy';
import { plainOf, record } from '../access/record';
import { addressIn, whoAsks } from '../access/request';
import { permit } from '../access/rights';
import { cookieOf } from '../access/sessions';
import { nobody, type Who } from '../access/who';
import type { Connection } from '../base/connect';
import { withRecord } from '../base/deed';
import { log } from '../base/log';
import { BadRequest, NotFound, Refused } from '../base/refusals';
import { letIn } from '../nodes/token';
import { countRequest } from './metrics';

export { BadRequest, NotFound, Refused };

const statusOf: Record<ErrorCode, number> = {
  'bad-request': 422,
  refused: 422,
  media: 422,
  'not-found': 404,
  conflict: 409,
  'signed-out': 401,
  forbidden: 403,
  'too-many': 429,
  'disk-full': 507,
  unavailable: 503,
  internal: 500,
};

export const errorAnswer = (error: ErrorAnswer) => Response.json({ error }, { status: statusOf[error.code] });

/** The database is not there just now; it is started again, and what was asked can be asked again. */
const isAway = (error: { code?: unknown; syscall?: unknown }) =>
  (error.code === 'ENOENT' && error.syscall === 'connect') ||
  /^(ECONNREFUSED|ECONNRESET|EPIPE|PROTOCOL_CONNECTION_LOST|ER_SERVER_SHUTDOWN|POOL_CLOSED)$/.test(
    String(error.code),
  );

function described(error: unknown): ErrorAnswer {
  if (error instanceof Refused) {
    const { code, message, remedy, newest } = error;
    return { code, message, remedy, newest };
  }
  if (error instanceof FinishError)
    return { code: 'refused', message: `${error.problem} (${error.place}).`, remedy: error.remedy };
  if (error instanceof MediaError) return { code: 'media', message: error.message };
  log.error(error);
  const { message } = error as Error;
  if (/EROFS|read-only file system|errno: 30/i.test(message))
    return {
      code: 'disk-full',
      message: 'The disk is read-only.',
      remedy: 'Mount it writable and try again.',
    };
  if (/ENOSPC|disk is full|errno: 28/i.test(message))
    return { code: 'disk-full', message: 'The disk is full.', remedy: 'Free some space and try again.' };
  if (isAway(error as { code?: unknown }))
    return {
      code: 'unavailable',
      message: 'The database does not answer.',
      remedy: 'It is started again; try again in a moment.',
    };
  return {
    code: 'internal',
    message: 'The server could not do this.',
    remedy: 'Try again. The reason stands in the server’s log.',
  };
}

/** In tests every answer is held against the contract before it leaves. */
const isChecked = process.env.ZAFIRO_CHECK_ANSWERS === '1';

function checkedAnswer(route: Route, result: unknown) {
  if (route.answer === 'bytes') return result;
  const found = v.safeParse(route.answer, JSON.parse(JSON.stringify(result)));
  if (found.success) return result;
  const [{ message }] = found.issues;
  throw new Error(
    `${route.method} ${route.path} broke its contract: ${v.getDotPath(found.issues[0])} ${message}`,
  );
}

function parsed<T>(schema: v.GenericSchema, input: unknown, code: ErrorCode): T {
  const found = v.safeParse(schema, input, { abortEarly: true });
  if (found.success) return found.output as T;
  const [issue] = found.issues;
  // A schema's own words are for people; the library's name a place.
  const at = v.getDotPath(issue);
  throw new Refused(code, /^Invalid/.test(issue.message) ? `${issue.message} (${at}).` : issue.message);
}

/** What is taken from whoever has not signed in: a name, a password and a code. */
const openBytes = 16 * 1024;

/** The body of a request, counted while it is read, whatever length was announced. @throws {Refused} beyond `most` bytes. */
async function bodyOf(request: Request, most: number): Promise<unknown> {
  const tooLarge = () =>
    new Refused(
      'bad-request',
      `This is more than ${most < 2 ** 20 ? `${most / 1024} KB` : `${most / 2 ** 20} MB`}, which is the most that is taken at once.`,
      'Make it smaller: delete what is not needed any more.',
    );
  if (Number(request.headers.get('content-length')) > most) throw tooLarge();
  const parts: Uint8Array[] = [];
  let bytes = 0;
  // Leaving the loop early ends the stream, and with it what is still to come.
  for await (const part of request.body ?? []) {
    bytes += part.length;
    if (bytes > most) throw tooLarge();
    parts.push(part);
  }
  try {
    return JSON.parse(Buffer.concat(parts).toString('utf8'));
  } catch {
    throw new BadRequest('The request came without a body that can be read. Try it again.');
  }
}

/** Does what was asked and puts it down: in its own transaction, or after it where it has none. What is done is done, also where its record fails then. */
async function recorded<T>(work: () => Promise<T>, write: (on?: Connection) => Promise<void>): Promise<T> {
  const { result, isWritten } = await withRecord(write, work);
  if (!isWritten) await write().catch((error) => log.error(error));
  return result;
}

type At = { params: Promise<Record<string, string | string[]>> };

/** What came with a request, checked, and who asks. */
export type Asked<R extends Route> = Received<R> & { who: Who };

/**
 * A route handler by the contract: who asks must be allowed to; what came is checked and given to `work`; what it throws becomes an answer with a
 * code, a sentence and a remedy. What changes something is put down in the record, and each request in the log.
 */
export const answer =
  <R extends Route>(route: R, work: (asked: Asked<R>, request: Request) => Promise<AnswerOf<R> | Response>) =>
  async (request: Request, at?: At): Promise<Response> => {
    const began = performance.now();
    const id = request.headers.get('x-request-id')?.slice(0, 60) ?? crypto.randomUUID();
    let name: string | undefined;
    const ended = (response: Response) => {
      response.headers.set('x-request-id', id);
      const millis = performance.now() - began;
      log.request(id, route, response.status, millis, name);
      countRequest(route, response.status, millis);
      return response;
    };
    try {
      const { who, next } = await whoAsks(request);
      name = who?.name;
      // Of what nobody who has not signed in may ask nothing is read, nor of a machine without a token.
      const rule = ruleOf(route);
      if (rule?.right === 'node') await letIn(request);
      else if (!who && rule?.right !== 'open') await permit(who, route, {} as Received<Route>);
      const named = Object.fromEntries(
        Object.entries((await at?.params) ?? {}).map(([key, value]) => [
          key,
          Array.isArray(value) ? value.join('/') : value,
        ]),
      );
      const params = parsed(v.object(route.params as v.ObjectEntries), named, 'not-found');
      const asked = Object.fromEntries(new URL(request.url).searchParams);
      const query = parsed(v.object(route.query as v.ObjectEntries), asked, 'bad-request');
      const body =
        route.body &&
        parsed(
          route.body,
          await bodyOf(request, rule?.right === 'open' ? openBytes : limits.requestBytes),
          'bad-request',
        );
      const given = { params, query, body, who: who ?? nobody };
      const project = await permit(who, route, given as unknown as Received<Route>);
      const address = addressIn(request.headers);
      if (rule?.most && who) await spend(`${route.method} ${route.path}`, rule.most, who);
      const done = () => work(given as unknown as Asked<R>, request);
      const result =
        rule?.does && who && who.by !== 'keeper'
          ? await recorded(done, (on) =>
              record(who, address, rule.does!, { ...plainOf(params), ...plainOf(body) }, project, on),
            )
          : await done();
      const response =
        result instanceof Response
          ? result
          : Response.json(isChecked ? checkedAnswer(route, result) : result);
      if (next && !response.headers.has('set-cookie')) response.headers.append('set-cookie', cookieOf(next));
      return ended(response);
    } catch (error) {
      // Whoever asked has left.
      if (request.signal.aborted) return ended(new Response(null, { status: 499 }));
      return ended(errorAnswer(described(error)));
    }
  };
