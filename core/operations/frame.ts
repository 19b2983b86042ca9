import { z } from 'zod';
import { caption, type Doc, indexOf, nodesWithin, type Selection } from '../document/doc.ts';
import { framePad, frameRects, framesAround, rectOf, unite, untitledFrame } from '../document/geometry.ts';
import type { Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import type { Frame, GraphNode } from '../document/schema.ts';
import { Transaction } from '../edit/transaction.ts';
import { type Finding, finding } from '../finding.ts';
import { isDefaultName } from '../inspect/measure.ts';
import { type Context, operation, plural, Refused } from '../operation.ts';

interface Chosen {
  readonly nodes: readonly GraphNode[];
  readonly frames: readonly Frame[];
}

/**
 * The selected nodes and frames of the graph; what a selected frame holds comes with it. A frame of which every node is selected, and something
 * beside it, is meant as a whole.
 */
function chosenIn(doc: Doc, { graph, items }: Selection): Chosen {
  const selected = new Set(items);
  const isWhole = (frame: Frame): boolean => {
    const held = nodesWithin(doc, frame.id);
    return held.length > 0 && held.every((node) => selected.has(node.id)) && items.some((id) => doc.nodes.has(id) && !held.some((node) => node.id === id));
  };
  const frames = indexOf(doc)
    .framesIn(graph)
    .filter((frame) => selected.has(frame.id) || isWhole(frame));
  const within = new Set(frames.map((frame) => frame.id));
  const isHeld = (item: GraphNode | Frame): boolean => framesAround(doc, item).some((around) => within.has(around.id));
  const nodes = items.flatMap((id) => doc.nodes.get(id) ?? []).filter((node) => node.graph === graph);
  return { nodes: nodes.filter((node) => !isHeld(node)), frames: frames.filter((frame) => !isHeld(frame)) };
}

/** The innermost frame that holds all of them. */
function sharedFrame(doc: Doc, items: readonly (GraphNode | Frame)[]): Id | undefined {
  const [first = [], ...rest] = items.map((item) => framesAround(doc, item).map((frame) => frame.id));
  return first.find((frame) => rest.every((around) => around.includes(frame)));
}

/** A title that says what the nodes have in common: the words that all names begin with, else the category of most. */
export function proposeTitle(kinds: Kinds, nodes: readonly GraphNode[]): string {
  const named = nodes.filter((node) => !isDefaultName(node.name, node.kind, kinds)).map((node) => node.name.split('_'));
  const [first = [], ...rest] = named;
  let shared = 0;
  while (shared < first.length && rest.every((words) => words[shared] === first[shared])) shared++;
  if (rest.length > 0 && shared > 0) return first.slice(0, shared).join(' ');
  const counts = new Map<string, number>();
  for (const node of nodes) counts.set(kinds.category(node.kind).title, (counts.get(kinds.category(node.kind).title) ?? 0) + 1);
  const [most] = [...counts].sort((a, b) => b[1] - a[1] || (a[0] < b[0] ? -1 : 1));
  return most?.[0] ?? untitledFrame;
}

/** Says who leaves a frame of their own for the new one. */
function leaving(doc: Doc, { nodes, frames }: Chosen, parent: Id | undefined): Finding[] {
  const said = (id: Id, name: string, from: Id | undefined): Finding[] =>
    from === undefined || from === parent ? [] : [finding('frame-left', 'info', [id], `“${name}” leaves the frame “${doc.frames.get(from)!.title || untitledFrame}”.`)];
  return [...nodes.flatMap((node) => said(node.id, caption(node), node.frame)), ...frames.flatMap((frame) => said(frame.id, frame.title || untitledFrame, frame.parent))];
}

export const frameSelection = operation({
  id: 'frame',
  title: 'Frame the selection',
  area: 'frame',
  about: 'Puts a frame around the selected nodes and frames, which become its members and stay where they are; frames go into frames.',
  needs: { what: 'items', least: 1 },
  options: z.object({ title: z.string().max(500).default('').meta({ title: 'Title', hint: 'proposed where empty' }) }),
  // what stands in a frame is fed by the frame's standing feeds
  changesFunction: true,
  preview: 'at-once',
  run(context, doc, selection, { title }) {
    const chosen = chosenIn(doc, selection);
    if (chosen.nodes.length + chosen.frames.length === 0) throw new Refused('Select nodes or frames first.');
    const { frame, parent } = newFrame(context, doc, selection.graph, chosen, title);
    const tx = new Transaction(doc);
    tx.add('frames', frame);
    for (const node of chosen.nodes) tx.set('nodes', node.id, 'frame', frame.id);
    for (const inner of chosen.frames) tx.set('frames', inner.id, 'parent', frame.id);
    const parts = [chosen.nodes.length > 0 ? plural(chosen.nodes.length, 'node') : '', chosen.frames.length > 0 ? plural(chosen.frames.length, 'frame') : ''];
    return {
      edit: tx.edit,
      report: { summary: `Framed ${parts.filter(Boolean).join(' and ')} as “${frame.title}”.`, findings: leaving(doc, chosen, parent), select: [frame.id] },
    };
  },
});

function newFrame({ kinds, newId }: Context, doc: Doc, graph: Id, chosen: Chosen, title: string): { frame: Frame; parent: Id | undefined } {
  const rects = frameRects(doc, kinds, graph);
  const bounds = unite([...chosen.nodes.map((node) => rectOf(doc, kinds, node)), ...chosen.frames.map((frame) => rects.get(frame.id)!)])!;
  const parent = sharedFrame(doc, [...chosen.nodes, ...chosen.frames]);
  const held = [...chosen.nodes, ...chosen.frames.flatMap((frame) => nodesWithin(doc, frame.id))];
  const proposed = chosen.nodes.length > 0 ? proposeTitle(kinds, held) : chosen.frames.map((frame) => frame.title || untitledFrame).join(', ');
  return {
    parent,
    frame: {
      id: newId('f'),
      graph,
      title: title.trim() || proposed,
      ...(parent !== undefined && { parent }),
      x: bounds.x - framePad.left,
      y: bounds.y - framePad.top,
      width: bounds.width + framePad.left + framePad.right,
      height: bounds.height + framePad.top + framePad.bottom,
    },
  };
}

/** The one selected frame. Throws Refused where it is another number. */
function oneFrame(doc: Doc, selection: Selection): Frame {
  const frames = selection.items.flatMap((id) => doc.frames.get(id) ?? []);
  const [frame] = frames;
  if (!frame || frames.length > 1) throw new Refused('Select one frame first.');
  return frame;
}

export const frameTitle = operation({
  id: 'frame-title',
  title: 'Title of the frame',
  area: 'frame',
  about: 'Gives the selected frame another title; nothing else is renamed.',
  needs: { what: 'items', least: 1, most: 1 },
  options: z.object({ title: z.string().max(500).meta({ title: 'Title' }) }),
  changesFunction: false,
  preview: 'at-once',
  run(_context, doc, selection, { title }) {
    const frame = oneFrame(doc, selection);
    const tx = new Transaction(doc);
    tx.set('frames', frame.id, 'title', title.trim());
    return { edit: tx.edit, report: { summary: `The frame is called “${title.trim() || untitledFrame}” now.`, findings: [] } };
  },
});

export const frameNote = operation({
  id: 'frame-note',
  title: 'Note on the frame',
  area: 'frame',
  about: 'Writes what the selected frame is about; an empty note takes it away.',
  needs: { what: 'items', least: 1, most: 1 },
  asks: true,
  options: z.object({ note: z.string().max(20_000).default('').meta({ title: 'Note' }) }),
  changesFunction: false,
  preview: 'at-once',
  run(_context, doc, selection, { note }) {
    const frame = oneFrame(doc, selection);
    const tx = new Transaction(doc);
    tx.set('frames', frame.id, 'note', note.trim() === '' ? undefined : note);
    return { edit: tx.edit, report: { summary: note.trim() === '' ? 'Took the note off the frame.' : `Wrote a note on “${frame.title || untitledFrame}”.`, findings: [] } };
  },
});
