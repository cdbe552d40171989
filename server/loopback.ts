/**
 * The server is for the person at this machine: it answers under loopback names alone, so that no other site can reach it by a name
 * of its own (DNS rebinding), and takes no changes that a page of another site asks for.
 */
const loopback = /^(127\.0\.0\.1|localhost|\[::1\])(:\d+)?$/;

export function isFromHere(request: Request): boolean {
  const host = request.headers.get('host') ?? '';
  const origin = request.headers.get('origin');
  return loopback.test(host) && (origin === null || origin === `http://${host}`);
}

export const refusal = () =>
  Response.json({ error: 'Zafiro answers only to pages of this machine.' }, { status: 403 });
