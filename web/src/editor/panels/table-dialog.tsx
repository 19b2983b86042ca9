import { attributesOf } from '@basitax/core/document/attributes';
import type { GraphNode } from '@basitax/core/document/schema';
import { must } from '@basitax/core/must';
import { select } from '@basitax/core/query/query';
import { hasColumn } from '@basitax/core/structure/parameters';
import { type Cell, csvOf, type TableField } from '@basitax/core/table/cells';
import { tableOf, usualFields } from '@basitax/core/table/out';
import { plural } from '@basitax/core/words';
import { type ReactNode, useMemo, useState } from 'react';
import { TableChoices, type TableFormat, xlsxType } from '../../files/table-choices.tsx';
import { tellFailure } from '../../ui/attempt.tsx';
import { Button, Check, Dialog, Segments, TextInput } from '../../ui/controls.tsx';
import { download } from '../download.ts';
import { useEditing } from '../store.ts';
import { queryVerdict } from './query-dialog.tsx';

type Over = 'selection' | 'query' | 'all';

const failed = (error: unknown): void => void tellFailure('The table could not be made')(error);

/** Gives a table as a file; what writes XLSX is loaded when it is wanted. */
async function give(title: string, rows: readonly (readonly Cell[])[], format: TableFormat): Promise<void> {
  if (format === 'csv') return download(`${title}.csv`, csvOf(rows), 'text/csv');
  const { xlsxOf } = await import('@basitax/core/table/xlsx');
  download(`${title}.xlsx`, new Uint8Array(await xlsxOf(rows, title)), xlsxType);
}

/** Chosen parameters of chosen nodes as CSV or XLSX, to be edited in a spreadsheet. */
export function TableOutDialog({ onClose }: { onClose: () => void }): ReactNode {
  const state = useEditing();
  const { doc, kinds, graph, title } = state;
  const chosen = state.selection.flatMap((id) => doc.nodes.get(id) ?? []);
  const [over, setOver] = useState<Over>(chosen.length > 0 ? 'selection' : 'all');
  const [query, setQuery] = useState('');
  const [picked, setPicked] = useState<readonly string[]>([]);
  const [fields, setFields] = useState<readonly TableField[]>(usualFields);
  const [format, setFormat] = useState<TableFormat>('xlsx');
  const verdict = over === 'query' ? queryVerdict(query, state) : undefined;
  const nodes: readonly GraphNode[] = useMemo(() => {
    if (over === 'selection') return chosen;
    if (verdict?.problem) return [];
    return select(over === 'query' ? query : '', doc, kinds, graph).map((id) => must(doc.nodes.get(id)));
  }, [over, query, verdict?.problem, doc, kinds, graph, chosen]);
  const parameters = useMemo(() => {
    const found = new Map<string, number>();
    for (const node of nodes) {
      const names = new Set([
        ...kinds.parameters(node.kind).map((one) => one.id),
        ...Object.keys(node.params ?? {}),
        ...Object.keys(attributesOf(node)),
      ]);
      for (const name of names) found.set(name, (found.get(name) ?? 0) + 1);
    }
    return [...found].sort((a, b) => b[1] - a[1] || (a[0] < b[0] ? -1 : 1));
  }, [nodes, kinds]);
  const columns = picked.filter((name) => nodes.some((node) => hasColumn(kinds, node, name)));
  const dim = nodes.length === 0 ? (verdict?.problem ?? 'No node is chosen.') : undefined;
  return (
    <Dialog
      open
      onClose={onClose}
      size="wide"
      title="Table out"
      about="A row for each node, with what you choose. Edited in a spreadsheet, it is read back with “Table in”."
    >
      <div className="flex flex-wrap items-center gap-3 text-sm">
        <Segments<Over>
          label="Which nodes"
          value={over}
          choices={[
            ['selection', `Selection ${chosen.length}`],
            ['query', 'Query'],
            ['all', 'All'],
          ]}
          onChoose={setOver}
        />
        {over === 'query' && (
          <TextInput
            aria-label="Query"
            className="h-7 w-56 font-mono text-xs"
            value={query}
            onChange={(event) => setQuery(event.target.value)}
          />
        )}
        <span className={verdict?.problem ? 'text-warn' : 'text-soft'}>
          {verdict?.problem ?? plural(nodes.length, 'node')}
        </span>
      </div>
      <TableChoices fields={fields} onFields={setFields} format={format} onFormat={setFormat} />
      <fieldset className="grid max-h-64 grid-cols-3 gap-x-4 gap-y-1 overflow-auto">
        <legend className="mb-1 text-sm text-soft">Parameters, those of most nodes first</legend>
        {parameters.map(([name, count]) => (
          <Check
            key={name}
            label={
              <span>
                {name} <span className="text-xs text-soft">{count}</span>
              </span>
            }
            checked={picked.includes(name)}
            onChange={(on) => setPicked(on ? [...picked, name] : picked.filter((one) => one !== name))}
          />
        ))}
      </fieldset>
      <Button
        look="primary"
        dim={dim}
        onClick={() => {
          const rows = tableOf({ doc, kinds, nodes }, { fields, parameters: columns });
          void give(title, rows, format).then(onClose).catch(failed);
        }}
      >
        Download {plural(nodes.length, 'row')}
      </Button>
    </Dialog>
  );
}
