import { z } from 'zod';
import type { Json } from './json.ts';

const word = z.string().min(1).max(100);
const json: z.ZodType<Json> = z.json();

/** The second sign of a type beside its colour: a mark's shape. */
export const signs = ['circle', 'square', 'diamond', 'triangle', 'bar', 'hexagon', 'cross', 'ring'] as const;

export const typeSchema = z.object({
  id: word,
  title: word,
  sign: z.enum(signs),
  hue: z
    .int()
    .min(0)
    .max(7)
    .describe('One of eight hues that are told apart by colour-blind eyes; the sign carries the rest.'),
  assignableTo: z.array(word).default([]).describe('Types whose inputs take this one as it is.'),
  conversions: z
    .array(z.object({ to: word, kind: word }))
    .default([])
    .describe('The kind of node that turns this type into another.'),
  components: z
    .array(z.object({ name: word, type: word }))
    .default([])
    .describe('What a compound type opens into.'),
});
export type TypeSpec = z.infer<typeof typeSchema>;

export const portSchema = z.object({
  id: word,
  name: word,
  type: word,
  direction: z.enum(['in', 'out']),
  many: z.boolean().default(false).describe('Grows a further numbered port when the last one is wired.'),
  main: z.boolean().default(false),
  feedable: z.boolean().default(false).describe('A standing feed may supply it while it is open.'),
});
export type PortSpec = z.infer<typeof portSchema>;

export const parameterTypes = [
  'number',
  'integer',
  'boolean',
  'choice',
  'text',
  'color',
  'vector',
  'path',
  'expression',
] as const;

export const parameterSchema = z.object({
  id: word,
  title: word,
  type: z.enum(parameterTypes),
  unit: z.string().max(30).optional(),
  min: z.number().optional(),
  max: z.number().optional(),
  step: z.number().positive().optional(),
  choices: z.array(word).optional(),
  default: json.describe('What counts where nothing is set; null where then nothing does.'),
  main: z.boolean().default(false),
  cosmetic: z.boolean().default(false).describe('Does not change what the graph computes.'),
  seen: z
    .object({
      nodes: z.int().min(0).describe('How many nodes set it.'),
      of: z.int().min(0).describe('Of how many nodes of the kind.'),
      from: z.number().optional(),
      to: z.number().optional(),
      usual: z.array(json).max(20).describe('The values that were seen most, the most frequent first.'),
    })
    .optional()
    .describe('What files were seen to hold when the kind was learned. It limits nothing.'),
});
export type ParameterSpec = z.infer<typeof parameterSchema>;

export const kindSchema = z.object({
  id: word,
  title: word,
  code: z
    .string()
    .regex(/^[A-Z][A-Za-z0-9]$/)
    .describe('Two letters on the spine, unique in the catalogue.'),
  category: word,
  ports: z.array(portSchema).max(200),
  parameters: z.array(parameterSchema).max(500).default([]),
  pass: z
    .record(z.string(), z.string())
    .default({})
    .describe('Output port → the input that passes for it when bypassed.'),
  end: z.boolean().default(false).describe('Files are made for its result.'),
  reads: z
    .array(word)
    .max(50)
    .default([])
    .describe('Endings of the files that a node of the kind reads, without the full stop.'),
  nameMatters: z.boolean().default(false).describe('The name of the node is part of what is computed.'),
  shared: z
    .object({ name: word, version: z.int().min(1) })
    .optional()
    .describe(
      'Published from a nested graph: under which name, and which version of it this is. A version never changes.',
    ),
});
export type KindSpec = z.infer<typeof kindSchema>;

export const categorySchema = z.object({ id: word, title: word, hue: z.int().min(0).max(7) });
export type CategorySpec = z.infer<typeof categorySchema>;

export const catalogueSchema = z
  .object({
    id: word,
    version: z.int().min(0),
    title: word,
    loops: z.enum(['forbidden', 'allowed']).default('forbidden'),
    types: z.array(typeSchema).max(200),
    categories: z.array(categorySchema).max(100),
    kinds: z.array(kindSchema).max(5000),
  })
  .check((problem) => {
    const catalogue = problem.value;
    const say = (message: string): void => void problem.issues.push({ code: 'custom', message, input: catalogue.id });
    const unique = (what: string, values: string[]): void => {
      const seen = new Set<string>();
      for (const value of values)
        seen.has(value) ? say(`The ${what} “${value}” stands twice in the catalogue.`) : seen.add(value);
    };
    unique(
      'type',
      catalogue.types.map((type) => type.id),
    );
    unique(
      'category',
      catalogue.categories.map((category) => category.id),
    );
    unique(
      'kind',
      catalogue.kinds.map((kind) => kind.id),
    );
    unique(
      'kind code',
      // the versions of one shared kind look alike
      catalogue.kinds.filter((kind) => !kind.shared).map((kind) => kind.code),
    );
    const types = new Set(['any', ...catalogue.types.map((type) => type.id)]);
    const categories = new Set(catalogue.categories.map((category) => category.id));
    for (const kind of catalogue.kinds) {
      if (!categories.has(kind.category))
        say(`Kind “${kind.id}” names the category “${kind.category}”, which the catalogue lacks.`);
      for (const port of kind.ports)
        if (!types.has(port.type))
          say(`Port “${port.id}” of kind “${kind.id}” has the type “${port.type}”, which the catalogue lacks.`);
      for (const [output, input] of Object.entries(kind.pass)) {
        const has = (id: string, direction: string) =>
          kind.ports.some((port) => port.id === id && port.direction === direction);
        if (!has(output, 'out') || !has(input, 'in'))
          say(`Kind “${kind.id}” passes ${input} for ${output}, but lacks one of them.`);
      }
    }
  });
export type Catalogue = z.infer<typeof catalogueSchema>;

export const emptyCatalogue: Catalogue = {
  id: 'none',
  version: 0,
  title: 'No catalogue',
  loops: 'allowed',
  types: [],
  categories: [],
  kinds: [],
};
