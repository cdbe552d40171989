import * as v from 'valibot';
import {
  type AnswerOf,
  addressOf,
  type ErrorAnswer,
  type ErrorCode,
  errorSchema,
  type Given,
  type Route,
} from './contract';

/** What a page is told where the server knows nobody any more who asks. */
export const signedOutEvent = 'zafiro-signed-out';

/** Why a request was not done: the server's reason, or that it does not answer. */
export class RequestError extends Error {
  constructor(
    readonly code: ErrorCode | 'unreachable' | 'misunderstood',
    message: string,
    readonly remedy?: string,
    readonly newest?: number,
  ) {
    super(remedy ? `${message} ${remedy}` : message);
    this.name = 'RequestError';
  }

  /** True where the same request may go through later. */
  get passes(): boolean {
    return [
      'unreachable',
      'unavailable',
      'internal',
      'disk-full',
      'misunderstood',
      'signed-out',
      'too-many',
    ].includes(this.code);
  }
}

async function errorOf(response: Response): Promise<RequestError> {
  const found = v.safeParse(errorSchema, await response.json().catch(() => null));
  if (!found.success)
    return new RequestError(
      response.status >= 500 ? 'internal' : 'bad-request',
      `The server answered ${response.status}.`,
    );
  const { code, message, remedy, newest }: ErrorAnswer = found.output.error;
  if (code === 'signed-out') globalThis.dispatchEvent?.(new Event(signedOutEvent));
  return new RequestError(code, message, remedy, newest);
}

/** `base` is the server's address where the program that asks is no page of it. */
type Init = { signal?: AbortSignal; keepalive?: boolean; base?: string; headers?: Record<string, string> };

/** Sends what is not an answer of the server through as `RequestError`; an aborted request throws as `fetch` does. */
async function sent(address: string, init: RequestInit): Promise<Response> {
  try {
    return await fetch(address, init);
  } catch (error) {
    if ((error as Error).name === 'AbortError') throw error;
    throw new RequestError('unreachable', 'The server does not answer.');
  }
}

/** The response itself of a route that answers with bytes. @throws {RequestError} */
export async function requestBytes<R extends Route>(
  route: R,
  given: Given<R>,
  { base = '', ...init }: Init & { body?: BodyInit; duplex?: 'half' } = {},
): Promise<Response> {
  const response = await sent(base + addressOf(route, given as object), { method: route.method, ...init });
  if (!response.ok) throw await errorOf(response);
  return response;
}

/** Asks the server by the contract: the answer is checked before it is believed. @throws {RequestError} */
export async function request<R extends Route>(
  route: R,
  given: Given<R>,
  { base = '', headers = {}, ...init }: Init = {},
): Promise<AnswerOf<R>> {
  const body = route.body && JSON.stringify((given as { body: unknown }).body);
  const response = await sent(base + addressOf(route, given as object), {
    method: route.method,
    ...(body === undefined
      ? { headers }
      : { body, headers: { 'content-type': 'application/json', ...headers } }),
    ...init,
  });
  if (!response.ok) throw await errorOf(response);
  return answerIn(route, response);
}

/** What a response of a route says. @throws {RequestError} */
export async function answerIn<R extends Route>(route: R, response: Response): Promise<AnswerOf<R>> {
  const found = v.safeParse(route.answer as v.GenericSchema, await response.json().catch(() => undefined));
  if (!found.success)
    throw new RequestError(
      'misunderstood',
      'The server’s answer was not understood.',
      'Reload the page: it may be from another version of Zafiro.',
    );
  return found.output as AnswerOf<R>;
}
