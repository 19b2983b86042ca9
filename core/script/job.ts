import { z } from 'zod';
import { factsSchema } from '../rules/facts.ts';
import { say } from './sentences.ts';

// What a script is told over a border; no sandbox comes with it.

export const reachSchema = z.discriminatedUnion('over', [
  z.object({ over: z.literal('selection'), items: z.array(z.string().max(200)).max(100_000).readonly() }),
  z.object({ over: z.literal('query'), query: z.string().max(2000) }),
  z.object({ over: z.literal('all') }),
]);
/** Over what a script runs: nodes by id in the order of selection, those that fit a query, or all of the graph. */
export type ScriptReach = z.infer<typeof reachSchema>;

/** The most characters that a script may have. */
export const mostSource = 200_000;

/** Everything that says what a script is to do, as it comes over a border. */
export const scriptJobSchema = z.object({
  graph: z.string().min(1).max(200),
  reach: reachSchema,
  source: z.string().max(mostSource),
  values: z.record(z.string(), z.json()).default({}),
  seed: z.int().default(1),
  /** What is known of the asset store; absent: there is none to ask. */
  assets: factsSchema.shape.assets,
  /** Milliseconds that the script itself may take. */
  time: z.number().min(1).max(120_000).optional(),
});

/** How long a worker may be at a script, its operations included, before it is ended from outside. */
export const scriptEnd = {
  ms: 60_000,
  say: say('too-long'),
} as const;
