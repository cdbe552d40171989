import type { QueryClient, QueryKey } from '@tanstack/react-query';

/**
 * Changes what the page knows by an event. An answer that is on its way may be older than the event and would take it back: it is asked for anew then.
 */
export function heard<T>(client: QueryClient, queryKey: QueryKey, change: (known: T) => T): void {
  const which = { queryKey, exact: true };
  const known = client.getQueryData<T>(queryKey);
  if (known !== undefined) client.setQueryData<T>(queryKey, change(known));
  if (client.isFetching(which) === 0) return;
  // A first answer is only left by beginning again.
  void (known === undefined ? client.resetQueries(which) : client.invalidateQueries(which));
}
