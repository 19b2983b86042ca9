import { connectedParts } from '../layered/parts.ts';
import type { UnitGraph } from './units.ts';

/** How the units of a container are shared out on a page: parts that wires join. All numbers are those of units. */
export interface Sharing {
  /** What feeds many modules, with all that only feeds these: stands where the flow begins. */
  readonly sources: readonly (readonly number[])[];
  /** What gathers many, with all that only these feed: stands where the flow ends. */
  readonly ends: readonly (readonly number[])[];
  /** Parts that wires join once hubs are left out. */
  readonly modules: readonly (readonly number[])[];
  /** What no wire joins to any module. */
  readonly strays: readonly number[];
}

/** A unit wired to fewer others is no hub. */
const leastDegree = 4;
/** A frame is a module by itself: a unit wired to so many of them is a hub. */
const leastFrames = 3;
/** So many units are taken out as hubs at the most: a graph that more of them hold together has no modules. */
const mostHubs = 32;
/** A page with fewer modules than this is none. */
const leastModules = 3;
/** Up to so many nodes are one module, whatever hubs they have: they can be read in a window. */
const mostInModule = 60;

/** Who stands where in a container. Without hubs, what wires join is a module, and what no wire reaches is a stray. */
export const shareOut = (graph: UnitGraph): Sharing => withoutHubs(graph) ?? byWires(graph);

/**
 * Takes hubs out until what is left falls into modules: in the largest part the unit with the most neighbours, again
 * and again (a greedy vertex separator). Hubs that turn out to serve one module go back into it. Undefined where the
 * container does not fall apart.
 * O(hubs · (units + wires)).
 */
function withoutHubs(graph: UnitGraph): Sharing | undefined {
  const { units, from, to } = graph;
  const count = units.length;
  const neighbours: Set<number>[] = units.map(() => new Set());
  from.forEach((u, e) => {
    neighbours[u]!.add(to[e]!);
    neighbours[to[e]!]!.add(u);
  });
  const isFrame = units.map((unit) => unit.frame >= 0);
  const weight = units.map((unit) => unit.nodes.length);
  const whole = weight.reduce((sum, one) => sum + one, 0);
  if (whole <= mostInModule && !units.some((unit) => unit.frame >= 0)) return undefined;
  const isHub = new Uint8Array(count);
  const framesAt = (u: number): number => [...neighbours[u]!].filter((v) => isFrame[v]).length;
  units.forEach((_, u) => {
    if (!isFrame[u] && framesAt(u) >= leastFrames) isHub[u] = 1;
  });
  const most = Math.min(mostHubs, Math.max(4, Math.ceil(count / 12)));
  for (let taken = 0; taken < most; taken++) {
    const largest = partsWithout(graph, isHub).reduce(
      (best, part) => (sizeOf(part, weight) > sizeOf(best, weight) ? part : best),
      [] as number[],
    );
    if (sizeOf(largest, weight) <= Math.max(mostInModule, whole / 6)) break;
    const open = largest.filter((u) => !isFrame[u]);
    let [top, degree] = [-1, leastDegree - 1];
    for (const u of open) {
      const own = [...neighbours[u]!].filter((v) => !isHub[v]).length;
      if (own > degree) [top, degree] = [u, own];
    }
    if (top < 0) break;
    isHub[top] = 1;
  }
  giveBack(graph, isHub, weight);
  const parts = partsWithout(graph, isHub);
  return partsOnPage(graph, isHub, parts, weight, whole);
}

const sizeOf = (part: readonly number[], weight: readonly number[]): number =>
  part.reduce((sum, u) => sum + weight[u]!, 0);

function partsWithout({ units, from, to }: UnitGraph, isHub: Uint8Array): number[][] {
  const kept = from.flatMap((u, e) => (isHub[u] || isHub[to[e]!] ? [] : [e]));
  return connectedParts(
    units.length,
    kept.map((e) => from[e]!),
    kept.map((e) => to[e]!),
  ).filter((part) => part.length > 1 || !isHub[part[0]!]);
}

/** Hubs that serve one part only go back into it, those with the fewest neighbours first, until none does. */
function giveBack(graph: UnitGraph, isHub: Uint8Array, weight: readonly number[]): void {
  const wiresAt = new Map<number, number[]>();
  for (let h = 0; h < isHub.length; h++) if (isHub[h]) wiresAt.set(h, []);
  graph.from.forEach((u, e) => {
    wiresAt.get(u)?.push(e);
    wiresAt.get(graph.to[e]!)?.push(e);
  });
  for (let again = true; again; ) {
    again = false;
    const parts = partsWithout(graph, isHub);
    const partOf = new Int32Array(graph.units.length).fill(-1);
    parts.forEach((part, p) => {
      for (const u of part) partOf[u] = p;
    });
    for (const [h, wires] of wiresAt) {
      if (!isHub[h]) continue;
      const touched = new Set<number>();
      let hubs = 0;
      for (const e of wires) {
        const other = graph.from[e] === h ? graph.to[e]! : graph.from[e]!;
        if (isHub[other]) hubs++;
        else touched.add(partOf[other]!);
      }
      const real = [...touched].filter((p) => sizeOf(parts[p]!, weight) > 1);
      if (touched.size === 1 || (real.length === 1 && touched.size <= 2 && hubs === 0)) {
        isHub[h] = 0;
        again = true;
        break;
      }
    }
  }
}

function partsOnPage(
  graph: UnitGraph,
  isHub: Uint8Array,
  parts: readonly number[][],
  weight: readonly number[],
  whole: number,
): Sharing | undefined {
  const { units, from, to } = graph;
  const partOf = new Int32Array(units.length).fill(-1);
  parts.forEach((part, p) => {
    for (const u of part) partOf[u] = p;
  });
  // how often a hub feeds parts, and how often it gathers from them
  const [feeds, gathers] = [new Int32Array(units.length), new Int32Array(units.length)];
  from.forEach((u, e) => {
    const v = to[e]!;
    if (isHub[u] && !isHub[v]) feeds[u]!++;
    if (isHub[v] && !isHub[u]) gathers[v]!++;
  });
  const isGatherer = (h: number): boolean => gathers[h]! > feeds[h]!;
  const toPart = parts.map(() => ({ hubsIn: 0, hubsOut: 0, gatherersIn: 0, gatherersOut: 0 }));
  from.forEach((u, e) => {
    const v = to[e]!;
    if (isHub[u] && !isHub[v]) toPart[partOf[v]!]![isGatherer(u) ? 'gatherersIn' : 'hubsIn']++;
    if (isHub[v] && !isHub[u]) toPart[partOf[u]!]![isGatherer(v) ? 'gatherersOut' : 'hubsOut']++;
  });
  const [sources, ends, strays]: [number[], number[], number[]] = [[], [], []];
  const modules: number[][] = [];
  for (let h = 0; h < units.length; h++) if (isHub[h]) (isGatherer(h) ? ends : sources).push(h);
  parts.forEach((part, p) => {
    const { hubsIn, hubsOut, gatherersIn, gatherersOut } = toPart[p]!;
    const size = sizeOf(part, weight);
    const hasFrame = part.some((u) => units[u]!.frame >= 0);
    const isSmall = !hasFrame && size <= Math.max(6, whole / 20);
    if (isSmall && hubsOut > 0 && hubsIn === 0 && gatherersIn + gatherersOut === 0) sources.push(...part);
    else if (isSmall && gatherersIn > 0 && gatherersOut + hubsOut === 0) ends.push(...part);
    else if (!hasFrame && size <= 2 && hubsOut + gatherersIn + gatherersOut === 0) strays.push(...part);
    else modules.push(part);
  });
  const real = modules.filter((part) => sizeOf(part, weight) > 1 || units[part[0]!]!.frame >= 0);
  const largest = modules.reduce((most, part) => Math.max(most, sizeOf(part, weight)), 0);
  if (real.length < leastModules || (largest > 0.75 * whole && real.length < 6)) return undefined;
  return { sources: joined(graph, sources), ends: joined(graph, ends), modules, strays: strays.sort((a, b) => a - b) };
}

/** Some of the units as the parts that wires between them make. */
function joined({ units, from, to }: UnitGraph, some: readonly number[]): number[][] {
  const among = new Set(some);
  const kept = from.flatMap((u, e) => (among.has(u) && among.has(to[e]!) ? [e] : []));
  return connectedParts(
    units.length,
    kept.map((e) => from[e]!),
    kept.map((e) => to[e]!),
  ).filter((part) => among.has(part[0]!));
}

function byWires({ units, from, to, outer }: UnitGraph): Sharing {
  const isReached = new Uint8Array(units.length);
  for (const { unit } of outer) isReached[unit] = 1;
  const parts = connectedParts(units.length, from, to);
  const isStray = (part: readonly number[]): boolean =>
    part.length === 1 && units[part[0]!]!.frame < 0 && !isReached[part[0]!];
  const strays = parts.filter(isStray).flat();
  return {
    sources: [],
    ends: [],
    modules: strays.length === units.length ? [strays] : parts.filter((part) => !isStray(part)),
    strays: strays.length === units.length ? [] : strays,
  };
}
