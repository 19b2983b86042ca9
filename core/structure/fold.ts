import { builtin } from '../document/builtin.ts';
import { caption, type Doc, indexOf, nodesWithin, type Selection } from '../document/doc.ts';
import { flowOf, frameRects, framesAround, isVertical, portPoint, titleOf } from '../document/geometry.ts';
import { tableChanged } from '../document/groups.ts';
import { compareIds, type Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import type { Frame, GraphNode, Port, PortRef, Wire } from '../document/schema.ts';
import { withChanges } from '../document/table.ts';
import type { Edit } from '../edit/step.ts';
import { Transaction } from '../edit/transaction.ts';
import { must } from '../must.ts';
import { portOf } from '../wiring/types.ts';
import { frameTree, shiftItems } from './frames.ts';

/**
 * A port of a folded frame’s block stands for a port of a node inside: the id of the block’s port is that of the node
 * and that of its port.
 */
const blockPort = (ref: PortRef): string => JSON.stringify([ref.node, ref.port]);

/** The port inside that a port of a folded frame’s block stands for; the port itself everywhere else. */
export function realPort(node: GraphNode, port: string): PortRef {
  if (node.kind !== builtin.fold) return { node: node.id, port };
  const [inner, own] = JSON.parse(port) as [Id, string];
  return { node: inner, port: own };
}

/** The folded frame that hides a node or frame: the outermost one around it. */
export function foldAround(doc: Doc, item: GraphNode | Frame): Frame | undefined {
  return framesAround(doc, item).findLast((frame) => frame.folded);
}

const views = new WeakMap<Doc, { readonly kinds: Kinds; readonly view: Doc }>();

/**
 * The document as it is drawn: each folded frame is one block that has the frame’s id and stands at its corner, with a
 * port for each end of a wire that crosses its edge, in the order in which they lie; what is inside is left out.
 * Nothing moves, so that unfolding gives the same picture.
 * For showing and for placing only. One for a version of a document; the document itself where nothing is folded.
 * O(folded + frames).
 */
export function foldedView(doc: Doc, kinds: Kinds): Doc {
  const folded = [...doc.frames.values()].filter((frame) => frame.folded && !foldAround(doc, frame));
  if (folded.length === 0) return doc;
  const known = views.get(doc);
  if (known?.kinds === kinds) return known.view;
  const view = makeView(doc, kinds, folded);
  views.set(doc, { kinds, view });
  return view;
}

function makeView(doc: Doc, kinds: Kinds, folded: readonly Frame[]): Doc {
  const index = indexOf(doc);
  const nodes = new Map<Id, GraphNode | undefined>();
  const frames = new Map<Id, Frame | undefined>();
  const blockOf = new Map<Id, Id>();
  for (const frame of folded) {
    for (const inner of frameTree(doc, frame.id)) frames.set(inner.id, undefined);
    for (const node of nodesWithin(doc, frame.id)) {
      nodes.set(node.id, undefined);
      blockOf.set(node.id, frame.id);
    }
  }
  const wires = new Map<Id, Wire | undefined>();
  const ends = new Map<Id, Map<string, { readonly ref: PortRef; readonly direction: 'in' | 'out' }>>(
    folded.map((frame) => [frame.id, new Map()]),
  );
  const end = (ref: PortRef, direction: 'in' | 'out'): PortRef => {
    const block = blockOf.get(ref.node);
    if (block === undefined) return ref;
    const port = blockPort(ref);
    must(ends.get(block)).set(`${direction} ${port}`, { ref, direction });
    return { node: block, port };
  };
  for (const id of blockOf.keys())
    for (const wire of index.wiresOf(id)) {
      if (wires.has(wire.id)) continue;
      const isInside =
        blockOf.get(wire.from.node) !== undefined && blockOf.get(wire.from.node) === blockOf.get(wire.to.node);
      wires.set(wire.id, isInside ? undefined : { ...wire, from: end(wire.from, 'out'), to: end(wire.to, 'in') });
    }
  const rects = new Map<Id, ReturnType<typeof frameRects>>();
  for (const frame of folded) {
    if (!rects.has(frame.graph)) rects.set(frame.graph, frameRects(doc, kinds, frame.graph));
    nodes.set(
      frame.id,
      block(doc, kinds, frame, must(must(rects.get(frame.graph)).get(frame.id)), [
        ...must(ends.get(frame.id)).values(),
      ]),
    );
  }
  const hidden = (id: Id | undefined): boolean =>
    id !== undefined && (blockOf.has(id) || (frames.has(id) && !nodes.has(id)));
  const notes = new Map(
    [...doc.notes.values()].filter((note) => hidden(note.tiedTo)).map((note) => [note.id, undefined]),
  );
  return {
    ...doc,
    nodes: changed(doc.nodes, nodes),
    frames: changed(doc.frames, frames),
    wires: changed(doc.wires, wires),
    notes: changed(doc.notes, notes),
  };
}

/** The document with some nodes and their wires left out, for showing only. O(left out). */
export function withoutNodes(doc: Doc, hidden: ReadonlySet<Id>): Doc {
  const index = indexOf(doc);
  const nodes = new Map([...hidden].map((id) => [id, undefined]));
  const wires = new Map([...hidden].flatMap((id) => index.wiresOf(id)).map((wire) => [wire.id, undefined]));
  return { ...doc, nodes: changed(doc.nodes, nodes), wires: changed(doc.wires, wires) };
}

function changed<T>(from: ReadonlyMap<Id, T>, changes: ReadonlyMap<Id, T | undefined>): ReadonlyMap<Id, T> {
  const to = withChanges(from, changes);
  tableChanged(from, to, new Map([...changes].map(([id, after]) => [id, { before: from.get(id), after }])));
  return to;
}

function block(
  doc: Doc,
  kinds: Kinds,
  frame: Frame,
  rect: { x: number; y: number },
  ends: readonly { readonly ref: PortRef; readonly direction: 'in' | 'out' }[],
): GraphNode {
  const across = ({ ref, direction }: (typeof ends)[number]): number => {
    const node = must(doc.nodes.get(ref.node));
    const point = portPoint(doc, kinds, node, ref.port, direction) ?? node;
    return isVertical(flowOf(doc, node.graph)) ? point.x : point.y;
  };
  const ports = [...ends]
    .map((one) => ({ ...one, at: across(one) }))
    .sort((a, b) => a.at - b.at || compareIds(a.ref.node, b.ref.node) || compareIds(a.ref.port, b.ref.port))
    .map(({ ref, direction }): Port => {
      const node = must(doc.nodes.get(ref.node));
      const own = must(portOf(node, ref.port, direction));
      return { id: blockPort(ref), name: caption(node), type: own.type, direction };
    });
  const held = nodesWithin(doc, frame.id);
  return {
    id: frame.id,
    graph: frame.graph,
    kind: builtin.fold,
    name: `${held.length} nodes`,
    label: titleOf(frame),
    x: rect.x,
    y: rect.y,
    ...(frame.parent !== undefined && { frame: frame.parent }),
    ...(frame.color !== undefined && { color: frame.color }),
    ...(held.length > 0 && held.every((node) => node.pinned) && { pinned: true as const }),
    ports,
  };
}

/** The selection as the view has it: for what lies in a folded frame its block is meant. */
export function selectionInView(doc: Doc, view: Doc, selection: Selection): Selection {
  const isThere = (id: Id): boolean =>
    view.nodes.has(id) || view.frames.has(id) || view.wires.has(id) || view.notes.has(id);
  const blockOf = (id: Id): Id[] => {
    const item = doc.nodes.get(id) ?? doc.frames.get(id);
    const fold = item && foldAround(doc, item);
    return fold ? [fold.id] : [];
  };
  return { ...selection, items: [...new Set(selection.items.flatMap((id) => (isThere(id) ? [id] : blockOf(id))))] };
}

/**
 * An edit that was made on the view, as one on the document: where a block moves, all that it stands for moves; what
 * else is set on it is set on each node inside.
 */
export function unfoldEdit(doc: Doc, view: Doc, edit: Edit): Edit {
  if (view === doc) return edit;
  const tx = new Transaction(doc);
  const moved = new Map<Id, { x: number; y: number }>();
  for (const step of edit.steps) {
    const frame = step.table === 'nodes' ? doc.frames.get(step.id) : undefined;
    const block = frame && view.nodes.get(frame.id);
    if (!frame || !block) {
      tx.push(step);
      continue;
    }
    if (step.type !== 'set')
      throw new Error(`A folded frame cannot be ${step.type === 'add' ? 'added' : 'removed'} as a node.`);
    const [field] = step.path;
    if (field === 'x' || field === 'y') {
      const by = moved.get(frame.id) ?? { x: 0, y: 0 };
      // in hundredths, so that all of it goes by exactly as much
      moved.set(frame.id, { ...by, [field]: Math.round((Number(step.to) - block[field]) * 100) / 100 });
    } else
      for (const node of nodesWithin(doc, frame.id))
        tx.set('nodes', node.id, field as 'pinned', step.to as true | undefined);
  }
  for (const [id, by] of moved) shiftItems(tx, doc, { graph: must(doc.frames.get(id)).graph, items: [id] }, by.x, by.y);
  return tx.edit;
}
