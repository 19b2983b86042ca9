import { editSchema } from '@basitax/core/edit/step';
import { z } from 'zod';
import { logLineSchema, paramsSchema } from './words.ts';

/**
 * RFC 9457. `changes` comes with 412: what was saved since, and the edits that lead from the base that was named to the
 * head.
 */
export const problemSchema = z.object({
  type: z.string(),
  title: z.string(),
  status: z.int(),
  detail: z.string().optional(),
  code: z.string().optional().describe('What was refused, for programs: a room and a name, as in wiring.closes-loop.'),
  params: paramsSchema.optional().describe('What it was said of.'),
  line: z.int().optional().describe('The line of the script that failed.'),
  node: z.string().optional().describe('The node that it was about.'),
  log: z.array(logLineSchema).optional().describe('What the script had said until then.'),
  problems: z
    .array(z.object({ line: z.int(), column: z.int(), message: z.string() }))
    .optional()
    .describe('Everything that cannot be right in a script, in its order.'),
  changes: z
    .object({
      head: z.int(),
      revisions: z.array(z.object({ number: z.int(), author: z.string(), message: z.string() })),
      edits: z.array(editSchema),
    })
    .optional(),
});

export type Problem = z.infer<typeof problemSchema>;
