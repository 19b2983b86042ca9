import { z } from 'zod';
import { severities } from '../finding.ts';
import { profileSchema } from '../rules/profile-schema.ts';
import { mostSource } from '../script/job.ts';
import { mappingSchema } from './mapping.ts';

const query = z.string().max(2000).default('').describe('Which nodes: a query; all where empty.');
const graphs = z
  .enum(['all', 'outermost'])
  .default('all')
  .describe('In every graph of the file, or in the outermost only.');
const ruleIds = z
  .array(z.string().max(100))
  .max(200)
  .default([])
  .describe('House rules; if none are named, those that are on by default.');
const profile = profileSchema.optional().describe('House rules as a team has set them, in place of `rules`.');
const catalogue = z.strictObject({ id: z.string().min(1).max(100), version: z.int().min(0) });

/** One step of a recipe. */
export const stepSchema = z.discriminatedUnion('do', [
  z
    .strictObject({
      do: z.literal('operation'),
      operation: z.string().min(1).max(100),
      where: query,
      graphs,
      options: z.record(z.string(), z.json()).default({}),
    })
    .describe('Does an operation of the registry.'),
  z
    .strictObject({
      do: z.literal('script'),
      title: z.string().max(200).default(''),
      script: z
        .strictObject({ id: z.string().max(64), version: z.int().min(1) })
        .optional()
        .describe('A version of a script of the library.'),
      source: z
        .string()
        .max(mostSource)
        .optional()
        .describe('The script itself: taken from the library when a run starts.'),
      where: query,
      graphs,
      values: z.record(z.string(), z.json()).default({}),
    })
    .describe('Runs a script.'),
  z.strictObject({ do: z.literal('fix'), rules: ruleIds, profile }).describe('Does what house rules offer as a fix.'),
  z
    .strictObject({
      do: z.literal('check'),
      rules: ruleIds,
      profile,
      stop: z
        .enum(['error', 'warning', 'never'])
        .default('error')
        .describe('The file is left as it is where this is found.'),
    })
    .describe('Looks for what house rules find.'),
  z
    .strictObject({ do: z.literal('only'), where: z.string().min(1).max(2000), least: z.int().min(1).default(1) })
    .describe('Continues only with files that contain this many matching nodes.'),
  z
    .strictObject({ do: z.literal('keep'), what: z.enum(['ends', 'everything']).default('everything') })
    .describe('The file is left as it is where its function fingerprint has changed.'),
  z
    .strictObject({
      do: z.literal('better'),
      by: z.number().min(0).max(100).default(0).describe('Points of readability.'),
    })
    .describe('The file is left as it is where readability does not rise by so much; with 0, where it falls.'),
  z
    .strictObject({
      do: z.literal('found'),
      rules: ruleIds,
      profile,
      severity: z.enum(severities).default('info').describe('This severity or higher.'),
    })
    .describe('Continues only with files that have findings.'),
  z
    .strictObject({
      do: z.literal('no-new'),
      rules: ruleIds,
      profile,
      severity: z.enum(severities).default('error').describe('This severity or higher.'),
    })
    .describe('The file is left as it is where house rules find what they did not find before the recipe.'),
  z
    .strictObject({ do: z.literal('table'), title: z.string().max(200).default('') })
    .describe('Takes over what a table says of the nodes of the file; the table is given with the run.'),
  z
    .strictObject({ do: z.literal('upgrade'), to: catalogue, mapping: mappingSchema })
    .describe('Reads the file with another version of the catalogue, by a mapping.'),
]);
export type Step = z.infer<typeof stepSchema>;
/** A step that asks house rules. */
export type RuleStep = Extract<Step, { readonly rules: unknown }>;

/** What is done with each file, one step after the other. */
export const recipeSchema = z.strictObject({
  steps: z.array(stepSchema).min(1, 'A recipe has at least one step.').max(100),
});
export type Recipe = z.infer<typeof recipeSchema>;

/** Which files a batch run is about. */
export const fileAimSchema = z.strictObject({
  query: z.string().max(2000).default('').describe('A query over files; all where empty.'),
  ids: z.array(z.string().max(64)).max(10_000).optional().describe('Just these, as far as they fit.'),
});
export type FileAim = z.infer<typeof fileAimSchema>;
