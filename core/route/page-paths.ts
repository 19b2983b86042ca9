import { addTo } from '../group-by.ts';
import { lanePaths, type Through } from './lanes.ts';
import type { Path } from './paths.ts';
import { type Area, type Lanes, regionsIn, type Stop } from './regions.ts';
import type { RouteTask } from './router.ts';
import { boxesFrom, Space } from './space.ts';
import { costs, type Gate, LaneGraph, type Tree, type Trunk } from './trunks.ts';

/** How often each tree is grown anew once all stand: in small graphs, and in large ones. The best are kept. */
const [mostRounds, leastRounds] = [5, 1];
/** From how many orders trees are grown where the graph is small. */
const mostStarts = 5;
const smallGraph = 2e6;
/**
 * A way round that is so much longer is worth one crossing, on the page and inside a frame, in pixels for each wire:
 * there a loop round what it holds is seen at once.
 */
const [worthOnPage, worthInFrame] = [300, 60];
/** A tree with so many entries has lanes made for it. */
const leastThick = 3;
/** Gates on one border keep this distance, where they can. */
const gateDistance = 8;

/**
 * A wire from one region to another: its way out of the one, and into the other, and the stops around each, from the
 * page in.
 */
interface Crossing {
  readonly wire: number;
  readonly net: number;
  readonly from: readonly Place[];
  readonly to: readonly Place[];
  out?: Path;
  into?: Path;
}

/** A stop and the lanes that it stands in. */
interface Place {
  readonly stop: Stop;
  readonly lanes: Lanes;
}

/**
 * Ways of all wires of a page: inside each region as lanes between its columns, with those that cross its border; from
 * border to border in the lanes between stops, one tree for each output in each frame that it runs through. Writes into
 * `paths`, and gives the space of those lanes. What fits none of this gets no way here.
 */
export function pagePaths(
  space: Space,
  page: Lanes,
  { boxes, ends, nets, stand }: RouteTask,
  paths: (Path | undefined)[],
): Space {
  const placesOf: (readonly Place[] | undefined)[] = new Array(boxes.count);
  const walk = (lanes: Lanes, above: readonly Place[]): void => {
    for (const stop of lanes.stops) {
      const places = [...above, { stop, lanes }];
      for (const box of stop.region?.boxes ?? []) placesOf[box] = places;
      if (stop.inner) walk(stop.inner, places);
    }
  };
  walk(page, []);
  const crossings: Crossing[] = [];
  const through = new Map<Stop, Through[]>();
  const passes = (stop: Stop, one: Through): void => void addTo(through, stop, one);
  ends.forEach((end, wire) => {
    if (!end) return;
    const [from, to] = [placesOf[stand.from[wire]!], placesOf[stand.to[wire]!]];
    if (!from || !to || from === to) return;
    const crossing: Crossing = { wire, net: nets[wire]!, from, to };
    crossings.push(crossing);
    const half = (side: 'out' | 'into') => (path: Path) => {
      crossing[side] = path;
    };
    passes(from.at(-1)!.stop, { wire, comesIn: false, done: half('out') });
    passes(to.at(-1)!.stop, { wire, comesIn: true, done: half('into') });
  });
  const visit = ({ stops }: Lanes): void => {
    for (const stop of stops) {
      if (stop.region) lanePaths(space, stop.region, ends, nets, stand, paths, through.get(stop));
      if (stop.inner) visit(stop.inner);
    }
  };
  visit(page);
  new TrunkRouter(page, crossings.filter(isWhole)).route(paths);
  return new Space(boxesFrom([...regionsIn(page).map(({ area }) => area!), ...titlesIn(page)]));
}

type Whole = Required<Crossing>;
const isWhole = (one: Crossing): one is Whole => one.out !== undefined && one.into !== undefined;
const titlesIn = ({ stops, titles }: Lanes): Area[] => [
  ...titles,
  ...stops.flatMap((stop) => (stop.inner ? titlesIn(stop.inner) : [])),
];

/** One output in the lanes of one frame: where it comes from, and where its wires go, gate by gate. */
interface Growing {
  readonly exit: Gate;
  readonly entries: Map<string, { gate: Gate; wires: number[] }>;
}

class TrunkRouter {
  private readonly page: Lanes;
  private readonly crossings: readonly Whole[];
  /** Where each output crosses the borders of frames that hold several stops: by frame, output and side. */
  private readonly borders = new Map<Stop, Map<string, number>>();
  private readonly trees = new Map<Lanes, Map<string, Growing>>();
  private readonly around = new Map<Lanes, Area>();
  /** The trunk of each wire in each frame that it runs through. */
  private readonly trunks = new Map<Lanes, Map<number, Trunk>>();

  constructor(page: Lanes, crossings: readonly Whole[]) {
    this.page = page;
    this.crossings = crossings;
  }

  route(paths: (Path | undefined)[]): void {
    this.findBorders();
    for (const crossing of this.crossings) this.plan(crossing);
    const walk = (lanes: Lanes): void => {
      this.grow(lanes);
      for (const { inner } of lanes.stops) if (inner) walk(inner);
    };
    walk(this.page);
    for (const crossing of this.crossings) {
      const path = this.joined(crossing);
      if (path) paths[crossing.wire] = path;
    }
  }

  /**
   * An output goes through the border of a frame at one level for all of its wires: the middle one of those at which
   * they run inside, beside all others.
   */
  private findBorders(): void {
    const wanted = new Map<Stop, Map<string, number[]>>();
    const want = (places: readonly Place[], net: number, side: 'left' | 'right', level: number): void => {
      for (const { stop } of places.slice(0, -1)) {
        const levels = wanted.get(stop) ?? new Map<string, number[]>();
        wanted.set(stop, levels);
        const key = `${side} ${net}`;
        addTo(levels, key, level);
      }
    };
    for (const { net, from, to, out, into } of this.crossings) {
      want(from, net, 'right', out.ys.at(-1)!);
      want(to, net, 'left', into.ys[0]!);
    }
    for (const [stop, byNet] of wanted) {
      const known = new Map<string, number>();
      this.borders.set(stop, known);
      const middle = (levels: number[]): number => levels.sort((a, b) => a - b)[(levels.length - 1) >> 1]!;
      for (const [key, levels] of byNet) {
        const side = key.split(' ')[0]!;
        const taken = [...known].filter(([other]) => other.startsWith(side)).map(([, level]) => level);
        const at = middle(levels);
        let level = at;
        for (let k = 1; k < 40 && taken.some((one) => Math.abs(one - level) < gateDistance); k++)
          level = at + (k % 2 === 0 ? -1 : 1) * Math.ceil(k / 2) * gateDistance;
        known.set(key, level < stop.area.top + gateDistance || level > stop.area.bottom - gateDistance ? at : level);
      }
    }
  }

  private levelOf(stop: Stop, net: number, side: 'left' | 'right', wanted: number): number {
    return this.borders.get(stop)?.get(`${side} ${net}`) ?? wanted;
  }

  /** Puts a wire into the trees of all lanes that it runs through. */
  private plan({ wire, net, from, to, out, into }: Whole): void {
    const common = commonDepth(from, to);
    let level = out.ys.at(-1)!;
    for (let d = from.length - 1; d > common; d--) {
      const [inside, frame] = [from[d]!, from[d - 1]!.stop];
      const border = this.levelOf(frame, net, 'right', level);
      this.around.set(inside.lanes, frame.area);
      this.add(
        inside.lanes,
        net,
        { x: inside.stop.area.right, level, lanes: 'right', wires: 0 },
        { x: frame.area.right, level: border, lanes: 'left', wires: 1 },
        wire,
      );
      level = border;
    }
    const exit: Gate = { x: from[common]!.stop.area.right, level, lanes: 'right', wires: 0 };
    // the levels of the frames around the target follow from inside out
    const levels: number[] = new Array(to.length);
    levels[to.length - 1] = into.ys[0]!;
    for (let d = to.length - 2; d >= common; d--) levels[d] = this.levelOf(to[d]!.stop, net, 'left', levels[d + 1]!);
    const entry = (d: number): Gate => ({ x: to[d]!.stop.area.left, level: levels[d]!, lanes: 'left', wires: 1 });
    this.add(to[common]!.lanes, net, exit, entry(common), wire);
    for (let d = common + 1; d < to.length; d++) {
      const frame = to[d - 1]!.stop;
      this.around.set(to[d]!.lanes, frame.area);
      this.add(
        to[d]!.lanes,
        net,
        { x: frame.area.left, level: levels[d - 1]!, lanes: 'right', wires: 0 },
        entry(d),
        wire,
      );
    }
  }

  private add(lanes: Lanes, net: number, exit: Gate, gate: Gate, wire: number): void {
    const trees = this.trees.get(lanes) ?? new Map<string, Growing>();
    this.trees.set(lanes, trees);
    const key = `${net} ${exit.x} ${exit.level}`;
    const tree = trees.get(key) ?? { exit, entries: new Map() };
    trees.set(key, tree);
    const place = `${gate.x} ${gate.level} ${gate.lanes}`;
    const entry = tree.entries.get(place);
    if (!entry) tree.entries.set(place, { gate, wires: [wire] });
    else {
      entry.wires.push(wire);
      entry.gate = { ...gate, wires: entry.wires.length };
    }
  }

  /**
   * Grows all trees of some lanes, the thickest first, a few times over; those that cost least by crossings and length
   * are kept.
   */
  private grow(lanes: Lanes): void {
    const found = new Map<number, Trunk>();
    this.trunks.set(lanes, found);
    const all = [...(this.trees.get(lanes)?.values() ?? [])].map(({ exit, entries }) => ({
      exit,
      entries: [...entries.values()],
    }));
    if (all.length === 0) return;
    const thickness = ({ entries }: (typeof all)[number]): number =>
      entries.reduce((sum, { wires }) => sum + wires.length, 0);
    all.sort((a, b) => thickness(b) - thickness(a) || a.exit.x - b.exit.x || a.exit.level - b.exit.level);
    const trees = all.map(({ exit, entries }): Tree => ({ exit, entries: entries.map(({ gate }) => gate) }));
    const graph = new LaneGraph(
      [...lanes.stops.map(({ area }) => area), ...lanes.titles],
      trees.flatMap(({ exit, entries }) => [exit, ...entries]),
      Math.max(1, Math.ceil((trees.filter(({ entries }) => entries.length >= leastThick).length + 1) / 2)),
      this.around.get(lanes),
    );
    const around = this.around.get(lanes);
    const ways = bestTrees(graph, trees, around ? worthInFrame : worthOnPage);
    all.forEach(({ entries }, t) => {
      entries.forEach(({ wires }, i) => {
        const trunk = ways[t]![i];
        if (trunk) for (const wire of wires) found.set(wire, trunk);
      });
    });
  }

  /** The way out, along the trunks, and in; undefined where one of them is missing. */
  private joined({ wire, from, to, out, into }: Whole): Path | undefined {
    const common = commonDepth(from, to);
    const lanes = [...from.slice(common).reverse(), ...to.slice(common + 1)].map((place) => place.lanes);
    const [xs, ys] = [[...out.xs], [...out.ys]];
    for (const one of lanes) {
      const trunk = this.trunks.get(one)?.get(wire);
      if (!trunk) return undefined;
      for (let i = 2; i + 1 < trunk.length; i += 2) {
        if (trunk[i] !== trunk[i - 2]) continue;
        xs.push(trunk[i]!);
        ys.push(trunk[i + 1]!);
      }
    }
    return { xs: [...xs, ...into.xs], ys: [...ys, ...into.ys.slice(1)], lanes: [out.xs.length, xs.length], hits: 0 };
  }
}

/**
 * The ways of all trees that cost least, by crossings and length, of those that were met: from a few orders and weights
 * by which they are grown, each then anew, one after the other, while all others stand (rip-up and reroute, as in the
 * routing of circuits). Fewer tries in large graphs.
 */
function bestTrees(graph: LaneGraph, trees: readonly Tree[], worthOfCrossing: number): (Trunk | undefined)[][] {
  const isSmall = graph.size < smallGraph;
  const thick = trees.filter(({ entries }) => entries.length >= leastThick).length;
  let best: (Trunk | undefined)[][] = [];
  let least = Number.POSITIVE_INFINITY;
  for (let start = 0; start < (isSmall ? mostStarts : 1); start++) {
    graph.weighs = costs[start % costs.length]!;
    // another of the thick ones goes first each time
    const order = trees.map((_, t) => (t < thick ? (t + start) % Math.max(1, thick) : t));
    for (const tree of trees) graph.fell(tree);
    const ways: (Trunk | undefined)[][] = new Array(trees.length);
    for (let round = 0; round <= (isSmall ? mostRounds : leastRounds); round++) {
      for (const t of order) {
        graph.fell(trees[t]!);
        ways[t] = graph.grow(trees[t]!);
      }
      const cost = graph.crossings() + lengthOfAll(trees, ways) / worthOfCrossing;
      if (cost < least) [best, least] = [[...ways], cost];
    }
  }
  return best;
}

/** All ways, each as often as wires run in it, in pixels. */
function lengthOfAll(trees: readonly Tree[], ways: readonly (readonly (Trunk | undefined)[])[]): number {
  let sum = 0;
  trees.forEach(({ entries }, t) => {
    entries.forEach(({ wires }, i) => {
      const way = ways[t]?.[i] ?? [];
      for (let k = 2; k < way.length; k += 2)
        sum += wires * (Math.abs(way[k]! - way[k - 2]!) + Math.abs(way[k + 1]! - way[k - 1]!));
    });
  });
  return sum;
}

/** The depth at which the ways to two places part: their stops there stand in the same lanes. */
function commonDepth(from: readonly Place[], to: readonly Place[]): number {
  let d = 0;
  while (from[d]!.stop === to[d]!.stop) d++;
  return d;
}
