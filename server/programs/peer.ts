import { Server } from 'node:http';

/**
 * Loaded before the server: each request carries the address that it came from, whatever it says of itself. Route handlers see headers alone, and those
 * of forwarding are anybody’s to write.
 */
// Whoever reads the log may end first.
for (const stream of [process.stdout, process.stderr]) stream.on('error', () => {});

/** Nothing here speaks another protocol: whoever asks for one is told so, and holds no socket open. */
const noUpgrade =
  'HTTP/1.1 400 Bad Request\r\nConnection: close\r\nContent-Length: 0\r\nContent-Type: text/plain\r\n\r\n';

const emit = Server.prototype.emit;
Server.prototype.emit = function (this: Server, event: string | symbol, ...given: never[]) {
  if (event === 'request') {
    const [request, response] = given as unknown as [
      import('node:http').IncomingMessage,
      import('node:http').ServerResponse,
    ];
    request.headers['x-zafiro-peer'] = request.socket.remoteAddress ?? '';
    // A server that ends answers what it was asked. Then it closes the connection: kept for another request, it would keep the server from its end.
    response.once('close', () => setImmediate(() => this.listening || this.closeIdleConnections()));
  }
  if (event === 'upgrade') {
    const [, socket] = given as unknown as [unknown, import('node:stream').Duplex];
    socket.end(noUpgrade, () => socket.destroy());
    return true;
  }
  return Reflect.apply(emit, this, [event, ...given]);
} as typeof emit;
