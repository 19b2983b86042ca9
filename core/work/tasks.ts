import type { z } from 'zod';
import type { Given } from '../given.ts';
import { answerTasks } from './answer-tasks.ts';
import { checkTasks } from './check-tasks.ts';
import { drawTasks } from './draw-tasks.ts';
import { fileTasks } from './file-tasks.ts';
import { inspectTasks } from './inspect-tasks.ts';
import { planTasks } from './plan-tasks.ts';
import { revisionTasks } from './revision-tasks.ts';
import { scriptTasks } from './script-tasks.ts';
import { tableTasks } from './table-tasks.ts';

/** Everything heavy, by name; the same in the browser's workers, the server's threads and the command line. */
export const tasks = {
  ...drawTasks,
  ...planTasks,
  ...inspectTasks,
  ...scriptTasks,
  ...checkTasks,
  ...fileTasks,
  ...revisionTasks,
  ...tableTasks,
  ...answerTasks,
} as const;

export type TaskName = keyof typeof tasks;
export type TaskInput<T extends TaskName> = Given<z.input<(typeof tasks)[T]['input']>>;
export type TaskResult<T extends TaskName> = Awaited<ReturnType<(typeof tasks)[T]['run']>>;
