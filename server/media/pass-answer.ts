import { type Decoded, decodedKey } from '../../engine/node/decoded-store';
import type { frameQuestion } from './frame-question';
import { decoded } from './reader/decoded';
import { readPassOf } from './reader/reader';

type Asked = Awaited<ReturnType<typeof frameQuestion>> & { name: string; scale: number };

/** Samples of a pass: those that are kept, else read from its file. @throws {MediaError} */
export async function passAnswer(asked: Asked, signal?: AbortSignal): Promise<Decoded> {
  const { path, name, scale, wishes, empty } = asked;
  // Where the file is not there, whoever reads it says so.
  const key = empty ? undefined : await decodedKey(path, name, scale, wishes).catch(() => undefined);
  return (key && (await decoded.get(key))) || readPassOf({ ...asked, key }, signal);
}
