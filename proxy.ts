import { randomBytes } from 'node:crypto';
import { type NextRequest, NextResponse } from 'next/server';
import { isFromHere, refusal } from './server/access/loopback';

/**
 * What a page may load and run: Zafiro's own files alone (W3C Content Security Policy Level 3), inside no other site's frame. Next puts the
 * nonce on the scripts it writes into a page; the engine compiles its kernels; styles stand as attributes in what the server renders.
 */
const policyOf = (nonce: string) =>
  [
    "default-src 'self'",
    `script-src 'self' 'nonce-${nonce}' 'wasm-unsafe-eval'`,
    "style-src 'self' 'unsafe-inline'",
    "img-src 'self' blob: data:",
    "worker-src 'self' blob:",
    "object-src 'none'",
    "base-uri 'none'",
    "form-action 'self'",
    "frame-ancestors 'none'",
  ].join('; ');

export function proxy(request: NextRequest) {
  if (!isFromHere(request)) return refusal();
  const policy = policyOf(randomBytes(16).toString('base64'));
  const headers = new Headers(request.headers);
  // Where a page leads back to after signing in.
  headers.set('x-zafiro-path', `${request.nextUrl.pathname}${request.nextUrl.search}`);
  // Next reads the nonce from here.
  headers.set('content-security-policy', policy);
  const response = NextResponse.next({ request: { headers } });
  response.headers.set('content-security-policy', policy);
  return response;
}

/** Uploads and what machines deliver are left out, because the body of what goes through here is cut; their routes ask for themselves. */
export const config = { matcher: '/((?!api/uploads/|api/node).*)' };
