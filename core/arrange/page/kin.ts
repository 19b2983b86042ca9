import { addTo } from '../../group-by.ts';
import { colours, type Ends, type Interned } from './alike.ts';
import type { UnitGraph } from './units.ts';

/** A part to be compared: some units, with what each is by itself. */
export interface Compared {
  readonly inside: UnitGraph;
  readonly ends: Ends;
  readonly group: readonly number[];
  readonly first: ReadonlyMap<number, number>;
}

/** How many units one of two kin may have that the other has not, at least and as a share of it. */
const [fewOff, shareOff] = [2, 0.15];
/** How far round a unit is looked, from far to near: what an odd unit changes is seen only close by it. */
const rounds = [4, 3, 2, 1];

/** Do two parts differ by a unit or two, judged by what their units are? */
export function areKin(a: ReadonlyMap<number, number>, b: ReadonlyMap<number, number>): boolean {
  const counts = new Map<number, number>();
  for (const sign of a.values()) counts.set(sign, (counts.get(sign) ?? 0) + 1);
  for (const sign of b.values()) counts.set(sign, (counts.get(sign) ?? 0) - 1);
  const off = Math.max(fewOff, Math.floor(shareOff * Math.min(a.size, b.size)));
  const more = [...counts.values()].filter((n) => n > 0).reduce((sum, n) => sum + n, 0);
  const less = [...counts.values()].filter((n) => n < 0).reduce((sum, n) => sum - n, 0);
  return a.size > 2 && b.size > 2 && Math.max(more, less) <= off && Math.max(more, less) < Math.min(a.size, b.size) / 2;
}

/**
 * Which unit of a part is which of another that differs from it by a few: those that look the same with all that lies
 * round them, far first, then near;
 * of several that look the same the first goes with the first by `before`. By unit of `one`. O(rounds · wires · log
 * wires).
 */
export function matchKin(
  one: Compared,
  other: Compared,
  interned: Interned,
  before: (of: Compared, a: number, b: number) => number,
): Map<number, number> {
  const match = new Map<number, number>();
  const taken = new Set<number>();
  for (const most of rounds) {
    const [mine, its] = [one, other].map((part) =>
      colours(part.inside, part.ends, part.group, interned, part.first, most),
    ) as [Map<number, number>, Map<number, number>];
    const open = (
      colour: ReadonlyMap<number, number>,
      part: Compared,
      isOpen: (u: number) => boolean,
    ): Map<number, number[]> => {
      const cells = new Map<number, number[]>();
      for (const u of part.group) if (isOpen(u)) addTo(cells, colour.get(u)!, u);
      for (const cell of cells.values()) cell.sort((a, b) => before(part, a, b));
      return cells;
    };
    const theirs = open(its, other, (u) => !taken.has(u));
    for (const [colour, cell] of open(mine, one, (u) => !match.has(u))) {
      const partners = theirs.get(colour) ?? [];
      cell.slice(0, partners.length).forEach((u, i) => {
        match.set(u, partners[i]!);
        taken.add(partners[i]!);
      });
    }
  }
  // what is next to the odd unit looks like nothing there; it is known by those round it
  const [mine, its] = [besideOf(one), besideOf(other)];
  for (const u of one.group) {
    if (match.has(u)) continue;
    let [best, most] = [-1, 0];
    for (const v of other.group) {
      if (taken.has(v) || one.first.get(u) !== other.first.get(v)) continue;
      const common = mine.get(u)!.filter((near) => its.get(v)!.includes(match.get(near) ?? -1)).length;
      if (common > most) [best, most] = [v, common];
    }
    if (best < 0) continue;
    match.set(u, best);
    taken.add(best);
  }
  return match;
}

/** The units that each is wired to. */
function besideOf({ inside, group }: Compared): Map<number, number[]> {
  const beside = new Map(group.map((u): [number, number[]] => [u, []]));
  inside.from.forEach((u, e) => {
    beside.get(u)?.push(inside.to[e]!);
    beside.get(inside.to[e]!)?.push(u);
  });
  return beside;
}
