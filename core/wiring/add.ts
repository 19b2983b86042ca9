import { makeRoom } from '../arrange/room.ts';
import { Axes } from '../document/axes.ts';
import { caption, type Doc, indexOf } from '../document/doc.ts';
import { flowOf, geometryOf, overlaps, type Point, portPoint, type Rect, rectOf } from '../document/geometry.ts';
import { tableChanged } from '../document/groups.ts';
import type { Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import { freeName, legalName, namesIn } from '../document/names.ts';
import type { GraphNode, Port, PortRef, Wire } from '../document/schema.ts';
import { withChanges } from '../document/table.ts';
import { must } from '../must.ts';
import type { Saying } from '../said.ts';
import { typeProblem } from './connect.ts';
import { insertInto, insertWay, type Way } from './insert.ts';
import { refuse, say } from './sentences.ts';
import { portOf } from './types.ts';
import type { Wiring } from './wiring.ts';

/** How far before an output a new node is put, and how far others are kept from it, in pixels. */
const ahead = 56;
const gap = 24;

/** A new node of a kind, named after it, with nothing wired. Throws RangeError on a kind that the catalogue lacks. */
export function freshNode(doc: Doc, kinds: Kinds, graph: Id, kind: string, id: Id): GraphNode {
  return {
    id,
    graph,
    kind,
    name: freeName(legalName(kinds.title(kind)), namesIn(doc, graph)),
    x: 0,
    y: 0,
    ports: kinds.startPorts(kind),
  };
}

/** The document with a node more, which is not wired yet, for questions about what it fits. */
export function withNode(doc: Doc, node: GraphNode): Doc {
  const nodes = withChanges(doc.nodes, [[node.id, node]]);
  tableChanged(doc.nodes, nodes, new Map([[node.id, { before: undefined, after: node }]]));
  return { ...doc, nodes };
}

/**
 * How a new node stands in wires of one output, or why it cannot: by the pass rule, else by any input and output that
 * fit.
 */
export function newWay(doc: Doc, kinds: Kinds, node: GraphNode, from: PortRef, wires: readonly Wire[]): Way | Saying {
  const there = withNode(doc, node);
  const bare = { into: () => undefined, outOf: () => [] };
  const passing = wires.length > 0 ? insertWay(there, kinds, bare, node, wires) : undefined;
  if (passing && 'input' in passing) return passing;
  const input = bestInput(
    kinds,
    node,
    (port) => typeProblem(there, kinds, from, { node: node.id, port: port.id }) === undefined,
  );
  if (!input)
    return say('takes-nothing-given', {
      node: caption(node),
      source: caption(must(doc.nodes.get(from.node))),
      port: from.port,
    });
  const outputs = node.ports.filter((port) => port.direction === 'out' && port.of === undefined);
  const output = outputs.find((port) =>
    wires.every((wire) => typeProblem(there, kinds, { node: node.id, port: port.id }, wire.to) === undefined),
  );
  if (output || !passing) return { input, output: output?.id ?? '' };
  return passing;
}

/** The first input of a node that fits, no component; main ones before others. */
export function bestInput(kinds: Kinds, node: GraphNode, isFit: (port: Port) => boolean): string | undefined {
  const fits = node.ports.filter((port) => port.direction === 'in' && port.of === undefined && isFit(port));
  return (fits.find((port) => kinds.isMain(node, port)) ?? fits[0])?.id;
}

/** The output of a node that new ones take from where none is said: the first main one. */
export function mainOutput(kinds: Kinds, node: GraphNode): string | undefined {
  const outputs = node.ports.filter((port) => port.direction === 'out' && port.of === undefined);
  return (outputs.find((port) => kinds.isMain(node, port)) ?? outputs[0])?.id;
}

/**
 * Adds a node behind an output: in line, so that what took from the output takes from the node now, or alongside, as a
 * new branch. Throws Refused.
 */
export function addBehind(
  wiring: Wiring,
  fresh: GraphNode,
  from: PortRef,
  wires: readonly Wire[],
  inLine: boolean,
): GraphNode {
  const { tx, kinds } = wiring;
  const doc = tx.before;
  const source = must(doc.nodes.get(from.node));
  if (source.graph !== fresh.graph) throw refuse('source-in-other-graph', { source: caption(source) });
  if (!portOf(source, from.port, 'out')) throw refuse('no-output', { source: caption(source), port: from.port });
  const way = newWay(doc, kinds, fresh, from, inLine ? wires : []);
  if (!('input' in way)) throw refuse('add-does-not-fit', { way: way.message, what: inLine && wires.length > 0 });
  const frame =
    inLine && wires.some((wire) => must(doc.nodes.get(wire.to.node)).frame !== source.frame) ? undefined : source.frame;
  const placed = placeBehind(doc, kinds, fresh, way.input, from, inLine ? wires : []);
  const node = { ...fresh, ...placed, ...(frame !== undefined && { frame }) };
  tx.add('nodes', node);
  if (inLine && wires.length > 0) insertInto(wiring, node, wires, way);
  else wiring.connect(from, { node: node.id, port: way.input });
  return node;
}

/**
 * Where a node stands so that its wire runs straight: behind the output, or in the middle of the way to the one that
 * takes from it.
 */
function placeBehind(
  doc: Doc,
  kinds: Kinds,
  node: GraphNode,
  input: string,
  from: PortRef,
  wires: readonly Wire[],
): Point {
  const axes = Axes.of(flowOf(doc, node.graph));
  const { width, height } = geometryOf(doc, kinds, node);
  const own = axes.rectIn({ x: 0, y: 0, width, height });
  const port = axes.in(portPoint(doc, kinds, { ...node, x: 0, y: 0 }, input, 'in') ?? { x: 0, y: 0 });
  const source = must(doc.nodes.get(from.node));
  const start = axes.in(portPoint(doc, kinds, source, from.port, 'out') ?? source);
  const ends = wires.map((wire) =>
    axes.in(
      portPoint(doc, kinds, must(doc.nodes.get(wire.to.node)), wire.to.port, 'in') ?? must(doc.nodes.get(wire.to.node)),
    ),
  );
  const nearest = ends.reduce((least, end) => Math.min(least, end.x), Number.POSITIVE_INFINITY);
  const x = Math.max(start.x + ahead, Number.isFinite(nearest) ? (start.x + nearest - own.width) / 2 : 0);
  const rect = axes.rectOut({ ...own, x, y: start.y - (port.y - own.y) });
  return { x: Math.round(rect.x), y: Math.round(rect.y) };
}

/** No node is longer or higher than this, in pixels: what is further off is not measured. */
const longest = 2000;

/**
 * Pushes along the flow what a node lies on, and what is in the way of that. Returns how many nodes moved. Only what
 * lies near is measured, and more where pushing comes near the end of that. O(n).
 */
export function roomAround(wiring: Wiring, node: GraphNode, keep: ReadonlySet<Id>): number {
  const { tx, kinds } = wiring;
  const doc = tx.before;
  const own = rectOf(doc, kinds, node);
  const isIn = (one: GraphNode, area: Rect): boolean =>
    one.x < area.x + area.width &&
    one.y < area.y + area.height &&
    one.x > area.x - longest &&
    one.y > area.y - longest &&
    one.id !== node.id;
  const all = indexOf(doc).nodesIn(node.graph);
  const around = grownBy(own, gap, gap / 2);
  for (let reach = 2000; ; reach *= 2) {
    const area = grownBy(own, reach, reach);
    const others = all.filter((other) => isIn(other, area));
    if (
      !others.some((other) => isIn(other, around) && !keep.has(other.id) && overlaps(rectOf(doc, kinds, other), around))
    )
      return 0;
    const holding = new Set([
      others.length,
      ...others.flatMap((other, i) => (other.pinned || keep.has(other.id) ? [i] : [])),
    ]);
    const moved = makeRoom(
      [...others.map((other) => rectOf(doc, kinds, other)), own],
      holding,
      flowOf(doc, node.graph),
      gap,
    );
    const inner = grownBy(own, reach - 2 * gap, reach - 2 * gap);
    const isInside = (rect: Rect): boolean =>
      rect.x >= inner.x &&
      rect.y >= inner.y &&
      rect.x + rect.width <= inner.x + inner.width &&
      rect.y + rect.height <= inner.y + inner.height;
    if (others.length + 1 < all.length && ![...moved.values()].every(isInside)) continue;
    for (const [i, rect] of moved) tx.move(must(others[i]).id, rect.x, rect.y);
    return moved.size;
  }
}

const grownBy = (rect: Rect, x: number, y: number): Rect => ({
  x: rect.x - x,
  y: rect.y - y,
  width: rect.width + 2 * x,
  height: rect.height + 2 * y,
});
