import type { Received, Route } from '../../api/contract';
import { whoAsks } from './request';
import { permit } from './rights';
import { isShared } from './who';

const everyMillis = 15_000;

/** A signal that ends with a request, and soon after who asked may not have its answer any more: signed out, or without a role. For answers that go on for hours. */
export function whileAllowed<R extends Route>(request: Request, route: R, given: Received<R>): AbortSignal {
  if (!isShared()) return request.signal;
  const over = new AbortController();
  const watch = setInterval(async () => {
    try {
      const { who } = await whoAsks(request, false);
      await permit(who, route, given as unknown as Received<Route>);
    } catch {
      over.abort();
    }
  }, everyMillis);
  const signal = AbortSignal.any([request.signal, over.signal]);
  signal.addEventListener('abort', () => clearInterval(watch), { once: true });
  return signal;
}
