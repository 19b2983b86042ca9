import FlatQueue from 'flatqueue';
import { type Doc, indexOf } from '../document/doc.ts';
import { flowOf } from '../document/geometry.ts';
import { compareIds, type Id } from '../document/ids.ts';
import type { GraphNode } from '../document/schema.ts';
import { stronglyConnected } from '../inspect/graph/components.ts';
import { reversed } from '../inspect/graph/dependency-graph.ts';
import { must } from '../must.ts';
import { beaconOf } from '../wiring/carriers.ts';

/**
 * All nodes of a document in the order in which people read it: sources before what they feed, and of those that are
 * free the one that comes first along the flow, then across. What stands in a loop goes by its place. What lies in a
 * nested graph follows its node. O((nodes + wires) log nodes).
 */
export function readingOrder(doc: Doc): Id[] {
  const found: Id[] = [];
  const seen = new Set<Id>();
  const read = (graph: Id): void => {
    if (seen.has(graph)) return;
    seen.add(graph);
    for (const node of orderOfGraph(doc, graph)) {
      found.push(node.id);
      if (node.inner !== undefined) read(node.inner);
    }
  };
  read(doc.head.root);
  for (const graph of [...doc.graphs.keys()].sort(compareIds)) read(graph);
  return found;
}

/** Topological order by Kahn’s method, “Topological sorting of large networks”, CACM 5 (1962), loops taken as one. */
function orderOfGraph(doc: Doc, graph: Id): GraphNode[] {
  const nodes = byPlace(doc, graph);
  const at = new Map(nodes.map((node, i) => [node.id, i]));
  const before: number[][] = nodes.map((node) => {
    const heard = beaconOf(doc, node);
    const ids = [
      ...indexOf(doc)
        .wiresInto(node.id)
        .map((wire) => wire.from.node),
      ...(heard ? [heard.id] : []),
    ];
    return ids.flatMap((id) => at.get(id) ?? []);
  });
  // the members of a loop by place, and the loop where its first member would stand
  const groups = stronglyConnected(before).map((group) => [...group].sort((a, b) => a - b));
  const groupOf = new Int32Array(nodes.length);
  groups.forEach((group, g) => {
    for (const i of group) groupOf[i] = g;
  });
  const awaited = groups.map((group, g) => [
    ...new Set(group.flatMap((i) => must(before[i]).map((k) => must(groupOf[k]))).filter((k) => k !== g)),
  ]);
  const next = reversed(awaited);
  const open = awaited.map((list) => list.length);
  const free = new FlatQueue<number>();
  const add = (g: number): void => void free.push(g, must(must(groups[g])[0]));
  open.forEach((count, g) => {
    if (count === 0) add(g);
  });
  const order: GraphNode[] = [];
  for (let g = free.pop(); g !== undefined; g = free.pop()) {
    for (const i of must(groups[g])) order.push(must(nodes[i]));
    for (const k of must(next[g])) {
      open[k] = must(open[k]) - 1;
      if (open[k] === 0) add(k);
    }
  }
  return order;
}

/** The nodes of a graph along its flow, then across it. */
function byPlace(doc: Doc, graph: Id): GraphNode[] {
  const flow = flowOf(doc, graph);
  const isUpright = flow === 'down' || flow === 'up';
  const sign = flow === 'left' || flow === 'up' ? -1 : 1;
  const along = (node: GraphNode): number => sign * (isUpright ? node.y : node.x);
  const across = (node: GraphNode): number => (isUpright ? node.x : node.y);
  return [...indexOf(doc).nodesIn(graph)].sort(
    (a, b) => along(a) - along(b) || across(a) - across(b) || compareIds(a.id, b.id),
  );
}
