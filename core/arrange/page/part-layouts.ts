import { feedbackEdges } from '../layered/acyclic.ts';
import { boundsOf } from '../layered/bounds.ts';
import type { LayeredGraph } from '../layered/graph.ts';
import type { LayeredOptions } from '../layered/layered.ts';
import { layOut, pickPart } from '../layered/layout.ts';
import { keepsPlaces, type PageOptions, resistance } from './options.ts';
import type { Part, Repeats } from './repeats.ts';
import { type Laid, layeredOf, type Unit, type UnitGraph } from './units.ts';
import { wrapped } from './wrap.ts';

/** Parts with more units are large. */
const largeFrom = 1500;

/** Parts of a page, each laid out by itself: once for all that are the same. */
export class PartLayouts {
  /** Something was laid out that does not depend on where anything stands now. */
  isFresh = false;
  private readonly graph: LayeredGraph;
  private readonly options: PageOptions;
  private readonly repeats: Repeats;
  /** Parts as they were laid out, places by role, by what they are like and how large their frames are. */
  private readonly templates = new Map<string, Laid>();
  /** Parts without frames do not depend on the shape of frames, and are laid out once. */
  private readonly drawn = new Map<string, Laid>();

  constructor(graph: LayeredGraph, options: PageOptions, repeats: Repeats) {
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
          ? this.fromTemplate(inside, part, group)
          : this.laidOut(inside, group, (u) => inside.units[u]!.width);
    if (!hasFrames) this.drawn.set(key, laid);
    return laid;
  }

  /** Frames that feed one another to and fro are no steps of a flow: they are laid out together with all that they hold, in common layers. */
  private compound(inside: UnitGraph, frame: number, group: readonly number[]): Laid {
    const { graph } = this;
    const nodes = group.flatMap((u) => inside.units[u]!.nodes).sort((a, b) => a - b);
    const pads = graph.frames!;
    const own = (f: number): number => (f === frame ? -1 : f);
    const piece = pickPart({ ...graph, frames: { ...pads, of: pads.of.map(own), parent: pads.parent.map(own) } }, nodes);
    const { x, y } = layOut(piece, this.layeredOptions(), this.options.proportion);
    const at = new Map(nodes.map((v, i) => [v, i]));
    const boxes = group.map((u) =>
      boundsOf(
        piece,
        inside.units[u]!.nodes.map((v) => at.get(v)!),
        { x, y },
      ),
    );
    const [left, top] = [Math.min(...boxes.map((box) => box.x)), Math.min(...boxes.map((box) => box.y))];
    const anew = new Map(
      group.flatMap((u, k): [number, Unit][] => {
        const unit = inside.units[u]!;
        if (unit.frame < 0) return [];
        const box = boxes[k]!;
        return [[u, { ...unit, width: box.width, height: box.height, dx: unit.nodes.map((v) => x[at.get(v)!]! - box.x), dy: unit.nodes.map((v) => y[at.get(v)!]! - box.y) }]];
      }),
    );
    return {
      x: Float64Array.from(boxes, (box) => box.x - left),
      y: Float64Array.from(boxes, (box) => box.y - top),
      width: Math.max(...boxes.map((box) => box.x + box.width)) - left,
      height: Math.max(...boxes.map((box) => box.y + box.height)) - top,
      anew,
    };
  }

  private fromTemplate(inside: UnitGraph, part: Part, group: readonly number[]): Laid {
    const { units } = inside;
    const width = (u: number): number => (units[u]!.frame >= 0 ? units[u]!.width : this.repeats.widthOf(part, u, units[u]!.width));
    const frames = group.flatMap((u) => (units[u]!.frame >= 0 ? [`${part.colour.get(u)} ${units[u]!.width} ${units[u]!.height}`] : []));
    const key = `${part.key} ${frames.sort().join(' ')}`;
    let template = this.templates.get(key);
    if (!template) {
      const { x, y, ...size } = this.laidOut(inside, group, width);
      const at = new Map(group.map((u, i) => [u, i]));
      const roles = this.repeats.roles(part, group, (a, b) => y[at.get(a)!]! - y[at.get(b)!]! || x[at.get(a)!]! - x[at.get(b)!]! || a - b);
      template = { x: Float64Array.from(roles, (u) => x[at.get(u)!]!), y: Float64Array.from(roles, (u) => y[at.get(u)!]!), ...size };
      this.templates.set(key, template);
    }
    const roleOf = new Map(this.repeats.roles(part, group, (a, b) => this.before(inside, a, b)).map((u, role) => [u, role]));
    const pick = (places: Float64Array): Float64Array => Float64Array.from(group, (u) => places[roleOf.get(u)!]!);
    return { ...template, x: pick(template.x), y: pick(template.y) };
  }

  /** Who stands above of two units that could take each other's place: by the number in their names, or by where they stand. */
  private before({ units }: UnitGraph, a: number, b: number): number {
    const { names } = this.graph;
    const [one, other] = [units[a]!, units[b]!];
    const byPlace = one.y + one.height / 2 - other.y - other.height / 2 || one.x - other.x || a - b;
    if (!names || this.options.keep >= keepsPlaces || one.frame >= 0 || other.frame >= 0) return byPlace;
    const [v, w] = [one.nodes[0]!, other.nodes[0]!];
    return names.stem[v] === names.stem[w] ? names.place[v]! - names.place[w]! : byPlace;
  }

  private layeredOptions(): LayeredOptions {
    const { spacing, quality, keep, tick } = this.options;
    return { spacing, keep: resistance(keep), ...(quality && { quality }), ...(tick && { tick }) };
  }

  /** Some of the units by layered layout; what no wire joins is packed. */
  private laidOut(inside: UnitGraph, group: readonly number[], width: (u: number) => number): Laid {
    const part = { ...layeredOf(inside, group), width: Float64Array.from(group, width) };
    // in a large part what is equal is decided by its number, so that it need not be laid out again to see whether it stays
    const isLarge = group.length > largeFrom;
    const piece = isLarge && resistance(this.options.keep) === 0 ? { ...part, x: part.x.map(() => 0), y: part.y.map((_, i) => i) } : part;
    const long = layOut(piece, this.layeredOptions(), this.options.proportion);
    // only what is a page by itself is wrapped: parts have others beside them
    const isAlone = group.length === inside.units.length && inside.outer.length === 0;
    if (isAlone && isLarge && resistance(this.options.keep) === 0) this.isFresh = true;
    const { x, y } = (isAlone && wrapped(piece, long, this.options.proportion)) || long;
    let [right, bottom] = [0, 0];
    group.forEach((_, i) => {
      right = Math.max(right, x[i]! + piece.width[i]!);
      bottom = Math.max(bottom, y[i]! + piece.height[i]!);
    });
    return { x, y, width: right, height: bottom };
  }
}

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
