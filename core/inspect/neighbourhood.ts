import { arrangeByWiring } from '../arrange/by-wiring.ts';
import { builtin } from '../document/builtin.ts';
import { type Doc, indexOf } from '../document/doc.ts';
import type { Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import { beaconOf } from '../wiring/carriers.ts';

/**
 * What a neighbourhood shows: the nodes it started from, their inputs and outputs some steps deep, and what was grown
 * or pruned by hand.
 */
export interface Neighbourhood {
  readonly graph: Id;
  readonly from: readonly Id[];
  readonly up: number;
  readonly down: number;
  /** Nodes that show what is wired to them as well, one step each time they stand here. */
  readonly grown: readonly Id[];
  readonly pruned: readonly Id[];
}

/** Nodes one step before or behind a node in its graph: over drawn wires, and between a tap and its beacon. */
function stepFrom(doc: Doc, id: Id, direction: 'up' | 'down'): Id[] {
  const node = doc.nodes.get(id);
  if (!node) return [];
  const found = indexOf(doc)
    .wiresOf(id)
    .map((wire) =>
      direction === 'up'
        ? wire.to.node === id
          ? wire.from.node
          : undefined
        : wire.from.node === id
          ? wire.to.node
          : undefined,
    )
    .filter((other) => other !== undefined);
  if (node.kind === builtin.tap && direction === 'up') {
    const beacon = beaconOf(doc, node);
    if (beacon && beacon.graph === node.graph) found.push(beacon.id);
  }
  if (node.kind === builtin.beacon && direction === 'down')
    for (const other of indexOf(doc).nodesIn(node.graph))
      if (other.kind === builtin.tap && beaconOf(doc, other)?.id === id) found.push(other.id);
  return found;
}

/**
 * The nodes of a neighbourhood, those that it started from first, then by distance. Pruned nodes are left out, and what
 * lies only behind them. O(wires reached).
 */
export function neighbourhood(doc: Doc, { from, up, down, grown, pruned }: Neighbourhood): Id[] {
  const out = new Set(pruned);
  const found = new Set(from.filter((id) => doc.nodes.has(id) && !out.has(id)));
  const start = [...found];
  const spread = (begin: readonly Id[], direction: 'up' | 'down', steps: number): void => {
    let front = begin;
    const seen = new Set(begin);
    for (let step = 0; step < steps && front.length > 0; step++) {
      const next: Id[] = [];
      for (const id of front) {
        for (const other of stepFrom(doc, id, direction)) {
          if (seen.has(other) || out.has(other)) continue;
          seen.add(other);
          found.add(other);
          next.push(other);
        }
      }
      front = next;
    }
  };
  spread(start, 'up', up);
  spread(start, 'down', down);
  for (const id of grown) {
    if (!found.has(id)) continue;
    spread([id], 'up', 1);
    spread([id], 'down', 1);
  }
  return [...found];
}

/** How many nodes another step would add, either way. */
export function nextStep(doc: Doc, area: Neighbourhood): { up: number; down: number } {
  const now = neighbourhood(doc, area).length;
  return {
    up: neighbourhood(doc, { ...area, up: area.up + 1 }).length - now,
    down: neighbourhood(doc, { ...area, down: area.down + 1 }).length - now,
  };
}

/**
 * The document with nothing in one graph but the given nodes and the wires among them, at the given places; frames and
 * notes are left out. For showing only: edits are made on the document itself. O(document).
 */
export function extract(
  doc: Doc,
  graph: Id,
  ids: Iterable<Id>,
  places: ReadonlyMap<Id, { x: number; y: number }>,
): Doc {
  const kept = new Set(ids);
  const nodes = new Map(doc.nodes);
  for (const node of indexOf(doc).nodesIn(graph)) {
    if (!kept.has(node.id)) nodes.delete(node.id);
    else {
      const { frame: _, ...loose } = node;
      nodes.set(node.id, { ...loose, ...places.get(node.id) });
    }
  }
  const wires = new Map(doc.wires);
  for (const wire of indexOf(doc).wiresIn(graph))
    if (!kept.has(wire.from.node) || !kept.has(wire.to.node)) wires.delete(wire.id);
  const frames = new Map([...doc.frames].filter(([, frame]) => frame.graph !== graph));
  const notes = new Map([...doc.notes].filter(([, note]) => note.graph !== graph));
  return { ...doc, nodes, wires, frames, notes };
}

/**
 * Where the nodes of a neighbourhood go when it lays itself out: by their wiring, pins and frames not counting. Cost:
 * that of arranging them.
 */
export function layOut(doc: Doc, kinds: Kinds, graph: Id, ids: readonly Id[]): Map<Id, { x: number; y: number }> {
  const alone = extract(doc, graph, ids, new Map());
  const nodes = indexOf(alone)
    .nodesIn(graph)
    .map(({ pinned: _, ...node }) => ({ ...node, x: 0, y: 0 }));
  const loose = { ...alone, nodes: new Map([...alone.nodes, ...nodes.map((node) => [node.id, node] as const)]) };
  return arrangeByWiring(loose, kinds, graph, nodes, { keep: 0 });
}
