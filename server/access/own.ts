import { Refused } from '../base/refusals';
import { type Account, accountOf } from './accounts';
import { countTry, forgetTries } from './limits';
import type { Who } from './who';

/** The account of who asks. @throws {Refused} where there are none. */
export function ownAccount(who: Who): number {
  if (who.account === undefined)
    throw new Refused('refused', 'This server answers to its own machine, without accounts.');
  return who.account;
}

/** The account of who asks, who has given the password once more. Tries count as those to sign in. @throws {Refused} */
export async function ownPassword(who: Who, password: string, address: string): Promise<Account> {
  ownAccount(who);
  await countTry(who.name, address);
  const found = await accountOf(who.name, password);
  if (!found) throw new Refused('forbidden', 'The password is wrong.');
  await forgetTries(who.name, address);
  return found;
}
