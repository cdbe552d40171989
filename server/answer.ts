import { FinishError } from '../core/finish/finish';
import { MediaError } from '../engine/node/media-file';

/** Something asked for that is not there. */
export class NotFound extends Error {}
/** A request that cannot be done as it is; the message says why and what to do. */
export class BadRequest extends Error {}

/** Runs a route's work and turns what it throws into an answer with one sentence for the user. */
export async function answer(work: () => Promise<Response | object>): Promise<Response> {
  try {
    const result = await work();
    return result instanceof Response ? result : Response.json(result);
  } catch (error) {
    const { message } = error as Error;
    if (error instanceof NotFound) return Response.json({ error: message }, { status: 404 });
    if (error instanceof BadRequest || error instanceof FinishError || error instanceof MediaError) {
      return Response.json({ error: message }, { status: 422 });
    }
    console.error(error);
    const full = /ENOSPC|disk is full|errno: 28/i.test(message);
    const says = full
      ? 'The disk is full. Free some space and try again.'
      : `The server could not do this: ${message}`;
    return Response.json({ error: says }, { status: full ? 507 : 500 });
  }
}

/** The whole number in a path; anything else is not there. */
export function wholeNumber(text: string): number {
  if (!/^-?\d{1,9}$/.test(text)) throw new NotFound('There is nothing under this address.');
  return Number(text);
}
