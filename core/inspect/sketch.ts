import { type Doc, indexOf } from '../document/doc.ts';
import { frameRects, portPoint, rectOf, unite } from '../document/geometry.ts';
import type { Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import { must } from '../must.ts';
import { foldedView } from '../structure/fold.ts';

/**
 * A graph in small, the outermost where none is named, as numbers: what thumbnails are drawn from. Scaled into `width`
 * × `height` thumbnail pixels.
 * Rows are flat: a node x, y, width, height, hue; a frame x, y, width, height; a wire x1, y1, x2, y2. What is marked is a
 * rectangle beside what it marks.
 */
export interface Sketch {
  readonly width: number;
  readonly height: number;
  readonly nodes: readonly number[];
  readonly frames: readonly number[];
  readonly wires: readonly number[];
  readonly marked?: readonly number[];
}

/**
 * O(nodes + wires). Wires that would be shorter than a pixel are left out. `marked`: nodes, frames, notes and wires to
 * be pointed at; of wires the node that they feed.
 */
export function sketch(
  whole: Doc,
  kinds: Kinds,
  {
    width = 320,
    height = 180,
    graph = whole.head.root,
    marked,
  }: { width?: number; height?: number; graph?: Id; marked?: ReadonlySet<Id> } = {},
): Sketch {
  const doc = foldedView(whole, kinds);
  const index = indexOf(doc);
  const root = graph;
  const nodes = index.nodesIn(root);
  const frames = frameRects(doc, kinds, root);
  const frameBoxes = [...frames.values()];
  const rects = nodes.map((node) => rectOf(doc, kinds, node));
  const bounds = unite([...rects, ...frameBoxes]) ?? { x: 0, y: 0, width: 1, height: 1 };
  const margin = 8;
  const scale = Math.min(
    (width - 2 * margin) / Math.max(1, bounds.width),
    (height - 2 * margin) / Math.max(1, bounds.height),
    0.5,
  );
  const left = (width - bounds.width * scale) / 2 - bounds.x * scale;
  const top = (height - bounds.height * scale) / 2 - bounds.y * scale;
  const round = (value: number): number => Math.round(value * 10) / 10;
  const box = (rect: { x: number; y: number; width: number; height: number }): number[] => [
    round(rect.x * scale + left),
    round(rect.y * scale + top),
    round(Math.max(1, rect.width * scale)),
    round(Math.max(1, rect.height * scale)),
  ];
  const wires: number[] = [];
  for (const wire of index.wiresIn(root)) {
    const from = portPoint(doc, kinds, must(doc.nodes.get(wire.from.node)), wire.from.port, 'out');
    const to = portPoint(doc, kinds, must(doc.nodes.get(wire.to.node)), wire.to.port, 'in');
    if (!from || !to) continue;
    const row = [
      round(from.x * scale + left),
      round(from.y * scale + top),
      round(to.x * scale + left),
      round(to.y * scale + top),
    ];
    if (Math.hypot(must(row[2]) - must(row[0]), must(row[3]) - must(row[1])) >= 1) wires.push(...row);
  }
  const isMarked = (id: Id): boolean => marked?.has(id) === true;
  const fed = new Set(index.wiresIn(root).flatMap((wire) => (isMarked(wire.id) ? [wire.to.node] : [])));
  const marks = marked && [
    ...nodes.flatMap((node, i) => (isMarked(node.id) || fed.has(node.id) ? box(must(rects[i])) : [])),
    ...[...frames].flatMap(([id, rect]) => (isMarked(id) ? box(rect) : [])),
    // a note may lie outside of what is drawn
    ...index.notesIn(root).flatMap((note) => {
      const [x = 0, y = 0, w = 0, h = 0] = box(note);
      return isMarked(note.id) && x >= 0 && y >= 0 && x + w <= width && y + h <= height ? [x, y, w, h] : [];
    }),
  ];
  return {
    ...(marks && { marked: marks }),
    width,
    height,
    nodes: nodes.flatMap((node, i) => [...box(must(rects[i])), kinds.category(node.kind).hue]),
    frames: frameBoxes.flatMap(box),
    wires,
  };
}
