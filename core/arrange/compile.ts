import { Axes } from '../document/axes.ts';
import { type Doc, indexOf, nodesWithin, numberOutputs } from '../document/doc.ts';
import { flowOf, framePad, geometryOf, type Rect } from '../document/geometry.ts';
import type { Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import { portAt } from '../document/port-at.ts';
import type { GraphNode } from '../document/schema.ts';
import { byName } from '../words.ts';
import type { FrameTree, LayeredGraph } from './layered/graph.ts';

export interface CompiledGraph {
  readonly graph: LayeredGraph;
  readonly axes: Axes;
  /** The frames of the graph by their number. */
  readonly frames: readonly Id[];
}

/**
 * Nodes of a graph as flat arrays in flow coordinates, with the wires between them and the frames of which all nodes
 * are among them.
 * O(nodes + wires + frames).
 */
export function compileGraph(doc: Doc, kinds: Kinds, graph: Id, nodes: readonly GraphNode[]): CompiledGraph {
  const axes = Axes.of(flowOf(doc, graph));
  const number = new Map(nodes.map((node, i) => [node.id, i]));
  const wires = indexOf(doc)
    .wiresIn(graph)
    .filter((wire) => number.has(wire.from.node) && number.has(wire.to.node));
  const rects = nodes.map((node) => {
    const { width, height } = geometryOf(doc, kinds, node);
    return axes.rectIn({ x: node.x, y: node.y, width, height });
  });
  const offset = (id: Id, port: string, direction: 'in' | 'out'): number => {
    const geometry = geometryOf(doc, kinds, doc.nodes.get(id)!);
    const placed = portAt(geometry.ports, port, direction);
    return placed ? axes.in(placed).y : 0;
  };
  const pick = (field: keyof Rect): Float64Array => Float64Array.from(rects, (rect) => rect[field]);
  const { ids, tree: frames } = framesOf(doc, graph, nodes, number, axes);
  return {
    axes,
    frames: ids,
    graph: {
      count: nodes.length,
      width: pick('width'),
      height: pick('height'),
      x: pick('x'),
      y: pick('y'),
      from: Int32Array.from(wires, (wire) => number.get(wire.from.node)!),
      to: Int32Array.from(wires, (wire) => number.get(wire.to.node)!),
      fromOffset: Float64Array.from(wires, (wire) => offset(wire.from.node, wire.from.port, 'out')),
      toOffset: Float64Array.from(wires, (wire) => offset(wire.to.node, wire.to.port, 'in')),
      net: numberOutputs(wires),
      ...(frames.parent.length > 0 && { frames }),
    },
  };
}

/**
 * The same with what tells parts that are alike from others: for arranging and for comparing, not for routing. O(nodes
 * · (ports + log nodes)).
 */
export function compileWithLikeness(doc: Doc, kinds: Kinds, graph: Id, nodes: readonly GraphNode[]): CompiledGraph {
  const compiled = compileGraph(doc, kinds, graph, nodes);
  return { ...compiled, graph: { ...compiled.graph, sign: signsOf(doc, kinds, nodes), names: namesOf(nodes) } };
}

/** Equal for nodes that are drawn alike but for their width, which comes from names. O(nodes · ports). */
function signsOf(doc: Doc, kinds: Kinds, nodes: readonly GraphNode[]): Int32Array {
  const known = new Map<string, number>();
  return Int32Array.from(nodes, (node) => {
    const { height, ports } = geometryOf(doc, kinds, node);
    const text = `${node.kind} ${height} ${ports.map(({ direction, id, x, y }) => `${direction}${id}:${direction === 'in' ? x : ''}:${y}`).join(' ')}`;
    const sign = known.get(text) ?? known.size;
    known.set(text, sign);
    return sign;
  });
}

/** Names without their numbers, and the order of names in which 2 comes before 10. O(nodes · log nodes). */
function namesOf(nodes: readonly GraphNode[]): { stem: Int32Array; place: Int32Array } {
  const stems = new Map<string, number>();
  const stem = Int32Array.from(nodes, ({ name }) => {
    const text = name.replace(/\d+/g, '#');
    const number = stems.get(text) ?? stems.size;
    stems.set(text, number);
    return number;
  });
  const place = new Int32Array(nodes.length);
  [...nodes.keys()]
    .sort((a, b) => byName(nodes[a]!.name, nodes[b]!.name) || a - b)
    .forEach((v, i) => {
      place[v] = i;
    });
  return { stem, place };
}

function framesOf(
  doc: Doc,
  graph: Id,
  nodes: readonly GraphNode[],
  number: ReadonlyMap<Id, number>,
  axes: Axes,
): { readonly ids: readonly Id[]; readonly tree: FrameTree } {
  const whole = indexOf(doc)
    .framesIn(graph)
    .filter((frame) => {
      const members = nodesWithin(doc, frame.id);
      return members.length > 0 && members.every((node) => number.has(node.id));
    });
  const at = new Map(whole.map((frame, i) => [frame.id, i]));
  const pads = whole.map((frame) => {
    const pad = frame.pad ?? framePad;
    const around = axes.rectIn({
      x: -pad.left,
      y: -pad.top,
      width: pad.left + pad.right,
      height: pad.top + pad.bottom,
    });
    return { before: -around.x, after: around.width + around.x, above: -around.y, below: around.height + around.y };
  });
  const tree = {
    of: Int32Array.from(nodes, (node) => (node.frame === undefined ? -1 : (at.get(node.frame) ?? -1))),
    parent: Int32Array.from(whole, (frame) => (frame.parent === undefined ? -1 : (at.get(frame.parent) ?? -1))),
    before: Float64Array.from(pads, (pad) => pad.before),
    after: Float64Array.from(pads, (pad) => pad.after),
    above: Float64Array.from(pads, (pad) => pad.above),
    below: Float64Array.from(pads, (pad) => pad.below),
  };
  return { ids: whole.map((frame) => frame.id), tree };
}
