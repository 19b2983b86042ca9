import type { Id } from '@basitax/core/document/ids';
import type { PortRef } from '@basitax/core/document/schema';
import type { Editing } from '../store.ts';

/** What a menu was opened on: the selection, by what it is, a port, or the ground. */
export type Target =
  | { readonly type: 'node' | 'nodes' | 'nested' | 'wire' | 'frame' | 'note' | 'ground' }
  | { readonly type: 'port'; readonly at: PortRef; readonly direction: 'in' | 'out' };

/** What the selection is, for a menu. */
export function targetOf({ doc, selection }: Pick<Editing, 'doc' | 'selection'>): Target {
  const [id, second] = selection;
  if (id === undefined) return { type: 'ground' };
  const count = (table: ReadonlyMap<Id, unknown>): number => selection.filter((one) => table.has(one)).length;
  if (count(doc.nodes) > 0) {
    if (second !== undefined) return { type: 'nodes' };
    return { type: doc.nodes.get(id)?.inner === undefined ? 'node' : 'nested' };
  }
  if (count(doc.frames) > 0) return { type: 'frame' };
  return { type: count(doc.wires) > 0 ? 'wire' : 'note' };
}
