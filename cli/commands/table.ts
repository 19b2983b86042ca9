import { apply } from '@basitax/core/edit/step';
import { readTable, type Tabled, writeTable, writeTables } from '@basitax/core/formats/table';
import { must } from '@basitax/core/must';
import { select } from '@basitax/core/query/query';
import { hasParameter } from '@basitax/core/structure/parameters';
import { plural } from '@basitax/core/words';
import { type Command, command, readOptions, Unusable } from '../command.ts';
import { fileCommand } from '../engine.ts';
import { standard } from '../io.ts';
import { filesNamed } from '../names.ts';

export const tableCommands: readonly Command[] = [
  command({
    name: 'table',
    usage: 'FILE… --parameters NAME,NAME… [--where QUERY] [-o OUT.csv]',
    about: 'Parameters of nodes as CSV; of several files in one table, with a column for the file.',
    options: {
      catalogue: readOptions.catalogue,
      from: readOptions.from,
      parameters: { type: 'string', value: 'NAME,…', about: 'The parameters, one for each column.' },
      where: { type: 'string', value: 'QUERY', about: 'The nodes, by a query. By default all.' },
      output: { type: 'string', short: 'o', value: 'OUT', about: 'Where to write. By default to standard output.' },
    },
    async run({ words, values, io }) {
      if (words.length === 0) throw new Unusable('table takes at least one file. See basitax table --help.');
      const parameters = (values.parameters ?? '').split(',').filter(Boolean);
      if (parameters.length === 0) throw new Unusable('table needs --parameters NAME,NAME…, one for each column.');
      const all: Tabled[] = [];
      for (const file of filesNamed(words)) {
        const { doc, kinds } = await io.load(file, values.catalogue, values.from);
        const ids = [...doc.graphs.keys()].flatMap((graph) => select(values.where ?? '', doc, kinds, graph));
        all.push({ file, doc, kinds, nodes: ids.map((id) => must(doc.nodes.get(id))) });
      }
      const unknown = parameters.find(
        (name) => !all.some(({ nodes, kinds }) => nodes.some((node) => hasParameter(kinds, node, name))),
      );
      if (unknown !== undefined) throw new Unusable(`no node of these has a parameter “${unknown}”.`);
      const [one, ...more] = all as [Tabled, ...Tabled[]];
      const text =
        more.length === 0 ? writeTable(one.doc, one.kinds, one.nodes, parameters) : writeTables(all, parameters);
      if (values.json)
        process.stdout.write(
          `${all.map(({ file, nodes }) => JSON.stringify({ file, status: 'fine', rows: nodes.length })).join('\n')}\n`,
        );
      if (values.output !== undefined && values.output !== standard) await io.write(values.output, text);
      else if (!values.json) process.stdout.write(text);
      return 'fine';
    },
  }),
  fileCommand({
    name: 'table-in',
    usage: 'TABLE.csv FILE… [--dry-run]',
    about: 'Reads such a table back into files; rows that do not fit are listed by line.',
    options: {},
    lead: ['a table'],
    writes: true,
    says: 'lines',
    prepare: ({ words, io }) => io.text(must(words[0])),
    each(file, { doc, kinds }, { words }, csv: string) {
      const { edit, findings, rows, changes } = readTable(doc, kinds, csv, file);
      return {
        text: `${plural(rows, 'row')}, ${plural(changes, 'change')}.`,
        json: { rows, changes },
        findings: findings.map((item) => ({ ...item, message: `${words[0]}: ${item.message}` })),
        ...(edit.steps.length > 0 && { doc: apply(doc, edit) }),
      };
    },
  }),
];
