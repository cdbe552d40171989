import { type ChildProcess, fork } from 'node:child_process';
import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { FrameTold } from '../../../core/evaluate/run';
import { MediaError } from '../../../engine/node/media-file';
import type { ObjectShare } from '../../../engine/node/told';
import type { ContentsAnswer, LookAnswer, ObjectAnswer, PassAnswer, Question } from './answers';

/** How long one file may take, and how much memory reading may take in all. */
const mostSeconds = Number(process.env.ZAFIRO_READ_SECONDS) || 60;
const mostMegabytes = Number(process.env.ZAFIRO_READ_MEGABYTES) || 6144;
const watchEvery = 200;
const pageSize = 4096;

type Waiting = { question: Question; done(answer: never): void; failed(error: Error): void };

/** Kept on the global object so that reloading a module in development does not start a second reader. */
type Reader = { child?: ChildProcess; waiting: Waiting[]; current?: Waiting; count: number };
const held = globalThis as { zafiroReader?: Reader };
held.zafiroReader ??= { waiting: [], count: 0 };
const reader = held.zafiroReader;

const programPath = () => {
  const beside = import.meta.url.endsWith('.mjs') ? new URL(import.meta.url).pathname : '';
  return beside.includes('/dist/')
    ? join(beside, '..', 'reader.mjs')
    : join(/* turbopackIgnore: true */ process.cwd(), 'dist', 'reader.mjs');
};

/** util-linux: the kernel ends the child with this process, even by kill -9. */
const setpriv = '/usr/bin/setpriv';

function start(): ChildProcess {
  const child = fork(programPath(), [], {
    serialization: 'advanced',
    ...(existsSync(setpriv)
      ? { execPath: setpriv, execArgv: ['--pdeathsig', 'KILL', '--', process.execPath] }
      : {}),
  });
  child.unref();
  child.channel?.unref();
  child.once('exit', (code, signal) => {
    if (reader.child === child) reader.child = undefined;
    const { current } = reader;
    if (!current) return;
    reader.current = undefined;
    const why = endedBecause.get(child) ?? `ended the reading process (${signal ?? code})`;
    const { path, about } = current.question;
    current.failed(
      new MediaError(
        `${about}${path} ${why}. The file is damaged or too large: render or copy it again.`,
        'damaged',
      ),
    );
    next();
  });
  return child;
}

const endedBecause = new WeakMap<ChildProcess, string>();

function megabytesOf(pid: number | undefined): number {
  try {
    return (Number(readFileSync(`/proc/${pid}/statm`, 'utf8').split(' ')[1]) * pageSize) / 2 ** 20;
  } catch {
    return 0;
  }
}

/** One question at a time: within one the reader uses all threads. */
function next() {
  if (reader.current) return;
  const job = reader.waiting.shift();
  if (!job) return;
  reader.current = job;
  reader.child ??= start();
  const { child } = reader;
  const id = ++reader.count;
  const began = performance.now();
  const end = (why: string) => {
    endedBecause.set(child, why);
    child.kill('SIGKILL');
  };
  const watch = setInterval(() => {
    if (performance.now() - began > mostSeconds * 1000) end(`took longer than ${mostSeconds} s to read`);
    else if (megabytesOf(child.pid) > mostMegabytes) end(`took more than ${mostMegabytes} MB to read`);
  }, watchEvery);
  const over = () => {
    clearInterval(watch);
    child.off('message', answered);
    child.off('exit', over);
    child.channel?.unref();
  };
  const answered = (message: {
    id: number;
    answer?: never;
    problem?: { message: string; name: string; code?: never };
  }) => {
    if (message.id !== id) return;
    over();
    reader.current = undefined;
    const { problem } = message;
    if (problem) {
      job.failed(
        problem.name === 'MediaError'
          ? new MediaError(problem.message, problem.code)
          : new Error(problem.message),
      );
    } else job.done(message.answer!);
    next();
  };
  child.on('message', answered);
  child.once('exit', over);
  child.channel?.ref();
  child.send({ id, question: job.question });
}

function ask<T>(question: Question, first: boolean): Promise<T> {
  return new Promise<T>((done, failed) => {
    const job = { question, done, failed } as Waiting;
    if (first) reader.waiting.unshift(job);
    else reader.waiting.push(job);
    next();
  });
}

type Asked<A extends Question['ask']> = Omit<Extract<Question, { ask: A }>, 'ask'>;

/** Samples of a pass: asked for before everything else that waits. @throws {MediaError} */
export const readPassOf = (q: Asked<'pass'>) => ask<PassAnswer>({ ask: 'pass', ...q }, true);
/** What a file holds. @throws {MediaError} */
export const lookAt = (q: Asked<'look'>) => ask<LookAnswer>({ ask: 'look', ...q }, false);
/** Every pass of a file by numbers and as a picture. @throws {MediaError} */
export const contentsOf = (q: Asked<'contents'>) => ask<ContentsAnswer>({ ask: 'contents', ...q }, false);

/** What stands at a pixel. @throws {MediaError} */
export const objectAt = (q: Asked<'object'>) => ask<ObjectAnswer>({ ask: 'object', ...q }, true);

/** What a file says beside its pixels. @throws {MediaError} */
export const toldAt = (q: Asked<'told'>) => ask<FrameTold>({ ask: 'told', ...q }, true);

/** The objects of an id pass. @throws {MediaError} */
export const objectsOf = (q: Asked<'objects'>) => ask<ObjectShare[]>({ ask: 'objects', ...q }, false);

/** Ends the reader; the process can end then. */
export function endReader() {
  reader.child?.kill();
}
