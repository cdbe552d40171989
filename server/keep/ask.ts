import { createInterface } from 'node:readline';
import { LaunchError } from '../services/child';

/** Asks for a password: on a terminal twice and unseen, else the first line of what comes in. */
export async function askPassword(): Promise<string> {
  if (!process.stdin.isTTY) {
    for await (const line of createInterface({ input: process.stdin })) return line;
    throw new LaunchError('A password is missing. Type it, or give it as the first line of the input.');
  }
  const first = await unseen('Password: ');
  if ((await unseen('Once more: ')) !== first) throw new LaunchError('These were two passwords.');
  return first;
}

const unseen = (question: string) =>
  new Promise<string>((done, fail) => {
    process.stderr.write(question);
    process.stdin.setRawMode(true).setEncoding('utf8').resume();
    let text = '';
    const take = (keys: string) => {
      for (const key of keys) {
        if (key === '\r' || key === '\n' || key === '\u0003' || key === '\u0004') {
          process.stdin.off('data', take).setRawMode(false).pause();
          process.stderr.write('\n');
          return key === '\u0003' ? fail(new LaunchError('Nothing was changed.')) : done(text);
        }
        text = key === '\u007f' ? text.slice(0, -1) : text + key;
      }
    };
    process.stdin.on('data', take);
  });
