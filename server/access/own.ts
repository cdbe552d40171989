import { Refused } from '../refusals';
import type { Who } from './who';

/** The account of who asks. @throws {Refused} where there are none. */
export function ownAccount(who: Who): number {
  if (who.account === undefined)
    throw new Refused('refused', 'This server answers to its own machine, without accounts.');
  return who.account;
}
