import { createHmac, randomBytes } from 'node:crypto';
import { lookup } from 'node:dns/promises';
import { request as overHttp } from 'node:http';
import { request as overHttps } from 'node:https';
import ipaddr from 'ipaddr.js';
import { database, rows } from '../base/connect';
import { Refused } from '../base/refusals';

/** An address that is told when exports end: signed, and never one inside this network unless that is allowed. */

export type Webhook = { url: string; secret: string };

const allowsPrivate = () => process.env.ZAFIRO_WEBHOOK_PRIVATE === '1';
const patienceMillis = 10_000;

export async function readWebhook(): Promise<Webhook | undefined> {
  const [found] = await rows<{ value: Webhook }>("SELECT value FROM setting WHERE name = 'webhook'");
  return found?.value;
}

/** Sets the address, with a new secret where there was none; none with an empty one. @throws {Refused} */
export async function setWebhook(url: string): Promise<void> {
  if (url === '') {
    await database().query("DELETE FROM setting WHERE name = 'webhook'");
    return;
  }
  await checkedTarget(url);
  const secret = (await readWebhook())?.secret ?? randomBytes(24).toString('base64url');
  await database().query(
    "INSERT INTO setting (name, value) VALUES ('webhook', ?) ON DUPLICATE KEY UPDATE value = VALUES(value)",
    [JSON.stringify({ url, secret })],
  );
}

/** Addresses of the public internet; all others are somebody's inside. */
export const isPublic = (address: string): boolean => ipaddr.process(address).range() === 'unicast';

type Target = { url: URL; address: string; family: number };

/** Where an address leads, resolved once, so that what was checked is what is reached. @throws {Refused} */
export async function checkedTarget(text: string): Promise<Target> {
  const url = URL.canParse(text) ? new URL(text) : undefined;
  if (!url || !/^https?:$/.test(url.protocol) || url.username || url.password)
    throw new Refused('bad-request', `“${text}” is no address of the web.`, 'Begin it with https://.');
  const host = url.hostname.replace(/^\[|\]$/g, '');
  const found = await lookup(host, { all: true }).catch(() => []);
  if (found.length === 0)
    throw new Refused(
      'bad-request',
      `${host} is not known.`,
      'See whether its name is right, and whether this machine reaches it.',
    );
  if (!allowsPrivate() && !found.every((f) => isPublic(f.address)))
    throw new Refused(
      'refused',
      `${host} lies inside this network.`,
      'Choose a public address, or start Zafiro with ZAFIRO_WEBHOOK_PRIVATE=1.',
    );
  return { url, ...found[0] };
}

/** The signature of a message: HMAC-SHA256 (RFC 2104) of its time and its text. */
export const signatureOf = (secret: string, seconds: number, body: string): string =>
  createHmac('sha256', secret).update(`${seconds}.${body}`).digest('hex');

/** Sends a message once. @throws {Error} where it was not taken, by a status past 299 too: no redirect is followed. */
export async function send({ url: text, secret }: Webhook, message: unknown): Promise<void> {
  const { url, address, family } = await checkedTarget(text);
  const body = JSON.stringify(message);
  const seconds = Math.floor(Date.now() / 1000);
  const request = url.protocol === 'https:' ? overHttps : overHttp;
  await new Promise<void>((done, fail) => {
    const asked = request(
      url,
      {
        method: 'POST',
        headers: {
          'content-type': 'application/json',
          'content-length': Buffer.byteLength(body),
          'x-zafiro-time': String(seconds),
          'x-zafiro-signature': `sha256=${signatureOf(secret, seconds, body)}`,
        },
        signal: AbortSignal.timeout(patienceMillis),
        // The address that was checked, whatever the name leads to by now.
        lookup: (_, options, give) =>
          options.all ? give(null, [{ address, family }] as never) : give(null, address, family),
      },
      (response) => {
        response.resume();
        const { statusCode = 0 } = response;
        if (statusCode >= 200 && statusCode < 300) done();
        else fail(new Error(`${url.host} answered ${statusCode}.`));
      },
    );
    asked.on('error', fail);
    asked.end(body);
  });
}
