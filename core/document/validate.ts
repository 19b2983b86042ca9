import type { Finding } from '../finding.ts';
import { must } from '../must.ts';
import { builtin } from './builtin.ts';
import { caption, type Doc, graphPath, indexOf, placeOf } from './doc.ts';
import { compareIds, type Id } from './ids.ts';
import { freeName, legalName, retitled } from './names.ts';
import { portAt } from './port-at.ts';
import type { Frame, GraphNode, Note, Wire } from './schema.ts';
import { find } from './sentences.ts';

/** Nested graphs and frames may lie this deep at the most. */
export const mostDepth = 100;

export interface Repaired {
  readonly doc: Doc;
  /** What was repaired, one finding each. Empty where the document was whole: then `doc` is the one given. */
  readonly findings: readonly Finding[];
}

/**
 * Makes a document whole: every reference has its target, every input one wire, every name is legal and free, every
 * number a number, nested graphs and frames form trees. Whatever had to be changed is listed. O(n log n).
 */
export function repair(doc: Doc): Repaired {
  const found: Finding[] = [];
  const say: Say = (finding) => void found.push(finding);
  const graphs = new Map(doc.graphs);
  const nodes = new Map(doc.nodes);
  const frames = new Map(doc.frames);
  const wires = new Map(doc.wires);
  const notes = new Map(doc.notes);
  if (!graphs.has(doc.head.root)) {
    graphs.set(doc.head.root, { id: doc.head.root, name: 'Main' });
    say(find('lost-root', 'warning', [], 'lost-root'));
  }
  oneTable({ graphs, frames, nodes, wires, notes }, say);
  repairNodes(doc, graphs, nodes, frames, say);
  repairFrames(doc, graphs, frames, say);
  repairNotes(doc, graphs, notes, say);
  repairWires(nodes, wires, say);
  const whole: Doc = found.length === 0 ? doc : { ...doc, graphs, nodes, frames, wires, notes };
  const nesting = repairNesting(whole, say);
  const named = repairNames(nesting, say);
  return { doc: named, findings: found };
}

type Say = (finding: Finding) => void;

function oneTable(tables: Record<string, Map<Id, unknown>>, say: Say): void {
  const seen = new Set<Id>();
  for (const rows of Object.values(tables)) {
    for (const id of [...rows.keys()]) {
      if (!seen.has(id)) seen.add(id);
      else {
        rows.delete(id);
        say(find('doubled-id', 'warning', [id], 'doubled-id', { id }));
      }
    }
  }
}

function finite<T extends object>(record: T, fields: readonly (keyof T & string)[], id: Id, say: Say): T {
  const broken = fields.filter((field) => typeof record[field] === 'number' && !Number.isFinite(record[field]));
  if (broken.length === 0) return record;
  say(find('bad-number', 'warning', [id], 'bad-number', { fields: broken, id }));
  return { ...record, ...Object.fromEntries(broken.map((field) => [field, 0])) };
}

function without<T extends object>(record: T, field: keyof T): T {
  const copy = { ...record };
  delete copy[field];
  return copy;
}

function repairNodes(
  doc: Doc,
  graphs: Map<Id, unknown>,
  nodes: Map<Id, GraphNode>,
  frames: Map<Id, Frame>,
  say: Say,
): void {
  const hosted = new Map<Id, Id>();
  for (const id of [...nodes.keys()].sort(compareIds)) {
    let node = finite(nodes.get(id) as GraphNode, ['x', 'y'], id, say);
    if (!graphs.has(node.graph)) {
      say(find('lost-graph', 'warning', [id], 'lost-graph', { what: `“${caption(node)}”` }));
      node = { ...node, graph: doc.head.root };
    }
    if (node.frame !== undefined && frames.get(node.frame)?.graph !== node.graph) {
      say(find('lost-frame', 'warning', [id], 'lost-frame', { node: caption(node) }));
      node = without(node, 'frame');
    }
    if (
      node.inner !== undefined &&
      (!graphs.has(node.inner) || hosted.has(node.inner) || node.inner === doc.head.root)
    ) {
      say(find('lost-inner', 'warning', [id], 'lost-inner', { node: caption(node) }));
      node = without(node, 'inner');
    }
    if (node.inner !== undefined) hosted.set(node.inner, id);
    const seen = new Set<string>();
    const ports = node.ports.filter((port) => {
      const key = `${port.direction} ${port.id}`;
      if (seen.has(key)) {
        say(find('doubled-port', 'warning', [id], 'doubled-port', { node: caption(node), port: port.id }));
        return false;
      }
      seen.add(key);
      return true;
    });
    if (ports.length < node.ports.length) node = { ...node, ports };
    nodes.set(id, node);
  }
}

function repairFrames(doc: Doc, graphs: Map<Id, unknown>, frames: Map<Id, Frame>, say: Say): void {
  for (const id of [...frames.keys()].sort(compareIds)) {
    let frame = finite(frames.get(id) as Frame, ['x', 'y', 'width', 'height'], id, say);
    if (!graphs.has(frame.graph)) {
      say(find('lost-graph', 'warning', [id], 'lost-graph', { what: `Frame “${frame.title}”` }));
      frame = { ...frame, graph: doc.head.root };
    }
    const path = new Set<Id>([id]);
    for (let at = frame.parent; at !== undefined; at = frames.get(at)?.parent) {
      const above = frames.get(at);
      if (!above || above.graph !== frame.graph || path.has(at) || path.size >= mostDepth) {
        say(find('frame-tree', 'warning', [id], 'frame-tree', { frame: frame.title, most: mostDepth }));
        frame = without(frame, 'parent');
        break;
      }
      path.add(at);
    }
    frames.set(id, frame);
  }
}

function repairNotes(doc: Doc, graphs: Map<Id, unknown>, notes: Map<Id, Note>, say: Say): void {
  for (const [id, stored] of notes) {
    const note = finite(stored, ['x', 'y', 'width', 'height'], id, say);
    notes.set(id, graphs.has(note.graph) ? note : { ...note, graph: doc.head.root });
    if (!graphs.has(note.graph)) say(find('lost-graph', 'warning', [id], 'lost-graph', { what: 'A note' }));
  }
}

function repairWires(nodes: Map<Id, GraphNode>, wires: Map<Id, Wire>, say: Say): void {
  const taken = new Map<Id, Set<string>>();
  for (const id of [...wires.keys()].sort(compareIds)) {
    const wire = wires.get(id) as Wire;
    const from = nodes.get(wire.from.node);
    const to = nodes.get(wire.to.node);
    const drop = (finding: Finding): void => {
      wires.delete(id);
      say(finding);
    };
    if (!from || !to) {
      const node = from ? wire.to.node : wire.from.node;
      drop(find('wire-to-nothing', 'warning', [id], 'wire-to-no-node', { wire: id, node }));
      continue;
    }
    const lacks = (node: GraphNode, port: string, direction: 'in' | 'out'): boolean =>
      portAt(node.ports, port, direction) === undefined;
    if (lacks(from, wire.from.port, 'out'))
      drop(
        find('wire-to-nothing', 'warning', [id], 'wire-from-no-output', { port: wire.from.port, node: caption(from) }),
      );
    else if (lacks(to, wire.to.port, 'in'))
      drop(find('wire-to-nothing', 'warning', [id], 'wire-to-no-input', { port: wire.to.port, node: caption(to) }));
    else if (from.graph !== to.graph)
      drop(find('wire-over-border', 'warning', [id], 'wire-over-border', { from: caption(from), to: caption(to) }));
    else {
      const ports = taken.get(wire.to.node);
      if (ports?.has(wire.to.port))
        drop(
          find('second-wire', 'warning', [id], 'second-wire', {
            port: wire.to.port,
            node: caption(to),
            from: caption(from),
          }),
        );
      else if (ports) ports.add(wire.to.port);
      else taken.set(wire.to.node, new Set([wire.to.port]));
    }
  }
}

/** Nested graphs that hold themselves, hang free, or lie too deep come out into the open. */
function repairNesting(doc: Doc, say: Say): Doc {
  const bad: GraphNode[] = [];
  for (const node of doc.nodes.values()) {
    if (node.inner === undefined) continue;
    const path = graphPath(doc, node.inner);
    if (path[0] !== doc.head.root || path.length > mostDepth) bad.push(node);
  }
  if (bad.length === 0) return doc;
  const nodes = new Map(doc.nodes);
  for (const node of bad) {
    nodes.set(node.id, { ...without(node, 'inner'), graph: doc.head.root });
    say(find('nesting', 'warning', [node.id], 'nesting', { node: caption(node), most: mostDepth }));
  }
  const left = new Map(doc.wires);
  for (const [id, wire] of left)
    if (nodes.get(wire.from.node)?.graph !== nodes.get(wire.to.node)?.graph) left.delete(id);
  const loose = new Map(
    [...nodes].map(([id, node]) => [
      id,
      node.frame && doc.frames.get(node.frame)?.graph !== node.graph ? without(node, 'frame') : node,
    ]),
  );
  return { ...doc, nodes: loose, wires: left };
}

function repairNames(doc: Doc, say: Say): Doc {
  const nodes = new Map(doc.nodes);
  const renamed = new Map<Id, string>();
  for (const graph of doc.graphs.keys()) {
    const taken = new Set<string>();
    for (const node of indexOf(doc).nodesIn(graph)) {
      const free = freeName(legalName(node.name || node.label || 'node'), taken);
      if (free === node.name) continue;
      renamed.set(node.id, free);
      const label = node.label ?? (node.name || undefined);
      nodes.set(node.id, { ...node, name: free, ...(label !== undefined && { label }) });
      say(find('name', 'info', placeOf(doc, graph, node.id), 'name-changed', { name: node.name, free }));
    }
  }
  if (renamed.size === 0) return doc;
  for (const tap of indexOf(doc).nodesOfKind(builtin.tap))
    nodes.set(tap.id, retitled(must(nodes.get(tap.id)), renamed));
  return { ...doc, nodes };
}

/**
 * What stands against saving a document, as findings; nothing is changed. Empty for every document that `repair` made.
 */
export function problems(doc: Doc): readonly Finding[] {
  return repair(doc).findings;
}
