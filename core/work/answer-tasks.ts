import { z } from 'zod';
import { catalogueSchema } from '../document/catalogue.ts';
import { parseDoc, readStored, writeDoc } from '../document/file.ts';
import { mergeDocs } from '../edit/merge.ts';
import type { Finding } from '../finding.ts';
import { fileContent, formats, readBytes, written } from '../formats/formats.ts';
import { jsonPatch, type PatchOperation } from '../formats/json-patch.ts';
import { junitText } from '../formats/junit.ts';
import { sarifLog } from '../formats/sarif.ts';
import { wordsOf } from '../formats/words.ts';
import {
  dependenciesOf,
  leftoversOf,
  type MeasuresAnswer,
  measuresOf,
  nodesNamed,
  printsOf,
} from '../inspect/answers.ts';
import { must } from '../must.ts';
import { askedBy } from '../rules/profile.ts';
import { checkAsked } from '../rules/rules.ts';
import { byProfile } from './revised.ts';
import { refuse } from './sentences.ts';
import { task } from './task.ts';
import { need } from './tools.ts';

const measure = task(z.object({}), (_input, tools): MeasuresAnswer => measuresOf(need(tools.doc), tools.kinds));

const prints = task(
  z.object({ nodes: z.boolean() }),
  (input, tools): ReturnType<typeof printsOf> => printsOf(need(tools.doc), tools.kinds, input.nodes),
);

/** What nodes that are named by id or path depend on, and what depends on them. */
const depends = task(
  z.object({ nodes: z.array(z.string()).min(1).max(1000) }),
  (input, tools): ReturnType<typeof dependenciesOf> => {
    const doc = need(tools.doc);
    const { ids, missing } = nodesNamed(doc, input.nodes);
    const [first] = missing;
    if (first !== undefined) throw refuse('no-node-named', { name: first });
    return dependenciesOf(doc, tools.kinds, ids);
  },
);

const leftovers = task(z.object({}), (_input, tools): readonly Finding[] => leftoversOf(need(tools.doc), tools.kinds));

const words = task(z.object({}), (_input, tools): string => `${wordsOf(need(tools.doc)).join('\n')}\n`);

/** What house rules find, as a log that other programs read. */
const checkLog = task(
  byProfile.extend({ file: z.string(), format: z.enum(['sarif', 'junit']), version: z.string() }),
  (input, tools): string => {
    const doc = need(tools.doc);
    const asked = askedBy(input.profile);
    const checked = [{ file: input.file, text: '', doc, findings: checkAsked(doc, tools.kinds, asked) }];
    return input.format === 'junit'
      ? junitText(checked)
      : JSON.stringify(sarifLog(checked, asked, input.version), null, 2);
  },
);

/** What leads from another document to this one, as JSON Patch (RFC 6902). */
const patch = task(z.object({ before: z.string(), catalogue: catalogueSchema }), (input, tools): PatchOperation[] =>
  jsonPatch(readStored(input.before), need(tools.doc)),
);

/** A file that is stored nowhere, in another format. */
const convert = task(
  z.object({ name: z.string(), content: fileContent, format: z.string(), routes: z.boolean() }),
  (input, tools): { text: string; lost: readonly string[]; findings: readonly Finding[]; title: string } => {
    const { doc, findings } = readBytes(input.name, input.content, tools.kinds);
    const format = formats.find((one) => one.id === input.format);
    if (!format) throw refuse('no-format', { format: input.format });
    return { ...written(format, doc, tools.kinds, { routes: input.routes }), findings, title: doc.head.title };
  },
);

/** What is found in a file that is stored nowhere: what had to be repaired, and what house rules find. */
const checkSent = task(
  byProfile.extend({ name: z.string(), content: fileContent }),
  (input, tools): { read: readonly Finding[]; found: readonly Finding[] } => {
    const { doc, findings } = readBytes(input.name, input.content, tools.kinds);
    return { read: findings, found: checkAsked(doc, tools.kinds, askedBy(input.profile)) };
  },
);

/** Two versions of a file that is stored nowhere, brought together over what both came from; ours is kept in conflicts. */
const merge = task(
  z.object({ base: z.string(), ours: z.string(), theirs: z.string() }),
  (input, tools): { text: string; conflicts: readonly string[]; findings: readonly Finding[] } => {
    const [base, ours, theirs] = [input.base, input.ours, input.theirs].map((text) => parseDoc(text).doc);
    const { doc, said, findings } = mergeDocs(must(base), must(ours), must(theirs), tools.kinds);
    return { text: writeDoc(doc), conflicts: said, findings };
  },
);

/** What is asked of whole documents by other programs. */
export const answerTasks = {
  measure,
  prints,
  depends,
  leftovers,
  words,
  checkLog,
  patch,
  convert,
  checkSent,
  merge,
} as const;
