import { type Doc, indexOf, nodesWithin } from '../document/doc.ts';
import { flowOf, framePad, geometryOf, isVertical, overlaps, type Rect, unite } from '../document/geometry.ts';
import { compareIds, type Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import type { Flow, GraphNode, Wire } from '../document/schema.ts';
import { type LayeredGraph, normalSpacing, type Spacing } from './layered/graph.ts';
import { layoutLayered } from './layered/layered.ts';
import { packShelves } from './pack.ts';

export interface ArrangeOptions {
  readonly keep: number;
  readonly spacing?: Spacing;
  readonly tick?: (fraction: number, what: string) => void;
}

export interface Place {
  readonly x: number;
  readonly y: number;
}

/** Something that is placed as a whole: a node, or a frame with all that lies in it. In flow coordinates: x along, y across. */
interface Block {
  readonly id: Id;
  readonly width: number;
  readonly height: number;
  /** Present place, top-left. */
  readonly x: number;
  readonly y: number;
  /** Where each node of the block lies within it. */
  readonly inside: readonly { readonly node: GraphNode; readonly x: number; readonly y: number }[];
}

/** Turns positions to and from the frame of reference in which data flows right. */
class Turn {
  private readonly vertical: boolean;
  private readonly backwards: boolean;

  constructor(flow: Flow) {
    this.vertical = isVertical(flow);
    this.backwards = flow === 'left' || flow === 'up';
  }

  in(rect: Rect): Rect {
    const turned = this.vertical ? { x: rect.y, y: rect.x, width: rect.height, height: rect.width } : rect;
    return this.backwards ? { ...turned, x: -turned.x - turned.width } : turned;
  }

  out(rect: Rect): Rect {
    const back = this.backwards ? { ...rect, x: -rect.x - rect.width } : rect;
    return this.vertical ? { x: back.y, y: back.x, width: back.height, height: back.width } : back;
  }

  /** A port's offset across the flow. */
  offset(x: number, y: number): number {
    return this.vertical ? x : y;
  }
}

/**
 * Where each of the nodes goes when they are arranged by their wiring: frames whole, disconnected parts packed, pinned nodes fixed.
 * Nodes not named stay out of it. Cost: that of the layered layout of each frame and of the whole.
 */
export function arrangeByWiring(doc: Doc, kinds: Kinds, graph: Id, nodes: readonly GraphNode[], options: ArrangeOptions): Map<Id, Place> {
  const flow = flowOf(doc, graph);
  const turn = new Turn(flow);
  const chosen = new Map(nodes.map((node) => [node.id, node]));
  const wires = indexOf(doc)
    .wiresIn(graph)
    .filter((wire) => chosen.has(wire.from.node) && chosen.has(wire.to.node));
  const rects = new Map(nodes.map((node) => [node.id, turn.in({ x: node.x, y: node.y, ...size(doc, kinds, node) })]));
  const arranger = new Arranger(doc, kinds, turn, wires, rects, options);
  const blocks = arranger.blocks(graph, undefined, chosen);
  const laid = arranger.layOut(blocks);
  const before = unite(nodes.map((node) => ({ x: node.x, y: node.y, ...size(doc, kinds, node) })));
  return settleOnPlace(doc, kinds, flow, arranger.positions(laid), nodes, before);
}

function size(doc: Doc, kinds: Kinds, node: GraphNode): { width: number; height: number } {
  const { width, height } = geometryOf(doc, kinds, node);
  return { width, height };
}

class Arranger {
  private readonly doc: Doc;
  private readonly kinds: Kinds;
  private readonly turn: Turn;
  private readonly wires: readonly Wire[];
  private readonly rects: ReadonlyMap<Id, Rect>;
  private readonly options: ArrangeOptions;

  constructor(doc: Doc, kinds: Kinds, turn: Turn, wires: readonly Wire[], rects: ReadonlyMap<Id, Rect>, options: ArrangeOptions) {
    this.doc = doc;
    this.kinds = kinds;
    this.turn = turn;
    this.wires = wires;
    this.rects = rects;
    this.options = options;
  }

  /** The blocks directly in a frame, or in the graph where no frame is given. A frame is a block where all its nodes are chosen. */
  blocks(graph: Id, frame: Id | undefined, chosen: ReadonlyMap<Id, GraphNode>): Block[] {
    const index = indexOf(this.doc);
    const blocks: Block[] = [];
    const taken = new Set<Id>();
    const framesHere = frame === undefined ? index.framesIn(graph).filter((one) => one.parent === undefined) : index.framesWithin(frame);
    const visit = (id: Id): void => {
      const all = nodesWithin(this.doc, id);
      if (all.length === 0 || !all.some((node) => chosen.has(node.id))) return;
      if (all.every((node) => chosen.has(node.id))) {
        blocks.push(this.frameBlock(graph, id, chosen));
        for (const node of all) taken.add(node.id);
      } else for (const inner of index.framesWithin(id)) visit(inner.id);
    };
    for (const one of framesHere) visit(one.id);
    const loose = frame === undefined ? [...chosen.values()] : index.membersOf(frame).filter((node) => chosen.has(node.id));
    for (const node of loose) {
      if (taken.has(node.id)) continue;
      const rect = this.rects.get(node.id)!;
      blocks.push({ id: node.id, ...rect, inside: [{ node, x: 0, y: 0 }] });
    }
    return blocks.sort((a, b) => compareIds(a.id, b.id));
  }

  private frameBlock(graph: Id, frame: Id, chosen: ReadonlyMap<Id, GraphNode>): Block {
    const laid = this.layOut(this.blocks(graph, frame, chosen));
    const bounds = unite(laid.map(({ block, x, y }) => ({ x, y, width: block.width, height: block.height })))!;
    const pad = this.doc.frames.get(frame)?.pad ?? framePad;
    const turned = this.turn.in({ x: -pad.left, y: -pad.top, width: pad.left + pad.right, height: pad.top + pad.bottom });
    // the pads around the content, in flow coordinates
    const [before, above] = [-turned.x, -turned.y];
    const present = unite(nodesWithin(this.doc, frame).map((node) => this.rects.get(node.id)!))!;
    return {
      id: frame,
      width: bounds.width + turned.width,
      height: bounds.height + turned.height,
      x: present.x - before,
      y: present.y - above,
      inside: laid.flatMap(({ block, x, y }) => block.inside.map((entry) => ({ node: entry.node, x: x - bounds.x + before + entry.x, y: y - bounds.y + above + entry.y }))),
    };
  }

  /** Lays out blocks among themselves: each connected part by its wires, the parts packed side by side. */
  layOut(blocks: readonly Block[]): { block: Block; x: number; y: number }[] {
    const spacing = this.options.spacing ?? normalSpacing;
    const at = new Map<Id, { block: number; y: number }>();
    blocks.forEach((block, i) => {
      for (const entry of block.inside) at.set(entry.node.id, { block: i, y: entry.y });
    });
    const edges = this.wires.filter((wire) => at.has(wire.from.node) && at.has(wire.to.node) && at.get(wire.from.node)!.block !== at.get(wire.to.node)!.block);
    const parts = connectedParts(
      blocks.length,
      edges.map((wire) => [at.get(wire.from.node)!.block, at.get(wire.to.node)!.block]),
    );
    const partOf = new Int32Array(blocks.length);
    parts.forEach((part, p) => {
      for (const i of part) partOf[i] = p;
    });
    const edgesOf: Wire[][] = parts.map(() => []);
    for (const wire of edges) edgesOf[partOf[at.get(wire.from.node)!.block]!]!.push(wire);
    const drawn = parts.map((part, p) => {
      const compiled = this.compile(blocks, part, edgesOf[p]!, at);
      const tick = this.options.tick && ((fraction: number, what: string) => this.options.tick?.((p + fraction) / parts.length, what));
      return { part, ...layoutLayered(compiled, { spacing, keep: this.options.keep, ...(tick && { tick }) }) };
    });
    const order = drawn.map((_, i) => i).sort((a, b) => drawn[b]!.part.length - drawn[a]!.part.length || a - b);
    const places = packShelves(
      order.map((i) => drawn[i]!),
      spacing.across * 2,
    );
    return order.flatMap((i, k) => drawn[i]!.part.map((b, v) => ({ block: blocks[b]!, x: places[k]!.x + drawn[i]!.x[v]!, y: places[k]!.y + drawn[i]!.y[v]! })));
  }

  private compile(blocks: readonly Block[], part: readonly number[], wires: readonly Wire[], at: ReadonlyMap<Id, { block: number; y: number }>): LayeredGraph {
    const local = new Map(part.map((b, v) => [b, v]));
    const offset = (id: Id, port: string, direction: 'in' | 'out'): number => {
      const node = this.doc.nodes.get(id)!;
      const placed = geometryOf(this.doc, this.kinds, node).ports.find((one) => one.id === port && one.direction === direction);
      return at.get(id)!.y + (placed ? this.turn.offset(placed.x, placed.y) : 0);
    };
    const pick = (field: 'width' | 'height' | 'x' | 'y'): Float64Array => Float64Array.from(part, (b) => blocks[b]![field]);
    return {
      count: part.length,
      width: pick('width'),
      height: pick('height'),
      x: pick('x'),
      y: pick('y'),
      from: Int32Array.from(wires, (wire) => local.get(at.get(wire.from.node)!.block)!),
      to: Int32Array.from(wires, (wire) => local.get(at.get(wire.to.node)!.block)!),
      fromOffset: Float64Array.from(wires, (wire) => offset(wire.from.node, wire.from.port, 'out')),
      toOffset: Float64Array.from(wires, (wire) => offset(wire.to.node, wire.to.port, 'in')),
    };
  }

  /** Back from blocks in flow coordinates to nodes on the canvas. */
  positions(laid: readonly { block: Block; x: number; y: number }[]): Map<Id, Rect> {
    const places = new Map<Id, Rect>();
    for (const { block, x, y } of laid) {
      for (const entry of block.inside) {
        const rect = this.rects.get(entry.node.id)!;
        places.set(entry.node.id, this.turn.out({ x: x + entry.x, y: y + entry.y, width: rect.width, height: rect.height }));
      }
    }
    return places;
  }
}

/** Connected parts, each as ascending block numbers, in order of their first block. */
function connectedParts(count: number, edges: readonly (readonly number[])[]): number[][] {
  const parent = Int32Array.from({ length: count }, (_, i) => i);
  const find = (i: number): number => {
    let root = i;
    while (parent[root] !== root) {
      // halving the path keeps the trees flat
      parent[root] = parent[parent[root]!]!;
      root = parent[root]!;
    }
    return root;
  };
  for (const [a, b] of edges) parent[find(a!)] = find(b!);
  const parts = new Map<number, number[]>();
  for (let i = 0; i < count; i++) {
    const root = find(i);
    const part = parts.get(root);
    if (part) part.push(i);
    else parts.set(root, [i]);
  }
  return [...parts.values()];
}

/**
 * Puts the arrangement where the nodes were (same top-left corner), or where its pinned nodes are; pinned nodes get their own places
 * back, and what would lie on them gives way across the flow.
 */
function settleOnPlace(doc: Doc, kinds: Kinds, flow: Flow, placed: Map<Id, Rect>, nodes: readonly GraphNode[], before: Rect | undefined): Map<Id, Place> {
  const bounds = unite(placed.values());
  const places = new Map<Id, Place>();
  if (!bounds || !before) return places;
  const pinned = nodes.filter((node) => node.pinned);
  const mean = (values: number[]): number => values.reduce((sum, value) => sum + value, 0) / values.length;
  const dx = pinned.length > 0 ? mean(pinned.map((node) => node.x - placed.get(node.id)!.x)) : before.x - bounds.x;
  const dy = pinned.length > 0 ? mean(pinned.map((node) => node.y - placed.get(node.id)!.y)) : before.y - bounds.y;
  for (const node of nodes) {
    const rect = placed.get(node.id)!;
    places.set(node.id, node.pinned ? { x: node.x, y: node.y } : { x: Math.round(rect.x + dx), y: Math.round(rect.y + dy) });
  }
  if (pinned.length > 0) giveWay(doc, kinds, flow, nodes, pinned, places);
  return places;
}

/** Moves what overlaps a pinned node across the flow, past it, frames as wholes; each pass can only push further out. */
function giveWay(doc: Doc, kinds: Kinds, flow: Flow, nodes: readonly GraphNode[], pinned: readonly GraphNode[], places: Map<Id, Place>): void {
  const gap = normalSpacing.across;
  const vertical = isVertical(flow);
  const rectAt = (node: GraphNode): Rect => ({ ...places.get(node.id)!, ...size(doc, kinds, node) });
  const fixed: Rect[] = pinned.map(rectAt);
  const groups = new Map<Id, GraphNode[]>();
  for (const node of nodes) {
    if (node.pinned) continue;
    let key = node.id;
    for (let frame = node.frame; frame !== undefined; frame = doc.frames.get(frame)?.parent) if (!nodesWithin(doc, frame).some((one) => one.pinned)) key = frame;
    groups.set(key, [...(groups.get(key) ?? []), node]);
  }
  const boxes = [...groups.values()].map((members) => ({ members, box: unite(members.map(rectAt))! }));
  boxes.sort((a, b) => (vertical ? a.box.x - b.box.x : a.box.y - b.box.y) || compareIds(a.members[0]!.id, b.members[0]!.id));
  for (const { members, box } of boxes) {
    let at = box;
    for (let tries = 0; tries < fixed.length + 1; tries++) {
      const hit = fixed.find((other) => overlaps(at, other));
      if (!hit) break;
      at = vertical ? { ...at, x: hit.x + hit.width + gap } : { ...at, y: hit.y + hit.height + gap };
    }
    if (at !== box) for (const node of members) places.set(node.id, { x: places.get(node.id)!.x + at.x - box.x, y: places.get(node.id)!.y + at.y - box.y });
    fixed.push(at);
  }
}
