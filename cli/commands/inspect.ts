import type { Doc } from '@basitax/core/document/doc';
import type { Id } from '@basitax/core/document/ids';
import { nodesNamed } from '@basitax/core/inspect/answers';
import { must } from '@basitax/core/must';
import { type Command, command, Unusable, worst } from '../command.ts';
import { fileCommand } from '../engine.ts';
import {
  sayComparison,
  sayCost,
  sayDependencies,
  sayFingerprint,
  sayLeftovers,
  sayMeasures,
  sayPatch,
} from './inspecting.ts';

/** Nodes that are named with commas between, by id or path. Throws Unusable where one is not there. */
export function nodesIn(doc: Doc, select: string | undefined): readonly Id[] {
  const { ids, missing } = nodesNamed(doc, (select ?? '').split(',').filter(Boolean));
  if (missing.length > 0) throw new Unusable(`there is no node “${missing[0]}”, by id or by path.`);
  return ids;
}

export const inspectCommands: readonly Command[] = [
  fileCommand({
    name: 'measure',
    usage: 'FILE…',
    about: 'How hard files are to read: measures, score, the worst places.',
    options: {},
    writes: false,
    says: 'block',
    inThreads: () => true,
    each: (_file, loaded) => sayMeasures(loaded),
  }),
  fileCommand({
    name: 'fingerprint',
    usage: 'FILE… [--nodes]',
    about: 'What files compute, as two hashes.',
    options: { nodes: { type: 'boolean', about: 'The hash of each node too.' } },
    writes: false,
    says: 'block',
    inThreads: () => true,
    each: (_file, loaded, { values }) => sayFingerprint(loaded, values.nodes === true),
  }),
  fileCommand({
    name: 'inspect',
    usage: 'FILE… --select NODE,NODE…',
    about: 'What depends on what: up, down, ends that are hit, ways between two.',
    options: { select: { type: 'string', value: 'NODE,…', about: 'Nodes by id or path, such as Nested/Node.' } },
    writes: false,
    says: 'block',
    inThreads: () => true,
    each(_file, loaded, { values }) {
      if (!values.select) throw new Unusable('inspect needs --select NODE,NODE…, by id or path.');
      return sayDependencies(loaded, nodesIn(loaded.doc, values.select));
    },
  }),
  fileCommand({
    name: 'leftovers',
    usage: 'FILE…',
    about: 'What could go or was forgotten, with what mends it; status 1 if there are any.',
    options: {},
    writes: false,
    says: 'block',
    inThreads: () => true,
    each: (_file, loaded) => sayLeftovers(loaded),
  }),
  fileCommand({
    name: 'cost',
    usage: 'TIMES.csv FILE…',
    about: 'Totals and critical path from times: node path, milliseconds.',
    options: {},
    lead: ['a table of times'],
    writes: false,
    says: 'block',
    prepare: ({ words, io }) => io.text(must(words[0])),
    each: (_file, loaded, _call, csv: string) => sayCost(loaded, csv),
  }),
  command({
    name: 'compare',
    usage: 'BEFORE AFTER [--patch]',
    about: 'What differs, by id and by likeness; status 1 if something does.',
    options: {
      catalogue: { type: 'string', value: 'FILE', about: 'The catalogue of kinds of both.' },
      from: { type: 'string', value: 'FORMAT', about: 'The format of what has no name.' },
      patch: { type: 'boolean', about: 'As JSON Patch (RFC 6902), which leads from the one to the other.' },
    },
    async run({ words, values, io }) {
      if (words.length !== 2)
        throw new Unusable(`compare takes two files, not ${words.length}. See basitax compare --help.`);
      const [before, after] = words as [string, string];
      const both = [await io.load(before, values.catalogue, values), await io.load(after, values.catalogue, values)];
      const [one, other] = both as [(typeof both)[0], (typeof both)[0]];
      const found = sayComparison(one, other);
      const text = values.patch
        ? sayPatch(one.doc, other.doc)
        : values.json
          ? JSON.stringify({ before, after, status: found.status, ...found.json })
          : found.text;
      process.stdout.write(`${text}\n`);
      let status = found.status ?? 'fine';
      both.forEach(({ findings }, i) => {
        for (const item of findings) process.stderr.write(`${words[i]}: ${item.severity}: ${item.message}\n`);
        if (findings.some((item) => item.severity !== 'info')) status = worst([status, 'findings']);
      });
      return status;
    },
  }),
];
