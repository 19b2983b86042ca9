import { builtin } from '../document/builtin.ts';
import { type Doc, indexOf } from '../document/doc.ts';
import type { Id } from '../document/ids.ts';
import { freeName, retitled } from '../document/names.ts';
import type { Finding } from '../finding.ts';
import { find } from './sentences.ts';
import { apply, type Edit, type Step } from './step.ts';
import { Transaction } from './transaction.ts';

const givesName = (step: Step): boolean =>
  step.table === 'nodes' &&
  (step.type === 'add' || (step.type === 'set' && (step.path[0] === 'name' || step.path[0] === 'graph')));

/**
 * Two equal new names in one graph: the later one, mine, is numbered, and that is said; taps that listen to what was
 * renamed take its name.
 * `edit` is mine as it can be done on `head`, the document with theirs done. O(steps + nodes of the graphs concerned).
 */
export function numberTakenNames(
  edit: Edit,
  over: Edit,
  head: Doc,
): { readonly edit: Edit; readonly notes: readonly Finding[] } {
  const mine = [...new Set(edit.steps.filter(givesName).map((step) => step.id))];
  const theirNames = new Map<Id, string>(
    over.steps.flatMap((step) =>
      step.table === 'nodes' && step.type === 'set' && step.path[0] === 'name' && typeof step.to === 'string'
        ? [[step.id, step.to] as const]
        : [],
    ),
  );
  if (!over.steps.some(givesName)) return { edit, notes: [] };
  const tx = new Transaction(apply(head, edit));
  const own = new Set(mine);
  const takenIn = new Map<Id, Set<string>>();
  const taken = (graph: Id): Set<string> => {
    let names = takenIn.get(graph);
    if (!names) {
      const others = indexOf(tx.before).nodesIn(graph);
      names = new Set(others.filter((node) => !own.has(node.id)).map((node) => node.name));
      takenIn.set(graph, names);
    }
    return names;
  };
  const renamed = new Map(theirNames);
  const notes: Finding[] = [];
  for (const id of mine) {
    const node = tx.before.nodes.get(id);
    if (!node) continue;
    const free = freeName(node.name, taken(node.graph));
    if (free === node.name) continue;
    tx.set('nodes', id, 'name', free);
    renamed.set(id, free);
    notes.push(find('name-numbered', 'info', [id], 'name-taken', { node: node.name, free }));
  }
  // taps that I made or gave another beacon
  const touched = new Set(
    edit.steps.flatMap((step) =>
      step.table === 'nodes' && (step.type === 'add' || (step.type === 'set' && step.path[0] === 'beacon'))
        ? [step.id]
        : [],
    ),
  );
  for (const id of touched) {
    const tap = tx.get('nodes', id);
    if (tap?.kind === builtin.tap) tx.set('nodes', id, 'beacon', retitled(tap, renamed).beacon);
  }
  return { edit: { steps: [...edit.steps, ...tx.edit.steps] }, notes };
}
