import { z } from 'zod';
import { caption, type Doc, nodesWithin, type Selection, selectedNodes } from '../document/doc.ts';
import { framesAround, titleOf } from '../document/geometry.ts';
import type { Id } from '../document/ids.ts';
import type { Frame } from '../document/schema.ts';
import { Transaction } from '../edit/transaction.ts';
import { must } from '../must.ts';
import { type Outcome, operation } from '../operation.ts';
import { type Chosen, chosenIn, leaving, shiftItems } from '../structure/frames.ts';
import { moveToGraph } from '../structure/to-graph.ts';
import { supplyOption } from '../wiring/keep-supplied.ts';
import { plural } from '../words.ts';
import { refuse } from './sentences.ts';

/** The frame of an id; none where the id is empty. Throws Refused where there is no such frame. */
function frameCalled(doc: Doc, id: string): Frame | undefined {
  const found = id === '' ? undefined : doc.frames.get(id);
  if (id !== '' && !found) throw refuse('no-frame', { id });
  return found;
}

/**
 * Makes nodes and frames members of a frame, or of none, and says how many. Throws Refused where a frame would lie in
 * itself or in another graph.
 */
function joined(doc: Doc, chosen: Chosen, into: Frame | undefined): Outcome {
  const tx = new Transaction(doc);
  const stranger = [...chosen.nodes, ...chosen.frames].find((item) => into && item.graph !== into.graph);
  if (stranger)
    throw refuse('other-graph', {
      item: 'kind' in stranger ? caption(stranger) : stranger.title,
      frame: must(into).title,
    });
  const above = into ? [into, ...framesAround(doc, into)] : [];
  const frames = chosen.frames.filter((frame) => frame !== into);
  const ring = frames.find((frame) => above.includes(frame));
  if (ring) throw refuse('ring-of-frames', { ring: titleOf(ring) });
  for (const node of chosen.nodes) tx.set('nodes', node.id, 'frame', into?.id);
  for (const frame of frames) tx.set('frames', frame.id, 'parent', into?.id);
  const what = [
    chosen.nodes.length > 0 ? plural(chosen.nodes.length, 'node') : '',
    frames.length > 0 ? plural(frames.length, 'frame') : '',
  ]
    .filter(Boolean)
    .join(' and ');
  return {
    edit: tx.edit,
    report: {
      summary: `Moved ${what || 'nothing'} ${into ? `into “${titleOf(into)}”` : 'out of every frame'}.`,
      findings: into ? leaving(doc, chosen, into.id) : [],
    },
  };
}

const shift = z.number().min(-1e6).max(1e6).default(0);

export const toFrame = operation({
  id: 'to-frame',
  title: 'Move to a frame',
  area: 'frame',
  about: 'Makes the selected nodes and frames members of a frame, or of none. They do not move; the frame adapts.',
  needs: { what: 'items', least: 1 },
  options: z.object({
    frame: z.string().max(200).default('').meta({ title: 'Frame', choose: 'frame' }),
    dx: shift.meta({ title: 'And to the right', unit: 'px' }),
    dy: shift.meta({ title: 'And down', unit: 'px' }),
    supply: supplyOption('keep'),
  }),
  // what stands in a frame is fed by the frame's standing feeds
  changesFunction: true,
  preview: 'at-once',
  room: 'all',
  asks: true,
  run(_context, doc, selection, { frame, dx, dy }) {
    const done = joined(doc, chosenAnywhere(doc, selection), frameCalled(doc, frame));
    if (dx === 0 && dy === 0) return done;
    const tx = new Transaction(doc);
    shiftItems(tx, doc, selection, dx, dy);
    return { ...done, edit: { steps: [...done.edit.steps, ...tx.edit.steps] } };
  },
});

/** What is selected, in whichever graph it lies: the outline moves things of other graphs too. */
function chosenAnywhere(doc: Doc, selection: Selection): Chosen {
  const graphs = [
    ...new Set(selection.items.flatMap((id) => doc.nodes.get(id)?.graph ?? doc.frames.get(id)?.graph ?? [])),
  ];
  const parts = graphs.map((graph) => chosenIn(doc, { ...selection, graph }));
  const nodes = parts.flatMap((part) => part.nodes);
  // a frame is meant as a frame only where it is selected itself: who selects all its nodes moves these
  const frames = parts.flatMap((part) => part.frames);
  const meant = frames.filter((frame) => selection.items.includes(frame.id));
  const loose = frames.filter((frame) => !meant.includes(frame)).flatMap((frame) => nodesWithin(doc, frame.id));
  return { nodes: [...nodes, ...loose], frames: meant };
}

export const leaveFrame = operation({
  id: 'leave-frame',
  title: 'Leave the frame',
  area: 'frame',
  about:
    'Moves the selected nodes and frames out of their frame, into the one around it. They do not move on the canvas.',
  needs: { what: 'items', least: 1 },
  options: z.object({ supply: supplyOption('keep') }),
  changesFunction: true,
  preview: 'at-once',
  run(_context, doc, selection) {
    const chosen = chosenAnywhere(doc, selection);
    const around = [...chosen.nodes.map((node) => node.frame), ...chosen.frames.map((frame) => frame.parent)];
    if (!around.some(Boolean)) throw refuse('nothing-in-frame');
    const tx = new Transaction(doc);
    const outer = (frame: Id | undefined): Id | undefined =>
      frame === undefined ? undefined : doc.frames.get(frame)?.parent;
    for (const node of chosen.nodes) tx.set('nodes', node.id, 'frame', outer(node.frame));
    for (const frame of chosen.frames) tx.set('frames', frame.id, 'parent', outer(frame.parent));
    const count = around.filter(Boolean).length;
    return {
      edit: tx.edit,
      report: {
        summary: `${plural(count, 'thing')} left ${count === 1 ? 'its frame' : 'their frames'}.`,
        findings: leaving(doc, chosen, undefined),
      },
    };
  },
});

export const toGraph = operation({
  id: 'to-graph',
  title: 'Move to another graph',
  area: 'edit',
  about: 'Moves the selected nodes into another nested graph. Wires to nodes that stay are led through ports.',
  needs: { what: 'nodes', least: 1 },
  options: z.object({
    graph: z.string().min(1).max(200).meta({ title: 'Graph', choose: 'graph' }),
    frame: z.string().max(200).default('').meta({ title: 'Frame there', choose: 'frame' }),
    supply: supplyOption('keep'),
  }),
  changesFunction: true,
  preview: 'first',
  run(context, doc, selection, { graph, frame }) {
    const into = frameCalled(doc, frame);
    if (into && into.graph !== graph) throw refuse('frame-of-other-graph', { into: into.title });
    const tx = new Transaction(doc);
    const nodes = selectedNodes(doc, selection);
    const findings = moveToGraph(tx, context.kinds, nodes, graph, context.newId);
    if (into) for (const node of nodes) tx.set('nodes', node.id, 'frame', into.id);
    return {
      edit: tx.edit,
      report: {
        summary: `Moved ${plural(nodes.length, 'node')} to “${must(doc.graphs.get(graph)).name}”.`,
        findings,
        select: [],
      },
    };
  },
});
