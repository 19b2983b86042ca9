import { caption, type Doc, indexOf, nodesWithin, type Selection, selectedNodes } from '../document/doc.ts';
import { framesAround, type Rect, titleOf, untitledFrame } from '../document/geometry.ts';
import { compareIds, type Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import { isDefaultName } from '../document/names.ts';
import type { Frame, GraphNode } from '../document/schema.ts';
import type { Transaction } from '../edit/transaction.ts';
import type { Finding } from '../finding.ts';
import { must } from '../must.ts';
import { find } from './sentences.ts';

/** Nodes and frames that an act is about; what such a frame holds is not listed again. */
export interface Chosen {
  readonly nodes: readonly GraphNode[];
  readonly frames: readonly Frame[];
}

/**
 * The selected nodes and frames of the graph; what a selected frame holds comes with it. A frame of which every node is
 * selected, and something beside it, is meant as a whole. O(frames · members).
 */
export function chosenIn(doc: Doc, { graph, items }: Selection): Chosen {
  const selected = new Set(items);
  const isWhole = (frame: Frame): boolean => {
    const held = nodesWithin(doc, frame.id);
    return (
      held.length > 0 &&
      held.every((node) => selected.has(node.id)) &&
      items.some((id) => doc.nodes.has(id) && !held.some((node) => node.id === id))
    );
  };
  const frames = indexOf(doc)
    .framesIn(graph)
    .filter((frame) => selected.has(frame.id) || isWhole(frame));
  const within = new Set(frames.map((frame) => frame.id));
  const isHeld = (item: GraphNode | Frame): boolean => framesAround(doc, item).some((around) => within.has(around.id));
  const nodes = items.flatMap((id) => doc.nodes.get(id) ?? []).filter((node) => node.graph === graph);
  return { nodes: nodes.filter((node) => !isHeld(node)), frames: frames.filter((frame) => !isHeld(frame)) };
}

/** All nodes that are chosen, those in chosen frames too. */
export const heldBy = (doc: Doc, { nodes, frames }: Chosen): GraphNode[] => [
  ...nodes,
  ...frames.flatMap((frame) => nodesWithin(doc, frame.id)),
];

/** The innermost frame that holds all of them. */
export function sharedFrame(doc: Doc, items: readonly (GraphNode | Frame)[]): Id | undefined {
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
  for (const node of nodes)
    counts.set(kinds.category(node.kind).title, (counts.get(kinds.category(node.kind).title) ?? 0) + 1);
  const [most] = [...counts].sort((a, b) => b[1] - a[1] || (a[0] < b[0] ? -1 : 1));
  return most?.[0] ?? untitledFrame;
}

/** Says who leaves a frame of their own for another. */
export function leaving(doc: Doc, { nodes, frames }: Chosen, into: Id | undefined): Finding[] {
  const said = (id: Id, name: string, from: Id | undefined): Finding[] =>
    from === undefined || from === into
      ? []
      : [find('frame-left', 'info', [id], 'leaves-frame', { name, frame: titleOf(must(doc.frames.get(from))) })];
  return [
    ...nodes.flatMap((node) => said(node.id, caption(node), node.frame)),
    ...frames.flatMap((frame) => said(frame.id, titleOf(frame), frame.parent)),
  ];
}

/** The frames within one, however deep, itself first. */
export function frameTree(doc: Doc, frame: Id): Frame[] {
  const found: Frame[] = [];
  const todo = [frame];
  for (let id = todo.shift(); id !== undefined; id = todo.shift()) {
    const one = doc.frames.get(id);
    if (one) found.push(one);
    todo.push(
      ...indexOf(doc)
        .framesWithin(id)
        .map((inner) => inner.id),
    );
  }
  return found;
}

/**
 * Moves what is selected: nodes, notes, and frames with all that they hold. Returns how many nodes, or how many things
 * where there are none.
 */
export function shiftItems(tx: Transaction, doc: Doc, selection: Selection, dx: number, dy: number): number {
  const nodes = selectedNodes(doc, selection);
  for (const node of nodes) tx.move(node.id, node.x + dx, node.y + dy);
  const frames = new Map(selection.items.flatMap((id) => frameTree(doc, id)).map((frame) => [frame.id, frame]));
  const notes = new Map(selection.items.flatMap((id) => doc.notes.get(id) ?? []).map((note) => [note.id, note]));
  for (const [table, items] of [
    ['frames', frames],
    ['notes', notes],
  ] as const)
    for (const [id, item] of items) {
      tx.set(table, id, 'x', item.x + dx);
      tx.set(table, id, 'y', item.y + dy);
    }
  return nodes.length || frames.size + notes.size;
}

/**
 * The frames of a graph from the back to the front: outer ones behind inner ones; of one depth by the number that they
 * were given, then the larger behind the smaller, then by id, so that the order never depends on where it starts. O(n
 * log n).
 */
export function framesBackToFront(
  doc: Doc,
  graph: Id,
  rects: ReadonlyMap<Id, Rect>,
): { readonly frame: Frame; readonly rect: Rect; readonly depth: number }[] {
  const area = ({ width, height }: Rect): number => width * height;
  return indexOf(doc)
    .framesIn(graph)
    .map((frame) => ({ frame, rect: must(rects.get(frame.id)), depth: framesAround(doc, frame).length }))
    .sort(
      (a, b) =>
        a.depth - b.depth ||
        (a.frame.order ?? 0) - (b.frame.order ?? 0) ||
        area(b.rect) - area(a.rect) ||
        compareIds(a.frame.id, b.frame.id),
    );
}
