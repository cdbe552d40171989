import { Server } from 'node:http';

/**
 * Loaded before the server: each request carries the address that it came from, whatever it says of itself. Route handlers see headers alone, and those
 * of forwarding are anybody’s to write.
 */
// Whoever reads the log may end first.
for (const stream of [process.stdout, process.stderr]) stream.on('error', () => {});

const emit = Server.prototype.emit;
Server.prototype.emit = function (this: Server, event: string | symbol, ...given: never[]) {
  if (event === 'request') {
    const [request] = given as unknown as [import('node:http').IncomingMessage];
    request.headers['x-zafiro-peer'] = request.socket.remoteAddress ?? '';
  }
  return Reflect.apply(emit, this, [event, ...given]);
} as typeof emit;
