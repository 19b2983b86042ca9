import { Groups } from './groups.ts';
import { compareIds, type Id } from './ids.ts';
import type { Json } from './json.ts';
import {
  type Frame,
  type Graph,
  type GraphNode,
  type Head,
  type Note,
  type Records,
  type TableName,
  tableNames,
  type Wire,
} from './schema.ts';

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
  /** Nodes, frames, notes and wires by graph, sorted by id. */
  nodesIn(graph: Id): readonly GraphNode[];
  framesIn(graph: Id): readonly Frame[];
  notesIn(graph: Id): readonly Note[];
  wiresIn(graph: Id): readonly Wire[];
  wireInto(node: Id, port: string): Wire | undefined;
  wiresOutOf(node: Id, port: string): readonly Wire[];
  wiresOf(node: Id): readonly Wire[];
  /** The same by side, for walks: what comes in, and what goes out, loops of one node in both. */
  wiresInto(node: Id): readonly Wire[];
  wiresFrom(node: Id): readonly Wire[];
  /** The node that holds a nested graph; undefined for the root. */
  hostOf(graph: Id): GraphNode | undefined;
  membersOf(frame: Id): readonly GraphNode[];
  framesWithin(frame: Id): readonly Frame[];
  nodesOfKind(kind: string): readonly GraphNode[];
  /** Over all graphs; names are unique in each. */
  nodesNamed(name: string): readonly GraphNode[];
}

const nodesByGraph = new Groups<GraphNode>((node) => node.graph);
const nodesByFrame = new Groups<GraphNode>((node) => node.frame);
const hosts = new Groups<GraphNode>((node) => node.inner);
const nodesByKind = new Groups<GraphNode>((node) => node.kind);
const nodesByName = new Groups<GraphNode>((node) => node.name);
const framesByGraph = new Groups<Frame>((frame) => frame.graph);
const framesByParent = new Groups<Frame>((frame) => frame.parent);
const notesByGraph = new Groups<Note>((note) => note.graph);
const wiresInto = new Groups<Wire>((wire) => wire.to.node);
const wiresFrom = new Groups<Wire>((wire) => wire.from.node);

const indexes = new WeakMap<Doc, DocIndex>();

function makeIndex(doc: Doc): DocIndex {
  const inGraph = new Map<Id, readonly Wire[]>();
  return {
    nodesIn: (graph) => nodesByGraph.of(doc.nodes).get(graph),
    framesIn: (graph) => framesByGraph.of(doc.frames).get(graph),
    notesIn: (graph) => notesByGraph.of(doc.notes).get(graph),
    wiresIn(graph) {
      let wires = inGraph.get(graph);
      if (!wires) {
        const into = wiresInto.of(doc.wires);
        wires = nodesByGraph
          .of(doc.nodes)
          .get(graph)
          .flatMap((node) => into.get(node.id))
          .sort((a, b) => compareIds(a.id, b.id));
        inGraph.set(graph, wires);
      }
      return wires;
    },
    wireInto: (node, port) => wireAmong(wiresInto.of(doc.wires).get(node), port),
    wiresOutOf: (node, port) =>
      wiresFrom
        .of(doc.wires)
        .get(node)
        .filter((wire) => wire.from.port === port),
    wiresOf(node) {
      const outgoing = wiresFrom
        .of(doc.wires)
        .get(node)
        .filter((wire) => wire.to.node !== node);
      return [...wiresInto.of(doc.wires).get(node), ...outgoing];
    },
    wiresInto: (node) => wiresInto.of(doc.wires).get(node),
    wiresFrom: (node) => wiresFrom.of(doc.wires).get(node),
    hostOf: (graph) => hosts.of(doc.nodes).get(graph).at(-1),
    membersOf: (frame) => nodesByFrame.of(doc.nodes).get(frame),
    framesWithin: (frame) => framesByParent.of(doc.frames).get(frame),
    nodesOfKind: (kind) => nodesByKind.of(doc.nodes).get(kind),
    nodesNamed: (name) => nodesByName.of(doc.nodes).get(name),
  };
}

/** Fewer wires into a node than this are walked over. */
const fewWires = 12;
const intoPorts = new WeakMap<readonly Wire[], ReadonlyMap<string, Wire>>();

/** Of the wires into a node the one into a port. O(1) for hubs, once their wires were walked over. */
function wireAmong(wires: readonly Wire[], port: string): Wire | undefined {
  if (wires.length < fewWires) return wires.find((wire) => wire.to.port === port);
  let byPort = intoPorts.get(wires);
  if (!byPort) {
    // of several into one port, which no file keeps for long, the first counts
    byPort = new Map([...wires].reverse().map((wire) => [wire.to.port, wire]));
    intoPorts.set(wires, byPort);
  }
  return byPort.get(port);
}

/**
 * The index of a document version; made lazily, shared by all who ask. First call O(n log n), or O(changes) where the
 * version came by an edit; later ones O(1).
 */
export function indexOf(doc: Doc): DocIndex {
  let index = indexes.get(doc);
  if (!index) {
    index = makeIndex(doc);
    indexes.set(doc, index);
  }
  return index;
}

/** The graph ids from the root to `graph`, both included. */
export function graphPath(doc: Doc, graph: Id): Id[] {
  const path: Id[] = [graph];
  for (let at = indexOf(doc).hostOf(graph); at && !path.includes(at.graph); at = indexOf(doc).hostOf(at.graph))
    path.unshift(at.graph);
  return path;
}

/** The path of ids that a finding's place wants: the hosts from the outermost in, then the thing itself. */
export function placeOf(doc: Doc, graph: Id, id: Id): Id[] {
  const hostsAbove = graphPath(doc, graph)
    .slice(1)
    .map((inner) => indexOf(doc).hostOf(inner)?.id ?? inner);
  return [...hostsAbove, id];
}

/**
 * Where a node stands, in words: the names of its hosts from the outermost in, then its own, such as `Water/Caustics`.
 * No name has a slash.
 */
export function nodePath(doc: Doc, node: GraphNode): string {
  const hosts = placeOf(doc, node.graph, node.id).slice(0, -1);
  return [...hosts.map((id) => doc.nodes.get(id)?.name ?? id), node.name].join('/');
}

/** The node of each path, in all graphs: how times and pictures are addressed outside. */
export function nodesByPath(doc: Doc): ReadonlyMap<string, Id> {
  const found = new Map<string, Id>();
  const walk = (graph: Id, prefix: string): void => {
    for (const node of indexOf(doc).nodesIn(graph)) {
      found.set(`${prefix}${node.name}`, node.id);
      if (node.inner !== undefined) walk(node.inner, `${prefix}${node.name}/`);
    }
  };
  walk(doc.head.root, '');
  return found;
}

/** How a node is spoken of in sentences: its label where it has one, in one line and not too long, else its name. */
export function caption(node: GraphNode): string {
  const said = node.label || node.name;
  const line = said.includes('\n') ? said.replace(/\s*\n\s*/g, ' ') : said;
  return line.length > mostCaption ? `${line.slice(0, mostCaption - 1)}…` : line;
}
const mostCaption = 200;

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

/** The graph that a node, frame, note or wire lies in; the outermost where none is named. */
export function graphOf(doc: Doc, id: Id | undefined): Id | undefined {
  if (id === undefined) return doc.head.root;
  const wire = doc.wires.get(id);
  return (doc.nodes.get(wire ? wire.from.node : id) ?? doc.frames.get(id) ?? doc.notes.get(id))?.graph;
}
