import { z } from 'zod';

const id = z.string().max(200);
const json = z.json();
/** The line of the script that asks. */
const line = z.int().min(1).nullish();

/** What is logged, opened out: a value as text, a node by id, or what is in a list or an object. */
export type LogTree =
  | { readonly is: 'value'; readonly text: string }
  | { readonly is: 'node'; readonly id: string; readonly text: string }
  | {
      readonly is: 'list' | 'object';
      readonly text: string;
      readonly parts: readonly (readonly [string, LogTree])[];
      /** How many further parts are left out. */
      readonly more: number;
    };
const logTree: z.ZodType<LogTree> = z.lazy(() =>
  z.discriminatedUnion('is', [
    z.object({ is: z.literal('value'), text: z.string() }),
    z.object({ is: z.literal('node'), id, text: z.string() }),
    z.object({
      is: z.enum(['list', 'object']),
      text: z.string(),
      parts: z.array(z.tuple([z.string(), logTree])).max(200),
      more: z.int().min(0),
    }),
  ]),
);

/** What the model asks of the host. */
export const requestSchema = z.discriminatedUnion('do', [
  z.object({
    do: z.literal('set'),
    node: id,
    parameter: z.string().min(1).max(200),
    value: json.optional(),
    must: z.boolean().optional(),
    replace: z.boolean().optional(),
    line,
  }),
  z.object({
    do: z.literal('field'),
    table: z.enum(['nodes', 'frames', 'notes']),
    id,
    field: z.string().max(50),
    value: z.union([z.string(), z.boolean()]),
    line,
  }),
  // what is no number comes over as null
  z.object({ do: z.literal('move'), node: id, x: z.number().nullable(), y: z.number().nullable(), line }),
  z.object({
    do: z.literal('run'),
    operation: z.string().max(100),
    graph: id,
    items: z.array(id),
    options: json,
    line,
  }),
  z.object({ do: z.literal('select'), query: z.string().max(2000), graph: id }),
  z.object({ do: z.literal('order') }),
  z.object({ do: z.literal('ends'), node: id }),
  z.object({ do: z.literal('reach'), nodes: z.array(id), down: z.boolean(), steps: z.number().nullish() }),
  z.object({ do: z.literal('links'), node: id }),
  z.object({ do: z.literal('kinds') }),
  z.object({ do: z.literal('kind'), id }),
  z.object({ do: z.literal('findings'), rules: z.array(id) }),
  z.object({ do: z.literal('measures'), graph: id }),
  z.object({ do: z.literal('asset'), path: z.string().max(4000) }),
  z.object({ do: z.literal('assets-named'), name: z.string().max(1000) }),
  z.object({ do: z.literal('size'), node: id }),
  z.object({ do: z.literal('rects'), graph: id }),
  z.object({ do: z.literal('options'), declared: json }),
  z.object({
    do: z.literal('log'),
    level: z.enum(['log', 'warn']),
    text: z.string(),
    line,
    values: z.array(logTree).max(50).optional(),
  }),
  z.object({ do: z.literal('result'), value: json }),
  z.object({ do: z.literal('progress'), fraction: z.number().nullable(), what: z.string() }),
  z.object({ do: z.literal('skip'), node: id, reason: z.string() }),
  z.object({ do: z.literal('output'), name: z.string(), text: z.string() }),
]);
export type Request = z.infer<typeof requestSchema>;
