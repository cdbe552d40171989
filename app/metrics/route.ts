import { whoAsks } from '@/server/access/request';
import { isShared } from '@/server/access/who';
import { log } from '@/server/base/log';
import { metricsText } from '@/server/http/metrics';

export const dynamic = 'force-dynamic';

/** Measurements for whoever has a token of that scope; on a server for its own machine, for that. */
export async function GET(request: Request) {
  const { who } = await whoAsks(request);
  if (isShared() && who?.scope !== 'metrics')
    return Response.json(
      { error: { code: 'forbidden', message: 'This takes a token whose scope is metrics.' } },
      { status: who ? 403 : 401 },
    );
  try {
    return new Response(await metricsText(), {
      headers: { 'content-type': 'text/plain; version=0.0.4; charset=utf-8' },
    });
  } catch (error) {
    log.error(error);
    return new Response('', { status: 500 });
  }
}
