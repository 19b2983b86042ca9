import type { Point, Rect } from '../../document/geometry.ts';
import { feedbackEdges } from '../layered/acyclic.ts';
import { boundsOf } from '../layered/bounds.ts';
import type { LayeredGraph } from '../layered/graph.ts';
import type { LayeredOptions } from '../layered/layered.ts';
import { layOut, pickPart } from '../layered/layout.ts';
import { anyClash, boxOf } from '../part-boxes.ts';
import type { Containers } from './containers.ts';
import { keepsPlaces, type PageOptions, resistance } from './options.ts';
import type { Part, Repeats } from './repeats.ts';
import { type Laid, laidAs, layeredOf, type Unit, type UnitGraph, unitGraph } from './units.ts';
import { wrapped } from './wrap.ts';

/** Parts with more units are large. */
const largeFrom = 1500;

/** Parts of a page, each laid out by itself: once for all that are the same. */
export class PartLayouts {
  /** Something was laid out that does not depend on where anything stands now. */
  isFresh = false;
  private readonly graph: LayeredGraph;
  private readonly options: PageOptions;
  private readonly containers: Containers;
  private readonly repeats: Repeats;
  /** Parts as they were laid out, places by role, by what they are like and how large their frames are. */
  private readonly templates = new Map<string, Laid>();
  /** Parts without frames do not depend on the shape of frames, and are laid out once. */
  private readonly drawn = new Map<string, Laid>();

  constructor(graph: LayeredGraph, options: PageOptions, containers: Containers, repeats: Repeats) {
    this.containers = containers;
    this.graph = graph;
    this.options = options;
    this.repeats = repeats;
  }

  /** A part; those that are the same but for names and values are laid out alike. Places by their order in `group`. */
  lay(inside: UnitGraph, frame: number, group: readonly number[]): Laid {
    if (group.length === 0) return { x: new Float64Array(0), y: new Float64Array(0), width: 0, height: 0 };
    const hasFrames = group.some((u) => inside.units[u]!.frame >= 0);
    const key = `${frame} ${group[0]}`;
    const known = hasFrames ? undefined : this.drawn.get(key);
    if (known) return known;
    const part = group.length > 1 ? this.repeats.partAt(frame, group) : undefined;
    const laid =
      hasFrames && isTangled(inside, group)
        ? this.compound(inside, frame, group)
        : part
          ? (this.likeKin(inside, part, group) ?? this.fromTemplate(inside, part, group))
          : this.laidOut(inside, group, (u) => inside.units[u]!.width);
    if (!hasFrames) this.drawn.set(key, laid);
    return laid;
  }

  /**
   * Frames that feed one another to and fro are no steps of a flow: they are laid out together with all that they hold,
   * in common layers.
   */
  private compound(inside: UnitGraph, frame: number, group: readonly number[]): Laid {
    const { graph } = this;
    const nodes = group.flatMap((u) => inside.units[u]!.nodes).sort((a, b) => a - b);
    const pads = graph.frames!;
    const own = (f: number): number => (f === frame ? -1 : f);
    const piece = pickPart(
      { ...graph, frames: { ...pads, of: pads.of.map(own), parent: pads.parent.map(own) } },
      nodes,
    );
    const { x, y } = layOut(piece, this.layeredOptions(), this.options.proportion);
    const at = new Map(nodes.map((v, i) => [v, i]));
    const boxes = group.map((u) =>
      boundsOf(
        piece,
        inside.units[u]!.nodes.map((v) => at.get(v)!),
        { x, y },
      ),
    );
    const anew = new Map(
      group.flatMap((u, k): [number, Unit][] => {
        const unit = inside.units[u]!;
        if (unit.frame < 0) return [];
        const box = boxes[k]!;
        return [
          [
            u,
            {
              ...unit,
              width: box.width,
              height: box.height,
              dx: unit.nodes.map((v) => x[at.get(v)!]! - box.x),
              dy: unit.nodes.map((v) => y[at.get(v)!]! - box.y),
            },
          ],
        ];
      }),
    );
    return { ...laidAs(boxes), anew };
  }

  private fromTemplate(inside: UnitGraph, part: Part, group: readonly number[]): Laid {
    const { units } = inside;
    const width = (u: number): number =>
      units[u]!.frame >= 0 ? units[u]!.width : this.repeats.widthOf(part, u, units[u]!.width);
    const frames = group.flatMap((u) =>
      units[u]!.frame >= 0 ? [`${part.colour.get(u)} ${units[u]!.width} ${units[u]!.height}`] : [],
    );
    const key = `${part.key} ${frames.sort().join(' ')}`;
    let template = this.templates.get(key);
    if (!template) {
      const { x, y, ...size } = this.withTwins(inside, part, group, width);
      const at = new Map(group.map((u, i) => [u, i]));
      const roles = this.repeats.roles(
        part,
        group,
        (a, b) => y[at.get(a)!]! - y[at.get(b)!]! || x[at.get(a)!]! - x[at.get(b)!]! || a - b,
      );
      template = {
        x: Float64Array.from(roles, (u) => x[at.get(u)!]!),
        y: Float64Array.from(roles, (u) => y[at.get(u)!]!),
        ...size,
      };
      this.templates.set(key, template);
    }
    const roleOf = new Map(
      this.repeats.roles(part, group, (a, b) => this.before(inside, a, b)).map((u, role) => [u, role]),
    );
    const pick = (places: Float64Array): Float64Array => Float64Array.from(group, (u) => places[roleOf.get(u)!]!);
    return { ...template, x: pick(template.x), y: pick(template.y) };
  }

  /** Branches that are the same as blocks, each laid out once, among the rest of their part. */
  private withTwins(inside: UnitGraph, part: Part, group: readonly number[], width: (u: number) => number): Laid {
    const branches = part.twins.flatMap((twins) => twins.branches);
    if (branches.length === 0) return this.laidOut(inside, group, width);
    const within = new Set(branches.flat());
    const rest = group.filter((u) => !within.has(u));
    const members = [...branches, ...rest.map((u) => [u])];
    const units = [
      ...branches.map((branch) => this.blockOf(part, branch)),
      ...rest.map((u) => ({ ...inside.units[u]!, width: width(u) })),
    ];
    const among = unitGraph(this.graph, units, (v) => this.containers.wires[v]!);
    const { x, y, ...size } = this.laidOut(
      among,
      units.map((_, i) => i),
      (i) => units[i]!.width,
      undefined,
      isAllOf(inside, group),
    );
    const places = new Map(
      members.flatMap((some, i) =>
        some.map((u, k): [number, Point] => [u, { x: x[i]! + units[i]!.dx[k]!, y: y[i]! + units[i]!.dy[k]! }]),
      ),
    );
    return {
      x: Float64Array.from(group, (u) => places.get(u)!.x),
      y: Float64Array.from(group, (u) => places.get(u)!.y),
      ...size,
    };
  }

  /** A branch as one unit. */
  private blockOf(part: Part, branch: readonly number[]): Unit {
    const own = this.repeats.branch(part, branch);
    const all = branch.map((_, i) => i);
    const laid = this.fromTemplate(own.inside, own, all);
    const { units } = own.inside;
    return {
      width: laid.width,
      height: laid.height,
      x: Math.min(...units.map((unit) => unit.x)),
      y: Math.min(...units.map((unit) => unit.y)),
      nodes: units.map((unit) => unit.nodes[0]!),
      dx: [...laid.x],
      dy: [...laid.y],
      frame: -1,
      sign: 0,
    };
  }

  /**
   * A part that differs by a unit or two from others that are the same, as these are laid out: where it lacks something
   * a hole stays, and what it has more is put among them in their order. Undefined where it has no kin.
   */
  private likeKin(inside: UnitGraph, part: Part, group: readonly number[]): Laid | undefined {
    const kin = this.repeats.kinOf(part);
    if (!kin) return undefined;
    const its = [...kin.colour.keys()];
    const model = this.lay(kin.inside, kin.frame, its);
    const at = new Map(its.map((u, i) => [u, i]));
    const match = this.repeats.match(part, kin, (of, a, b) => this.before(of, a, b));
    const placeOf = (u: number): Point | undefined => {
      const i = at.get(match.get(u) ?? -1);
      return i === undefined ? undefined : { x: model.x[i]!, y: model.y[i]! };
    };
    if (match.size < group.length / 2) return undefined;
    const known = new Map(group.flatMap((u) => (placeOf(u) ? [[u, placeOf(u)!] as const] : [])));
    const asIts = known.size === group.length ? placedAt(inside, group, known) : undefined;
    if (asIts) return asIts;
    const guess = (u: number): Point => {
      const near = inside.from
        .flatMap((a, e) => (a === u ? [inside.to[e]!] : inside.to[e] === u ? [a] : []))
        .flatMap((v) => known.get(v) ?? []);
      const mean = (of: (p: Point) => number): number =>
        near.reduce((sum, p) => sum + of(p), 0) / Math.max(1, near.length);
      return { x: mean((p) => p.x), y: mean((p) => p.y) };
    };
    const among = new Set(group);
    const units = inside.units.map((unit, u) => (among.has(u) ? { ...unit, ...(known.get(u) ?? guess(u)) } : unit));
    return this.laidOut({ ...inside, units }, group, (u) => units[u]!.width, 1);
  }

  /**
   * Who stands above of two units that could take each other's place: by the number in their names, or by where they
   * stand.
   */
  private before({ units }: UnitGraph, a: number, b: number): number {
    const { names } = this.graph;
    const [one, other] = [units[a]!, units[b]!];
    const byPlace = one.y + one.height / 2 - other.y - other.height / 2 || one.x - other.x || a - b;
    if (!names || this.options.keep >= keepsPlaces || one.frame >= 0 || other.frame >= 0) return byPlace;
    const [v, w] = [one.nodes[0]!, other.nodes[0]!];
    return names.stem[v] === names.stem[w] ? names.place[v]! - names.place[w]! : byPlace;
  }

  private layeredOptions(kept = resistance(this.options.keep)): LayeredOptions {
    const { spacing, quality, tick } = this.options;
    return { spacing, keep: kept, ...(quality && { quality }), ...(tick && { tick }) };
  }

  /** Some of the units by layered layout; what no wire joins is packed. */
  private laidOut(
    inside: UnitGraph,
    group: readonly number[],
    width: (u: number) => number,
    kept = resistance(this.options.keep),
    isAlone = isAllOf(inside, group),
  ): Laid {
    const part = { ...layeredOf(inside, group), width: Float64Array.from(group, width) };
    // in a large part what is equal is decided by its number, so that it need not be laid out again to see whether it
    // stays
    const isLarge = group.length > largeFrom;
    const piece = isLarge && kept === 0 ? { ...part, x: part.x.map(() => 0), y: part.y.map((_, i) => i) } : part;
    const long = layOut(piece, this.layeredOptions(kept), this.options.proportion);
    // only what is a page by itself is wrapped: parts have others beside them
    if (isAlone && isLarge && kept === 0) this.isFresh = true;
    const { x, y } = (isAlone && wrapped(piece, long, this.options.proportion)) || long;
    let [right, bottom] = [0, 0];
    group.forEach((_, i) => {
      right = Math.max(right, x[i]! + piece.width[i]!);
      bottom = Math.max(bottom, y[i]! + piece.height[i]!);
    });
    return { x, y, width: right, height: bottom };
  }
}

/** Units at given places, moved to 0; undefined where two would lie on one another. O(units · log units). */
function placedAt(
  { units }: UnitGraph,
  group: readonly number[],
  places: ReadonlyMap<number, Point>,
): Laid | undefined {
  const rects = group.map((u): Rect => ({ ...places.get(u)!, width: units[u]!.width, height: units[u]!.height }));
  return anyClash(rects.map(boxOf)) ? undefined : laidAs(rects);
}

/** Are some of the units all that there is, with no wire to anything else? */
const isAllOf = (inside: UnitGraph, group: readonly number[]): boolean =>
  group.length === inside.units.length && inside.outer.length === 0;

/** Do wires between some of the units run in a ring? */
function isTangled({ units, from, to }: UnitGraph, group: readonly number[]): boolean {
  const among = new Set(group);
  const kept = from.flatMap((u, e) => (among.has(u) && among.has(to[e]!) ? [e] : []));
  return feedbackEdges(
    units.length,
    Int32Array.from(kept, (e) => from[e]!),
    Int32Array.from(kept, (e) => to[e]!),
  ).some((turned) => turned === 1);
}
