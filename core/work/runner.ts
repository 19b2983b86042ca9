import type { Catalogue } from '../document/catalogue.ts';
import type { Doc } from '../document/doc.ts';
import { storedText } from '../document/file.ts';
import { plainTables } from '../document/table.ts';
import { UnreadableFile } from '../document/unreadable.ts';
import { diff } from '../edit/diff.ts';
import { Cancelled } from '../operation.ts';
import { Refused, type Saying } from '../said.ts';
import type { Answer, Channel, Progress, RunMessage, SentDoc } from './protocol.ts';
import { refuse } from './sentences.ts';
import type { TaskInput, TaskName, TaskResult } from './tasks.ts';

export interface RunOptions {
  /** The document to work on, or the text that was written of it: it is not checked again. */
  readonly doc?: Doc | string;
  readonly catalogue: Catalogue;
  readonly onProgress?: (progress: Progress) => void;
  readonly signal?: AbortSignalLike;
  /**
   * Milliseconds after which the worker is ended in the middle of its work, and what is said then. For what might never
   * end.
   */
  readonly limit?: { readonly ms: number; readonly say: Saying };
}

/** What we need of an AbortSignal; core has no DOM. */
export interface AbortSignalLike {
  readonly aborted: boolean;
  addEventListener(type: 'abort', listener: () => void): void;
  removeEventListener(type: 'abort', listener: () => void): void;
}

interface Job {
  readonly id: number;
  readonly task: TaskName;
  readonly input: unknown;
  readonly options: RunOptions;
  readonly resolve: (result: unknown) => void;
  readonly reject: (error: Error) => void;
}

// core has neither DOM nor Node, but both have these
declare function setTimeout(then: () => void, ms: number): { readonly timer: never };
declare function clearTimeout(timer: ReturnType<typeof setTimeout> | undefined): void;

/** Sent as an edit only while that is likely shorter than the document. */
const mostSteps = 20_000;

/**
 * Runs tasks in a worker, one after the other, with progress. Cancelling ends the worker in the middle of its work and
 * starts another for what is next; so does a crash. `Served` are the tasks that the worker has. The same class serves
 * the browser and the server; only the channel differs.
 */
export class Runner<Served extends TaskName = TaskName> {
  private readonly open: () => Channel;
  private channel: Channel | undefined;
  private readonly queue: Job[] = [];
  private running: Job | undefined;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private nextId = 1;
  private version = 0;
  private sentDoc: { version: number; doc: Doc } | undefined;
  private sentCatalogue: Catalogue | undefined;

  constructor(open: () => Channel) {
    this.open = open;
  }

  get busy(): boolean {
    return this.running !== undefined;
  }

  /**
   * Rejects with Cancelled when the signal aborts, with Refused or UnreadableFile where the task says so, with Error
   * otherwise.
   */
  run<T extends Served>(task: T, input: TaskInput<T>, options: RunOptions): Promise<TaskResult<T>> {
    return new Promise((resolve, reject) => {
      if (options.signal?.aborted) {
        reject(new Cancelled());
        return;
      }
      const abort = (): void => this.cancel(job);
      const settle =
        <A extends unknown[]>(then: (...args: A) => void) =>
        (...args: A): void => {
          options.signal?.removeEventListener('abort', abort);
          then(...args);
        };
      const job: Job = {
        id: this.nextId++,
        task,
        input,
        options,
        resolve: settle(resolve as (result: unknown) => void),
        reject: settle(reject),
      };
      options.signal?.addEventListener('abort', abort);
      this.queue.push(job);
      this.next();
    });
  }

  /** Opens the worker before there is anything to do, so that its code is there even if the network goes. */
  warm(): void {
    this.connected();
  }

  /** Ends the worker; what is queued is cancelled. */
  close(): void {
    for (const job of this.queue.splice(0)) job.reject(new Cancelled());
    this.drop(new Cancelled());
  }

  private cancel(job: Job): void {
    const at = this.queue.indexOf(job);
    if (at !== -1) {
      this.queue.splice(at, 1);
      job.reject(new Cancelled());
    } else if (this.running === job) {
      this.drop(new Cancelled());
      this.next();
    }
  }

  /** Throws the worker away, and with it the running job where there is one. */
  private drop(error: Error = new Cancelled()): void {
    const job = this.running;
    clearTimeout(this.timer);
    this.channel?.terminate();
    this.channel = undefined;
    this.running = undefined;
    this.sentDoc = undefined;
    this.sentCatalogue = undefined;
    job?.reject(error);
  }

  private next(): void {
    if (this.running) return;
    const job = this.queue.shift();
    if (!job) return;
    this.running = job;
    const channel = this.connected();
    const { catalogue } = job.options;
    const message: RunMessage = {
      type: 'run',
      job: job.id,
      task: job.task,
      input: job.input,
      ...(job.options.doc !== undefined && { doc: this.sent(job.options.doc) }),
      ...(catalogue !== this.sentCatalogue && { catalogue }),
    };
    this.sentCatalogue = catalogue;
    const { limit } = job.options;
    if (limit) {
      this.timer = setTimeout(() => {
        if (this.running !== job) return;
        this.drop(new Refused(limit.say));
        this.next();
      }, limit.ms);
    }
    try {
      channel.post(message);
    } catch (error) {
      this.drop(error instanceof Error ? error : new Error(String(error)));
      this.next();
    }
  }

  private sent(doc: Doc | string): SentDoc {
    if (typeof doc === 'string') {
      this.sentDoc = undefined;
      return { version: ++this.version, text: doc };
    }
    const before = this.sentDoc;
    if (before?.doc === doc) return { version: before.version, base: before.version, edit: { steps: [] } };
    const version = ++this.version;
    this.sentDoc = { version, doc };
    if (before && before.doc.head.id === doc.head.id && before.doc.extra === doc.extra) {
      const edit = diff(before.doc, doc);
      if (edit.steps.length < mostSteps) return { version, base: before.version, edit };
    }
    const text = storedText(doc);
    return text === undefined ? { version, doc: plainTables(doc) } : { version, text };
  }

  private connected(): Channel {
    if (this.channel) return this.channel;
    const channel = this.open();
    this.channel = channel;
    channel.listen((message) => {
      if (this.channel === channel) this.receive(message as Answer);
    });
    channel.failed?.((why) => {
      if (this.channel !== channel) return;
      this.drop(
        /memory limit|out of memory/i.test(why) ? refuse('too-much-memory') : new Error(`The worker ended: ${why}`),
      );
      this.next();
    });
    return channel;
  }

  private receive(answer: Answer): void {
    const job = this.running;
    if (!job || answer.job !== job.id) return;
    if (answer.type === 'progress') {
      job.options.onProgress?.(answer);
      return;
    }
    clearTimeout(this.timer);
    this.running = undefined;
    if (answer.isSpent) this.drop();
    if (answer.type === 'done') job.resolve(answer.result);
    else {
      // a failed job may have left the worker with another document than we think
      this.sentDoc = undefined;
      job.reject(revive(answer));
    }
    this.next();
  }
}

function revive({ name, message, code, params = {} }: Extract<Answer, { type: 'failed' }>): Error {
  if (name === 'Refused' && code !== undefined) return new Refused({ message, code, params });
  if (name === 'UnreadableFile' && code !== undefined) return new UnreadableFile({ message, code, params });
  if (name === 'Cancelled') return new Cancelled();
  const error = new Error(message);
  error.name = name;
  return error;
}
