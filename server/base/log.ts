import pino from 'pino';
import type { Route } from '../../api/contract';

/**
 * The log of the server, a line of JSON each: to standard output, which the launcher keeps in files that it rotates. No picture, name of a file or
 * secret is in a line: a route is named by its pattern, not by its address.
 */
const to = pino({
  base: undefined,
  timestamp: pino.stdTimeFunctions.isoTime,
  level: process.env.ZAFIRO_LOG ?? 'info',
});

export const log = {
  request(id: string, { method, path }: Route, status: number, millis: number, who?: string) {
    const level = status >= 500 ? 'error' : status >= 400 && status !== 499 ? 'warn' : 'info';
    to[level]({ id, route: `${method} ${path}`, status, millis: Math.round(millis * 10) / 10, who });
  },
  error(error: unknown) {
    const { name, message, stack } = error as Error;
    to.error({ error: name, stack }, message);
  },
  note(message: string, more: object = {}) {
    to.info(more, message);
  },
};
