import type { Doc } from '../document/doc.ts';
import { compareIds, type Id, idMaker } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import { Transaction } from '../edit/transaction.ts';
import type { Finding } from '../finding.ts';
import { addTo } from '../group-by.ts';
import { must } from '../must.ts';
import { removeNodes } from '../structure/remove.ts';
import { guard } from '../wiring/guard.ts';
import { Wiring } from '../wiring/wiring.ts';
import { type DependencyGraph, dependencyGraph, reachable } from './graph/dependency-graph.ts';
import { withInside } from './reach.ts';
import { endIds, neededNow } from './standing.ts';

/** An input of a node that stays which would be open, and how that reaches an end. */
export interface Starved {
  readonly node: Id;
  readonly port: string;
  /** From the node to the end, both included, with what carries data between: a shortest way. */
  readonly way: readonly Id[];
}

/** An end behind inputs that would be open. */
export interface StarvedEnd {
  readonly end: Id;
  /** The nearest of these inputs first; of many the first of them. */
  readonly inputs: readonly Starved[];
  /** How many there are. */
  readonly count: number;
}

/** What would happen if nodes went and their wires healed. */
export interface Gone {
  /** Ends that would go with them. */
  readonly removed: readonly Id[];
  readonly starved: readonly StarvedEnd[];
  /** Ends that would compute something else, but lose nothing. */
  readonly otherwise: readonly Id[];
  /** Inputs that would be open, over whatever carries data to them, and taps that would hear nothing, in words. */
  readonly opened: readonly Finding[];
  /** Nodes that would serve no end any more. */
  readonly idle: readonly Id[];
}

/** So many inputs are listed before one end, each with its way. */
const mostInputs = 20;

/** What would be lost without some nodes. Cost: that of deleting them, and O(ends · edges). */
export function goneWithout(doc: Doc, kinds: Kinds, ids: readonly Id[]): Gone {
  // it is only asked what would be open: ids that would be made are thrown away
  const wiring = new Wiring(new Transaction(doc), kinds, idMaker(1));
  const findings = removeNodes(
    wiring,
    ids.flatMap((id) => doc.nodes.get(id) ?? []),
    true,
  );
  const { changes, findings: opened } = guard(doc, kinds, wiring.tx.edit);
  const after = wiring.tx.doc;
  const ends = endIds(doc, kinds);
  const own = new Set(ids.flatMap((id) => withInside(doc, id)));
  const open = new Map<Id, string[]>();
  for (const { node, input, before, after: now } of changes) if (before && !now) addTo(open, node.id, input.id);
  const graph = dependencyGraph(after, kinds);
  const behind = reachable(
    graph.after,
    changes.flatMap(({ node }) => graph.at.get(node.id) ?? []),
  );
  const hit = [...behind].filter((i) => ends.has(must(graph.nodes[i]).id));
  const starved = hit.flatMap((i) => starvedEnd(graph, open, i) ?? []).sort((a, b) => compareIds(a.end, b.end));
  const isStarved = new Set(starved.map(({ end }) => end));
  const then = neededNow(after, kinds);
  return {
    removed: [...own].filter((id) => ends.has(id)),
    starved,
    otherwise: hit
      .map((i) => must(graph.nodes[i]).id)
      .filter((id) => !isStarved.has(id))
      .sort(compareIds),
    opened: [...findings, ...opened],
    idle: [...neededNow(doc, kinds)].filter((id) => !own.has(id) && !then.has(id)).sort(compareIds),
  };
}

/** The open inputs before an end, the nearest first, each with its way. O(edges). */
function starvedEnd(
  graph: DependencyGraph,
  open: ReadonlyMap<Id, readonly string[]>,
  end: number,
): StarvedEnd | undefined {
  const inputs: Starved[] = [];
  let count = 0;
  /** The node to which each that is met gives what it gives, on the way to the end. */
  const towards = new Map<number, number>([[end, -1]]);
  for (const i of towards.keys()) {
    const node = must(graph.nodes[i]).id;
    for (const port of open.get(node) ?? []) {
      count++;
      if (inputs.length < mostInputs) inputs.push({ node, port, way: wayFrom(graph, towards, i) });
    }
    for (const k of must(graph.before[i])) if (!towards.has(k)) towards.set(k, i);
  }
  return count === 0 ? undefined : { end: must(graph.nodes[end]).id, inputs, count };
}

/** The way from a node on, with what carries data between. */
function wayFrom(graph: DependencyGraph, towards: ReadonlyMap<number, number>, from: number): Id[] {
  const way: Id[] = [must(graph.nodes[from]).id];
  for (let i = from; ; ) {
    const next = must(towards.get(i));
    if (next === -1) return way;
    const source = must(graph.inputs[next]).find((one) => one.source.node === must(graph.nodes[i]).id)?.source;
    way.push(...[...(source?.through ?? [])].reverse(), must(graph.nodes[next]).id);
    i = next;
  }
}
