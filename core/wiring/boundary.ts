import { builtin } from '../document/builtin.ts';
import { indexOf } from '../document/doc.ts';
import type { Id } from '../document/ids.ts';
import { freeName, type Taken } from '../document/names.ts';
import type { Transaction } from '../edit/transaction.ts';

/** A port of a graph that is to be made. */
export interface NewBoundary {
  readonly kind: typeof builtin.input | typeof builtin.output;
  readonly graph: Id;
  readonly name: string;
  readonly type: string;
  readonly x: number;
  readonly y: number;
}

/** Makes a boundary node and, where a node holds the graph, its port there. The name is numbered where it is taken. */
export function addBoundary(tx: Transaction, made: NewBoundary, taken: Taken, id: Id): void {
  const { kind, graph, type, x, y } = made;
  const name = freeName(made.name, taken);
  const isInput = kind === builtin.input;
  const inside = isInput
    ? ({ id: 'out', name: 'out', type, direction: 'out' } as const)
    : ({ id: 'in', name: 'in', type, direction: 'in' } as const);
  tx.add('nodes', { id, graph, kind, name, x: Math.round(x), y: Math.round(y), ports: [inside] });
  // the graph may have come with this very act
  const known = indexOf(tx.before).hostOf(graph) ?? indexOf(tx.doc).hostOf(graph);
  const host = known && tx.get('nodes', known.id);
  if (host) tx.set('nodes', host.id, 'ports', [...host.ports, { id, name, type, direction: isInput ? 'in' : 'out' }]);
}
