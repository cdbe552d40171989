import * as v from 'valibot';
import type { AnswerOf, ErrorAnswer, ErrorCode, Received, Route } from '../api/contract';
import { FinishError } from '../core/finish/finish';
import { limits } from '../core/formats/limits';
import { MediaError } from '../engine/node/media-file';

/** Why a request cannot be done, for the program and for the person: a code, a sentence, and what to do. */
export class Refused extends Error {
  constructor(
    readonly code: ErrorCode,
    message: string,
    readonly remedy?: string,
    readonly newest?: number,
  ) {
    super(message);
  }
}
/** Something asked for that is not there. */
export class NotFound extends Refused {
  constructor(message: string) {
    super('not-found', message);
  }
}
/** A request that cannot be done as it is; the message says why and what to do. */
export class BadRequest extends Refused {
  constructor(message: string) {
    super('bad-request', message);
  }
}

const statusOf: Record<ErrorCode, number> = {
  'bad-request': 422,
  refused: 422,
  media: 422,
  'not-found': 404,
  conflict: 409,
  forbidden: 403,
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
  console.error(error);
  const { message } = error as Error;
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

/** The body of a request, within the limit. @throws {Refused} */
async function bodyOf(request: Request): Promise<unknown> {
  if (Number(request.headers.get('content-length')) > limits.requestBytes)
    throw new Refused(
      'bad-request',
      `This is more than ${limits.requestBytes / 2 ** 20} MB, which is the most that is taken at once.`,
      'Make it smaller: delete what is not needed any more.',
    );
  return request.json().catch(() => {
    throw new BadRequest('The request came without a body that can be read. Try it again.');
  });
}

type At = { params: Promise<Record<string, string | string[]>> };

/**
 * A route handler by the contract: what came is checked and given to `work`; what it throws becomes an answer with a code, a sentence and a
 * remedy.
 */
export const answer =
  <R extends Route>(
    route: R,
    work: (given: Received<R>, request: Request) => Promise<AnswerOf<R> | Response>,
  ) =>
  async (request: Request, at?: At): Promise<Response> => {
    try {
      const named = Object.fromEntries(
        Object.entries((await at?.params) ?? {}).map(([key, value]) => [
          key,
          Array.isArray(value) ? value.join('/') : value,
        ]),
      );
      const params = parsed(v.object(route.params as v.ObjectEntries), named, 'not-found');
      const asked = Object.fromEntries(new URL(request.url).searchParams);
      const query = parsed(v.object(route.query as v.ObjectEntries), asked, 'bad-request');
      const body = route.body && parsed(route.body, await bodyOf(request), 'bad-request');
      const result = await work({ params, query, body } as Received<R>, request);
      if (result instanceof Response) return result;
      return Response.json(isChecked ? checkedAnswer(route, result) : result);
    } catch (error) {
      // Whoever asked has left.
      if (request.signal.aborted) return new Response(null, { status: 499 });
      return errorAnswer(described(error));
    }
  };
