import { createStore } from 'zustand';

/** Something that failed and that nobody handled: an error in an event handler, a rejection, a panel that could not be drawn. */
export type Failure = { message: string; details: string; count: number };

/** The last failure of this page, until somebody has seen it. */
export const failures = createStore<{ last?: Failure }>()(() => ({}));

/** Chromium tells every page so where a panel that is resized resizes another one: nothing has failed. */
const harmless = /^ResizeObserver loop/;
/** The viewer says itself that its engine has stopped. */
const isShown = (error: unknown) => error instanceof Error && error.name === 'EngineStopped';

/** What people who look for the cause need: what failed and where, on which page, in which browser. */
function detailsOf(error: unknown, where: string): string {
  const stack = error instanceof Error ? (error.stack ?? error.message) : String(error);
  return [`Zafiro, ${new Date().toISOString()}`, where, location.href, navigator.userAgent, '', stack].join(
    '\n',
  );
}

/** Shows a failure. `where` names what was done, or the panel. */
export function reportFailure(error: unknown, where: string): void {
  const message = (error instanceof Error ? error.message : String(error)).trim() || 'Unknown error';
  if (harmless.test(message) || isShown(error)) return;
  const { last } = failures.getState();
  const count = last?.message === message ? last.count + 1 : 1;
  failures.setState({ last: { message, details: detailsOf(error, where), count } });
}

export const forgetFailure = () => failures.setState({ last: undefined });

/** Listens for what nobody handled. Gives what ends it. */
export function watchFailures(): () => void {
  const onError = (e: ErrorEvent) => reportFailure(e.error ?? e.message, 'Uncaught error');
  const onRejection = (e: PromiseRejectionEvent) => reportFailure(e.reason, 'Unhandled rejection');
  addEventListener('error', onError);
  addEventListener('unhandledrejection', onRejection);
  return () => {
    removeEventListener('error', onError);
    removeEventListener('unhandledrejection', onRejection);
  };
}
