import { z } from 'zod';
import { type Doc, type Selection, selectedNodes } from '../document/doc.ts';
import type { Json } from '../document/json.ts';
import { firstSetting, type GraphNode } from '../document/schema.ts';
import { Transaction } from '../edit/transaction.ts';
import type { Finding } from '../finding.ts';
import { type Outcome, operation } from '../operation.ts';
import { plural } from '../words.ts';
import { find, refuse } from './sentences.ts';

const nodes = { what: 'nodes', least: 1 } as const;
const name = z.string().trim().min(1, 'Name the setting.').max(100).meta({ title: 'Setting' });

type Values = Readonly<Record<string, Json>>;

/** What the present setting of a node is called. */
export const settingOf = (node: GraphNode): string => node.setting ?? firstSetting;

/** The settings of a node by name, the present one among them. */
export const settingNames = (node: GraphNode): string[] =>
  [...new Set([settingOf(node), ...Object.keys(node.settings ?? {})])].sort();

/** The nodes whose parameters may be changed, and a finding for each that is locked. */
export function unlocked(selected: readonly GraphNode[]): { readonly free: GraphNode[]; readonly findings: Finding[] } {
  const locked = selected.filter((node) => node.locked);
  return {
    free: selected.filter((node) => !node.locked),
    findings: locked.map((node) => find('locked', 'info', [node.id], 'locked', { node: node.name })),
  };
}

/** Writes the present values of a node anew, whole. */
function putValues(tx: Transaction, node: GraphNode, values: Values): void {
  for (const id of new Set([...Object.keys(node.params ?? {}), ...Object.keys(values)]))
    tx.setParameter(node.id, id, values[id]);
}

/** Keeps the present values under their name, and makes others the present ones. */
function turnTo(tx: Transaction, node: GraphNode, to: string, values: Values): void {
  tx.setPart('nodes', node.id, 'settings', settingOf(node), { ...node.params });
  putValues(tx, node, values);
  tx.setPart('nodes', node.id, 'settings', to, undefined);
  tx.set('nodes', node.id, 'setting', to);
}

function each(
  doc: Doc,
  selection: Selection,
  change: (tx: Transaction, node: GraphNode) => boolean,
  say: (count: number) => string,
): Outcome {
  const { free, findings } = unlocked(selectedNodes(doc, selection));
  const tx = new Transaction(doc);
  const changed = free.filter((node) => change(tx, node));
  return { edit: tx.edit, report: { summary: say(changed.length), findings } };
}

export const addSetting = operation({
  id: 'setting-add',
  title: 'New setting',
  area: 'edit',
  about: 'Saves the current values of the selected nodes, and continues with a copy of them under a new name.',
  needs: nodes,
  options: z.object({ name }),
  changesFunction: false,
  preview: 'at-once',
  run(_context, doc, selection, options) {
    const add = (tx: Transaction, node: GraphNode): boolean => {
      if (settingNames(node).includes(options.name))
        throw refuse('setting-exists', { node: node.name, name: options.name });
      turnTo(tx, node, options.name, node.params ?? {});
      return true;
    };
    return each(doc, selection, add, (count) => `${plural(count, 'node')} on the new setting “${options.name}”.`);
  },
});

export const chooseSetting = operation({
  id: 'setting-choose',
  title: 'Choose a setting',
  area: 'edit',
  about:
    'Switches the selected nodes to the values saved under a name. Nodes without this setting are skipped and listed.',
  needs: nodes,
  options: z.object({ name }),
  changesFunction: true,
  preview: 'at-once',
  run(_context, doc, selection, options) {
    const lacking: Finding[] = [];
    const choose = (tx: Transaction, node: GraphNode): boolean => {
      if (settingOf(node) === options.name) return false;
      const values = node.settings?.[options.name];
      if (!values) {
        lacking.push(find('setting-missing', 'info', [node.id], 'no-setting', { node: node.name, name: options.name }));
        return false;
      }
      turnTo(tx, node, options.name, values);
      return true;
    };
    const outcome = each(doc, selection, choose, (count) => `Turned ${plural(count, 'node')} to “${options.name}”.`);
    return { ...outcome, report: { ...outcome.report, findings: [...outcome.report.findings, ...lacking] } };
  },
});

export const renameSetting = operation({
  id: 'setting-rename',
  title: 'Rename the setting',
  area: 'edit',
  about: 'Renames the current setting of the selected nodes.',
  needs: nodes,
  options: z.object({ name }),
  changesFunction: false,
  preview: 'at-once',
  run(_context, doc, selection, options) {
    const renamed = (tx: Transaction, node: GraphNode): boolean => {
      if (node.settings?.[options.name]) throw refuse('setting-exists', { node: node.name, name: options.name });
      tx.set('nodes', node.id, 'setting', options.name);
      return true;
    };
    return each(
      doc,
      selection,
      renamed,
      (count) => `The present setting of ${plural(count, 'node')} is called “${options.name}” now.`,
    );
  },
});

export const removeSetting = operation({
  id: 'setting-remove',
  title: 'Remove a setting',
  area: 'edit',
  about:
    'Removes the values that the selected nodes saved under a name. The current setting cannot be removed: switch to another one first.',
  needs: nodes,
  options: z.object({ name }),
  changesFunction: false,
  preview: 'at-once',
  run(_context, doc, selection, options) {
    const remove = (tx: Transaction, node: GraphNode): boolean => {
      if (settingOf(node) === options.name) throw refuse('setting-in-use', { name: options.name, node: node.name });
      if (!node.settings?.[options.name]) return false;
      tx.setPart('nodes', node.id, 'settings', options.name, undefined);
      return true;
    };
    return each(doc, selection, remove, (count) => `Removed “${options.name}” from ${plural(count, 'node')}.`);
  },
});

export const resetSetting = operation({
  id: 'reset',
  title: 'Reset the present setting',
  area: 'edit',
  about: 'Resets the parameters of the selected nodes to their defaults, in the current setting only.',
  needs: nodes,
  options: z.object({}),
  changesFunction: true,
  preview: 'at-once',
  run(_context, doc, selection) {
    const reset = (tx: Transaction, node: GraphNode): boolean => {
      if (!node.params) return false;
      putValues(tx, node, {});
      return true;
    };
    return each(doc, selection, reset, (count) => `Reset ${plural(count, 'node')} to the defaults.`);
  },
});

export const locks = ([true, false] as const).map((locked) =>
  operation({
    id: locked ? 'lock' : 'unlock',
    title: locked ? 'Lock the parameters' : 'Unlock the parameters',
    area: 'edit',
    about: locked
      ? 'The parameters of the selected nodes cannot be changed until they are unlocked.'
      : 'The parameters of the selected nodes may be changed again.',
    needs: nodes,
    options: z.object({}),
    changesFunction: false,
    preview: 'at-once',
    run(_context, doc, selection) {
      const tx = new Transaction(doc);
      const meant = tx.flag(selectedNodes(doc, selection), 'locked', locked);
      return {
        edit: tx.edit,
        report: { summary: `${locked ? 'Locked' : 'Unlocked'} ${plural(meant.length, 'node')}.`, findings: [] },
      };
    },
  }),
);
