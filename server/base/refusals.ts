import type { ErrorCode } from '../../api/contract';

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
