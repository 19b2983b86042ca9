import type { RunOptions } from '@basitax/core/work/runner';
import { say } from '@basitax/core/work/sentences';
import type { TaskInput, TaskName, TaskResult } from '@basitax/core/work/tasks';
import { Pool, type Room } from '@basitax/threads/pool';
import { HttpProblem } from '../http/problem.ts';
import { asker } from './asker.ts';

/** What work is given to: a task with what it takes. */
export interface Workplace {
  run<T extends TaskName>(task: T, input: TaskInput<T>, options: RunOptions): Promise<TaskResult<T>>;
}

/** Jobs of one person that may wait; what comes then is told to come again. */
const mostWaiting = 6;
/** After how many seconds. */
const comeAgain = 10;

/** How long work may take, in milliseconds; what has a limit of its own keeps that. */
const limitOf = (seconds: number): NonNullable<RunOptions['limit']> => ({
  ms: seconds * 1000,
  say: say('too-long', { seconds }),
});

interface Waiting {
  readonly person: string;
  start(): void;
}

/**
 * Threads for what people wait for, shared out fairly: each person's jobs wait in a row of their own, the rows are
 * served in turn, and nobody has all threads. Each job has a limit of time, and each thread one of memory.
 */
export class Desk implements Workplace {
  private readonly pool: Pool;
  private readonly size: number;
  private readonly limit: NonNullable<RunOptions['limit']>;
  private readonly waiting: Waiting[] = [];
  private readonly running = new Map<string, number>();
  private busy = 0;
  /** Who was served last, the latest at the end. */
  private served: string[] = [];

  constructor(size: number, seconds: number, room?: Room) {
    this.pool = new Pool(size, room);
    this.size = size;
    this.limit = limitOf(seconds);
  }

  /** As `Pool.run`. Throws HttpProblem 429 where too much of one person's waits already. */
  async run<T extends TaskName>(task: T, input: TaskInput<T>, options: RunOptions): Promise<TaskResult<T>> {
    const person = asker() ?? '';
    // what the server does for itself is not refused
    if (person !== '' && this.waiting.filter((one) => one.person === person).length >= mostWaiting)
      throw new HttpProblem(
        429,
        'Too much at once',
        `${mostWaiting} of your requests are already waiting. Try again in ${comeAgain} seconds.`,
        {},
        comeAgain,
      );
    await new Promise<void>((start) => {
      this.waiting.push({ person, start });
      this.next();
    });
    try {
      return await this.pool.run(task, input, { limit: this.limit, ...options });
    } finally {
      this.busy--;
      this.running.set(person, (this.running.get(person) ?? 1) - 1);
      if (this.running.get(person) === 0) this.running.delete(person);
      this.next();
    }
  }

  /** Starts what waits, as far as threads are free: first whose last turn is the longest ago. */
  private next(): void {
    while (this.busy < this.size) {
      const most = Math.max(1, this.size - 1);
      const turn = this.waiting
        .filter(({ person }) => (this.running.get(person) ?? 0) < most)
        .reduce<Waiting | undefined>(
          (best, one) => (best && this.served.indexOf(best.person) <= this.served.indexOf(one.person) ? best : one),
          undefined,
        );
      if (!turn) return;
      this.waiting.splice(this.waiting.indexOf(turn), 1);
      this.served = [...this.served.filter((one) => one !== turn.person), turn.person].slice(-200);
      this.busy++;
      this.running.set(turn.person, (this.running.get(turn.person) ?? 0) + 1);
      turn.start();
    }
  }

  close(): void {
    this.pool.close();
  }
}
