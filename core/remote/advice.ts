import { builtin } from '../document/builtin.ts';
import { type Doc, indexOf } from '../document/doc.ts';
import { flowOf } from '../document/geometry.ts';
import { compareIds, type Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import { namesIn } from '../document/names.ts';
import type { PortRef, Wire } from '../document/schema.ts';
import { Crossings, type Line, lengthOf, lineOf, windowsOf } from '../inspect/lines.ts';
import { must } from '../must.ts';
import { Cancelled, type Context } from '../operation.ts';
import { plainRoute, type Route, routesOf } from '../route/route.ts';
import { byOutput } from './links.ts';
import { proposeName } from './names.ts';
import { tryLinks } from './trial.ts';

/**
 * What hurts about wires. Lengths in pixels at 100 % zoom; a wire counts as many windows as it reaches beyond one of
 * 1280 × 800.
 */
export interface Figures {
  readonly crossings: number;
  readonly length: number;
  readonly windows: number;
}

/** Wires of one output that would better be a remote link, with what turning just these into one saves. */
export interface Candidate {
  readonly from: PortRef;
  readonly wires: readonly Id[];
  /** How many wires the output has in all. */
  readonly of: number;
  /** The name proposed for the beacon. */
  readonly name: string;
  /** What turning these wires alone would save. */
  readonly saves: Figures;
  /** Within the share of wires that may be turned; the others follow for whoever wants more. */
  readonly isAdvised: boolean;
}

export interface Advice {
  /** In the order in which they were taken: what gains most for each wire first. */
  readonly candidates: readonly Candidate[];
  readonly before: Figures;
  /** How many wires the graph has. */
  readonly wires: number;
}

export interface AdviceOptions {
  /** The part of the wires that may be turned, from 0 to 1. */
  readonly share: number;
  /**
   * Weigh wires as they are routed among all others, as on a page that has just been arranged, and not each by itself.
   */
  readonly routed?: boolean;
  /** Only wires at these nodes; all where absent. */
  readonly at?: ReadonlySet<Id> | undefined;
}

/** The part of the wires that may be turned where nothing else is asked for. */
export const usualShare = 0.15;
/** A wire no longer than its tap and beacon need is left alone, in pixels. */
const leastLength = 320;
/**
 * What a window that a wire reaches beyond its own counts beside a crossing, and what making a beacon costs, counted in
 * wires.
 */
const [windowWorth, beaconCost] = [2, 1];

/**
 * The wires of a graph as they run by themselves, without regard to anything else: the figures of advice stand on
 * these, so that one wire's can be told from another's. O(wires).
 */
export function plainLines(
  doc: Doc,
  kinds: Kinds,
  graph: Id,
): { readonly wires: readonly Wire[]; readonly lines: readonly Line[] } {
  const flow = flowOf(doc, graph);
  return linesBy(doc, graph, (wire) => plainRoute(doc, kinds, wire, flow));
}

function linesBy(
  doc: Doc,
  graph: Id,
  routeOf: (wire: Wire) => Route | undefined,
): { readonly wires: readonly Wire[]; readonly lines: readonly Line[] } {
  const found = indexOf(doc)
    .wiresIn(graph)
    .flatMap((wire) => {
      const line = lineOf(wire, routeOf(wire));
      return line ? [{ wire, line }] : [];
    });
  return { wires: found.map(({ wire }) => wire), lines: found.map(({ line }) => line) };
}

export function figuresOf(lines: readonly Line[]): Figures {
  let crossings = 0;
  new Crossings(lines).each(() => crossings++);
  return {
    crossings,
    length: Math.round(sum(lines, (line) => lengthOf(line.route))),
    windows: sum(lines, (line) => windowsOf(line.route)),
  };
}

const sum = <T>(items: readonly T[], of: (item: T) => number): number =>
  items.reduce((total, item) => total + of(item), 0);

/**
 * Which wires of a graph to turn into remote links, so that few of them save much: the outputs, each with those of its
 * wires that hurt most, are taken greedily by what they save for each wire, and what is left is weighed anew after
 * each. Gains only shrink while wires go, so one that was weighed before and still leads need not be compared with all
 * others (lazy evaluation, Minoux 1978). What each saves is found by doing it on a copy.
 * O(wires log wires + crossings).
 */
export function advise(
  context: Pick<Context, 'kinds' | 'progress' | 'cancelled'>,
  doc: Doc,
  graph: Id,
  options: AdviceOptions,
): Advice {
  const { kinds } = context;
  const routes = options.routed ? routesOf(doc, kinds, graph) : undefined;
  const { wires, lines } = routes ? linesBy(doc, graph, (wire) => routes.get(wire.id)) : plainLines(doc, kinds, graph);
  context.progress(0.1, 'counting crossings');
  const crossings = new Crossings(lines);
  const meets: Map<number, number>[] = lines.map(() => new Map());
  let count = 0;
  crossings.each((a, b) => {
    count++;
    must(meets[a]).set(b, (must(meets[a]).get(b) ?? 0) + 1);
    must(meets[b]).set(a, (must(meets[b]).get(a) ?? 0) + 1);
  });
  const windows = lines.map((line) => windowsOf(line.route));
  const before = {
    crossings: count,
    length: Math.round(sum(lines, (line) => lengthOf(line.route))),
    windows: sum(windows, (n) => n),
  };
  context.progress(0.4, 'weighing');
  const gain = meets.map((met, i) => sum([...met.values()], (n) => n) + must(windows[i]) * windowWorth);
  const budget = Math.floor(wires.length * options.share + 1e-9);
  const picker = new Picker(candidateNets(doc, kinds, wires, lines, options.at), gain, meets);
  const advised = picker.pick(budget, Number.POSITIVE_INFINITY);
  const more = picker.pick(wires.length, mostMore);
  context.progress(0.6, 'trying');
  const taken = namesIn(doc, graph);
  const names = new Map<number, string>();
  const candidates = [...advised, ...more].map(({ net, picked }, place): Candidate => {
    const mine = picked.map((i) => must(wires[i])).sort((a, b) => compareIds(a.id, b.id));
    const { from } = must(wires[must(net[0])]);
    const uses = mine.map((wire) => wire.to);
    const name = names.get(must(net[0])) ?? proposeName(doc, kinds, from, uses, taken);
    names.set(must(net[0]), name);
    return {
      from,
      wires: mine.map((wire) => wire.id),
      of: indexOf(doc).wiresOutOf(from.node, from.port).length,
      name,
      saves: { crossings: 0, length: 0, windows: 0 },
      isAdvised: place < advised.length,
    };
  });
  const trial = tryLinks(context, doc, graph, lines, wires, crossings);
  const tried = candidates.map((one, i) => {
    if (context.cancelled()) throw new Cancelled();
    context.progress(0.6 + (0.4 * i) / candidates.length, 'trying');
    return { ...one, saves: trial(one) };
  });
  return {
    // what taps and beacons bring along may undo what little was to be gained
    candidates: tried.filter(
      ({ saves, wires: turned }) => saves.crossings + windowWorth * saves.windows >= turned.length,
    ),
    before,
    wires: wires.length,
  };
}

/** Wires by output, as numbers: those that could become links with gain. */
function candidateNets(
  doc: Doc,
  kinds: Kinds,
  wires: readonly Wire[],
  lines: readonly Line[],
  at: ReadonlySet<Id> | undefined,
): number[][] {
  const numbers = new Map(wires.map((wire, i) => [wire.id, i]));
  const eligible = wires.filter((wire, i) => {
    const source = must(doc.nodes.get(wire.from.node));
    const isChosen = !at || at.has(wire.from.node) || at.has(wire.to.node) || at.has(wire.id);
    return (
      isChosen &&
      !wire.off &&
      source.kind !== builtin.tap &&
      !kinds.isFixture(must(doc.nodes.get(wire.to.node)).kind) &&
      lengthOf(must(lines[i]).route) >= leastLength
    );
  });
  return byOutput(doc, eligible).map((net) => net.wires.map((wire) => must(numbers.get(wire.id))));
}

interface Picked {
  readonly net: readonly number[];
  readonly picked: number[];
}

/** Chooses wires greedily, net by net. Those of a net that pay together are taken together. */
class Picker {
  private readonly nets: readonly (readonly number[])[];
  private readonly gain: number[];
  private readonly meets: readonly ReadonlyMap<number, number>[];
  private readonly gone = new Set<number>();
  private readonly begun = new Set<number>();

  /** `gain` is what each wire saves; it is updated while others go. */
  constructor(nets: readonly (readonly number[])[], gain: number[], meets: readonly ReadonlyMap<number, number>[]) {
    this.nets = nets;
    this.gain = gain;
    this.meets = meets;
  }

  /**
   * The best number of a net's worst wires, by what they save for each wire; a beacon that is there already costs
   * nothing.
   */
  private best(n: number, left: number): { worth: number; picked: number[] } {
    const open = must(this.nets[n])
      .filter((i) => !this.gone.has(i))
      .sort((a, b) => must(this.gain[b]) - must(this.gain[a]) || a - b);
    const cost = this.begun.has(n) ? 0 : beaconCost;
    let [total, worth, length] = [0, 0, 0];
    open.slice(0, left).forEach((i, k) => {
      total += must(this.gain[i]);
      if (total / (k + 1 + cost) <= worth) return;
      worth = total / (k + 1 + cost);
      length = k + 1;
    });
    return { worth, picked: open.slice(0, length) };
  }

  /** Takes nets until a number of wires or of nets is reached, or nothing pays any more. */
  pick(wires: number, most: number): Picked[] {
    const chosen = new Map<number, Picked>();
    let left = wires;
    const queue = new Queue(this.nets.map((_, n) => ({ n, worth: this.best(n, left).worth })));
    for (let top = queue.pop(); top && left > 0; top = queue.pop()) {
      const now = this.best(top.n, left);
      if (now.worth < leastWorth || (chosen.size >= most && !chosen.has(top.n))) continue;
      if (now.worth < (queue.top()?.worth ?? 0)) {
        queue.push({ n: top.n, worth: now.worth });
        continue;
      }
      const there = chosen.get(top.n);
      if (there) there.picked.push(...now.picked);
      else chosen.set(top.n, { net: must(this.nets[top.n]), picked: now.picked });
      this.begun.add(top.n);
      left -= now.picked.length;
      for (const i of now.picked) this.gone.add(i);
      for (const i of now.picked)
        for (const [other, n] of must(this.meets[i])) this.gain[other] = must(this.gain[other]) - n;
      // the beacon is paid for, so that the rest of the net may be worth more now than before
      queue.push({ n: top.n, worth: this.best(top.n, left).worth });
    }
    return [...chosen.values()];
  }
}

/** How many further outputs are listed behind the advised ones. */
const mostMore = 20;

/** Less than this for each wire is not worth a tap. */
const leastWorth = 2;

/** A row that stays sorted, the worthiest first: far fewer are put back than there are nets. */
class Queue {
  private readonly items: { n: number; worth: number }[] = [];

  constructor(items: readonly { n: number; worth: number }[]) {
    this.items = [...items].sort(ahead);
  }

  top(): { n: number; worth: number } | undefined {
    return this.items[0];
  }

  push(item: { n: number; worth: number }): void {
    let [low, high] = [0, this.items.length];
    while (low < high) {
      const middle = (low + high) >> 1;
      if (ahead(must(this.items[middle]), item) <= 0) low = middle + 1;
      else high = middle;
    }
    this.items.splice(low, 0, item);
  }

  pop(): { n: number; worth: number } | undefined {
    return this.items.shift();
  }
}

const ahead = (a: { n: number; worth: number }, b: { n: number; worth: number }): number =>
  b.worth - a.worth || a.n - b.n;
