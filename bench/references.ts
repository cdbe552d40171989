import { type ChildProcess, spawn } from 'node:child_process';
import { createInterface } from 'node:readline';

/** The Python process that times the references, one command at a time. */
export type References = {
  versions: string;
  time(name: string, threads: number): Promise<number>;
  end(): void;
};

export async function startReferences(files: string[]): Promise<References> {
  const script = new URL('../bench/references.py', import.meta.url).pathname;
  const child: ChildProcess = spawn('/usr/bin/python3', [script, ...files], {
    stdio: ['pipe', 'pipe', 'inherit'],
  });
  const lines = createInterface({ input: child.stdout! })[Symbol.asyncIterator]();
  const next = async () => {
    const { value, done } = await lines.next();
    if (done)
      throw new Error(
        'The references ended: are python3-opencv, python3-scipy and python3-openimageio there?',
      );
    return value as string;
  };
  return {
    versions: await next(),
    async time(name, threads) {
      child.stdin!.write(`${name} ${threads}\n`);
      return Number(await next());
    },
    end: () => child.stdin!.end(),
  };
}
