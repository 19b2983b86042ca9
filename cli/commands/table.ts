import { apply } from '@basitax/core/edit/step';
import { must } from '@basitax/core/must';
import { createContext } from '@basitax/core/operation';
import { select } from '@basitax/core/query/query';
import { hasColumn } from '@basitax/core/structure/parameters';
import { csvOf, type Row, rowsOfCsv, tableFields } from '@basitax/core/table/cells';
import { readTable } from '@basitax/core/table/in';
import { type Tabled, tableOf, tablesOf, usualFields } from '@basitax/core/table/out';
import { isXlsx, rowsOfXlsx, xlsxOf } from '@basitax/core/table/xlsx';
import { plural } from '@basitax/core/words';
import { type Command, command, readOptions, Unusable } from '../command.ts';
import { fileCommand } from '../engine.ts';
import { standard } from '../io.ts';
import { filesNamed } from '../names.ts';

export const tableCommands: readonly Command[] = [
  command({
    name: 'table',
    usage: 'FILE… [--parameters NAME,NAME…] [--fields name,label,color,frame] [--where QUERY] [-o OUT.csv]',
    about:
      'Names, labels, colours, frames and parameters of nodes as CSV or XLSX; of several files in one table, with a column for the file.',
    options: {
      catalogue: readOptions.catalogue,
      from: readOptions.from,
      parameters: { type: 'string', value: 'NAME,…', about: 'The parameters, one for each column.' },
      fields: {
        type: 'string',
        value: 'NAME,…',
        about: `Other fields of each node: ${tableFields.join(', ')}. By default its label.`,
      },
      where: { type: 'string', value: 'QUERY', about: 'The nodes, by a query. By default all.' },
      output: {
        type: 'string',
        short: 'o',
        value: 'OUT',
        about: 'Where to write; a name that ends in .xlsx makes XLSX. By default CSV to standard output.',
      },
    },
    async run({ words, values, io }) {
      if (words.length === 0) throw new Unusable('table takes at least one file. See basitax table --help.');
      const listed = (text: string | undefined): string[] => (text ?? '').split(',').filter(Boolean);
      const parameters = listed(values.parameters);
      const asked = listed(values.fields);
      const fields = values.fields === undefined ? usualFields : tableFields.filter((field) => asked.includes(field));
      const stranger = asked.find((field) => !(tableFields as readonly string[]).includes(field));
      if (stranger !== undefined)
        throw new Unusable(`a table has no field “${stranger}”. There are: ${tableFields.join(', ')}.`);
      if (parameters.length === 0 && values.fields === undefined)
        throw new Unusable('table needs --parameters NAME,NAME… or --fields NAME,…, one for each column.');
      const all: Tabled[] = [];
      for (const file of filesNamed(words)) {
        const { doc, kinds } = await io.load(file, values.catalogue, values);
        const ids = [...doc.graphs.keys()].flatMap((graph) => select(values.where ?? '', doc, kinds, graph));
        all.push({ file, doc, kinds, nodes: ids.map((id) => must(doc.nodes.get(id))) });
      }
      const unknown = parameters.find(
        (name) => !all.some(({ nodes, kinds }) => nodes.some((node) => hasColumn(kinds, node, name))),
      );
      if (unknown !== undefined) throw new Unusable(`no node of these has a parameter or attribute “${unknown}”.`);
      const [one, ...more] = all as [Tabled, ...Tabled[]];
      const columns = { fields, parameters };
      const rows = more.length === 0 ? tableOf(one, columns) : tablesOf(all, columns);
      const { output } = values;
      const text = output?.toLowerCase().endsWith('.xlsx') ? await xlsxOf(rows, one.doc.head.title) : csvOf(rows);
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
    usage: 'TABLE FILE… [--dry-run]',
    about: 'Reads such a table, CSV or XLSX, back into files; rows that do not fit are listed by line.',
    options: {},
    lead: ['a table'],
    writes: true,
    says: 'lines',
    async prepare({ words, io }): Promise<Row[]> {
      const name = must(words[0]);
      const bytes = await io.bytes(name);
      return isXlsx(bytes) ? rowsOfXlsx(bytes) : rowsOfCsv(await io.text(name));
    },
    each(file, { doc, kinds }, { words }, table: Row[]) {
      const { newId } = createContext(kinds, 1);
      const { edit, findings, rows, changes } = readTable(doc, kinds, table, newId, { name: file });
      return {
        text: `${plural(rows, 'row')}, ${plural(changes, 'change')}.`,
        json: { rows, changes },
        findings: findings.map((item) => ({ ...item, message: `${words[0]}: ${item.message}` })),
        ...(edit.steps.length > 0 && { doc: apply(doc, edit) }),
      };
    },
  }),
];
