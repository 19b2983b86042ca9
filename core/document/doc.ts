import { compareIds, type Id } from './ids.ts';
import type { Json } from './json.ts';
import { type Frame, type Graph, type GraphNode, type Head, type Note, type Records, type TableName, tableNames, type Wire } from './schema.ts';

/**
 * A document in memory: immutable, with structural sharing between versions. Identity is by id only.
 * Tables are maps from id to record; their order carries no meaning, so algorithms sort what they walk.
 */
export interface Doc {
  readonly head: Head;
  /** Fields of the file that this version does not know; kept and written back. */
  readonly extra: Readonly<Record<string, Json>>;
  readonly graphs: ReadonlyMap<Id, Graph>;
  readonly frames: ReadonlyMap<Id, Frame>;
  readonly nodes: ReadonlyMap<Id, GraphNode>;
  readonly wires: ReadonlyMap<Id, Wire>;
  readonly notes: ReadonlyMap<Id, Note>;
}

/** An ordered selection within one graph: ids of nodes, frames, wires and notes, first selected first. */
export interface Selection {
  readonly graph: Id;
  readonly items: readonly Id[];
}

export function emptyDoc(id: Id, title: string, catalogue: Head['catalogue'] = { id: 'none', version: 0 }): Doc {
  const root = 'root';
  return {
    head: { format: 'basitax-graph', version: 1, id, title, catalogue, root },
    extra: {},
    graphs: new Map([[root, { id: root, name: 'Main' }]]),
    frames: new Map(),
    nodes: new Map(),
    wires: new Map(),
    notes: new Map(),
  };
}

export function table<T extends TableName>(doc: Doc, name: T): ReadonlyMap<Id, Records[T]> {
  return doc[name] as unknown as ReadonlyMap<Id, Records[T]>;
}

/** The table that holds an id, or undefined. */
export function tableOf(doc: Doc, id: Id): TableName | undefined {
  return tableNames.find((name) => doc[name].has(id));
}

/** What is looked up again and again, made once for each version of the tables. */
export interface DocIndex {
  /** Nodes, frames and notes by graph, sorted by id. */
  nodesIn(graph: Id): readonly GraphNode[];
  framesIn(graph: Id): readonly Frame[];
  notesIn(graph: Id): readonly Note[];
  wiresIn(graph: Id): readonly Wire[];
  wireInto(node: Id, port: string): Wire | undefined;
  wiresOutOf(node: Id, port: string): readonly Wire[];
  wiresOf(node: Id): readonly Wire[];
  /** The node that holds a nested graph; undefined for the root. */
  hostOf(graph: Id): GraphNode | undefined;
  membersOf(frame: Id): readonly GraphNode[];
  framesWithin(frame: Id): readonly Frame[];
}

const none: readonly never[] = [];
const byId = (a: { id: Id }, b: { id: Id }): number => compareIds(a.id, b.id);

function groupBy<T extends { id: Id }>(rows: Iterable<T>, key: (row: T) => Id | undefined): Map<Id, T[]> {
  const groups = new Map<Id, T[]>();
  for (const row of rows) {
    const at = key(row);
    if (at === undefined) continue;
    const group = groups.get(at);
    if (group) group.push(row);
    else groups.set(at, [row]);
  }
  return groups;
}

class Once<K extends object, V> {
  private readonly made = new WeakMap<K, V>();
  private readonly make: (key: K) => V;
  constructor(make: (key: K) => V) {
    this.make = make;
  }
  get(key: K): V {
    let value = this.made.get(key);
    if (value === undefined) {
      value = this.make(key);
      this.made.set(key, value);
    }
    return value;
  }
}

const sortedGroups = <T extends { id: Id }>(rows: Iterable<T>, key: (row: T) => Id | undefined): Map<Id, T[]> => {
  const groups = groupBy(rows, key);
  for (const group of groups.values()) group.sort(byId);
  return groups;
};

const nodesByGraph = new Once((nodes: Doc['nodes']) => sortedGroups(nodes.values(), (node) => node.graph));
const nodesByFrame = new Once((nodes: Doc['nodes']) => sortedGroups(nodes.values(), (node) => node.frame));
const hosts = new Once((nodes: Doc['nodes']) => {
  const map = new Map<Id, GraphNode>();
  for (const node of nodes.values()) if (node.inner !== undefined) map.set(node.inner, node);
  return map;
});
const framesByGraph = new Once((frames: Doc['frames']) => sortedGroups(frames.values(), (frame) => frame.graph));
const framesByParent = new Once((frames: Doc['frames']) => sortedGroups(frames.values(), (frame) => frame.parent));
const notesByGraph = new Once((notes: Doc['notes']) => sortedGroups(notes.values(), (note) => note.graph));

interface WireMaps {
  into: Map<Id, Wire[]>;
  outOf: Map<Id, Wire[]>;
}
const wireMaps = new Once(
  (wires: Doc['wires']): WireMaps => ({
    into: sortedGroups(wires.values(), (wire) => wire.to.node),
    outOf: sortedGroups(wires.values(), (wire) => wire.from.node),
  }),
);

const indexes = new Once((doc: Doc): DocIndex => {
  const wiresByGraph = new Map<Id, readonly Wire[]>();
  return {
    nodesIn: (graph) => nodesByGraph.get(doc.nodes).get(graph) ?? none,
    framesIn: (graph) => framesByGraph.get(doc.frames).get(graph) ?? none,
    notesIn: (graph) => notesByGraph.get(doc.notes).get(graph) ?? none,
    wiresIn(graph) {
      if (wiresByGraph.size === 0) {
        for (const [id, group] of sortedGroups(doc.wires.values(), (wire) => doc.nodes.get(wire.to.node)?.graph)) wiresByGraph.set(id, group);
      }
      return wiresByGraph.get(graph) ?? none;
    },
    wireInto: (node, port) =>
      wireMaps
        .get(doc.wires)
        .into.get(node)
        ?.find((wire) => wire.to.port === port),
    wiresOutOf: (node, port) =>
      wireMaps
        .get(doc.wires)
        .outOf.get(node)
        ?.filter((wire) => wire.from.port === port) ?? none,
    wiresOf(node) {
      const maps = wireMaps.get(doc.wires);
      const incoming = maps.into.get(node) ?? none;
      const outgoing = (maps.outOf.get(node) ?? none).filter((wire) => wire.to.node !== node);
      return [...incoming, ...outgoing];
    },
    hostOf: (graph) => hosts.get(doc.nodes).get(graph),
    membersOf: (frame) => nodesByFrame.get(doc.nodes).get(frame) ?? none,
    framesWithin: (frame) => framesByParent.get(doc.frames).get(frame) ?? none,
  };
});

/** The index of a document version; made lazily, shared by all who ask. First call O(n log n), later ones O(1). */
export function indexOf(doc: Doc): DocIndex {
  return indexes.get(doc);
}

/** The graph ids from the root to `graph`, both included. */
export function graphPath(doc: Doc, graph: Id): Id[] {
  const path: Id[] = [graph];
  for (let at = indexOf(doc).hostOf(graph); at && !path.includes(at.graph); at = indexOf(doc).hostOf(at.graph)) path.unshift(at.graph);
  return path;
}

/** The path of ids that a finding's place wants: the hosts from the outermost in, then the thing itself. */
export function placeOf(doc: Doc, graph: Id, id: Id): Id[] {
  const hostsAbove = graphPath(doc, graph)
    .slice(1)
    .map((inner) => indexOf(doc).hostOf(inner)?.id ?? inner);
  return [...hostsAbove, id];
}

/** How a node is spoken of in sentences: its label where it has one, else its name. */
export function caption(node: GraphNode): string {
  return node.label || node.name;
}

/** All nodes in a frame and in the frames within it, those of the outer frame first. O(nodes found). */
export function nodesWithin(doc: Doc, frame: Id): GraphNode[] {
  const index = indexOf(doc);
  const found: GraphNode[] = [];
  const todo = [frame];
  for (let id = todo.shift(); id !== undefined; id = todo.shift()) {
    found.push(...index.membersOf(id));
    todo.push(...index.framesWithin(id).map((inner) => inner.id));
  }
  return found;
}

/** The selected nodes in selection order; a selected frame stands for all its members, inner frames included. */
export function selectedNodes(doc: Doc, selection: Selection): GraphNode[] {
  const chosen = new Map<Id, GraphNode>();
  for (const id of selection.items) {
    const node = doc.nodes.get(id);
    for (const one of node ? [node] : nodesWithin(doc, id)) chosen.set(one.id, one);
  }
  return [...chosen.values()];
}

/** The selected nodes, or all of the graph where nothing is selected. */
export function selectedOrAll(doc: Doc, selection: Selection): readonly GraphNode[] {
  const nodes = selectedNodes(doc, selection);
  return nodes.length > 0 ? nodes : indexOf(doc).nodesIn(selection.graph);
}

/** A number for each wire: equal for wires of one output, which are one net. O(wires). */
export function numberOutputs(wires: readonly Wire[]): Int32Array {
  const numbers = new Map<string, number>();
  return Int32Array.from(wires, (wire) => {
    const key = JSON.stringify([wire.from.node, wire.from.port]);
    const number = numbers.get(key) ?? numbers.size;
    numbers.set(key, number);
    return number;
  });
}
