import { must } from '../../must.ts';
import type { UnitGraph } from './units.ts';

/** Numbers for texts: equal ones get equal numbers, in the order in which they come. */
export class Interned {
  private readonly numbers = new Map<string, number>();

  of(text: string): number {
    const known = this.numbers.get(text);
    if (known !== undefined) return known;
    this.numbers.set(text, this.numbers.size);
    return this.numbers.size - 1;
  }
}

/** What tells two ends of wires apart beside their unit: the port, and in a frame the node. By wire. */
export interface Ends {
  readonly from: readonly number[];
  readonly to: readonly number[];
}

const mostRounds = 12;

const wiresByGraph = new WeakMap<UnitGraph, number[][]>();

/** The wires at each unit, in their order; one from a unit to itself twice. Found once for a graph, since its parts are many. */
function wiresOf(graph: UnitGraph): number[][] {
  let wires = wiresByGraph.get(graph);
  if (!wires) {
    wires = graph.units.map(() => []);
    for (let e = 0; e < graph.from.length; e++) {
      wires[graph.from[e]!]!.push(e);
      wires[graph.to[e]!]!.push(e);
    }
    wiresByGraph.set(graph, wires);
  }
  return wires;
}

/**
 * What each unit of a part is like, seen with all that it is wired to: colour refinement (Weisfeiler & Leman 1968) over
 * signs, ports and wires. Units that could take each other's place in any such part have equal colours; `first` are
 * colours to begin with. The same unit of two parts that are the same gets the same colour. With `most`, just what lies
 * so many wires away is seen. O(rounds · wires · log wires).
 */
export function colours(
  graph: UnitGraph,
  ends: Ends,
  part: readonly number[],
  interned: Interned,
  first: ReadonlyMap<number, number>,
  most: number = mostRounds,
): Map<number, number> {
  const among = new Set(part);
  const all = wiresOf(graph);
  const wires = new Map(
    part.map((u) => [u, all[u]!.filter((e) => among.has(graph.from[e]!) && among.has(graph.to[e]!))]),
  );
  let colour = new Map(part.map((u) => [u, first.get(u)!]));
  let count = new Set(colour.values()).size;
  for (let round = 0; round < most && (most < mostRounds || count < part.length); round++) {
    const next = new Map<number, number>();
    for (const u of part) {
      const seen = must(wires.get(u)).map((e) => {
        const goesOut = graph.from[e] === u;
        return goesOut
          ? `>${ends.from[e]}:${ends.to[e]}:${colour.get(graph.to[e]!)}`
          : `<${ends.to[e]}:${ends.from[e]}:${colour.get(graph.from[e]!)}`;
      });
      next.set(u, interned.of(`${colour.get(u)} ${seen.sort().join(' ')}`));
    }
    colour = next;
    const now = new Set(colour.values()).size;
    if (most === mostRounds && now === count) break;
    count = now;
  }
  return colour;
}

/** What a part is like as a whole: equal for parts that are the same but for names and values. */
export const keyOf = (colour: ReadonlyMap<number, number>, interned: Interned): number =>
  interned.of(`part ${[...colour.values()].sort((a, b) => a - b).join(' ')}`);

/**
 * The units of a part in an order that is the same for all parts like it: by colour; of those that are alike the one
 * that comes first by `before` is told apart, and all are coloured anew, until none are alike. O(units that are alike ·
 * cost of colouring).
 */
export function inRoles(
  graph: UnitGraph,
  ends: Ends,
  part: readonly number[],
  interned: Interned,
  colour: ReadonlyMap<number, number>,
  before: (a: number, b: number) => number,
): number[] {
  let now = colour;
  for (;;) {
    const cells = new Map<number, number[]>();
    for (const u of part) {
      const cell = cells.get(now.get(u)!);
      if (cell) cell.push(u);
      else cells.set(now.get(u)!, [u]);
    }
    const tied = [...cells]
      .filter(([, cell]) => cell.length > 1)
      .sort(([a, one], [b, other]) => one.length - other.length || a - b)[0];
    if (!tied) return [...part].sort((a, b) => now.get(a)! - now.get(b)!);
    const chosen = tied[1].reduce((best, u) => (before(u, best) < 0 ? u : best));
    const told = new Map(now);
    told.set(chosen, interned.of(`told ${tied[0]}`));
    now = colours(graph, ends, part, interned, told);
  }
}
