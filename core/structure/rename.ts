import { builtin, isBoundary } from '../document/builtin.ts';
import { type Doc, indexOf } from '../document/doc.ts';
import type { GraphNode } from '../document/schema.ts';
import type { Transaction } from '../edit/transaction.ts';
import { must } from '../must.ts';
import { tapsOf } from '../wiring/carriers.ts';

/**
 * Gives a node another name, which has to be free: taps carry the name of the beacon that they hear, and hosts those of
 * their boundary nodes. O(taps).
 */
export function renameNode(tx: Transaction, doc: Doc, node: GraphNode, name: string): void {
  tx.set('nodes', node.id, 'name', name);
  if (node.kind === builtin.beacon)
    for (const tap of tapsOf(doc, node.id)) tx.set('nodes', tap.id, 'beacon', { ...tap.beacon, name });
  const host = isBoundary(node.kind) ? indexOf(doc).hostOf(node.graph) : undefined;
  if (host)
    tx.set(
      'nodes',
      host.id,
      'ports',
      // as they stand: several ports of one host may be renamed in one act
      must(tx.get('nodes', host.id)).ports.map((port) => (port.id === node.id ? { ...port, name } : port)),
    );
}
