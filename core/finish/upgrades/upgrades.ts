import { FinishError } from '../finish-error';
import { finishFormat } from '../schema';
import { from1 } from './from-1';
import { from2 } from './from-2';
import { from3 } from './from-3';
import { from4 } from './from-4';
import { from5 } from './from-5';
import type { Json, Upgrade } from './upgrade';

/** Every upgrade there is, the oldest first: raising `finishFormat` means adding its file and a line here. */
export const upgrades: readonly Upgrade[] = [from1, from2, from3, from4, from5];

/**
 * A document in today's version of the format; what else is right or wrong with it is not looked at.
 * @throws {FinishError} where it is no finish, or comes from a newer program.
 */
export function upgraded(
  json: unknown,
  chain: readonly Upgrade[] = upgrades,
  today: number = finishFormat,
): Json {
  const given = json as Json | null;
  if (typeof given !== 'object' || given?.format !== 'zafiro-finish')
    throw new FinishError(
      'This is not a Zafiro finish',
      'format',
      'Its first line says "format": "zafiro-finish".',
    );
  const { version } = given;
  if (!Number.isInteger(version) || (version as number) < 1)
    throw new FinishError(
      'The finish does not say its format version',
      'version',
      `Write "version": ${today}.`,
    );
  if ((version as number) > today)
    throw new FinishError(
      `The finish has format version ${version}`,
      'version',
      'Open it with a newer Zafiro.',
    );
  let document = given;
  for (let at = version as number; at < today; at++) {
    const next = chain.find((u) => u.from === at);
    if (!next) throw new Error(`There is no upgrade from format version ${at}.`);
    document = { ...next.upgrade(document), version: at + 1 };
  }
  return document;
}
