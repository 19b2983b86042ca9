import { type Doc, indexOf, table } from '../../document/doc.ts';
import { compareIds, type Id } from '../../document/ids.ts';
import { sameJson } from '../../document/json.ts';
import type { Kinds } from '../../document/kinds.ts';
import type { GraphNode, Records } from '../../document/schema.ts';
import { addTo } from '../../group-by.ts';
import { must } from '../../must.ts';
import { nodeHashes } from '../fingerprint.ts';
import { dependencyGraph } from '../graph/dependency-graph.ts';

/** Which thing of one document is which of another, by id. */
export interface Match {
  readonly nodes: ReadonlyMap<Id, Id>;
  readonly graphs: ReadonlyMap<Id, Id>;
  readonly frames: ReadonlyMap<Id, Id>;
  readonly notes: ReadonlyMap<Id, Id>;
}

/**
 * Pairs of nodes that are scored against one another, for each kind in each graph: more would take longer than it
 * helps.
 */
const mostPairs = 40_000;
/** Least likeness of two nodes that are taken for one, of 1. */
const least = 0.45;

/**
 * Matches two documents: by id where both have it, then by likeness, graph by graph from the outermost in: nodes of one
 * kind with one name, then those that compute the same, then those whose names, parameters and neighbours are most
 * alike. Frames go by id, then title;
 * notes by id, then text.
 * Each is matched once. O(nodes log nodes), and at most `mostPairs` scores for each kind in a graph.
 */
export function matchDocs(before: Doc, after: Doc, kinds: { readonly before: Kinds; readonly after: Kinds }): Match {
  const nodes = new Map<Id, Id>();
  const graphs = new Map<Id, Id>([[before.head.root, after.head.root]]);
  const hashes = { before: hashesOf(before, kinds.before), after: hashesOf(after, kinds.after) };
  const taken = new Set<Id>();
  const pair = (a: Id, b: Id): void => {
    nodes.set(a, b);
    taken.add(b);
  };
  for (const id of before.nodes.keys()) if (after.nodes.has(id)) pair(id, id);
  for (const [a, b] of [...nodes].sort(([x], [y]) => compareIds(x, y))) {
    const [inner, other] = [must(before.nodes.get(a)).inner, must(after.nodes.get(b)).inner];
    if (inner !== undefined && other !== undefined) graphs.set(inner, other);
  }
  const todo: [Id, Id][] = [...graphs];
  for (let one = todo.shift(); one; one = todo.shift()) {
    const [a, b] = one;
    const left = indexOf(before)
      .nodesIn(a)
      .filter((node) => !nodes.has(node.id));
    const right = indexOf(after)
      .nodesIn(b)
      .filter((node) => !taken.has(node.id));
    matchNodes(before, after, left, right, hashes, nodes, (x, y) => {
      pair(x.id, y.id);
      if (x.inner === undefined || y.inner === undefined || graphs.has(x.inner)) return;
      graphs.set(x.inner, y.inner);
      todo.push([x.inner, y.inner]);
    });
  }
  return {
    nodes,
    graphs,
    frames: matchTable(before, after, graphs, 'frames', (frame) => frame.title),
    notes: matchTable(before, after, graphs, 'notes', (note) => note.text),
  };
}

function hashesOf(doc: Doc, kinds: Kinds): ReadonlyMap<Id, string> {
  const hashes = nodeHashes(doc, kinds);
  return new Map(dependencyGraph(doc, kinds).nodes.map((node, i) => [node.id, must(hashes[i])]));
}

function matchNodes(
  before: Doc,
  after: Doc,
  left: readonly GraphNode[],
  right: readonly GraphNode[],
  hashes: { readonly before: ReadonlyMap<Id, string>; readonly after: ReadonlyMap<Id, string> },
  known: ReadonlyMap<Id, Id>,
  pair: (a: GraphNode, b: GraphNode) => void,
): void {
  const rest = { left: new Set(left), right: new Set(right) };
  const take = (a: GraphNode, b: GraphNode): void => {
    rest.left.delete(a);
    rest.right.delete(b);
    pair(a, b);
  };
  const byKey = (keyOf: (node: GraphNode, side: 'before' | 'after') => string | undefined): void => {
    const groups = new Map<string, GraphNode[]>();
    for (const node of rest.right) {
      const key = keyOf(node, 'after');
      if (key !== undefined) addTo(groups, key, node);
    }
    for (const node of [...rest.left]) {
      const key = keyOf(node, 'before');
      const other = key === undefined ? undefined : groups.get(key)?.shift();
      if (other) take(node, other);
    }
  };
  byKey((node) => JSON.stringify([node.kind, node.name]));
  byKey((node, side) => hashes[side].get(node.id));
  // what is matched makes its neighbours more alike, so that it goes on, the surest first, until nothing is found any
  // more
  for (const bound of [0.75, 0.6, least, least, least]) {
    const pairs = alike(before, after, [...rest.left], [...rest.right], known, bound);
    for (const { a, b } of pairs) if (rest.left.has(a) && rest.right.has(b)) take(a, b);
  }
}

/** Pairs of one kind that are at least so much alike, the most alike first. */
function alike(
  before: Doc,
  after: Doc,
  left: readonly GraphNode[],
  right: readonly GraphNode[],
  known: ReadonlyMap<Id, Id>,
  bound: number,
): { a: GraphNode; b: GraphNode; score: number }[] {
  const kinds = new Map<string, GraphNode[]>();
  for (const node of right) addTo(kinds, node.kind, node);
  const scored: { a: GraphNode; b: GraphNode; score: number }[] = [];
  const counts = new Map<string, number>();
  for (const a of left)
    for (const b of kinds.get(a.kind) ?? []) {
      const count = (counts.get(a.kind) ?? 0) + 1;
      counts.set(a.kind, count);
      if (count > mostPairs) break;
      const score = likeness(before, after, a, b, known);
      if (score >= bound) scored.push({ a, b, score });
    }
  return scored.sort((x, y) => y.score - x.score || compareIds(x.a.id, y.a.id) || compareIds(x.b.id, y.b.id));
}

/**
 * How alike two nodes of one kind are, 0 to 1: a quarter each for their words and parameters, half for their
 * neighbours.
 */
function likeness(before: Doc, after: Doc, a: GraphNode, b: GraphNode, known: ReadonlyMap<Id, Id>): number {
  const words = a.label !== undefined && a.label === b.label ? 1 : commonStart(a.name, b.name);
  const ids = new Set([...Object.keys(a.params ?? {}), ...Object.keys(b.params ?? {})]);
  const same = [...ids].filter((id) => sameJson(a.params?.[id], b.params?.[id])).length;
  const params = ids.size === 0 ? 1 : same / ids.size;
  const near = (doc: Doc, node: GraphNode): Set<string> =>
    new Set(
      indexOf(doc)
        .wiresOf(node.id)
        .map((wire) => {
          const isOut = wire.from.node === node.id;
          const other = isOut ? wire.to.node : wire.from.node;
          return `${isOut ? wire.from.port : wire.to.port} ${doc === before ? (known.get(other) ?? other) : other}`;
        }),
    );
  const [left, right] = [near(before, a), near(after, b)];
  const shared = [...left].filter((one) => right.has(one)).length;
  const neighbours = left.size + right.size === 0 ? 0.5 : (2 * shared) / (left.size + right.size);
  return 0.25 * words + 0.25 * params + 0.5 * neighbours;
}

function commonStart(a: string, b: string): number {
  let i = 0;
  while (i < a.length && a[i] === b[i]) i++;
  return i / Math.max(a.length, b.length, 1);
}

function matchTable<T extends 'frames' | 'notes'>(
  before: Doc,
  after: Doc,
  graphs: ReadonlyMap<Id, Id>,
  name: T,
  keyOf: (one: Records[T]) => string,
): ReadonlyMap<Id, Id> {
  const [old, now] = [table(before, name), table(after, name)];
  const found = new Map<Id, Id>();
  const free = new Map<string, Id[]>();
  for (const [id, one] of now) {
    if (old.has(id)) found.set(id, id);
    else {
      const key = `${one.graph}\n${keyOf(one)}`;
      addTo(free, key, id);
    }
  }
  for (const [id, one] of old) {
    if (found.has(id)) continue;
    const other = free.get(`${graphs.get(one.graph)}\n${keyOf(one)}`)?.shift();
    if (other !== undefined) found.set(id, other);
  }
  return found;
}
