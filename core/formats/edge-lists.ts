import { attributesOf, attributesWithDefaults, columnsOf, textOfValue } from '../document/attributes.ts';
import { caption, type Doc, nodePath } from '../document/doc.ts';
import type { Json } from '../document/json.ts';
import type { Kinds } from '../document/kinds.ts';
import { must } from '../must.ts';
import { csvText, guarded } from '../table/cells.ts';

// Tables as spreadsheets and other programs take them. A node is named by its path, as everywhere outside.

const cell = (value: Json | undefined): string => (value === undefined ? '' : guarded(textOfValue(value)));

/** A row for each wire, with its attributes. O(wires · attributes). */
export function writeEdges(doc: Doc): string {
  const head = ['source', 'target', 'source port', 'target port'];
  const columns = columnsOf(doc, 'wire', (title) => head.includes(title.toLowerCase()));
  const path = (id: string): string => guarded(nodePath(doc, must(doc.nodes.get(id))));
  return csvText([
    [...head, ...columns.map(({ column }) => column)],
    ...Array.from(doc.wires.values(), (wire) => {
      const own = attributesWithDefaults(doc, 'wire', wire);
      return [
        path(wire.from.node),
        path(wire.to.node),
        guarded(wire.from.port),
        guarded(wire.to.port),
        ...columns.map(({ name }) => cell(own[name])),
      ];
    }),
  ]);
}

/** A row for each node: what it is called, its kind and place, its attributes and parameters. O(nodes · columns). */
export function writeNodes(doc: Doc, kinds: Kinds): string {
  const head = ['id', 'label', 'kind', 'x', 'y', 'color'];
  const columns = columnsOf(doc, 'node', (title) => head.includes(title.toLowerCase()));
  const taken = new Set([...head, ...columns.map(({ column }) => column.toLowerCase())]);
  const parameters = [...new Set([...doc.nodes.values()].flatMap((node) => Object.keys(node.params ?? {})))].sort();
  const titleOf = (id: string): string => (taken.has(id.toLowerCase()) ? `${id} (parameter)` : id);
  return csvText([
    [...head, ...columns.map(({ column }) => column), ...parameters.map(titleOf)],
    ...Array.from(doc.nodes.values(), (node) => {
      const own = attributesWithDefaults(doc, 'node', node);
      return [
        guarded(nodePath(doc, node)),
        guarded(caption(node)),
        guarded(kinds.title(node.kind)),
        String(node.x),
        String(node.y),
        node.color ?? '',
        ...columns.map(({ name }) => cell(own[name])),
        ...parameters.map((id) => cell(node.params?.[id])),
      ];
    }),
  ]);
}

/** A square with a row and a column for each node: 1, or the weight, where a wire leads from the row to the column. O(nodes²). */
export function writeMatrix(doc: Doc): string {
  const nodes = [...doc.nodes.values()];
  const at = new Map(nodes.map((node, i) => [node.id, i]));
  const names = nodes.map((node) => guarded(nodePath(doc, node)));
  const rows = nodes.map(() => new Map<number, number>());
  for (const wire of doc.wires.values()) {
    const weight = attributesOf(wire).weight;
    const row = must(rows[must(at.get(wire.from.node))]);
    const column = must(at.get(wire.to.node));
    row.set(column, (row.get(column) ?? 0) + (typeof weight === 'number' ? weight : 1));
  }
  return csvText([
    ['', ...names],
    ...rows.map((row, i) => [must(names[i]), ...names.map((_, k) => String(row.get(k) ?? 0))]),
  ]);
}
