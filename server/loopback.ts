/**
 * The server is for the person at this machine: it answers under loopback names alone, so that no other site can reach it by a name
 * of its own (DNS rebinding), and takes no changes that a page of another site asks for.
 */
const loopback = /^(127\.0\.0\.1|localhost|\[::1\])(:\d+)?$/;

/** This process listens where other machines reach it, for those that render, and serves nothing else. */
export const servesMachines = () => process.env.ZAFIRO_SERVES === 'machines';

export function isFromHere(request: Request): boolean {
  // Whoever is elsewhere may give any name.
  if (servesMachines()) return false;
  const host = request.headers.get('host') ?? '';
  const origin = request.headers.get('origin');
  return loopback.test(host) && (origin === null || origin === `http://${host}`);
}

export const refusal = () =>
  Response.json(
    { error: { code: 'forbidden', message: 'Zafiro answers only to pages of this machine.' } },
    { status: 403 },
  );

type Handler = (request: Request, at: never) => Promise<Response>;

/** A route that asks for itself where a request comes from: those of uploads, which the proxy leaves out. */
export const fromHere = <H extends Handler>(handler: H): H =>
  ((request: Request, at: never) => (isFromHere(request) ? handler(request, at) : refusal())) as unknown as H;
