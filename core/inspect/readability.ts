import { type Doc, indexOf } from '../document/doc.ts';
import { flowOf, type Point, type Rect } from '../document/geometry.ts';
import { compareIds, type Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import { isDefaultName } from '../document/names.ts';
import type { Wire } from '../document/schema.ts';
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

interface Fault {
  readonly type: FaultType;
  readonly at: Point;
  readonly nodes: readonly Id[];
  readonly weight: number;
}

const placeSize = { width: 1280, height: 800 };
const mostPlaces = 10;

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
  const faults = [...wireFaults(doc, graph, wires, lines), ...crossingFaults(lines), ...boxFaults(boxes, lines), ...nameFaults(doc, kinds, graph, boxes)];
  const counts = new Map<FaultType, number>();
  for (const fault of faults) counts.set(fault.type, (counts.get(fault.type) ?? 0) + fault.weight);
  const size = { wire: wires.length, node: boxes.nodes.length };
  const parts = faultTypes.map((type): Part => {
    const { points, half, per } = scoring[type];
    const count = counts.get(type) ?? 0;
    const rate = count / Math.max(1, size[per]);
    return { type, count, rate, points: points / (1 + rate / half), of: points };
  });
  return {
    graph,
    nodes: size.node,
    wires: size.wire,
    score: parts.reduce((sum, part) => sum + part.points, 0),
    parts,
    purchase: purchase(doc, graph, wires, lines, counts.get('crossing') ?? 0),
    places: worstPlaces(faults, parts),
  };
}

const middle = (a: Point, b: Point): Point => ({ x: (a.x + b.x) / 2, y: (a.y + b.y) / 2 });
const centre = ({ x, y, width, height }: Rect): Point => ({ x: x + width / 2, y: y + height / 2 });

function wireFaults(doc: Doc, graph: Id, wires: readonly Wire[], lines: readonly Line[]): Fault[] {
  const flow = flowOf(doc, graph);
  return wires.flatMap((_, i) => {
    const { route, ends } = lines[i]!;
    const at = middle(route[0]!, route.at(-1)!);
    const found: Fault[] = [];
    const windows = windowsOf(route);
    // a wire that spans windows is seen where it begins and where it ends
    if (windows > 0) for (const [k, end] of [route[0]!, route.at(-1)!].entries()) found.push({ type: 'far', at: end, nodes: [ends[k]!], weight: windows / 2 });
    // the points of a curve are no bends
    const bends = doc.head.wireStyle === 'curved' ? 0 : Math.max(0, route.length - 2);
    if (bends > 0) found.push({ type: 'bend', at, nodes: ends, weight: bends });
    if (runsBackward(route, flow)) found.push({ type: 'backward', at, nodes: ends, weight: 1 });
    return found;
  });
}

function crossingFaults(lines: readonly Line[]): Fault[] {
  const found: Fault[] = [];
  new Crossings(lines).each((a, b, at) => found.push({ type: 'crossing', at, nodes: [...lines[a]!.ends, ...lines[b]!.ends], weight: 1 }));
  return found;
}

function boxFaults(boxes: Boxes, lines: readonly Line[]): Fault[] {
  const { nodes, rects } = boxes;
  const over = boxes.overlapping().map(([i, k]): Fault => ({ type: 'overlap', at: middle(centre(rects[i]!), centre(rects[k]!)), nodes: [nodes[i]!.id, nodes[k]!.id], weight: 1 }));
  const through = lines.flatMap((line) => [...boxes.under(line)].map((k): Fault => ({ type: 'through', at: centre(rects[k]!), nodes: [nodes[k]!.id, ...line.ends], weight: 1 })));
  return [...over, ...through];
}

/** Nodes that nobody named or labelled, and frames without a title. */
function nameFaults(doc: Doc, kinds: Kinds, graph: Id, boxes: Boxes): Fault[] {
  const nodes = boxes.nodes.flatMap((node, i): Fault[] =>
    !node.label && isDefaultName(node.name, node.kind, kinds) ? [{ type: 'unnamed', at: centre(boxes.rects[i]!), nodes: [node.id], weight: 1 }] : [],
  );
  const frames = indexOf(doc)
    .framesIn(graph)
    .flatMap((frame): Fault[] => (frame.title.trim() === '' ? [{ type: 'unnamed', at: { x: frame.x, y: frame.y }, nodes: [], weight: 1 }] : []));
  return [...nodes, ...frames];
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
function worstPlaces(faults: readonly Fault[], parts: readonly Part[]): Place[] {
  const each = new Map(parts.map((part) => [part.type, part.count > 0 ? (part.of - part.points) / part.count : 0]));
  const lost = (fault: Fault): number => fault.weight * each.get(fault.type)!;
  const [w, h] = [placeSize.width / 2, placeSize.height / 2];
  const cells = new Map<string, { x: number; y: number; faults: Fault[]; lost: number }>();
  for (const fault of faults) {
    const [x, y] = [Math.floor(fault.at.x / w), Math.floor(fault.at.y / h)];
    const cell = cells.get(`${x} ${y}`) ?? { x, y, faults: [], lost: 0 };
    cell.faults.push(fault);
    cell.lost += lost(fault);
    cells.set(`${x} ${y}`, cell);
  }
  const around = (x: number, y: number) =>
    [cells.get(`${x} ${y}`), cells.get(`${x + 1} ${y}`), cells.get(`${x} ${y + 1}`), cells.get(`${x + 1} ${y + 1}`)].filter((cell) => cell !== undefined);
  const places: Place[] = [];
  while (places.length < mostPlaces) {
    let best: { x: number; y: number; sum: number } | undefined;
    for (const cell of cells.values())
      for (const [x, y] of [
        [cell.x, cell.y],
        [cell.x - 1, cell.y],
        [cell.x, cell.y - 1],
        [cell.x - 1, cell.y - 1],
      ] as const) {
        const sum = around(x, y).reduce((all, one) => all + one.lost, 0);
        if (!best || sum > best.sum + 1e-9 || (Math.abs(sum - best.sum) <= 1e-9 && (y < best.y || (y === best.y && x < best.x)))) best = { x, y, sum };
      }
    if (!best || best.sum < 0.005) break;
    const taken = around(best.x, best.y);
    const own = taken.flatMap((cell) => cell.faults);
    for (const cell of taken) cells.delete(`${cell.x} ${cell.y}`);
    const byType = faultTypes.map((type) => {
      const some = own.filter((fault) => fault.type === type);
      return { type, count: some.reduce((sum, fault) => sum + fault.weight, 0), lost: some.reduce((sum, fault) => sum + lost(fault), 0), nodes: concerned(some) };
    });
    places.push({
      rect: { x: best.x * w, y: best.y * h, ...placeSize },
      lost: best.sum,
      faults: byType.filter((one) => one.lost > 0).sort((a, b) => b.lost - a.lost),
      nodes: concerned(own),
    });
  }
  return places;
}

const concerned = (faults: readonly Fault[]): Id[] => [...new Set(faults.flatMap((fault) => fault.nodes))].sort(compareIds);

/** What helps most against a fault: an operation on the nodes concerned, and what it does in a few words. */
export const remedies: Readonly<Record<FaultType, { readonly operation: string; readonly options?: Readonly<Record<string, unknown>>; readonly words: string }>> = {
  crossing: { operation: 'arrange', words: 'Arrange these nodes by their wiring' },
  through: { operation: 'arrange', words: 'Arrange these nodes, so that wires find a way' },
  overlap: { operation: 'unstack', words: 'Unstack what overlaps' },
  far: { operation: 'link-advised', words: 'Turn the worst of these wires into remote links' },
  bend: { operation: 'arrange', words: 'Arrange these nodes by their wiring' },
  backward: { operation: 'arrange', words: 'Arrange these nodes by their wiring' },
  unnamed: { operation: 'captions', options: { target: 'name', pattern: '{frame}_{kind}', mend: true }, words: 'Name these nodes after their frame and kind' },
};

/** One score for several graphs: the mean, weighted by nodes. */
export function scoreOf(reports: readonly Pick<Readability, 'nodes' | 'score'>[]): number {
  const nodes = reports.reduce((sum, one) => sum + one.nodes, 0);
  return nodes === 0 ? 100 : reports.reduce((sum, one) => sum + one.score * one.nodes, 0) / nodes;
}
