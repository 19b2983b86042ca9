import type { z } from 'zod';
import type { Tools } from './tools.ts';

/**
 * Something heavy that is done beside the interface or the requests: what it is given, checked by its schema, and what
 * it gives back.
 */
export interface Task<Schema extends z.ZodType = z.ZodType, Result = unknown> {
  readonly input: Schema;
  run(input: z.output<Schema>, tools: Tools): Result | Promise<Result>;
}

/** Tasks by name. A worker serves one such table, and loads no more than that needs. */
export type TaskTable = Readonly<Record<string, Task>>;

/** Keeps the types while declaring. */
export const task = <Schema extends z.ZodType, Result>(
  input: Schema,
  run: (input: z.output<Schema>, tools: Tools) => Result | Promise<Result>,
): Task<Schema, Result> => ({
  input,
  run,
});
