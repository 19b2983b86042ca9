import { Worker } from 'node:worker_threads';
import type { Channel } from '@basitax/core/work/protocol';
import { Runner, type RunOptions } from '@basitax/core/work/runner';
import type { TaskName, TaskResult } from '@basitax/core/work/tasks';

/** A worker thread that does the tasks of core, with so many megabytes for what it keeps. */
export function openThread(oldSpace = 4096): Channel {
  const worker = new Worker(new URL('./thread.mjs', import.meta.url), { execArgv: [], resourceLimits: { maxOldGenerationSizeMb: oldSpace, stackSizeMb: 16 } });
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

  constructor(size: number, { oldSpace }: { readonly oldSpace?: number } = {}) {
    this.runners = Array.from({ length: size }, () => new Runner(() => openThread(oldSpace)));
  }

  run<T extends TaskName>(task: T, input: unknown, options: RunOptions): Promise<TaskResult<T>> {
    const free = this.runners.find((runner) => !runner.busy);
    return (free ?? (this.runners[this.turn++ % this.runners.length] as Runner)).run(task, input, options);
  }

  close(): void {
    for (const runner of this.runners) runner.close();
  }
}
