import { hostname, networkInterfaces } from 'node:os';
import { isShared } from './who';

/**
 * Where requests may come from. A server for the person at this machine answers under loopback names alone, so that no other site can reach it by a
 * name of its own (DNS rebinding); one for others answers under its own names. Neither takes changes that a page of another site asks for.
 */
const loopback = /^(127\.\d{1,3}\.\d{1,3}\.\d{1,3}|localhost|\[::1\])(:\d+)?$/;

/** This process listens where other machines reach it, for those that render, and serves nothing else. */
export const servesMachines = () => process.env.ZAFIRO_SERVES === 'machines';

/** Names under which a server for others is asked: its public address, its machine’s name and addresses, and those that its keeper gave it. */
function isOwnName(host: string): boolean {
  const name = host
    .replace(/:\d+$/, '')
    .replace(/^\[|\]$/g, '')
    .toLowerCase();
  const at = process.env.ZAFIRO_PUBLIC;
  if (at && new URL(at).hostname === name) return true;
  // The name that it was told to listen at, and those that it was told it has beside.
  if ((process.env.ZAFIRO_NAMES ?? '').split(',').includes(name)) return true;
  const own = Object.values(networkInterfaces()).flatMap((found) => found?.map((i) => i.address) ?? []);
  return [hostname().toLowerCase(), ...own].includes(name);
}

export function isFromHere(request: Request): boolean {
  // Whoever is elsewhere may give any name.
  if (servesMachines()) return false;
  const host = request.headers.get('host') ?? '';
  const origin = request.headers.get('origin');
  if (!isShared()) return loopback.test(host) && (origin === null || origin === `http://${host}`);
  const own = process.env.ZAFIRO_PUBLIC ? new URL(process.env.ZAFIRO_PUBLIC).origin : `http://${host}`;
  return (loopback.test(host) || isOwnName(host)) && (origin === null || origin === own);
}

export const refusal = () =>
  Response.json(
    {
      error: {
        code: 'forbidden',
        message:
          'Zafiro does not answer under this name, nor to pages of other sites. Start it with --name NAME if it is its own.',
      },
    },
    { status: 403 },
  );

type Handler = (request: Request, at: never) => Promise<Response>;

/** A route that asks for itself where a request comes from: those of uploads, which the proxy leaves out. */
export const fromHere = <H extends Handler>(handler: H): H =>
  ((request: Request, at: never) => (isFromHere(request) ? handler(request, at) : refusal())) as unknown as H;
