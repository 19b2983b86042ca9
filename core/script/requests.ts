import { z } from 'zod';

const id = z.string().max(200);
const json = z.json();

/** What the model asks of the host. */
export const requestSchema = z.discriminatedUnion('do', [
  z.object({
    do: z.literal('set'),
    node: id,
    parameter: z.string().min(1).max(200),
    value: json.optional(),
    must: z.boolean().optional(),
    replace: z.boolean().optional(),
  }),
  z.object({
    do: z.literal('field'),
    table: z.enum(['nodes', 'frames', 'notes']),
    id,
    field: z.string().max(50),
    value: z.union([z.string(), z.boolean()]),
  }),
  // what is no number comes over as null
  z.object({ do: z.literal('move'), node: id, x: z.number().nullable(), y: z.number().nullable() }),
  z.object({ do: z.literal('run'), operation: z.string().max(100), graph: id, items: z.array(id), options: json }),
  z.object({ do: z.literal('select'), query: z.string().max(2000), graph: id }),
  z.object({ do: z.literal('flow') }),
  z.object({ do: z.literal('size'), node: id }),
  z.object({ do: z.literal('rects'), graph: id }),
  z.object({ do: z.literal('options'), declared: json }),
  z.object({ do: z.literal('log'), level: z.enum(['log', 'warn']), text: z.string() }),
  z.object({ do: z.literal('progress'), fraction: z.number().nullable(), what: z.string() }),
  z.object({ do: z.literal('skip'), node: id, reason: z.string() }),
  z.object({ do: z.literal('output'), name: z.string(), text: z.string() }),
]);
export type Request = z.infer<typeof requestSchema>;
