import { formatIds } from '@basitax/core/formats/endings';
import { layers } from '@basitax/core/inspect/compare/layers';
import { z } from 'zod';
import { contract, megabyte, plain } from './contract.ts';
import { findingSchema, mostFile, revisionOfSchema, whichSchema } from './files.ts';
import { toldChangeSchema } from './inspect.ts';
import { fileIdSchema } from './places.ts';
import { commaList } from './words.ts';

const one = z.object({ id: fileIdSchema });
const revision = z.int().describe('The revision that it is said of.');
const counted = z.object({ error: z.int(), warning: z.int(), info: z.int() });
/** A finding with the operation that mends it, where there is one. */
const mendable = findingSchema.extend({
  fix: z.object({ operation: z.string(), selection: z.array(z.string()), options: z.json().optional() }).optional(),
  choices: z
    .array(
      z.object({
        title: z.string(),
        operation: z.string(),
        selection: z.array(z.string()),
        options: z.json().optional(),
      }),
    )
    .optional(),
});
const found = z.object({ revision, findings: z.array(mendable), counts: counted });
const reached = z.array(z.object({ id: z.string(), steps: z.int() }));
const side = z.object({ nodes: reached, ifOn: reached, carriers: z.array(z.string()), depth: z.int() });
const yesNo = z.enum(['yes', 'no']).default('no');
const ms = z.number().describe('Milliseconds.');
const apart = z.looseObject({ ms, nodes: z.array(z.object({ id: z.string(), ms })) });

/** What is asked of one revision of a file, or of files that are stored nowhere: as the command line does. */
export const answersApi = {
  check: contract({
    method: 'get',
    path: '/api/files/:id/revisions/:number/check',
    about: 'What house rules find in a revision, by default those of its project',
    role: 'viewer',
    params: revisionOfSchema,
    file: 'id',
    query: z.object({ rules: commaList('Just these house rules, by id with commas between.', 8000) }),
    answer: found,
    problems: [422],
  }),
  checkLog: contract({
    method: 'get',
    path: '/api/files/:id/revisions/:number/check-log',
    about: 'The same as a log: SARIF 2.1.0, or JUnit',
    role: 'viewer',
    params: revisionOfSchema,
    file: 'id',
    query: z.object({ format: z.enum(['sarif', 'junit']).default('sarif') }),
    answer: plain,
    media: ['application/sarif+json', 'application/xml'],
  }),
  measures: contract({
    method: 'get',
    path: '/api/files/:id/revisions/:number/measures',
    about: 'How hard a revision is to read: measures, score, and what that is made of',
    role: 'viewer',
    params: revisionOfSchema,
    file: 'id',
    answer: z.looseObject({
      ...{ revision, graphs: z.int(), nodes: z.int(), wires: z.int(), frames: z.int() },
      score: z.number().describe('0 to 100.'),
      readability: z.array(z.looseObject({ graph: z.string(), score: z.number() })).describe('By graph.'),
    }),
  }),
  fingerprint: contract({
    method: 'get',
    path: '/api/files/:id/revisions/:number/fingerprint',
    about: 'What a revision computes, as two hashes',
    role: 'viewer',
    params: revisionOfSchema,
    file: 'id',
    query: z.object({ nodes: yesNo.describe('The hash of each node, too.') }),
    answer: z.object({
      ...{ revision, ends: z.string(), everything: z.string() },
      nodes: z.record(z.string(), z.string()).optional().describe('By the path of the node.'),
    }),
  }),
  dependencies: contract({
    method: 'get',
    path: '/api/files/:id/revisions/:number/dependencies',
    about: 'What nodes depend on, what depends on them, and what would be hit if they went',
    role: 'viewer',
    params: revisionOfSchema,
    file: 'id',
    query: z.object({ nodes: z.string().min(1).max(8000).describe('By id or path, with commas between.') }),
    answer: z.looseObject({
      revision,
      standing: z.array(z.object({ id: z.string(), is: z.string() })),
      up: side,
      down: side,
      ends: z.array(z.string()),
      endsIfOn: z.array(z.string()),
      paths: z.looseObject({ count: z.number().nullish() }).nullish().describe('Of two nodes: the ways between them.'),
    }),
    problems: [422],
  }),
  leftovers: contract({
    method: 'get',
    path: '/api/files/:id/revisions/:number/leftovers',
    about: 'What could go from a revision or was forgotten in it, with what mends it',
    role: 'viewer',
    params: revisionOfSchema,
    file: 'id',
    answer: found,
  }),
  cost: contract({
    method: 'get',
    path: '/api/files/:id/revisions/:number/cost',
    about: 'What the nodes of a revision cost, by the times that are kept of the file',
    role: 'viewer',
    params: revisionOfSchema,
    file: 'id',
    answer: z.looseObject({
      ...{ revision, total: ms, waste: apart, off: apart, shared: apart, unmeasured: z.array(z.string()) },
      critical: z.looseObject({ ms, path: z.array(z.string()) }),
      nodes: z.array(z.looseObject({ id: z.string(), ms })),
    }),
    problems: [422],
  }),
  words: contract({
    method: 'get',
    path: '/api/files/:id/revisions/:number/words',
    about: 'A revision in words, a line for each thing',
    role: 'viewer',
    params: revisionOfSchema,
    file: 'id',
    answer: plain,
    media: ['text/plain'],
  }),
  compare: contract({
    method: 'get',
    path: '/api/files/:id/compare',
    about: 'What differs between two revisions of a file, or between two files',
    role: 'viewer',
    params: one,
    file: 'id',
    query: z.object({
      before: whichSchema.optional().describe('The revision before; the one before the other where absent.'),
      after: whichSchema.default('head'),
      with: fileIdSchema.optional().describe('The file of the other side; the same where absent.'),
      patch: yesNo.describe('As JSON Patch (RFC 6902), too.'),
    }),
    answer: z.object({
      ...{ before: z.int(), after: z.int() },
      verdict: z.enum(['same', 'ends-same', 'changed']).describe('By the function fingerprint.'),
      changes: z.array(toldChangeSchema),
      counts: z.record(z.enum(layers), z.int()),
      matched: z.object({ byId: z.int(), byLikeness: z.int() }),
      patch: z.array(z.looseObject({ op: z.string(), path: z.string() })).optional(),
    }),
    problems: [422],
  }),
  convert: contract({
    method: 'post',
    path: '/api/convert',
    about: 'A file that is sent, in another format; nothing is stored',
    role: 'viewer',
    raw: true,
    most: mostFile,
    quiet: true,
    query: z.object({ name: z.string().min(1).max(300), to: z.enum(formatIds), routes: yesNo }),
    answer: z.object({
      text: z.string(),
      lost: z.array(z.string()).describe('What the format has no place for.'),
      findings: z.array(findingSchema).describe('What had to be repaired in what was sent.'),
    }),
    problems: [422],
  }),
  checkSent: contract({
    method: 'post',
    path: '/api/check',
    about: 'What is found in a file that is sent, by the house rules of a project; nothing is stored',
    role: 'viewer',
    raw: true,
    most: mostFile,
    quiet: true,
    query: z.object({ name: z.string().min(1).max(300), project: fileIdSchema.default('team') }),
    answer: z.object({ read: z.array(findingSchema), findings: z.array(mendable), counts: counted }),
    problems: [404, 422],
  }),
  merge: contract({
    method: 'post',
    path: '/api/merge',
    about: 'Two versions of a file brought together over what both came from; nothing is stored',
    role: 'viewer',
    quiet: true,
    most: 48 * megabyte,
    body: z.object({ base: z.string(), ours: z.string(), theirs: z.string() }),
    answer: z.object({
      text: z.string().describe('Ours, with all of theirs that does not stand against it.'),
      conflicts: z.array(z.string()).describe('In words; in each of them ours is kept.'),
      findings: z.array(findingSchema),
    }),
    problems: [422],
  }),
};
