import Graph from 'graphology';
import louvain from 'graphology-communities-louvain';
import { builtin, isBoundary } from '../document/builtin.ts';
import { type Doc, indexOf } from '../document/doc.ts';
import { framedRect, overlaps, rectOf, untitledFrame } from '../document/geometry.ts';
import { compareIds, type Id, seededRandom } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import { isDefaultName } from '../document/names.ts';
import type { GraphNode } from '../document/schema.ts';
import { addTo } from '../group-by.ts';
import { must } from '../must.ts';
import { beaconOf } from '../wiring/carriers.ts';
import { proposeTitle } from './frames.ts';

/** Nodes that belong together, to be framed. */
export interface Region {
  readonly title: string;
  readonly nodes: readonly Id[];
  /** Nodes that are no members and would lie within its rectangle, as things stand. */
  readonly strangers: number;
}

export interface RegionOptions {
  /** Regions of fewer nodes are left alone. */
  readonly least: number;
  /** How finely the graph is cut: 1 as modularity has it, more for smaller regions (Reichardt & Bornholdt 2006). */
  readonly grain: number;
  readonly seed: number;
}

/** What a shared first word of the names weighs beside a wire, and what lying side by side does. */
const nameWeight = 0.7;
const nearWeight = 0.25;
/** Nodes whose middles are nearer than this lie side by side, in pixels at 100 % zoom. */
const near = 320;

/**
 * What the name of a node begins with: its first word, and its first two where more follow. Nothing where the name says
 * nothing.
 */
function stems(kinds: Kinds, node: GraphNode): string[] {
  if (isDefaultName(node.name, node.kind, kinds)) return [];
  const words = node.name.toLowerCase().split('_').filter(Boolean);
  return [1, 2].filter((count) => words.length > count).map((count) => words.slice(0, count).join('_'));
}

/**
 * What regions are found from: nodes, joined by wires (the more a source feeds, the less each of its wires says),
 * remote links, shared beginnings of names, and by lying side by side. Undirected, weighted. O(nodes log n + wires).
 */
export function kinship(doc: Doc, kinds: Kinds, nodes: readonly GraphNode[]): Graph {
  const graph = new Graph({ type: 'undirected' });
  for (const node of nodes) graph.addNode(node.id);
  const join = (a: Id, b: Id, weight: number): void => {
    if (a === b || !graph.hasNode(a) || !graph.hasNode(b)) return;
    graph.updateEdge(a, b, (old) => ({ weight: ((old as { weight?: number }).weight ?? 0) + weight }));
  };
  const index = indexOf(doc);
  for (const node of nodes) {
    for (const wire of index.wiresInto(node.id))
      join(wire.from.node, node.id, 1 / Math.sqrt(index.wiresOutOf(wire.from.node, wire.from.port).length));
    if (node.kind === builtin.tap) join(beaconOf(doc, node)?.id ?? '', node.id, nearWeight);
  }
  const named = new Map<string, GraphNode[]>();
  for (const node of nodes) {
    for (const word of stems(kinds, node)) {
      const row = named.get(word);
      if (row) row.push(node);
      else named.set(word, [node]);
    }
  }
  // in a row and to the first of them, so that a word that hundreds share costs as much as there are
  for (const row of named.values())
    row.slice(1).forEach((node, i) => {
      join(must(row[i]).id, node.id, nameWeight);
      join(must(row[0]).id, node.id, nameWeight);
    });
  const across = [...nodes].sort((a, b) => a.x - b.x || compareIds(a.id, b.id));
  across.forEach((node, i) => {
    for (let k = i + 1; k < across.length && k < i + 40 && must(across[k]).x - node.x < near; k++)
      if (Math.abs(must(across[k]).y - node.y) < near / 2) join(node.id, must(across[k]).id, nearWeight);
  });
  return graph;
}

/**
 * Regions of nodes that hang together and stand in no frame yet: communities of `kinship` by the method of Blondel,
 * Guillaume, Lambiotte &
 * Lefebvre, “Fast unfolding of communities in large networks” (2008), the largest first. The same seed gives the same
 * regions. O(n log n), about.
 */
export function proposeRegions(
  doc: Doc,
  kinds: Kinds,
  nodes: readonly GraphNode[],
  { least, grain, seed }: RegionOptions,
): Region[] {
  const loose = nodes
    .filter((node) => node.frame === undefined && !isBoundary(node.kind))
    .sort((a, b) => compareIds(a.id, b.id));
  if (loose.length < least) return [];
  const graph = kinship(doc, kinds, loose);
  const found =
    graph.size === 0
      ? {}
      : louvain(graph, { resolution: grain, rng: seededRandom(seed), randomWalk: false, getEdgeWeight: 'weight' });
  const groups = new Map<number, GraphNode[]>();
  for (const node of loose) {
    const group = found[node.id];
    // who is joined to nothing belongs to nobody
    if (group === undefined || graph.degree(node.id) === 0) continue;
    addTo(groups, group, node);
  }
  const rects = new Map(nodes.map((node) => [node.id, rectOf(doc, kinds, node)]));
  const taken = new Map<string, number>();
  return [...groups.values()]
    .filter((members) => members.length >= least)
    .sort((a, b) => b.length - a.length || compareIds(must(a[0]).id, must(b[0]).id))
    .map((members) => {
      const title = titleFor(kinds, members);
      const count = (taken.get(title) ?? 0) + 1;
      taken.set(title, count);
      const own = new Set(members.map((node) => node.id));
      const area = framedRect(members.map((node) => must(rects.get(node.id))));
      const strangers = nodes.filter((node) => !own.has(node.id) && overlaps(area, must(rects.get(node.id)))).length;
      return { title: count === 1 ? title : `${title} ${count}`, nodes: members.map((node) => node.id), strangers };
    });
}

/** What all names have in common; else the first words that most have; else the category of most. */
function titleFor(kinds: Kinds, members: readonly GraphNode[]): string {
  const counts = new Map<string, GraphNode[]>();
  for (const node of members) {
    for (const word of stems(kinds, node)) addTo(counts, word, node);
  }
  const [most] = [...counts.values()].sort((a, b) => b.length - a.length || compareIds(must(a[0]).id, must(b[0]).id));
  const meant = most && most.length * 2 > members.length ? most : members;
  return proposeTitle(kinds, meant) || untitledFrame;
}
