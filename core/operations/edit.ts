import { z } from 'zod';
import { indexOf, selectedNodes } from '../document/doc.ts';
import type { Json } from '../document/json.ts';
import { nameProblem } from '../document/names.ts';
import { Transaction } from '../edit/transaction.ts';
import type { Finding } from '../finding.ts';
import { operation } from '../operation.ts';
import { Refused } from '../said.ts';
import { copyDoc, paste, readClipboard } from '../structure/clipboard.ts';
import { misfit, passedOver } from '../structure/parameters.ts';
import { removeNodes } from '../structure/remove.ts';
import { renameNode } from '../structure/rename.ts';
import { feedsOf } from '../wiring/feeds.ts';
import { readingsOption } from '../wiring/keep-readings.ts';
import { supplyOption } from '../wiring/keep-supplied.ts';
import { plural } from '../words.ts';
import { refuse } from './sentences.ts';
import { wiringOf } from './wire.ts';

export const rename = operation({
  id: 'rename',
  title: 'Rename',
  area: 'edit',
  about:
    'Gives the selected node another name. Names are unique in their graph: letters, digits and _, starting with a letter.',
  needs: { what: 'nodes', least: 1, most: 1 },
  options: z.object({ name: z.string().max(200).meta({ title: 'Name' }) }),
  changesFunction: true,
  preview: 'at-once',
  run(_context, doc, selection, { name }) {
    const [node] = selectedNodes(doc, selection);
    if (!node) throw refuse('select-one-node');
    const problem = nameProblem(doc, node.graph, name, node.id);
    if (problem) throw new Refused(problem);
    const tx = new Transaction(doc);
    renameNode(tx, doc, node, name);
    return { edit: tx.edit, report: { summary: `Renamed “${node.name}” to “${name}”.`, findings: [] } };
  },
});

export const label = operation({
  id: 'label',
  title: 'Label',
  area: 'edit',
  about: 'Sets the label of the selected nodes; an empty one removes it.',
  asks: true,
  needs: { what: 'nodes', least: 1 },
  options: z.object({ label: z.string().max(500).default('').meta({ title: 'Label' }) }),
  changesFunction: false,
  preview: 'at-once',
  run(_context, doc, selection, { label: text }) {
    const tx = new Transaction(doc);
    const nodes = selectedNodes(doc, selection);
    for (const node of nodes) tx.set('nodes', node.id, 'label', text === '' ? undefined : text);
    return { edit: tx.edit, report: { summary: `Labelled ${plural(nodes.length, 'node')}.`, findings: [] } };
  },
});

const parameterValue: z.ZodType<Json> = z.json();

export const setParameter = operation({
  id: 'set-parameter',
  title: 'Set parameter',
  area: 'edit',
  about: 'Sets one parameter of the selected nodes. Nodes without it are skipped and listed.',
  needs: { what: 'nodes', least: 1 },
  options: z.object({
    parameter: z.string().min(1).max(100).meta({ title: 'Parameter' }),
    value: parameterValue.optional().meta({ title: 'Value', hint: 'empty: the default' }),
  }),
  changesFunction: true,
  preview: 'at-once',
  run(context, doc, selection, { parameter, value }) {
    const tx = new Transaction(doc);
    const found: Finding[] = [];
    let count = 0;
    for (const node of selectedNodes(doc, selection)) {
      // who sets a value by hand sees what it takes the place of
      const skipped = passedOver(context.kinds, node, parameter, true);
      if (skipped) {
        found.push(skipped);
        continue;
      }
      const problem = misfit(context.kinds, node, parameter, value);
      if (problem) throw new Refused(problem);
      tx.setParameter(node.id, parameter, value);
      count++;
    }
    return { edit: tx.edit, report: { summary: `Set ${parameter} of ${plural(count, 'node')}.`, findings: found } };
  },
});

export const deletes = ([true, false] as const).map((heal) =>
  operation({
    id: heal ? 'delete' : 'delete-with-wires',
    title: heal ? 'Delete' : 'Delete with wires',
    area: 'edit',
    about: heal
      ? 'Deletes the selection. Wires are reconnected as if the deleted nodes were bypassed.'
      : 'Deletes the selection and every wire at it.',
    needs: { what: 'items', least: 1 },
    options: z.object({ supply: supplyOption('let go'), readings: readingsOption }),
    changesFunction: true,
    preview: heal ? 'on-loss' : 'at-once',
    ...(!heal && { opensInputs: true }),
    run(context, doc, selection) {
      const wiring = wiringOf(context, doc);
      const { tx } = wiring;
      const nodes = selection.items.flatMap((id) => doc.nodes.get(id) ?? []);
      for (const id of selection.items) {
        const wire = doc.wires.get(id);
        if (wire) wiring.disconnect(wire);
        if (doc.notes.has(id)) tx.remove('notes', id);
        const frame = doc.frames.get(id);
        if (!frame) continue;
        // members stay, and go up to the frame around
        for (const member of indexOf(doc).membersOf(id))
          tx.set('nodes', member.id, 'frame', tx.get('frames', id)?.parent);
        for (const inner of indexOf(doc).framesWithin(id))
          if (tx.get('frames', inner.id)) tx.set('frames', inner.id, 'parent', tx.get('frames', id)?.parent);
        for (const feed of feedsOf(doc))
          if (feed.covers === id) tx.set('nodes', feed.id, 'covers', tx.get('frames', id)?.parent ?? frame.graph);
        for (const note of indexOf(doc).notesIn(frame.graph))
          if (note.tiedTo === id && tx.get('notes', note.id)) tx.set('notes', note.id, 'tiedTo', undefined);
        tx.remove('frames', id);
      }
      const findings = removeNodes(wiring, nodes, heal);
      const others = selection.items.length - nodes.length;
      const what = [
        nodes.length > 0 ? plural(nodes.length, 'node') : '',
        others > 0 ? plural(others, 'other thing') : '',
      ]
        .filter(Boolean)
        .join(' and ');
      return { edit: tx.edit, report: { summary: `Deleted ${what || 'nothing'}.`, findings, select: [] } };
    },
  }),
);

export const duplicate = operation({
  id: 'duplicate',
  title: 'Duplicate',
  area: 'edit',
  about: 'Duplicates the selection, with or without the wires that come in from outside.',
  needs: { what: 'items', least: 1 },
  options: z.object({
    incoming: z.boolean().default(true).meta({ title: 'With incoming wires' }),
    supply: supplyOption('keep'),
  }),
  changesFunction: true,
  preview: 'at-once',
  room: 'all',
  run(context, doc, selection, { incoming }) {
    const tx = new Transaction(doc);
    const clip = copyDoc(doc, context.kinds, selection);
    const pasted = paste(tx, context.kinds, clip, { graph: selection.graph, incoming, newId: context.newId });
    return {
      edit: tx.edit,
      report: {
        summary: `Duplicated ${plural(pasted.select.length, 'node')}.`,
        findings: pasted.findings,
        select: pasted.select,
      },
    };
  },
});

export const pasteText = operation({
  id: 'paste',
  title: 'Paste',
  area: 'edit',
  about: 'Pastes what was copied in this or another file into this graph.',
  needs: { what: 'nothing', least: 0 },
  options: z.object({
    text: z.string().max(64_000_000).meta({ title: 'Clipboard text' }),
    x: z.number().optional().meta({ title: 'Left edge', unit: 'px' }),
    y: z.number().optional().meta({ title: 'Top edge', unit: 'px' }),
    incoming: z.boolean().default(false).meta({ title: 'With incoming wires' }),
    supply: supplyOption('keep'),
  }),
  changesFunction: true,
  preview: 'at-once',
  room: 'all',
  run(context, doc, selection, options) {
    const tx = new Transaction(doc);
    const at = options.x !== undefined && options.y !== undefined ? { at: { x: options.x, y: options.y } } : {};
    const pasted = paste(tx, context.kinds, readClipboard(options.text), {
      graph: selection.graph,
      ...at,
      incoming: options.incoming,
      newId: context.newId,
    });
    return {
      edit: tx.edit,
      report: {
        summary: `Pasted ${plural(pasted.select.length, 'node')}.`,
        findings: pasted.findings,
        select: pasted.select,
      },
    };
  },
});
