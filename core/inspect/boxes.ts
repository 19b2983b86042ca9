import Flatbush from 'flatbush';
import { type Doc, indexOf } from '../document/doc.ts';
import { overlaps, type Point, type Rect, rectOf } from '../document/geometry.ts';
import type { Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import { perGraph } from '../document/per-graph.ts';
import type { GraphNode } from '../document/schema.ts';
import { must } from '../must.ts';
import type { Line } from './lines.ts';

/** The boxes of a graph, made once for each version of a document as it is drawn. */
export const nodeBoxes = perGraph((doc, kinds, graph) => new Boxes(doc, kinds, graph));

/** The nodes of a graph as boxes that can be asked for. Made in O(nodes · log nodes). */
export class Boxes {
  readonly nodes: readonly GraphNode[];
  readonly rects: readonly Rect[];
  private readonly tree: Flatbush | undefined;

  constructor(doc: Doc, kinds: Kinds, graph: Id) {
    this.nodes = indexOf(doc).nodesIn(graph);
    this.rects = this.nodes.map((node) => rectOf(doc, kinds, node));
    if (this.nodes.length === 0) return;
    this.tree = new Flatbush(this.nodes.length);
    for (const rect of this.rects) this.tree.add(rect.x, rect.y, rect.x + rect.width, rect.y + rect.height);
    this.tree.finish();
  }

  /** Pairs of nodes that overlap, by number, each once. */
  overlapping(): [number, number][] {
    return this.rects.flatMap((rect, i) =>
      this.within(rect).flatMap((k): [number, number][] =>
        k > i && overlaps(rect, must(this.rects[k])) ? [[i, k]] : [],
      ),
    );
  }

  /** The nodes that a line runs through without beginning or ending there, by number. */
  under(line: Line): Set<number> {
    const hit = new Set<number>();
    for (let i = 0; i + 1 < line.route.length; i++) {
      const [a, b] = [must(line.route[i]), must(line.route[i + 1])];
      const box = {
        x: Math.min(a.x, b.x),
        y: Math.min(a.y, b.y),
        width: Math.abs(a.x - b.x),
        height: Math.abs(a.y - b.y),
      };
      for (const k of this.within(box)) {
        const rect = must(this.rects[k]);
        if (line.ends.includes(must(this.nodes[k]).id) || hit.has(k)) continue;
        if (
          box.x < rect.x + rect.width &&
          box.x + box.width > rect.x &&
          box.y < rect.y + rect.height &&
          box.y + box.height > rect.y &&
          entersBox(a, b, rect)
        )
          hit.add(k);
      }
    }
    return hit;
  }

  private within({ x, y, width, height }: Rect): number[] {
    return this.tree?.search(x, y, x + width, y + height) ?? [];
  }
}

/** Does a straight piece run through the inside of a box? Liang & Barsky's clipping (1984). */
function entersBox(a: Point, b: Point, rect: { x: number; y: number; width: number; height: number }): boolean {
  let [from, to] = [0, 1];
  const [dx, dy] = [b.x - a.x, b.y - a.y];
  for (const [p, q] of [
    [-dx, a.x - rect.x],
    [dx, rect.x + rect.width - a.x],
    [-dy, a.y - rect.y],
    [dy, rect.y + rect.height - a.y],
  ] as const) {
    if (p === 0) {
      if (q <= 0) return false;
    } else if (p < 0) from = Math.max(from, q / p);
    else to = Math.min(to, q / p);
  }
  return from < to;
}
