import { type Doc, indexOf } from '../document/doc.ts';
import { flowOf, framePad, isVertical, rectOf } from '../document/geometry.ts';
import { compareIds, type Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import type { Frame, GraphNode } from '../document/schema.ts';
import { must } from '../must.ts';
import type { Place } from './by-wiring.ts';

/** Gaps between the columns and between the nodes of one, in pixels. */
const [between, beside, bands] = [70, 24, 60];
/** Width ÷ height that the whole is to have, about that of a window. */
const proportion = 1.6;

/** Something that is placed as one: a node, or a frame with all in it. */
interface Item {
  readonly id: Id;
  /** Along the flow and across it, in pixels. */
  readonly along: number;
  readonly across: number;
}

/**
 * Places for very many nodes, quickly and roughly: in columns along the wires, each sorted by where its wires come from,
 * wrapped into bands of the shape of a window; frames are placed as one, with their members in them. Nothing overlaps.
 * O((nodes + wires) log nodes), where `arrangeByWiring` takes far more.
 */
export function placeQuickly(doc: Doc, kinds: Kinds, graph: Id, nodes: readonly GraphNode[]): Map<Id, Place> {
  return new Quick(doc, kinds, graph, nodes).run();
}

class Quick {
  private readonly doc: Doc;
  private readonly kinds: Kinds;
  private readonly graph: Id;
  private readonly nodes: ReadonlyMap<Id, GraphNode>;
  private readonly isUpright: boolean;
  private readonly isReversed: boolean;
  private readonly edges: ReadonlyMap<Id | undefined, readonly (readonly [Id, Id])[]>;
  /** The places of members in their frame or graph, from its corner, along and across. */
  private readonly at = new Map<Id, { along: number; across: number }>();

  constructor(doc: Doc, kinds: Kinds, graph: Id, nodes: readonly GraphNode[]) {
    this.doc = doc;
    this.kinds = kinds;
    this.graph = graph;
    this.nodes = new Map([...nodes].sort((a, b) => compareIds(a.id, b.id)).map((node) => [node.id, node]));
    const flow = flowOf(doc, graph);
    this.isUpright = isVertical(flow);
    this.isReversed = flow === 'left' || flow === 'up';
    this.edges = this.edgesByContainer();
  }

  run(): Map<Id, Place> {
    const members = new Map<Id | undefined, Id[]>();
    const put = (frame: Id | undefined, id: Id): void => {
      const list = members.get(frame);
      if (list) list.push(id);
      else members.set(frame, [id]);
    };
    for (const node of this.nodes.values())
      put(this.doc.frames.has(node.frame ?? '') ? node.frame : undefined, node.id);
    const frames = indexOf(this.doc).framesIn(this.graph);
    for (const frame of frames) put(frame.parent, frame.id);
    // the innermost first, so that the size of what is in a frame is known
    const depth = (frame: Frame): number => {
      let count = 0;
      for (let one: Frame | undefined = frame; one?.parent !== undefined; one = this.doc.frames.get(one.parent))
        count++;
      return count;
    };
    const sizes = new Map<Id, Item>();
    for (const frame of [...frames].sort((a, b) => depth(b) - depth(a))) {
      const inside = this.lay(this.itemsOf(members.get(frame.id) ?? [], sizes), frame.id);
      const pad = frame.pad ?? framePad;
      const [along, across] = this.isUpright
        ? [inside.along + pad.top + pad.bottom, inside.across + pad.left + pad.right]
        : [inside.along + pad.left + pad.right, inside.across + pad.top + pad.bottom];
      sizes.set(frame.id, { id: frame.id, along, across });
    }
    const whole = this.lay(this.itemsOf(members.get(undefined) ?? [], sizes), undefined);
    return this.unfold(whole.along);
  }

  private itemsOf(ids: readonly Id[], frames: ReadonlyMap<Id, Item>): Item[] {
    return ids.flatMap((id): Item[] => {
      const node = this.nodes.get(id);
      if (!node) {
        const frame = frames.get(id);
        return frame && (frame.along > 0 || frame.across > 0) ? [frame] : [];
      }
      const { width, height } = rectOf(this.doc, this.kinds, node);
      return [this.isUpright ? { id, along: height, across: width } : { id, along: width, across: height }];
    });
  }

  /** The frames around a node, the innermost first. */
  private framesOf(node: Id): Id[] {
    const found: Id[] = [];
    for (let at = this.nodes.get(node)?.frame; at !== undefined && found.length < 200; ) {
      const frame: Frame | undefined = this.doc.frames.get(at);
      if (!frame) break;
      found.push(at);
      at = frame.parent;
    }
    return found;
  }

  /** Each wire as an edge between two items of the innermost container that holds both its ends. */
  private edgesByContainer(): Map<Id | undefined, [Id, Id][]> {
    const edges = new Map<Id | undefined, [Id, Id][]>();
    for (const wire of this.doc.wires.values()) {
      if (!this.nodes.has(wire.from.node) || !this.nodes.has(wire.to.node)) continue;
      const [from, to] = [
        [wire.from.node, ...this.framesOf(wire.from.node)],
        [wire.to.node, ...this.framesOf(wire.to.node)],
      ];
      // up from the outside in, as long as both lie in the same
      let [i, k] = [from.length - 1, to.length - 1];
      while (i > 0 && k > 0 && from[i] === to[k]) {
        i--;
        k--;
      }
      const container = from[i + 1];
      const list = edges.get(container);
      const edge: [Id, Id] = [must(from[i]), must(to[k])];
      if (list) list.push(edge);
      else edges.set(container, [edge]);
    }
    return edges;
  }

  /** Lays out the items of a container. Returns how much room they take. */
  private lay(items: readonly Item[], container: Id | undefined): { along: number; across: number } {
    if (items.length === 0) return { along: 0, across: 0 };
    const index = new Map(items.map((item, i) => [item.id, i]));
    const after: number[][] = items.map(() => []);
    const before: number[][] = items.map(() => []);
    for (const [one, other] of this.edges.get(container) ?? []) {
      const [from, to] = [index.get(one), index.get(other)];
      if (from === undefined || to === undefined || from === to) continue;
      must(after[from]).push(to);
      must(before[to]).push(from);
    }
    const layers = columns(after, before);
    return this.put(items, layers, before, after);
  }

  /** Columns beside one another, sorted, in bands below one another. */
  private put(
    items: readonly Item[],
    layers: readonly (readonly number[])[],
    before: readonly (readonly number[])[],
    after: readonly (readonly number[])[],
  ): { along: number; across: number } {
    const area = items.reduce((sum, { along, across }) => sum + (along + between) * (across + beside), 0);
    const ratio = this.isUpright ? 1 / proportion : proportion;
    const widest = items.reduce((most, { along }) => Math.max(most, along), 0);
    const limit = Math.max(Math.sqrt(area * ratio), widest);
    const tallest = items.reduce((most, { across }) => Math.max(most, across), 0);
    const height = Math.max(Math.sqrt(area / ratio), tallest);
    const rank = new Float64Array(items.length);
    const middle = (of: readonly number[], own: number): number =>
      of.length === 0 ? own : of.reduce((sum, i) => sum + must(rank[i]), 0) / of.length;
    const sorted = layers.map((layer) => [...layer]);
    for (const layer of sorted) for (const [k, i] of layer.entries()) rank[i] = k / layer.length;
    // there and back and there again, by the middle of what they are wired to (Sugiyama and others, 1981)
    for (const [list, neighbours] of [
      [sorted, before],
      [[...sorted].reverse(), after],
      [sorted, before],
    ] as const)
      for (const layer of list) {
        const wish = new Map(layer.map((i) => [i, middle(must(neighbours[i]), must(rank[i]))]));
        layer.sort((a, b) => must(wish.get(a)) - must(wish.get(b)) || a - b);
        for (const [k, i] of layer.entries()) rank[i] = (k + 0.5) / layer.length;
      }
    let [along, across, bandHeight, reach] = [0, 0, 0, 0];
    for (const layer of sorted) {
      // a column that is too long stands in several
      for (let at = 0; at < layer.length; ) {
        let [wide, tall] = [0, 0];
        const part: number[] = [];
        while (at < layer.length) {
          const item = must(items[must(layer[at])]);
          if (part.length > 0 && tall + item.across > height) break;
          part.push(must(layer[at++]));
          wide = Math.max(wide, item.along);
          tall += item.across + beside;
        }
        if (along > 0 && along + wide > limit) {
          across += bandHeight + bands;
          [along, bandHeight] = [0, 0];
        }
        let down = 0;
        for (const i of part) {
          const item = must(items[i]);
          this.at.set(item.id, { along, across: across + down });
          down += item.across + beside;
        }
        along += wide + between;
        bandHeight = Math.max(bandHeight, down - beside);
        reach = Math.max(reach, along - between);
      }
    }
    return { along: reach, across: across + bandHeight };
  }

  /** From places within frames to places in the graph; turned where the flow runs back. */
  private unfold(extent: number): Map<Id, Place> {
    const corners = new Map<Id | undefined, { along: number; across: number }>([[undefined, { along: 0, across: 0 }]]);
    const corner = (frame: Id | undefined): { along: number; across: number } => {
      const known = corners.get(frame);
      if (known) return known;
      const own = this.at.get(must(frame)) ?? { along: 0, across: 0 };
      const { parent, pad = framePad } = must(this.doc.frames.get(must(frame)));
      const outer = corner(parent !== undefined && this.doc.frames.has(parent) ? parent : undefined);
      const [before, above] = this.isUpright ? [pad.top, pad.left] : [this.isReversed ? pad.right : pad.left, pad.top];
      const made = { along: outer.along + own.along + before, across: outer.across + own.across + above };
      corners.set(frame, made);
      return made;
    };
    const places = new Map<Id, Place>();
    for (const node of this.nodes.values()) {
      const base = corner(this.doc.frames.has(node.frame ?? '') ? node.frame : undefined);
      const own = must(this.at.get(node.id));
      const { width, height } = rectOf(this.doc, this.kinds, node);
      const along = base.along + own.along;
      const turned = this.isReversed ? extent - along - (this.isUpright ? height : width) : along;
      const across = base.across + own.across;
      const [x, y] = this.isUpright ? [across, turned] : [turned, across];
      places.set(node.id, { x: Math.round(x), y: Math.round(y) });
    }
    return places;
  }
}

/**
 * The items in columns: each behind all that lead to it, as near to them as can be; edges that close a loop do not
 * count. O(items + edges).
 */
function columns(after: readonly (readonly number[])[], before: readonly (readonly number[])[]): number[][] {
  const depth = new Int32Array(after.length);
  const waiting = Int32Array.from(before, (list) => list.length);
  const done = new Uint8Array(after.length);
  const ready: number[] = [];
  for (let i = 0; i < after.length; i++) if (waiting[i] === 0) ready.push(i);
  let next = 0;
  let left = 0;
  for (let count = 0; count < after.length; ) {
    let at = ready[next++];
    if (at === undefined) {
      // a loop: it begins at the first of what is left
      while (done[left]) left++;
      at = left;
    }
    if (done[at]) continue;
    done[at] = 1;
    count++;
    for (const to of must(after[at])) {
      if (done[to]) continue;
      depth[to] = Math.max(must(depth[to]), must(depth[at]) + 1);
      waiting[to] = must(waiting[to]) - 1;
      if (waiting[to] === 0) ready.push(to);
    }
  }
  const layers: number[][] = [];
  depth.forEach((at, i) => {
    const layer = layers[at];
    if (layer) layer.push(i);
    else layers[at] = [i];
  });
  return layers.filter((layer) => layer !== undefined);
}
