import { Worker } from 'node:worker_threads';
import type { Channel } from '@basitax/core/work/protocol';
import { Runner, type RunOptions } from '@basitax/core/work/runner';
import type { TaskInput, TaskName, TaskResult } from '@basitax/core/work/tasks';

/**
 * How many megabytes a thread has: for what it keeps, and for what it makes and drops. With little of the latter it
 * collects garbage a third of its time.
 */
export interface Room {
  readonly kept: number;
  readonly fresh: number;
}

/** A worker thread that does the tasks of core; behind all others where it is `patient`. */
export function openThread({ kept, fresh }: Room = { kept: 4096, fresh: 64 }, patient = false): Channel {
  const worker = new Worker(new URL('./thread.mjs', import.meta.url), {
    execArgv: [],
    workerData: { patient },
    resourceLimits: { maxOldGenerationSizeMb: kept, maxYoungGenerationSizeMb: fresh, stackSizeMb: 16 },
  });
  return {
    post: (message) => worker.postMessage(message),
    listen: (receive) => void worker.on('message', receive),
    failed: (report) => {
      worker.on('error', (error) => report(error.message));
      worker.on('exit', (code) => report(`exit ${code}`));
    },
    terminate: () => void worker.terminate(),
  };
}

/** A few worker threads; each job goes to one that is free, or to the next in turn. */
export class Pool {
  private readonly runners: Runner[];
  private turn = 0;

  constructor(size: number, room?: Room) {
    this.runners = Array.from({ length: size }, () => new Runner(() => openThread(room)));
  }

  run<T extends TaskName>(task: T, input: TaskInput<T>, options: RunOptions): Promise<TaskResult<T>> {
    const free = this.runners.find((runner) => !runner.busy);
    return (free ?? (this.runners[this.turn++ % this.runners.length] as Runner)).run(task, input, options);
  }

  close(): void {
    for (const runner of this.runners) runner.close();
  }
}
