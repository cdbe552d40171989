import { randomBytes, timingSafeEqual } from 'node:crypto';
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { isFromHere, servesMachines } from '../access/loopback';
import { tokenOf } from '../access/sessions';
import { isShared } from '../access/who';
import { dataFolder, dataPath } from '../base/data-folder';
import { Refused } from '../base/refusals';

/** The secret by which machines are let in to render: made once, in a file that only its owner may read. */

const tokenFile = () => dataPath('node-token');

export function nodeToken(): string {
  try {
    return readFileSync(tokenFile(), 'utf8').trim();
  } catch {
    return renewToken();
  }
}

/** Another secret: machines that have the old one are not let in any more. */
export function renewToken(): string {
  const token = randomBytes(24).toString('base64url');
  mkdirSync(dataFolder(), { recursive: true, mode: 0o700 });
  writeFileSync(tokenFile(), token, { mode: 0o600 });
  return token;
}

/** Lets in who has the token, where machines may ask: at this machine's own address, and where the server was told to listen for them. @throws {Refused} */
export async function letIn(request: Request): Promise<void> {
  if (!servesMachines() && !isFromHere(request))
    throw new Refused(
      'forbidden',
      'Zafiro answers only to programs of this machine.',
      'Start it with --nodes ADDRESS:PORT for others.',
    );
  const token = /^Bearer (\S+)$/.exec(request.headers.get('authorization') ?? '')?.[1] ?? '';
  // One that an administrator made, with an end; or, on a server for its own machine, the one in the file.
  if ((await tokenOf(token))?.scope === 'node') return;
  const [given, known] = [Buffer.from(token), Buffer.from(nodeToken())];
  if (isShared() || given.length !== known.length || !timingSafeEqual(given, known))
    throw new Refused(
      'forbidden',
      'This token is not one of the server’s, or has run out.',
      'Copy one from the page of machines, or make one on the page of your account.',
    );
}
