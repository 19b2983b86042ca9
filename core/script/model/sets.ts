import type { ScriptNode, ScriptNodeSet } from '../api.ts';
import { listOf } from './lists.ts';
import { objects } from './objects.ts';
import { once } from './once.ts';
import { perform } from './perform.ts';
import { nodes, nodesInOrder, root, ScriptError, sets } from './store.ts';
import { strict } from './strict.ts';

// Runs inside the sandbox: named sets of nodes, which may lie in several graphs.

const nameOf = (id: string): string => {
  const found = sets.find((set) => set.id === id);
  if (!found) throw new ScriptError('The set was taken away.');
  return found.name;
};

const change = (operation: 'set-add' | 'set-remove', id: string, members: readonly ScriptNode[]): void => {
  if (members.length > 0)
    perform(
      operation,
      root,
      members.map((node) => node.id),
      { set: id },
    );
};

const setOf = once(
  (id): ScriptNodeSet =>
    strict(
      {
        id,
        get name() {
          return nameOf(id);
        },
        set name(name: string) {
          if (String(name).trim() === '') throw new ScriptError('A set needs a name; remove() takes it away.');
          perform('set-rename', root, [], { set: id, name: String(name) });
        },
        get nodes() {
          nameOf(id);
          return listOf(nodesInOrder().filter((node) => nodes.get(node)!.sets?.includes(id)));
        },
        add: (members) => change('set-add', id, members),
        release: (members) => change('set-remove', id, members),
        remove: () => void perform('set-rename', root, [], { set: id, name: '' }),
      },
      'A set',
    ),
);

export const allSets = (): readonly ScriptNodeSet[] => sets.map((set) => setOf(set.id));

export function setCalled(name: string): ScriptNodeSet | undefined {
  const found = sets.find((set) => set.name.toLowerCase() === name.trim().toLowerCase());
  return found && setOf(found.id);
}

export function makeSet(name: string, members: readonly ScriptNode[]): ScriptNodeSet {
  if (members.length === 0) throw new ScriptError('A set is made of at least one node.');
  const known = new Set(sets.map((set) => set.id));
  perform(
    'set-make',
    root,
    members.map((node) => node.id),
    { name },
  );
  return setOf(sets.find((set) => !known.has(set.id))!.id);
}

objects.setOf = setOf;
