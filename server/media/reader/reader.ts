import { type ChildProcess, fork } from 'node:child_process';
import { join } from 'node:path';
import { dequal } from 'dequal';
import type { FrameMetadata } from '../../../core/evaluate/run';
import { limitedFork, megabytesOf, mostReadSeconds, watchEvery } from '../../../engine/node/limited';
import { MediaError } from '../../../engine/node/media-file';
import type { ObjectShare } from '../../../engine/node/metadata';
import type { ContentsAnswer, LookAnswer, ObjectAnswer, PassAnswer, Question } from './answers';

/** How much memory reading may take in all. */
const mostMegabytes = Number(process.env.ZAFIRO_READ_MEGABYTES) || 6144;
/** A process that has had nothing to do for so long ends, and its memory with it. */
const idleSeconds = Number(process.env.ZAFIRO_READ_IDLE_SECONDS) || 45;

/** `urgent`: somebody looks at the picture and waits. `again`: it was asked of a process that others had filled before. */
type Waiting = {
  question: Question;
  urgent: boolean;
  again?: boolean;
  done(answer: never): void;
  failed(error: Error): void;
};
/** A process that reads, one question at a time: within one it uses all threads. */
type Reader = { child?: ChildProcess; current?: Waiting; answered: number; idle?: NodeJS.Timeout };

/**
 * The first reader is for what is urgent alone; the second does the rest, and what is urgent while the first is busy. So a slow file that
 * was only looked at keeps nobody waiting. Kept on the global object so that reloading a module in development does not start others.
 */
type Readers = { all: Reader[]; waiting: Waiting[]; count: number };
const held = globalThis as { zafiroReaders?: Readers };
held.zafiroReaders ??= { all: [{ answered: 0 }, { answered: 0 }], waiting: [], count: 0 };
const readers = held.zafiroReaders;

const programPath = () => {
  const beside = import.meta.url.endsWith('.mjs') ? new URL(import.meta.url).pathname : '';
  return beside.includes('/dist/')
    ? join(beside, '..', 'reader.mjs')
    : join(/* turbopackIgnore: true */ process.cwd(), 'dist', 'reader.mjs');
};

function start(reader: Reader): ChildProcess {
  const child = fork(programPath(), [], {
    serialization: 'advanced',
    ...limitedFork(),
  });
  child.unref();
  child.channel?.unref();
  reader.answered = 0;
  child.once('exit', (code, signal) => {
    if (reader.child !== child) return;
    reader.child = undefined;
    const { current } = reader;
    if (!current) return;
    reader.current = undefined;
    const why = endedBecause.get(child) ?? `ended the reading process (${signal ?? code})`;
    // What others left in the process may have been too much, not this file: it is asked again of a new one.
    if (reader.answered > 0 && !current.again && !tookTooLong.has(child)) {
      current.again = true;
      readers.waiting.unshift(current);
    } else {
      const { path, about } = current.question;
      current.failed(
        new MediaError(
          `${about}${path} ${why}. The file is damaged or too large: render or copy it again.`,
          'exhausted',
        ),
      );
    }
    next();
  });
  return child;
}

const endedBecause = new WeakMap<ChildProcess, string>();
const tookTooLong = new WeakSet<ChildProcess>();

/** Ends the readers that wait while another needs the memory; true where that was enough. */
function roomMade(): boolean {
  const used = () => readers.all.reduce((sum, r) => sum + megabytesOf(r.child?.pid), 0);
  if (used() <= mostMegabytes) return true;
  for (const idle of readers.all) {
    if (idle.current || !idle.child) continue;
    idle.child.kill('SIGKILL');
    idle.child = undefined;
  }
  return used() <= mostMegabytes;
}

/** Gives free readers what waits for them. */
function next() {
  const [first, second] = readers.all;
  const take = (urgent: boolean) => {
    const at = readers.waiting.findIndex((w) => w.urgent === urgent);
    return at < 0 ? undefined : readers.waiting.splice(at, 1)[0];
  };
  for (const reader of [first, second]) {
    if (reader.current) continue;
    const job = take(true) ?? (reader === second ? take(false) : undefined);
    if (job) give(reader, job);
  }
}

/** A question about a pass, with the other passes of its file that wait: each chunk of the file is unpacked once for all of them. */
function withOthers(question: Question): Question {
  if (question.ask !== 'pass') return question;
  const soon = readers.waiting.flatMap(({ question: q }) =>
    q.ask === 'pass' && q.path === question.path && dequal(q.wishes, question.wishes) ? [q.name] : [],
  );
  return soon.length > 0 ? { ...question, soon } : question;
}

function give(reader: Reader, job: Waiting) {
  reader.current = job;
  clearTimeout(reader.idle);
  if (job.again && reader.answered > 0) {
    reader.child?.kill('SIGKILL');
    reader.child = undefined;
  }
  reader.child ??= start(reader);
  const { child } = reader;
  const id = ++readers.count;
  const began = performance.now();
  const end = (why: string) => {
    endedBecause.set(child, why);
    child.kill('SIGKILL');
  };
  const watch = setInterval(() => {
    if (performance.now() - began > mostReadSeconds * 1000) {
      tookTooLong.add(child);
      end(`took longer than ${mostReadSeconds} s to read`);
    } else if (!roomMade()) end(`took more than ${mostMegabytes} MB to read`);
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
    reader.answered++;
    reader.idle = setTimeout(() => {
      child.kill();
      if (reader.child === child) reader.child = undefined;
    }, idleSeconds * 1000);
    reader.idle.unref();
    const { problem } = message;
    if (problem) {
      job.failed(
        problem.name === 'MediaError'
          ? new MediaError(problem.message, problem.code)
          : Object.assign(new Error(problem.message), { code: problem.code }),
      );
    } else job.done(message.answer!);
    next();
  };
  child.on('message', answered);
  child.once('exit', over);
  child.channel?.ref();
  // One that is ending takes nothing more: its end is what counts.
  child.send({ id, question: withOthers(job.question) }, (error) => error && child.kill('SIGKILL'));
}

/** Milliseconds in which questions about other passes of a file come, when a picture asks for all that it needs. */
const gathering = 4;

/** Puts a question; one whose asker has left before its turn is not read any more. */
function ask<T>(question: Question, urgent: boolean, signal?: AbortSignal): Promise<T> {
  return new Promise<T>((done, failed) => {
    // Whoever asks looks at the database first, and may have been left meanwhile.
    signal?.throwIfAborted();
    const job = { question, urgent, done, failed } as Waiting;
    readers.waiting.push(job);
    signal?.addEventListener('abort', () => {
      const at = readers.waiting.indexOf(job);
      if (at < 0) return;
      readers.waiting.splice(at, 1);
      failed(signal.reason);
    });
    if (question.ask === 'pass') setTimeout(next, gathering);
    else next();
  });
}

type Asked<A extends Question['ask']> = Omit<Extract<Question, { ask: A }>, 'ask'>;

/** Samples of a pass: asked for before everything that is not urgent. @throws {MediaError} */
export const readPassOf = (q: Asked<'pass'>, signal?: AbortSignal) =>
  ask<PassAnswer>({ ask: 'pass', ...q }, true, signal);
/** The contents of a file. @throws {MediaError} */
export const lookAt = (q: Asked<'look'>, signal?: AbortSignal) =>
  ask<LookAnswer>({ ask: 'look', ...q }, false, signal);
/** Every pass of a file by numbers and as a picture. @throws {MediaError} */
export const contentsOf = (q: Asked<'contents'>, signal?: AbortSignal) =>
  ask<ContentsAnswer>({ ask: 'contents', ...q }, false, signal);

/** The object at a pixel. @throws {MediaError} */
export const objectAt = (q: Asked<'object'>, signal?: AbortSignal) =>
  ask<ObjectAnswer>({ ask: 'object', ...q }, true, signal);

/** Metadata of a file. @throws {MediaError} */
export const metadataAt = (q: Asked<'metadata'>, signal?: AbortSignal) =>
  ask<FrameMetadata>({ ask: 'metadata', ...q }, true, signal);

/** The objects of an id pass. @throws {MediaError} */
export const objectsOf = (q: Asked<'objects'>, signal?: AbortSignal) =>
  ask<ObjectShare[]>({ ask: 'objects', ...q }, false, signal);

/** Ends the readers; the process can end then. */
export function endReader() {
  for (const reader of readers.all) {
    clearTimeout(reader.idle);
    reader.child?.kill();
  }
}
