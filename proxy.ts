import { type NextRequest, NextResponse } from 'next/server';
import { isFromHere, refusal } from './server/loopback';

export const proxy = (request: NextRequest) => (isFromHere(request) ? NextResponse.next() : refusal());

/** Uploads are left out, because the body of what goes through here is cut at 10 MB; their route asks for itself. */
export const config = { matcher: '/((?!api/uploads/).*)' };
