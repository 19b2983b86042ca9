import { caption, type Doc, indexOf } from '../document/doc.ts';
import type { Kinds } from '../document/kinds.ts';
import type { GraphNode, Port, PortRef } from '../document/schema.ts';
import type { Transaction } from '../edit/transaction.ts';
import { closesLoop } from './effective.ts';

export function portOf(node: GraphNode | undefined, port: string, direction: 'in' | 'out'): Port | undefined {
  return node?.ports.find((own) => own.id === port && own.direction === direction);
}

/** Why two ports cannot be wired, as a sentence, or undefined where they can. Whether the input is taken is asked apart. */
export function connectProblem(doc: Doc, kinds: Kinds, from: PortRef, to: PortRef): string | undefined {
  const [source, target] = [doc.nodes.get(from.node), doc.nodes.get(to.node)];
  if (!source || !target) return `The node ${source ? to.node : from.node} is not in this file.`;
  const [output, input] = [portOf(source, from.port, 'out'), portOf(target, to.port, 'in')];
  if (!output) return `“${caption(source)}” has no output ${from.port}.`;
  if (!input) return `“${caption(target)}” has no input ${to.port}.`;
  if (source.graph !== target.graph) return 'A wire cannot cross the border of a nested graph: use its ports, or a remote link.';
  const refusal = kinds.refusal(input, output);
  if (refusal) return refusal;
  if (kinds.catalogue.loops === 'forbidden' && closesLoop(doc, source.id, target.id))
    return `A wire from “${caption(source)}” to “${caption(target)}” would close a loop, which this catalogue forbids.`;
  return undefined;
}

/** Wires an output to an input that may be: takes the place of a wire that is there, and grows ports that grow. Ask `connectProblem` first. */
export function connect(tx: Transaction, kinds: Kinds, from: PortRef, to: PortRef, newId: (prefix: string) => string): void {
  const old = indexOf(tx.before).wireInto(to.node, to.port);
  if (old && tx.get('wires', old.id)) tx.remove('wires', old.id);
  tx.add('wires', { id: newId('w'), from, to });
  const target = tx.get('nodes', to.node) as GraphNode;
  const grown = kinds.grownPort(target, to.port);
  if (!grown) return;
  const stem = grown.id.replace(/\d+$/, '');
  const row = target.ports.filter((port) => port.direction === 'in' && port.id.replace(/\d+$/, '') === stem);
  const doc = tx.doc;
  if (!row.every((port) => indexOf(doc).wireInto(target.id, port.id))) return;
  const last = target.ports.lastIndexOf(row[row.length - 1] as Port);
  tx.set('nodes', target.id, 'ports', [...target.ports.slice(0, last + 1), grown, ...target.ports.slice(last + 1)]);
}
