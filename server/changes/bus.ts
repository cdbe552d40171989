import { EventEmitter } from 'node:events';

/**
 * Tells the other processes of this instance that something changed, so that nobody has to ask again and again. The launcher passes on what
 * one process sends to the others; the database holds what it is about. A message may be lost: whoever waits looks again now and then.
 */

export type Message =
  /** Something of the shot changed: see its changes. */
  | { zafiro: 'shot'; shot: number }
  /** The disk has become full, or has room again. */
  | { zafiro: 'space'; full: boolean }
  /** Frames wait that are not yet in the order. */
  | { zafiro: 'exports' }
  /** Frames may be had from the order. */
  | { zafiro: 'frames' }
  /** A frame of an export, or an export, has ended. */
  | { zafiro: 'ended' }
  /** There is another media, or it is read otherwise. */
  | { zafiro: 'media' };

const isMessage = (given: unknown): given is Message =>
  typeof given === 'object' && given !== null && 'zafiro' in given;

/** Set by the launcher: the other end of this process's channel is the launcher. */
const isLaunched = process.env.ZAFIRO_BUS === '1';

/** Kept on the global object so that reloading a module in development does not listen twice. */
const held = globalThis as { zafiroBus?: EventEmitter };

function bus(): EventEmitter {
  if (!held.zafiroBus) {
    const made = new EventEmitter().setMaxListeners(0);
    held.zafiroBus = made;
    if (isLaunched) {
      process.on('message', (message) => {
        if (isMessage(message)) made.emit(message.zafiro, message);
      });
      // The launcher's channel is no reason to go on living.
      process.channel?.unref();
    }
  }
  return held.zafiroBus;
}

/** Tells this process and the others. */
export function announce(message: Message) {
  bus().emit(message.zafiro, message);
  if (isLaunched && process.connected) process.send?.(message);
}

/** Hears messages of one sort until the function it gives is called. */
export function listen<M extends Message['zafiro']>(
  what: M,
  hear: (message: Extract<Message, { zafiro: M }>) => void,
): () => void {
  bus().on(what, hear);
  return () => void bus().off(what, hear);
}

/** Resolves at the next message of a sort, at the latest after `millis`. */
export function nextMessage(what: Message['zafiro'], millis: number): Promise<void> {
  return new Promise((done) => {
    const over = () => {
      clearTimeout(timer);
      end();
      done();
    };
    const timer = setTimeout(over, millis);
    const end = listen(what, over);
  });
}
