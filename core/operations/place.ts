import { z } from 'zod';
import { caption, type Doc, selectedNodes } from '../document/doc.ts';
import type { Frame } from '../document/schema.ts';
import { Transaction } from '../edit/transaction.ts';
import { operation, plural, Refused } from '../operation.ts';
import { moveToGraph } from '../structure/to-graph.ts';

/** The frame of an id; none where the id is empty. Throws Refused where there is no such frame. */
function frameCalled(doc: Doc, id: string): Frame | undefined {
  const found = id === '' ? undefined : doc.frames.get(id);
  if (id !== '' && !found) throw new Refused(`This file has no frame “${id}”.`);
  return found;
}

export const toFrame = operation({
  id: 'to-frame',
  title: 'Move to a frame',
  area: 'frame',
  about: 'Makes the selected nodes members of a frame, or of none; they stay where they are and the frame fits them.',
  needs: { what: 'nodes', least: 1 },
  options: z.object({ frame: z.string().max(200).default('').meta({ title: 'Frame', choose: 'frame' }) }),
  // what stands in a frame is fed by the frame's standing feeds
  changesFunction: true,
  preview: 'at-once',
  asks: true,
  run(_context, doc, selection, { frame }) {
    const into = frameCalled(doc, frame);
    const tx = new Transaction(doc);
    const nodes = selectedNodes(doc, selection);
    const stranger = nodes.find((node) => into && node.graph !== into.graph);
    if (stranger) throw new Refused(`“${caption(stranger)}” lies in another graph than “${into!.title}”: move it to that graph first.`);
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
  options: z.object({
    graph: z.string().min(1).max(200).meta({ title: 'Graph', choose: 'graph' }),
    frame: z.string().max(200).default('').meta({ title: 'Frame there', choose: 'frame' }),
  }),
  changesFunction: true,
  preview: 'first',
  run(context, doc, selection, { graph, frame }) {
    const into = frameCalled(doc, frame);
    if (into && into.graph !== graph) throw new Refused(`“${into.title}” is no frame of that graph.`);
    const tx = new Transaction(doc);
    const nodes = selectedNodes(doc, selection);
    const findings = moveToGraph(tx, context.kinds, nodes, graph, context.newId);
    if (into) for (const node of nodes) tx.set('nodes', node.id, 'frame', into.id);
    return { edit: tx.edit, report: { summary: `Moved ${plural(nodes.length, 'node')} to “${doc.graphs.get(graph)!.name}”.`, findings, select: [] } };
  },
});
