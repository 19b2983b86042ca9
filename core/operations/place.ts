import { z } from 'zod';
import { selectedNodes } from '../document/doc.ts';
import { Transaction } from '../edit/transaction.ts';
import { operation, plural, Refused } from '../operation.ts';
import { moveToGraph } from '../structure/to-graph.ts';

export const toFrame = operation({
  id: 'to-frame',
  title: 'Move to a frame',
  area: 'frame',
  about: 'Makes the selected nodes members of a frame, or of none; they stay where they are and the frame fits them.',
  needs: { what: 'nodes', least: 1 },
  options: z.object({ frame: z.string().max(200).default('').meta({ title: 'Frame', hint: 'its id; empty: out of every frame' }) }),
  // what stands in a frame is fed by the frame's standing feeds
  changesFunction: true,
  preview: 'at-once',
  run(_context, doc, selection, { frame }) {
    const into = frame === '' ? undefined : doc.frames.get(frame);
    if (frame !== '' && (!into || into.graph !== selection.graph)) throw new Refused(`This graph has no frame “${frame}”.`);
    const tx = new Transaction(doc);
    const nodes = selectedNodes(doc, selection);
    for (const node of nodes) tx.set('nodes', node.id, 'frame', into?.id);
    return { edit: tx.edit, report: { summary: `Moved ${plural(nodes.length, 'node')} ${into ? `into “${into.title}”` : 'out of every frame'}.`, findings: [] } };
  },
});

export const toGraph = operation({
  id: 'to-graph',
  title: 'Move to another graph',
  area: 'edit',
  about: 'Moves the selected nodes into another nested graph; wires to what stays are carried on over the ports between.',
  needs: { what: 'nodes', least: 1 },
  options: z.object({ graph: z.string().min(1).max(200).meta({ title: 'Graph', hint: 'its id' }) }),
  changesFunction: true,
  preview: 'first',
  run(context, doc, selection, { graph }) {
    const tx = new Transaction(doc);
    const nodes = selectedNodes(doc, selection);
    const findings = moveToGraph(tx, context.kinds, nodes, graph, context.newId);
    return { edit: tx.edit, report: { summary: `Moved ${plural(nodes.length, 'node')} to “${doc.graphs.get(graph)!.name}”.`, findings, select: [] } };
  },
});
