import { z } from 'zod';
import { selectedNodes } from '../document/doc.ts';
import type { Id } from '../document/ids.ts';
import { Transaction } from '../edit/transaction.ts';
import { operation } from '../operation.ts';
import { membersOfSet, setCalled } from '../structure/sets.ts';
import { plural } from '../words.ts';
import { refuse } from './sentences.ts';

const named = z.string().trim().max(200);
const chosen = z.string().min(1).max(200).meta({ title: 'Set', choose: 'set' });
const nodes = { what: 'nodes', least: 1 } as const;

export const makeSet = operation({
  id: 'set-make',
  title: 'Make a set',
  area: 'select',
  about: 'Saves the selected nodes as a named set, across frames and nested graphs.',
  needs: nodes,
  options: z.object({ name: named.min(1, 'Name the set.').meta({ title: 'Name' }) }),
  changesFunction: false,
  preview: 'at-once',
  run({ newId }, doc, selection, { name }) {
    const taken = Object.values(doc.head.sets ?? {}).some((set) => set.name.toLowerCase() === name.toLowerCase());
    if (taken) throw refuse('set-exists', { name });
    const tx = new Transaction(doc);
    const id = newId('s');
    tx.setHeadPart('sets', id, { name });
    const members = selectedNodes(doc, selection);
    for (const node of members) tx.setPart('nodes', node.id, 'sets', id, true);
    return {
      edit: tx.edit,
      report: { summary: `Made the set “${name}” of ${plural(members.length, 'node')}.`, findings: [] },
    };
  },
});

export const setMembers = ([true, false] as const).map((into) =>
  operation({
    id: into ? 'set-add' : 'set-remove',
    title: into ? 'Add to a set' : 'Take out of a set',
    area: 'select',
    about: into
      ? 'Adds the selected nodes to a named set.'
      : 'Removes the selected nodes from a named set. The nodes themselves are not changed.',
    needs: nodes,
    options: z.object({ set: chosen }),
    changesFunction: false,
    preview: 'at-once',
    run(_context, doc, selection, { set }) {
      const { id, name } = setCalled(doc, set);
      const meant = selectedNodes(doc, selection).filter((node) => (node.sets?.[id] === true) !== into);
      const tx = new Transaction(doc);
      for (const node of meant) tx.setPart('nodes', node.id, 'sets', id, into ? true : undefined);
      const summary = into
        ? `Added ${plural(meant.length, 'node')} to “${name}”.`
        : `Took ${plural(meant.length, 'node')} out of “${name}”.`;
      return { edit: tx.edit, report: { summary, findings: [] } };
    },
  }),
);

export const renameSet = operation({
  id: 'set-rename',
  title: 'Rename a set',
  area: 'select',
  about: 'Renames a named set, or removes it if the name is empty. Its nodes are not changed.',
  needs: { what: 'nothing', least: 0 },
  options: z.object({ set: chosen, name: named.default('').meta({ title: 'Name', hint: 'empty: take the set away' }) }),
  changesFunction: false,
  preview: 'at-once',
  run(_context, doc, _selection, { set, name: wanted }) {
    const { id, name } = setCalled(doc, set);
    const tx = new Transaction(doc);
    if (wanted !== '') {
      tx.setHeadPart('sets', id, { name: wanted });
      return { edit: tx.edit, report: { summary: `The set “${name}” is called “${wanted}” now.`, findings: [] } };
    }
    const members = membersOfSet(doc, id);
    for (const node of members) tx.setPart('nodes', node.id, 'sets', id, undefined);
    tx.setHeadPart('sets', id, undefined);
    return {
      edit: tx.edit,
      report: { summary: `Took the set “${name}” away; its ${plural(members.length, 'node')} stay.`, findings: [] },
    };
  },
});

export const selectSet = operation({
  id: 'select-set',
  title: 'Nodes of a set',
  area: 'select',
  about: 'Selects the nodes of a named set that lie in this graph.',
  needs: { what: 'nothing', least: 0 },
  options: z.object({ set: chosen, add: z.boolean().default(false).meta({ title: 'Keep what is selected' }) }),
  changesFunction: false,
  preview: 'at-once',
  selects: true,
  run(_context, doc, selection, { set, add }) {
    const { id, name } = setCalled(doc, set);
    const here = membersOfSet(doc, id).filter((node) => node.graph === selection.graph);
    const select = [...new Set<Id>([...(add ? selection.items : []), ...here.map((node) => node.id)])];
    const elsewhere = membersOfSet(doc, id).length - here.length;
    const more = elsewhere > 0 ? `; ${plural(elsewhere, 'more lies', 'more lie')} in other graphs` : '';
    return {
      edit: { steps: [] },
      report: { summary: `Selected ${plural(here.length, 'node')} of “${name}”${more}.`, findings: [], select },
    };
  },
});

/** What can be switched for all nodes of a set at once, in whichever graph they lie. */
const switches = ['bypassed', 'pinned', 'closed', 'locked'] as const;

export const switchSet = operation({
  id: 'set-switch',
  title: 'Switch a set',
  area: 'select',
  about: 'Bypasses, pins, collapses or locks all nodes of a named set at once, or undoes it.',
  needs: { what: 'nothing', least: 0 },
  options: z.object({
    set: chosen,
    what: z.enum(switches).default('bypassed').meta({ title: 'What' }),
    on: z.boolean().default(true).meta({ title: 'On' }),
  }),
  changesFunction: true,
  preview: 'at-once',
  opensInputs: true,
  run({ kinds }, doc, _selection, { set, what, on }) {
    const { id, name } = setCalled(doc, set);
    const tx = new Transaction(doc);
    const members = tx.flag(
      membersOfSet(doc, id).filter((node) => what !== 'bypassed' || !kinds.isFixture(node.kind)),
      what,
      on,
    );
    return {
      edit: tx.edit,
      report: {
        summary: `${plural(members.length, 'node')} of “${name}”: ${what} ${on ? 'on' : 'off'}.`,
        findings: [],
      },
    };
  },
});
