import { connectedParts } from '../arrange/layered/parts.ts';
import { type Doc, indexOf } from '../document/doc.ts';
import { flowOf } from '../document/geometry.ts';
import type { Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import { isDefaultName } from '../document/names.ts';
import { perGraph } from '../document/per-graph.ts';
import type { GraphNode, Wire } from '../document/schema.ts';
import { must } from '../must.ts';
import { routesOf } from '../route/route.ts';
import { type Boxes, nodeBoxes } from './boxes.ts';
import { Crossings, type Line, lineOf, readingWindow, runsBackward, windowsOf } from './lines.ts';
import {
  covers,
  hiddenShare,
  legibleAt,
  lostZoom,
  outOfOrder,
  saysSomething,
  sideBySide,
  unlike,
} from './page-faults.ts';

export const faultTypes = [
  'crossing',
  'through',
  'overlap',
  'cover',
  'near',
  'far',
  'fit',
  'bend',
  'backward',
  'unnamed',
  'order',
  'alike',
] as const;
/** What makes a graph hard to read. */
export type FaultType = (typeof faultTypes)[number];

/**
 * How much of the score each is worth, and at what rate half of that is gone. The rate is faults per wire, or per node
 * or for the graph where that is said.
 */
export const scoring: Readonly<
  Record<
    FaultType,
    { readonly title: string; readonly points: number; readonly half: number; readonly per: 'wire' | 'node' | 'graph' }
  >
> = {
  crossing: { title: 'Crossings', points: 18, half: 0.7, per: 'wire' },
  through: { title: 'Wires through nodes', points: 11, half: 0.05, per: 'wire' },
  overlap: { title: 'Overlaps', points: 14, half: 0.05, per: 'node' },
  cover: { title: 'Frames and notes on others', points: 5, half: 0.05, per: 'node' },
  near: { title: 'Wires too near', points: 4, half: 0.1, per: 'wire' },
  far: { title: 'Windows that wires cross', points: 12, half: 0.5, per: 'wire' },
  fit: { title: 'Zoom at which all fits', points: 12, half: 1, per: 'graph' },
  bend: { title: 'Bends', points: 3, half: 4, per: 'wire' },
  backward: { title: 'Backward wires', points: 8, half: 0.1, per: 'wire' },
  unnamed: { title: 'Unnamed things', points: 9, half: 0.5, per: 'node' },
  order: { title: 'Numbers out of order', points: 2, half: 0.1, per: 'node' },
  alike: { title: 'Same parts drawn differently', points: 2, half: 0.3, per: 'node' },
};

/** One line of what a score is made of. */
export interface Part {
  readonly type: FaultType;
  readonly count: number;
  /** Faults per wire or node. */
  readonly rate: number;
  readonly points: number;
  readonly of: number;
}

/** A place is as large as a window; cells of half a window each way are counted apart. */
export const placeSize = readingWindow;
export const cellSize = { width: placeSize.width / 2, height: placeSize.height / 2 };

/** A graph as it is drawn, with all that is wrong with it, and the score that comes of that. */
export interface Judged {
  /** The wires that are drawn, each with its line. */
  readonly wires: readonly Wire[];
  readonly lines: readonly Line[];
  readonly boxes: Boxes;
  readonly faults: Faults;
  readonly size: { readonly wire: number; readonly node: number; readonly graph: number };
  readonly parts: readonly Part[];
  /** 0 to 100. */
  readonly score: number;
}

/**
 * Made once for each version of a document as it is drawn: measures, score, report and rules all stand on it. O((nodes
 * + pieces) log n + crossings), and the routes.
 */
export const judge = perGraph((doc, kinds, graph): Judged => {
  const routes = routesOf(doc, kinds, graph);
  const wires = indexOf(doc)
    .wiresIn(graph)
    .filter((wire) => routes.has(wire.id));
  const lines = wires.map((wire) => must(lineOf(wire, routes.get(wire.id))));
  const boxes = nodeBoxes(doc, kinds, graph);
  const faults = new Faults(lines, boxes.nodes);
  addWires(faults, doc, graph, lines);
  new Crossings(lines).each((one, other, x, y) => faults.add('crossing', x, y, one, other));
  addBoxes(faults, boxes, lines);
  addNames(faults, doc, kinds, graph, boxes);
  for (const { x, y, node } of covers(doc, kinds, graph, boxes)) faults.add('cover', x, y, node);
  for (const { first, second, x, y } of sideBySide(lines)) faults.add('near', x, y, first, second);
  addNodes(faults, boxes, 'order', outOfOrder(boxes));
  addNodes(faults, boxes, 'alike', unlike(doc, kinds, graph, boxes.nodes));
  const size = sizeOf(wires, boxes);
  const lost = lostZoom(boxes);
  const visible = (1 - hiddenShare(boxes)) * legibleAt(lost);
  const parts = faultTypes.map((type): Part => {
    const { points, half, per } = scoring[type];
    const count = type === 'fit' ? lost : faults.count(type);
    const rate = count / Math.max(1, size[per]);
    return { type, count, rate, points: (points * visible) / (1 + rate / half), of: points };
  });
  return { wires, lines, boxes, faults, size, parts, score: parts.reduce((sum, part) => sum + part.points, 0) };
});

/**
 * How small a connected part may be beside the largest, and in nodes, and still count for how much there is: junk
 * beside a graph does not make it better.
 */
const [leastShare, leastPart] = [0.25, 4];

/** What faults are divided by: the wires and nodes of the parts that matter. */
function sizeOf(wires: readonly Wire[], { nodes }: Boxes): Judged['size'] {
  const at = new Map(nodes.map((node, i) => [node.id, i]));
  const parts = connectedParts(
    nodes.length,
    wires.map((wire) => must(at.get(wire.from.node))),
    wires.map((wire) => must(at.get(wire.to.node))),
  );
  const largest = parts.reduce((most, part) => Math.max(most, part.length), 0);
  const counted = new Set(
    parts.filter((part) => part.length >= Math.max(Math.min(leastPart, largest), leastShare * largest)).flat(),
  );
  return {
    wire: wires.filter((wire) => counted.has(must(at.get(wire.from.node)))).length,
    node: counted.size,
    graph: 1,
  };
}

function addNodes(faults: Faults, { rects }: Boxes, type: FaultType, found: readonly number[]): void {
  for (const i of found)
    faults.add(type, must(rects[i]).x + must(rects[i]).width / 2, must(rects[i]).y + must(rects[i]).height / 2, i);
}

/** All faults of a graph as rows of numbers: in a large one there are a hundred thousand. */
export class Faults {
  private readonly lines: readonly Line[];
  private readonly nodes: readonly GraphNode[];
  private readonly types: number[] = [];
  private readonly cellOf: number[] = [];
  private readonly weights: number[] = [];
  /** What it is about: lines and nodes by number, as the type has it. */
  private readonly first: number[] = [];
  private readonly second: number[] = [];
  private readonly counts = new Float64Array(faultTypes.length);
  readonly cells: { readonly x: number; readonly y: number; readonly counts: Float64Array }[] = [];
  private readonly cellAt = new Map<number, number>();

  constructor(lines: readonly Line[], nodes: readonly GraphNode[]) {
    this.lines = lines;
    this.nodes = nodes;
  }

  add(type: FaultType, x: number, y: number, first: number, second = -1, weight = 1): void {
    const [cx, cy] = [Math.floor(x / cellSize.width), Math.floor(y / cellSize.height)];
    const key = cellKey(cx, cy);
    let cell = this.cellAt.get(key);
    if (cell === undefined) {
      cell = this.cells.length;
      this.cellAt.set(key, cell);
      this.cells.push({ x: cx, y: cy, counts: new Float64Array(faultTypes.length) });
    }
    const t = faultTypes.indexOf(type);
    for (const counts of [must(this.cells[cell]).counts, this.counts]) counts[t] = must(counts[t]) + weight;
    this.types.push(t);
    this.cellOf.push(cell);
    this.weights.push(weight);
    this.first.push(first);
    this.second.push(second);
  }

  /** What lies under each line that runs through something, by number. O(faults). */
  get under(): ReadonlyMap<number, readonly number[]> {
    const found = new Map<number, number[]>();
    const through = faultTypes.indexOf('through');
    this.types.forEach((type, i) => {
      if (type !== through) return;
      const list = found.get(must(this.second[i]));
      if (list) list.push(must(this.first[i]));
      else found.set(must(this.second[i]), [must(this.first[i])]);
    });
    return found;
  }

  count(type: FaultType): number {
    return must(this.counts[faultTypes.indexOf(type)]);
  }

  cellNumber(x: number, y: number): number | undefined {
    return this.cellAt.get(cellKey(x, y));
  }

  /** The nodes that are concerned in each of some groups of cells, by type. O(faults). */
  concerned(groupOf: ReadonlyMap<number, number>, groups: number): readonly ReadonlyMap<FaultType, ReadonlySet<Id>>[] {
    const found = Array.from({ length: groups }, () => new Map<FaultType, Set<Id>>());
    this.types.forEach((t, i) => {
      const group = groupOf.get(must(this.cellOf[i]));
      if (group === undefined) return;
      const type = must(faultTypes[t]);
      const set = must(found[group]).get(type) ?? new Set();
      must(found[group]).set(type, set);
      this.whose(type, must(this.first[i]), must(this.second[i]), set);
    });
    return found;
  }

  private whose(type: FaultType, first: number, second: number, into: Set<Id>): void {
    const [line, other] = [this.lines[first], this.lines[second]];
    const node = (i: number): void => void (i >= 0 && into.add(must(this.nodes[i]).id));
    const ends = (one: Line | undefined): void => one?.ends.forEach((id) => into.add(id));
    switch (type) {
      case 'crossing':
        ends(line);
        ends(other);
        break;
      case 'through':
        node(first);
        ends(other);
        break;
      case 'overlap':
        node(first);
        node(second);
        break;
      case 'far':
        into.add(must(line).ends[second as 0 | 1]);
        break;
      case 'unnamed':
      case 'cover':
      case 'order':
      case 'alike':
        node(first);
        break;
      case 'near':
        ends(line);
        ends(other);
        break;
      default:
        ends(line);
    }
  }
}

const cellKey = (x: number, y: number): number => x * 4_194_304 + y;

function addWires(faults: Faults, doc: Doc, graph: Id, lines: readonly Line[]): void {
  const flow = flowOf(doc, graph);
  lines.forEach(({ route }, i) => {
    const [start, end] = [must(route[0]), must(route.at(-1))];
    const [x, y] = [(start.x + end.x) / 2, (start.y + end.y) / 2];
    const windows = windowsOf(route);
    // a wire that spans windows is seen where it begins and where it ends
    if (windows > 0) {
      faults.add('far', start.x, start.y, i, 0, windows / 2);
      faults.add('far', end.x, end.y, i, 1, windows / 2);
    }
    // the points of a curve are no bends
    const bends = doc.head.wireStyle === 'curved' ? 0 : Math.max(0, route.length - 2);
    if (bends > 0) faults.add('bend', x, y, i, -1, bends);
    if (runsBackward(route, flow)) faults.add('backward', x, y, i);
  });
}

function addBoxes(faults: Faults, boxes: Boxes, lines: readonly Line[]): void {
  const { rects } = boxes;
  const [x, y] = [
    (i: number) => must(rects[i]).x + must(rects[i]).width / 2,
    (i: number) => must(rects[i]).y + must(rects[i]).height / 2,
  ];
  for (const [i, k] of boxes.overlapping()) faults.add('overlap', (x(i) + x(k)) / 2, (y(i) + y(k)) / 2, i, k);
  lines.forEach((line, number) => {
    for (const k of boxes.under(line)) faults.add('through', x(k), y(k), k, number);
  });
}

/** Nodes that nobody named or labelled, and frames without a title. */
function addNames(faults: Faults, doc: Doc, kinds: Kinds, graph: Id, boxes: Boxes): void {
  const labels = new Map<string, number>();
  for (const { label } of boxes.nodes) if (label) labels.set(label, (labels.get(label) ?? 0) + 1);
  boxes.nodes.forEach((node, i) => {
    const rect = must(boxes.rects[i]);
    if (!saysSomething(node, kinds, labels.get(node.label ?? '') ?? 0) && isDefaultName(node.name, node.kind, kinds))
      faults.add('unnamed', rect.x + rect.width / 2, rect.y + rect.height / 2, i);
  });
  for (const frame of indexOf(doc).framesIn(graph))
    if (frame.title.trim() === '') faults.add('unnamed', frame.x, frame.y, -1);
}
