/**
 * Work in a thread of its own, so that others are answered meanwhile: calls go in and answers come
 * out, one after the other. What is thrown there is thrown here; a thread that runs out of its
 * memory ends, and the server does not.
 */
import { setFlagsFromString } from 'node:v8';
import { parentPort, Worker } from 'node:worker_threads';
import type { FieldError } from '@dravex/contract';
import { codeOf, HttpProblem } from './errors.ts';

/** What a thread can be asked. Arguments and answers are copied, so they hold nothing but data. */
export type Calls = Readonly<Record<string, (...asked: never[]) => unknown>>;

interface Asked {
  readonly id: number;
  readonly name: string;
  readonly asked: readonly unknown[];
}
type Told =
  | { readonly id: number; readonly answer: unknown }
  | { readonly id: number; readonly problem: ToldProblem }
  | { readonly id: number; readonly failure: ToldFailure };
interface ToldFailure {
  readonly message: string;
  readonly stack: string;
  /** Of the database or of the system. */
  readonly code: string;
}
interface ToldProblem {
  readonly status: number;
  readonly title: string;
  readonly detail: string;
  readonly errors: readonly FieldError[];
}

interface Waiting {
  resolve(answer: unknown): void;
  reject(error: unknown): void;
}

// A heap that is set for the whole process would be that of every thread too, whatever is said of
// it. The main thread has taken its own by now; see memory.mjs.
setFlagsFromString('--max-old-space-size=0');

const START = new URL('./thread-start.mjs', import.meta.url);

/** A thread that answers calls until it is ended. */
export class Thread<C extends Calls> {
  readonly #worker: Worker;
  readonly #waiting = new Map<number, Waiting>();
  #last = 0;
  #gone: unknown;

  /**
   * @param file what runs in it; it calls `answerCalls`
   * @param memoryMb how much it may hold; a call that needs more is refused
   * @param tooMuch what is said of such a call
   */
  constructor(file: URL, memoryMb: number, tooMuch: string) {
    this.#worker = new Worker(START, {
      workerData: file.href,
      resourceLimits: { maxOldGenerationSizeMb: memoryMb, maxYoungGenerationSizeMb: 8 },
    });
    this.#worker.unref();
    this.#worker.on('message', (told: Told) => this.#hear(told));
    this.#worker.on('error', (error) => {
      const full = 'code' in error && error.code === 'ERR_WORKER_OUT_OF_MEMORY';
      this.#end(full ? new HttpProblem(413, 'This is too large', tooMuch) : error);
    });
    this.#worker.on('exit', () => this.#end(new Error('The thread has ended')));
  }

  /** Whether it can be asked no more. */
  get isGone(): boolean {
    return this.#gone !== undefined;
  }

  #hear(told: Told): void {
    const waiting = this.#waiting.get(told.id);
    this.#waiting.delete(told.id);
    if ('answer' in told) waiting?.resolve(told.answer);
    else if ('problem' in told) {
      const { status, title, detail, errors } = told.problem;
      waiting?.reject(new HttpProblem(status, title, detail, errors));
    } else {
      waiting?.reject(Object.assign(new Error(told.failure.message), told.failure));
    }
  }

  #end(reason: unknown): void {
    this.#gone ??= reason;
    for (const { reject } of this.#waiting.values()) reject(this.#gone);
    this.#waiting.clear();
  }

  /** Asks the thread. @throws whatever is thrown there; HttpProblem 413 when its memory is full */
  call<K extends keyof C & string>(
    name: K,
    ...asked: Parameters<C[K]>
  ): Promise<Awaited<ReturnType<C[K]>>> {
    return this.handOver([], name, ...asked);
  }

  /**
   * Asks the thread, and hands it memory instead of copying it: what is handed over is empty here
   * afterwards.
   * @throws like `call`
   */
  handOver<K extends keyof C & string>(
    given: readonly ArrayBuffer[],
    name: K,
    ...asked: Parameters<C[K]>
  ): Promise<Awaited<ReturnType<C[K]>>> {
    return new Promise((resolve, reject) => {
      if (this.isGone) {
        reject(this.#gone);
        return;
      }
      const id = (this.#last += 1);
      this.#waiting.set(id, { resolve: resolve as Waiting['resolve'], reject });
      this.#worker.postMessage({ id, name, asked } satisfies Asked, [...given]);
    });
  }

  /** Ends it, whatever it is at; its memory is free afterwards. */
  async end(): Promise<void> {
    this.#end(new Error('The thread was ended'));
    await this.#worker.terminate();
  }
}

/** In a thread: answers what it is asked. */
export function answerCalls(calls: Calls): void {
  const port = parentPort;
  if (!port) throw new Error('This runs in a thread');
  const tell = (told: Told): void => port.postMessage(told);
  port.on('message', ({ id, name, asked }: Asked) => {
    const call = calls[name] as ((...asked: readonly unknown[]) => unknown) | undefined;
    const answered = async (): Promise<unknown> => call?.(...asked);
    answered().then(
      (answer) => tell({ id, answer }),
      (error: unknown) => {
        if (error instanceof HttpProblem) {
          const { status, title, message: detail, errors } = error;
          tell({ id, problem: { status, title, detail, errors } });
        } else {
          const { message, stack = '' } = error instanceof Error ? error : new Error(String(error));
          tell({ id, failure: { message, stack, code: codeOf(error) } });
        }
      },
    );
  });
}
