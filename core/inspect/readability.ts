import { type Doc, indexOf } from '../document/doc.ts';
import { flowOf, type Rect } from '../document/geometry.ts';
import { compareIds, type Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import { isDefaultName } from '../document/names.ts';
import type { GraphNode, Wire } from '../document/schema.ts';
import { type Route, routesOf } from '../route/route.ts';
import { foldedView } from '../structure/fold.ts';
import { Boxes } from './boxes.ts';
import { Crossings, type Line, lengthOf, lineOf, windowsOf } from './lines.ts';
import { runsBackward } from './measure.ts';

export const faultTypes = ['crossing', 'through', 'overlap', 'far', 'bend', 'backward', 'unnamed'] as const;
/** What makes a graph hard to read. */
export type FaultType = (typeof faultTypes)[number];

/** How much of the score each is worth, and at what rate half of that is gone. The rate is faults per wire, or per node where that is said. */
export const scoring: Readonly<Record<FaultType, { readonly title: string; readonly points: number; readonly half: number; readonly per: 'wire' | 'node' }>> = {
  crossing: { title: 'Crossings', points: 25, half: 1, per: 'wire' },
  through: { title: 'Wires through nodes', points: 15, half: 0.05, per: 'wire' },
  overlap: { title: 'Overlaps', points: 15, half: 0.05, per: 'node' },
  far: { title: 'Windows that wires span', points: 15, half: 0.5, per: 'wire' },
  bend: { title: 'Bends', points: 5, half: 4, per: 'wire' },
  backward: { title: 'Backward wires', points: 10, half: 0.1, per: 'wire' },
  unnamed: { title: 'Unnamed things', points: 15, half: 0.5, per: 'node' },
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

/** The measures of Purchase (2002) that fit graphs with ports: 1 is best, 0 worst. */
export interface Purchase {
  /** 1 − crossings ÷ the most there could be. */
  readonly crossings: number;
  /** Wires ÷ (wires + bends). */
  readonly bends: number;
  /** 1 − the mean deviation of pieces from upright or level, weighted by wire, of 45°. */
  readonly orthogonality: number;
  /** The share of wires that run with the flow. */
  readonly flow: number;
}

/** A part of a graph, as large as a window, in which much is wrong. */
export interface Place {
  readonly rect: Rect;
  /** Points of the score that are lost here. */
  readonly lost: number;
  /** What is wrong, the worst first. */
  readonly faults: readonly PlaceFaults[];
  /** All nodes that are concerned. */
  readonly nodes: readonly Id[];
}

/** The faults of one type in a place. */
export interface PlaceFaults {
  readonly type: FaultType;
  readonly count: number;
  readonly lost: number;
  /** The ends of wires, what overlaps or is run through, what has no name. */
  readonly nodes: readonly Id[];
}

export interface Readability {
  readonly graph: Id;
  readonly nodes: number;
  readonly wires: number;
  /** 0 to 100; 100 where nothing is wrong. */
  readonly score: number;
  readonly parts: readonly Part[];
  readonly purchase: Purchase;
  /** The worst first, at most ten; they share no fault. */
  readonly places: readonly Place[];
}

const placeSize = { width: 1280, height: 800 };
const cellSize = { width: placeSize.width / 2, height: placeSize.height / 2 };
const mostPlaces = 10;
/** Places that lose less are none. */
const leastLost = 0.005;

/**
 * How hard a graph is to read, as docs/readability.md has it, with frames folded that are: a score, what it is made of, and where most of it is lost.
 * O((nodes + pieces) log n + crossings), and the routes where they are not known yet.
 */
export function readability(whole: Doc, kinds: Kinds, graph: Id): Readability {
  const doc = foldedView(whole, kinds);
  const routes = routesOf(doc, kinds, graph);
  const wires = indexOf(doc)
    .wiresIn(graph)
    .filter((wire) => routes.has(wire.id));
  const lines = wires.map((wire) => lineOf(wire, routes.get(wire.id))!);
  const boxes = new Boxes(doc, kinds, graph);
  const faults = new Faults(lines, boxes.nodes);
  addWires(faults, doc, graph, lines);
  new Crossings(lines).each((one, other, x, y) => faults.add('crossing', x, y, one, other));
  addBoxes(faults, boxes, lines);
  addNames(faults, doc, kinds, graph, boxes);
  const size = { wire: wires.length, node: boxes.nodes.length };
  const parts = faultTypes.map((type): Part => {
    const { points, half, per } = scoring[type];
    const count = faults.count(type);
    const rate = count / Math.max(1, size[per]);
    return { type, count, rate, points: points / (1 + rate / half), of: points };
  });
  return {
    graph,
    nodes: size.node,
    wires: size.wire,
    score: parts.reduce((sum, part) => sum + part.points, 0),
    parts,
    purchase: purchase(doc, graph, wires, lines, faults.count('crossing')),
    places: worstPlaces(faults, parts),
  };
}

/** All faults of a graph as rows of numbers: in a large one there are a hundred thousand. */
class Faults {
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
    this.cells[cell]!.counts[t]! += weight;
    this.counts[t]! += weight;
    this.types.push(t);
    this.cellOf.push(cell);
    this.weights.push(weight);
    this.first.push(first);
    this.second.push(second);
  }

  count(type: FaultType): number {
    return this.counts[faultTypes.indexOf(type)]!;
  }

  cellNumber(x: number, y: number): number | undefined {
    return this.cellAt.get(cellKey(x, y));
  }

  /** The nodes that are concerned in each of some groups of cells, by type. O(faults). */
  concerned(groupOf: ReadonlyMap<number, number>, groups: number): readonly ReadonlyMap<FaultType, ReadonlySet<Id>>[] {
    const found = Array.from({ length: groups }, () => new Map<FaultType, Set<Id>>());
    this.types.forEach((t, i) => {
      const group = groupOf.get(this.cellOf[i]!);
      if (group === undefined) return;
      const type = faultTypes[t]!;
      const set = found[group]!.get(type) ?? new Set();
      found[group]!.set(type, set);
      this.whose(type, this.first[i]!, this.second[i]!, set);
    });
    return found;
  }

  private whose(type: FaultType, first: number, second: number, into: Set<Id>): void {
    const [line, other] = [this.lines[first], this.lines[second]];
    const node = (i: number): void => void (i >= 0 && into.add(this.nodes[i]!.id));
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
        into.add(line!.ends[second as 0 | 1]);
        break;
      case 'unnamed':
        node(first);
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
    const [start, end] = [route[0]!, route.at(-1)!];
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
  const [x, y] = [(i: number) => rects[i]!.x + rects[i]!.width / 2, (i: number) => rects[i]!.y + rects[i]!.height / 2];
  for (const [i, k] of boxes.overlapping()) faults.add('overlap', (x(i) + x(k)) / 2, (y(i) + y(k)) / 2, i, k);
  lines.forEach((line, number) => {
    for (const k of boxes.under(line)) faults.add('through', x(k), y(k), k, number);
  });
}

/** Nodes that nobody named or labelled, and frames without a title. */
function addNames(faults: Faults, doc: Doc, kinds: Kinds, graph: Id, boxes: Boxes): void {
  boxes.nodes.forEach((node, i) => {
    const rect = boxes.rects[i]!;
    if (!node.label && isDefaultName(node.name, node.kind, kinds)) faults.add('unnamed', rect.x + rect.width / 2, rect.y + rect.height / 2, i);
  });
  for (const frame of indexOf(doc).framesIn(graph)) if (frame.title.trim() === '') faults.add('unnamed', frame.x, frame.y, -1);
}

/** Purchase, “Metrics for graph drawing aesthetics”, J. Visual Languages and Computing 13 (2002): those that say something where wires end at ports. */
function purchase(doc: Doc, graph: Id, wires: readonly Wire[], lines: readonly Line[], crossings: number): Purchase {
  const m = wires.length;
  const degree = new Map<Id, number>();
  for (const { from, to } of wires) for (const { node } of [from, to]) degree.set(node, (degree.get(node) ?? 0) + 1);
  const impossible = [...degree.values()].reduce((sum, d) => sum + (d * (d - 1)) / 2, 0);
  const most = (m * (m - 1)) / 2 - impossible;
  const bends = lines.reduce((sum, { route }) => sum + Math.max(0, route.length - 2), 0);
  const deviation = lines.reduce((sum, { route }) => sum + meanDeviation(route), 0);
  const flow = flowOf(doc, graph);
  const against = lines.filter(({ route }) => runsBackward(route, flow)).length;
  return {
    crossings: most > 0 ? Math.max(0, 1 - crossings / most) : 1,
    bends: m === 0 ? 1 : m / (m + bends),
    orthogonality: m === 0 ? 1 : 1 - deviation / m,
    flow: m === 0 ? 1 : 1 - against / m,
  };
}

/** How far the pieces of a route are from upright or level, by their lengths: 0 to 1, which is 45°. */
function meanDeviation(route: Route): number {
  const length = lengthOf(route);
  if (length === 0) return 0;
  return route.slice(1).reduce((sum, p, i) => {
    const [dx, dy] = [Math.abs(p.x - route[i]!.x), Math.abs(p.y - route[i]!.y)];
    const angle = (Math.atan2(dy, dx) * 180) / Math.PI;
    return sum + (Math.min(angle, 90 - angle) / 45) * (Math.hypot(dx, dy) / length);
  }, 0);
}

/** Windows with the most points lost, one after the other, each without the faults of those before it. Cells of half a window each way. */
function worstPlaces(faults: Faults, parts: readonly Part[]): Place[] {
  const each = parts.map((part) => (part.count > 0 ? (part.of - part.points) / part.count : 0));
  const lost = faults.cells.map(({ counts }) => counts.reduce((sum, count, t) => sum + count * each[t]!, 0));
  const taken = new Map<number, number>();
  const around = (x: number, y: number): number[] =>
    [faults.cellNumber(x, y), faults.cellNumber(x + 1, y), faults.cellNumber(x, y + 1), faults.cellNumber(x + 1, y + 1)].filter(
      (cell) => cell !== undefined && !taken.has(cell),
    ) as number[];
  const places: { x: number; y: number; sum: number; counts: Float64Array }[] = [];
  while (places.length < mostPlaces) {
    let best: { x: number; y: number; sum: number } | undefined;
    faults.cells.forEach((cell, i) => {
      if (taken.has(i)) return;
      for (const [x, y] of [
        [cell.x, cell.y],
        [cell.x - 1, cell.y],
        [cell.x, cell.y - 1],
        [cell.x - 1, cell.y - 1],
      ] as const) {
        const sum = around(x, y).reduce((all, one) => all + lost[one]!, 0);
        if (!best || sum > best.sum + 1e-9 || (Math.abs(sum - best.sum) <= 1e-9 && (y < best.y || (y === best.y && x < best.x)))) best = { x, y, sum };
      }
    });
    if (!best || best.sum < leastLost) break;
    const counts = new Float64Array(faultTypes.length);
    for (const cell of around(best.x, best.y)) {
      faults.cells[cell]!.counts.forEach((count, t) => {
        counts[t]! += count;
      });
      taken.set(cell, places.length);
    }
    places.push({ ...best, counts });
  }
  const concerned = faults.concerned(taken, places.length);
  const sorted = (ids: Iterable<Id>): Id[] => [...ids].sort(compareIds);
  return places.map(({ x, y, sum, counts }, i) => ({
    rect: { x: x * cellSize.width, y: y * cellSize.height, ...placeSize },
    lost: sum,
    faults: faultTypes
      .map((type, t) => ({ type, count: counts[t]!, lost: counts[t]! * each[t]!, nodes: sorted(concerned[i]!.get(type) ?? []) }))
      .filter((one) => one.lost > 0)
      .sort((one, other) => other.lost - one.lost),
    nodes: sorted(new Set([...concerned[i]!.values()].flatMap((set) => [...set]))),
  }));
}

/** One score for several graphs: the mean, weighted by nodes. */
export function scoreOf(reports: readonly Pick<Readability, 'nodes' | 'score'>[]): number {
  const nodes = reports.reduce((sum, one) => sum + one.nodes, 0);
  return nodes === 0 ? 100 : reports.reduce((sum, one) => sum + one.score * one.nodes, 0) / nodes;
}

/** Raised when scores are made of something else: those that are kept are then made anew. */
export const scoreVersion = 1;

/** The score of a whole document: that of its graphs together. */
export const scoreOfDoc = (doc: Doc, kinds: Kinds): number => scoreOf([...doc.graphs.keys()].map((graph) => readability(doc, kinds, graph)));
