import { type Doc, indexOf } from '../document/doc.ts';
import { flowOf, type Rect } from '../document/geometry.ts';
import { compareIds, type Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import type { Wire } from '../document/schema.ts';
import { must } from '../must.ts';
import type { Route } from '../route/route.ts';
import { foldedView } from '../structure/fold.ts';
import { cellSize, type Faults, type FaultType, faultTypes, judge, type Part, placeSize } from './faults.ts';
import { type Line, lengthOf, runsBackward } from './lines.ts';

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

const mostPlaces = 10;
/** Places that lose less are none. */
const leastLost = 0.005;

/**
 * How hard a graph is to read, as docs/readability.md has it, with frames folded that are: a score, what it is made of,
 * and where most of it is lost.
 * O((nodes + pieces) log n + crossings), and the routes where they are not known yet.
 */
export function readability(whole: Doc, kinds: Kinds, graph: Id): Readability {
  const { wires, lines, boxes, faults, parts } = judge(foldedView(whole, kinds), kinds, graph);
  return {
    graph,
    nodes: boxes.nodes.length,
    wires: wires.length,
    score: scoreOfGraph(whole, kinds, graph),
    parts,
    purchase: purchase(whole, graph, wires, lines, faults.count('crossing')),
    places: worstPlaces(faults, parts),
  };
}

/**
 * Purchase, “Metrics for graph drawing aesthetics”, J. Visual Languages and Computing 13 (2002): those that say
 * something where wires end at ports.
 */
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
    const [dx, dy] = [Math.abs(p.x - must(route[i]).x), Math.abs(p.y - must(route[i]).y)];
    const angle = (Math.atan2(dy, dx) * 180) / Math.PI;
    return sum + (Math.min(angle, 90 - angle) / 45) * (Math.hypot(dx, dy) / length);
  }, 0);
}

/**
 * Windows with the most points lost, one after the other, each without the faults of those before it. Cells of half a
 * window each way.
 */
function worstPlaces(faults: Faults, parts: readonly Part[]): Place[] {
  const each = parts.map((part) => (part.count > 0 ? (part.of - part.points) / part.count : 0));
  const lost = faults.cells.map(({ counts }) => counts.reduce((sum, count, t) => sum + count * must(each[t]), 0));
  const taken = new Map<number, number>();
  const around = (x: number, y: number): number[] =>
    [
      faults.cellNumber(x, y),
      faults.cellNumber(x + 1, y),
      faults.cellNumber(x, y + 1),
      faults.cellNumber(x + 1, y + 1),
    ].filter((cell) => cell !== undefined && !taken.has(cell)) as number[];
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
        const sum = around(x, y).reduce((all, one) => all + must(lost[one]), 0);
        if (
          !best ||
          sum > best.sum + 1e-9 ||
          (Math.abs(sum - best.sum) <= 1e-9 && (y < best.y || (y === best.y && x < best.x)))
        )
          best = { x, y, sum };
      }
    });
    if (!best || best.sum < leastLost) break;
    const counts = new Float64Array(faultTypes.length);
    for (const cell of around(best.x, best.y)) {
      must(faults.cells[cell]).counts.forEach((count, t) => {
        counts[t] = must(counts[t]) + count;
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
      .map((type, t) => ({
        type,
        count: must(counts[t]),
        lost: must(counts[t]) * must(each[t]),
        nodes: sorted(must(concerned[i]).get(type) ?? []),
      }))
      .filter((one) => one.lost > 0)
      .sort((one, other) => other.lost - one.lost),
    nodes: sorted(new Set([...must(concerned[i]).values()].flatMap((set) => [...set]))),
  }));
}

/** One score for several graphs: the mean, weighted by nodes. */
export function scoreOf(reports: readonly Pick<Readability, 'nodes' | 'score'>[]): number {
  const nodes = reports.reduce((sum, one) => sum + one.nodes, 0);
  return nodes === 0 ? 100 : reports.reduce((sum, one) => sum + one.score * one.nodes, 0) / nodes;
}

/** Raised when scores are made of something else: those that are kept are then made anew. */
export const scoreVersion = 2;

/** The score of one graph. What is folded away counts as it is inside, by the share of nodes that are. */
export function scoreOfGraph(whole: Doc, kinds: Kinds, graph: Id): number {
  const view = foldedView(whole, kinds);
  const drawn = judge(view, kinds, graph);
  if (view === whole) return drawn.score;
  const all = indexOf(whole).nodesIn(graph).length;
  const seen = drawn.boxes.nodes.filter((node) => whole.nodes.has(node.id)).length;
  const hidden = all === 0 ? 0 : 1 - seen / all;
  return Math.min(drawn.score, hidden * judge(whole, kinds, graph).score + (1 - hidden) * drawn.score);
}

/** The score of a whole document: that of its graphs together, without what it is made of. */
export const scoreOfDoc = (doc: Doc, kinds: Kinds): number =>
  scoreOf(
    [...doc.graphs.keys()].map((graph) => ({
      nodes: indexOf(doc).nodesIn(graph).length,
      score: scoreOfGraph(doc, kinds, graph),
    })),
  );
