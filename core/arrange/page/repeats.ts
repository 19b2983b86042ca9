import { addTo } from '../../group-by.ts';
import type { LayeredGraph } from '../layered/graph.ts';
import { colours, type Ends, Interned, inRoles, keyOf } from './alike.ts';
import { type Twins, twinsIn } from './branches.ts';
import type { Containers } from './containers.ts';
import { type Sharing, shareOut } from './hubs.ts';
import { areKin, matchKin } from './kin.ts';
import { type Unit, type UnitGraph, unitGraph } from './units.ts';

/** A part among all that are like it. */
export interface Part {
  readonly key: number;
  readonly colour: ReadonlyMap<number, number>;
  readonly inside: UnitGraph;
  readonly ends: Ends;
  readonly frame: number;
  /** What each unit is by itself. */
  readonly first: ReadonlyMap<number, number>;
  /** Branches in it that are the same. */
  readonly twins: readonly Twins[];
}

/** How far a node may stand from where the same one stands in another part, in pixels. */
const mostOff = 12;
/** Larger parts are not compared. */
const mostUnits = 400;

/**
 * Which parts of a graph repeat, wherever they stand: in frames, in frames within these, or beside. Nothing here
 * depends on sizes or places, but for the choice between units that are alike. O(containers · (sharing out +
 * colouring)).
 */
export class Repeats {
  readonly sharing = new Map<number, Sharing>();
  private readonly graph: LayeredGraph;
  private readonly containers: Containers;
  private readonly interned = new Interned();
  private readonly parts = new Map<string, Part>();
  private readonly byKey = new Map<number, Part[]>();
  private readonly colourOfNode: Int32Array;
  /** The widest unit of each colour, in parts that are the same. */
  private readonly widest = new Map<string, number>();

  constructor(graph: LayeredGraph, containers: Containers) {
    this.graph = graph;
    this.containers = containers;
    this.colourOfNode = new Int32Array(graph.count);
    this.read(-1);
  }

  private read(frame: number): Unit | undefined {
    const { graph, containers, interned } = this;
    const units = [
      ...containers.inner[frame + 1]!.flatMap((f) => this.read(f) ?? []),
      ...containers.members[frame + 1]!.map((v) => containers.single(v)),
    ];
    if (units.length === 0) return undefined;
    const inside = unitGraph(graph, units, (v) => containers.wires[v]!);
    const sharing = shareOut(inside);
    this.sharing.set(frame, sharing);
    const end = (u: number, node: number, offset: number): number =>
      units[u]!.frame < 0 ? offset : interned.of(`in ${this.colourOfNode[node]} ${offset}`);
    const ends: Ends = {
      from: inside.from.map((u, e) => end(u, graph.from[inside.wire[e]!]!, graph.fromOffset[inside.wire[e]!]!)),
      to: inside.to.map((u, e) => end(u, graph.to[inside.wire[e]!]!, graph.toOffset[inside.wire[e]!]!)),
    };
    const first = new Map(units.map((unit, u) => [u, interned.of(`unit ${unit.frame >= 0} ${unit.sign}`)]));
    const keys: number[] = [];
    for (const part of [...sharing.sources, ...sharing.ends, ...sharing.modules]) {
      if (part.length > mostUnits) continue;
      const colour = colours(inside, ends, part, interned, first);
      const key = keyOf(colour, interned);
      keys.push(key);
      const own = new Map(part.map((u) => [u, first.get(u)!]));
      const twins = twinsIn(inside, ends, part, interned, own);
      this.add({ key, colour, inside, ends, frame, first: own, twins }, part);
      for (const u of part) if (units[u]!.frame < 0) this.colourOfNode[units[u]!.nodes[0]!] = colour.get(u)!;
      this.widen(key, colour, units);
      for (const { key: branch, branches } of twins)
        for (const one of branches) this.widen(branch, colours(inside, ends, one, interned, own), units);
    }
    const nodes = units.flatMap((unit) => unit.nodes);
    const sign = interned.of(`frame ${keys.sort((a, b) => a - b).join(' ')} ${sharing.strays.length}`);
    return {
      width: 0,
      height: 0,
      x: Math.min(...units.map((unit) => unit.x)),
      y: Math.min(...units.map((unit) => unit.y)),
      nodes,
      dx: nodes.map(() => 0),
      dy: nodes.map(() => 0),
      frame,
      sign,
    };
  }

  private add(part: Part, group: readonly number[]): void {
    this.parts.set(`${part.frame} ${group[0]}`, part);
    addTo(this.byKey, part.key, part);
  }

  private widen(key: number, colour: ReadonlyMap<number, number>, units: readonly Unit[]): void {
    for (const [u, its] of colour) {
      if (units[u]!.frame >= 0) continue;
      const place = `${key} ${its}`;
      this.widest.set(place, Math.max(this.widest.get(place) ?? 0, units[u]!.width));
    }
  }

  /** A branch of a part, as a part of its own: its units are single nodes, numbered as in `branch`. */
  branch(of: Part, branch: readonly number[]): Part {
    const { graph, interned } = this;
    const inside = unitGraph(
      graph,
      branch.map((u) => of.inside.units[u]!),
      (v) => this.containers.wires[v]!,
    );
    const ends = { from: inside.fromOffset, to: inside.toOffset };
    const all = branch.map((_, i) => i);
    const first = new Map(all.map((i) => [i, of.first.get(branch[i]!)!]));
    const colour = colours(inside, ends, all, interned, first);
    return { key: keyOf(colour, interned), colour, inside, ends, frame: of.frame, first, twins: [] };
  }

  /** A part of which there are several, where this one is alone but differs from it by a unit or two; the commonest. */
  kinOf(part: Part): Part | undefined {
    if (this.byKey.get(part.key)!.length > 1 || hasFrames(part)) return undefined;
    const kin = [...this.byKey.values()].filter(
      ([one, ...others]) => others.length > 0 && !hasFrames(one!) && areKin(part.first, one!.first),
    );
    return kin.reduce<readonly Part[]>((most, one) => (one.length > most.length ? one : most), [])[0];
  }

  /** Which unit of a part is which of its kin; between units that look the same `before` decides. */
  match(part: Part, kin: Part, before: (inside: UnitGraph, a: number, b: number) => number): Map<number, number> {
    const compared = (one: Part) => ({ ...one, group: [...one.colour.keys()] });
    return matchKin(compared(part), compared(kin), this.interned, (of, a, b) => before(of.inside, a, b));
  }

  partAt(frame: number, group: readonly number[]): Part | undefined {
    return this.parts.get(`${frame} ${group[0]}`);
  }

  /** How many nodes lie in parts of which there are several. */
  repeated(): number {
    const times = new Map<number, number>();
    for (const { key } of this.parts.values()) times.set(key, (times.get(key) ?? 0) + 1);
    return [...this.parts.values()].reduce((sum, { key, colour, inside }) => {
      const nodes = [...colour.keys()].filter((u) => inside.units[u]!.frame < 0).length;
      return sum + (colour.size > 1 && times.get(key)! > 1 ? nodes : 0);
    }, 0);
  }

  /** Nodes that do not stand in their part as the same ones do in the first part like it, by number. */
  unlike(): number[] {
    const first = new Map<number, { part: Part; roles: number[] }>();
    const found: number[] = [];
    for (const part of this.parts.values()) {
      const group = [...part.colour.keys()];
      if (group.length < 2 || group.length > mostUnits) continue;
      const { units } = part.inside;
      const roles = this.roles(part, group, (a, b) => units[a]!.y - units[b]!.y || units[a]!.x - units[b]!.x || a - b);
      const known = first.get(part.key);
      if (!known) {
        first.set(part.key, { part, roles });
        continue;
      }
      const others = known.part.inside.units;
      const [mine, its] = [units[roles[0]!]!, others[known.roles[0]!]!];
      roles.forEach((u, role) => {
        const [one, other] = [units[u]!, others[known.roles[role]!]!];
        const isOff =
          Math.abs(one.x - mine.x - other.x + its.x) > mostOff || Math.abs(one.y - mine.y - other.y + its.y) > mostOff;
        if (isOff && one.frame < 0) found.push(one.nodes[0]!);
      });
    }
    return found;
  }

  /** How wide a node of a part is drawn at the most in any part like it. */
  widthOf({ key, colour }: Part, u: number, own: number): number {
    return this.widest.get(`${key} ${colour.get(u)}`) ?? own;
  }

  /**
   * The units of a part in the order that is the same for all like it; between units that are alike `before` decides.
   */
  roles({ inside, ends, colour }: Part, group: readonly number[], before: (a: number, b: number) => number): number[] {
    return inRoles(inside, ends, group, this.interned, colour, before);
  }
}

const hasFrames = ({ colour, inside }: Part): boolean => [...colour.keys()].some((u) => inside.units[u]!.frame >= 0);
