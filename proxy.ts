import { type NextRequest, NextResponse } from 'next/server';

/**
 * The server is for the person at this machine: it answers under loopback names alone, so that no other site can reach it by a name
 * of its own (DNS rebinding), and takes no changes that a page of another site asks for.
 */
const loopback = /^(127\.0\.0\.1|localhost|\[::1\])(:\d+)?$/;

export function proxy(request: NextRequest) {
  const host = request.headers.get('host') ?? '';
  const origin = request.headers.get('origin');
  const foreign = origin !== null && origin !== `http://${host}`;
  if (loopback.test(host) && !foreign) return NextResponse.next();
  return NextResponse.json({ error: 'Zafiro answers only to pages of this machine.' }, { status: 403 });
}
