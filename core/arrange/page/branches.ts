import { addTo } from '../../group-by.ts';
import { colours, type Ends, type Interned, keyOf } from './alike.ts';
import type { UnitGraph } from './units.ts';

/** Branches of a part that are the same, each as the units that it has. */
export interface Twins {
  readonly key: number;
  readonly branches: readonly (readonly number[])[];
}

/**
 * Larger parts are not looked through, and so many units are tried as ends of branches: those with the most neighbours.
 */
const [mostUnits, mostEnds] = [120, 12];
/** Fewer neighbours than this part nothing. */
const leastNeighbours = 2;

/**
 * Branches inside a part that are the same but for names and values: what falls apart when one unit, or two, are left
 * out, such as the chains that one node gathers, or those between a node that fans out and one that merges. The ends
 * that cover most come first; no unit is in two branches.
 * O(ends² · (units + wires)).
 */
export function twinsIn(
  inside: UnitGraph,
  ends: Ends,
  part: readonly number[],
  interned: Interned,
  first: ReadonlyMap<number, number>,
): Twins[] {
  if (part.length > mostUnits || part.length < 2 * leastNeighbours + 1 || part.some((u) => inside.units[u]!.frame >= 0))
    return [];
  const beside = neighbours(inside, part);
  const tried = [...part]
    .filter((u) => beside.get(u)!.size >= leastNeighbours)
    .sort((a, b) => beside.get(b)!.size - beside.get(a)!.size || a - b)
    .slice(0, mostEnds);
  const cuts = [...tried.map((u) => [u]), ...tried.flatMap((u, i) => tried.slice(i + 1).map((v) => [u, v]))];
  const found = cuts.map((cut) => {
    const twins = classes(piecesWithout(beside, part, new Set(cut)), inside, ends, interned, first);
    return { twins, covered: twins.reduce((sum, { branches }) => sum + branches.flat().length, 0), ends: cut.length };
  });
  found.sort((a, b) => b.covered - a.covered || a.ends - b.ends);
  const [taken, kept] = [new Set<number>(), [] as Twins[]];
  for (const { twins } of found) {
    for (const one of twins) {
      const units = one.branches.flat();
      if (units.some((u) => taken.has(u))) continue;
      for (const u of units) taken.add(u);
      kept.push(one);
    }
  }
  return kept;
}

function neighbours({ from, to }: UnitGraph, part: readonly number[]): Map<number, Set<number>> {
  const beside = new Map(part.map((u) => [u, new Set<number>()]));
  from.forEach((u, e) => {
    const v = to[e]!;
    if (u === v || !beside.has(u) || !beside.has(v)) return;
    beside.get(u)!.add(v);
    beside.get(v)!.add(u);
  });
  return beside;
}

/** What a part falls into when some units are left out, each piece from its first unit on. */
function piecesWithout(
  beside: ReadonlyMap<number, ReadonlySet<number>>,
  part: readonly number[],
  without: ReadonlySet<number>,
): number[][] {
  const seen = new Set(without);
  return part.flatMap((start) => {
    if (seen.has(start)) return [];
    const piece = [start];
    seen.add(start);
    for (const u of piece) {
      for (const v of beside.get(u)!) {
        if (seen.has(v)) continue;
        seen.add(v);
        piece.push(v);
      }
    }
    return [piece];
  });
}

function classes(
  pieces: readonly number[][],
  inside: UnitGraph,
  ends: Ends,
  interned: Interned,
  first: ReadonlyMap<number, number>,
): Twins[] {
  const byKey = new Map<number, number[][]>();
  // a node by itself has no layout that could differ; and what has no other with the same nodes needs no closer look
  const bySigns = new Map<string, number[][]>();
  for (const piece of pieces) {
    if (piece.length < 2) continue;
    const signs = piece
      .map((u) => first.get(u)!)
      .sort((a, b) => a - b)
      .join(' ');
    addTo(bySigns, signs, piece);
  }
  for (const piece of [...bySigns.values()].filter((alike) => alike.length > 1).flat()) {
    const key = keyOf(colours(inside, ends, piece, interned, first), interned);
    addTo(byKey, key, piece);
  }
  return [...byKey].flatMap(([key, branches]) => (branches.length > 1 ? [{ key, branches }] : []));
}
