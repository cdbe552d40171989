import { spawnSync } from 'node:child_process';

/** Machines of their own as far as the network goes: network namespaces on one bridge, where this machine allows them. */

export type Net = {
  /** The server's address, as the others reach it. */
  server: string;
  /** What to put before a command so that it runs on machine `i`. */
  on(i: number): string[];
  /** Cuts a machine off, or joins it again. */
  cut(i: number, isCut: boolean): void;
  close(): void;
};

const ip = (...args: string[]) => spawnSync('ip', args, { encoding: 'utf8' });

export function openNet(machines: number): Net | undefined {
  const tag = `z${process.pid % 10_000}`;
  const part = 1 + (process.pid % 250);
  const address = (i: number) => `10.91.${part}.${i + 2}`;
  const server = `10.91.${part}.1`;
  const bridge = `${tag}b`;
  const close = () => {
    for (let i = 0; i < machines; i++) ip('netns', 'del', `${tag}n${i}`);
    ip('link', 'del', bridge);
  };
  const steps = [
    ['link', 'add', bridge, 'type', 'bridge'],
    ['addr', 'add', `${server}/24`, 'dev', bridge],
    ['link', 'set', bridge, 'up'],
  ];
  for (let i = 0; i < machines; i++) {
    const [name, outer, inner] = [`${tag}n${i}`, `${tag}o${i}`, `${tag}i${i}`];
    steps.push(
      ['netns', 'add', name],
      ['link', 'add', outer, 'type', 'veth', 'peer', 'name', inner],
      ['link', 'set', inner, 'netns', name],
      ['link', 'set', outer, 'master', bridge],
      ['link', 'set', outer, 'up'],
      ['-n', name, 'addr', 'add', `${address(i)}/24`, 'dev', inner],
      ['-n', name, 'link', 'set', inner, 'up'],
      ['-n', name, 'link', 'set', 'lo', 'up'],
    );
  }
  for (const step of steps)
    if (ip(...step).status !== 0) {
      close();
      return;
    }
  return {
    server,
    on: (i) => ['ip', 'netns', 'exec', `${tag}n${i}`],
    cut: (i, isCut) => void ip('link', 'set', `${tag}o${i}`, isCut ? 'down' : 'up'),
    close,
  };
}
