import { z } from 'zod';

const word = z.string().min(1).max(100);
const ports = z.record(word, word.nullable()).default({});

/** What becomes of the nodes of one kind. */
const kindMappingSchema = z.object({
  to: word.optional().describe('The kind that takes its place; the same where absent.'),
  inputs: ports.describe('Inputs that are called otherwise; null: it is gone.'),
  outputs: ports.describe('Outputs that are called otherwise; null: it is gone.'),
  parameters: z
    .record(
      word,
      z.union([
        word,
        z.null(),
        z.object({
          to: word,
          scale: z.number().default(1),
          offset: z.number().default(0),
          values: z.record(z.string(), z.json()).optional(),
        }),
      ]),
    )
    .default({})
    .describe(
      'Parameters that are called otherwise; numbers may be scaled and moved, other values looked up; null: it is let go.',
    ),
  defaults: z
    .enum(['keep', 'take'])
    .default('keep')
    .describe('Where a default has changed: keep what the node computed, by setting the old one, or take the new one.'),
});
export type KindMapping = z.infer<typeof kindMappingSchema>;

/**
 * A mapping file: how nodes of one version of a catalogue become those of another. Kinds that are not named stay what
 * they are.
 */
export const mappingSchema = z.object({
  format: z.literal('basitax-mapping'),
  version: z.literal(1),
  about: z.string().max(2000).default(''),
  kinds: z.record(word, kindMappingSchema).default({}),
  defaults: z.enum(['keep', 'take']).default('keep').describe('The same for kinds that are not named.'),
});
export type Mapping = z.infer<typeof mappingSchema>;

export const emptyMapping: Mapping = { format: 'basitax-mapping', version: 1, about: '', kinds: {}, defaults: 'keep' };
