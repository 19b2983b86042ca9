import type { Rect } from '../../document/geometry.ts';
import { feedbackEdges } from '../layered/acyclic.ts';
import type { LayeredGraph, Spacing } from '../layered/graph.ts';
import type { LayeredOptions } from '../layered/layered.ts';
import { type Layout, layOut, pickPart } from '../layered/layout.ts';
import type { Quality } from '../layered/order.ts';
import { Sets } from '../layered/parts.ts';
import { Containers } from './containers.ts';
import { type Part, Repeats } from './repeats.ts';
import { type Block, placeRows } from './rows.ts';
import { layeredOf, type Unit, type UnitGraph, unitGraph } from './units.ts';
import { wrapped } from './wrap.ts';

export interface PageOptions {
  readonly spacing: Spacing;
  readonly keep: number;
  readonly quality?: Quality;
  /** Width ÷ height of the window that the page is for, in flow coordinates. */
  readonly proportion: number;
  readonly tick?: (fraction: number, what: string) => void;
}

/** A page; `isFresh` where it does not depend on where anything stands now. */
export interface PageLayout extends Layout {
  readonly isFresh: boolean;
}

export function layOutPage(graph: LayeredGraph, options: PageOptions): PageLayout {
  return new Page(graph, options).layout();
}

/** Places of units, and what they cover. */
interface Laid {
  readonly x: Float64Array;
  readonly y: Float64Array;
  readonly width: number;
  readonly height: number;
  /** Frames that were laid out anew together with what is around them, by unit. */
  readonly anew?: ReadonlyMap<number, Unit>;
}

/** What parts keep that no hub feeds: room for a lane or two between. */
const closeGap = 36;
/** Parts with more units are large. */
const largeFrom = 1500;
/** Shapes of frames that are tried, as parts of the page's. */
const shapes = [1, 0.55, 0.3];

class Page {
  private readonly graph: LayeredGraph;
  private readonly options: PageOptions;
  private readonly containers: Containers;
  private readonly repeats: Repeats;
  /** Parts as they were laid out, by what they are like and how large their frames are. */
  private readonly templates = new Map<string, Template>();
  /** Modules without frames do not depend on the shape of frames, and are laid out once. */
  private readonly drawn = new Map<string, Laid>();
  private cost = 0;
  private isFresh = false;
  private done = 0;

  constructor(graph: LayeredGraph, options: PageOptions) {
    this.graph = graph;
    this.options = options;
    this.containers = new Containers(graph);
    this.repeats = new Repeats(graph, this.containers);
  }

  /** The layout whose frames have the shape that makes the whole fit best. */
  layout(): PageLayout {
    const [x, y] = [new Float64Array(this.graph.count), new Float64Array(this.graph.count)];
    let best: Unit | undefined;
    let least = Number.POSITIVE_INFINITY;
    // only frames that hold several parts can have another shape
    const canTurn = [...this.repeats.sharing].some(([frame, { modules }]) => frame >= 0 && modules.length > 1);
    for (const shape of canTurn ? shapes : [1]) {
      this.cost = 0;
      const whole = this.container(-1, this.options.proportion * shape);
      if (!whole || this.cost >= least - 1e-9) continue;
      [best, least] = [whole, this.cost];
    }
    best?.nodes.forEach((v, i) => {
      x[v] = Math.round(best.dx[i]!);
      y[v] = Math.round(best.dy[i]!);
    });
    return { x, y, isFresh: this.isFresh };
  }

  /** A frame, or the whole (−1), laid out with all that it holds; undefined where it holds no node. */
  private container(frame: number, proportion: number): Unit | undefined {
    const { graph, containers } = this;
    const units: Unit[] = [...containers.inner[frame + 1]!.flatMap((f) => this.container(f, proportion) ?? []), ...containers.members[frame + 1]!.map((v) => containers.single(v))];
    if (units.length === 0) return undefined;
    this.options.tick?.(Math.min(0.9, this.done / (3 * graph.count)), 'laying out');
    const inside = unitGraph(graph, units, (v) => containers.wires[v]!);
    const laid = this.place(inside, frame, frame < 0 ? this.options.proportion : proportion);
    this.done += units.length;
    return this.unitOf(units, laid, frame);
  }

  private unitOf(units: readonly Unit[], laid: Laid, frame: number): Unit {
    const pads = this.graph.frames;
    const [before, after, above, below] = frame < 0 || !pads ? [0, 0, 0, 0] : [pads.before[frame]!, pads.after[frame]!, pads.above[frame]!, pads.below[frame]!];
    const [nodes, dx, dy]: [number[], number[], number[]] = [[], [], []];
    units.forEach((old, u) => {
      const unit = laid.anew?.get(u) ?? old;
      unit.nodes.forEach((v, i) => {
        nodes.push(v);
        dx.push(before + laid.x[u]! + unit.dx[i]!);
        dy.push(above + laid.y[u]! + unit.dy[i]!);
      });
    });
    return {
      width: laid.width + before + after,
      height: laid.height + above + below,
      x: Math.min(...units.map((unit) => unit.x)) - before,
      y: Math.min(...units.map((unit) => unit.y)) - above,
      nodes,
      dx,
      dy,
      frame,
      sign: 0,
    };
  }

  private place(inside: UnitGraph, frame: number, proportion: number): Laid {
    const all = inside.units.map((_, i) => i);
    const { sources: first, ends: last, modules, strays } = this.repeats.sharing.get(frame)!;
    const isSource = new Set(first.flat());
    const hubNets = new Set(inside.from.flatMap((u, e) => (isSource.has(u) ? [inside.net[e]!] : []))).size;
    const lanes = 7 * Math.min(hubNets, 16);
    const groups = clustersOf(inside, modules);
    const drawn = groups.map((group) => this.cluster(inside, frame, group));
    const loose = this.layered(inside, frame, strays);
    const [sources, ends] = [first.map((group) => this.layered(inside, frame, group)), last.map((group) => this.layered(inside, frame, group))];
    const [gapX, gapY] = hubNets > 0 ? [64 + lanes, 48 + lanes] : [closeGap, closeGap];
    // each source in a column of its own, so that its trunk can go up and down behind it
    const before = sources.reduce((sum, one) => sum + one.width + gapX, 0);
    const behind = ends.reduce((most, one) => Math.max(most, one.width + gapX), 0);
    const blocks = groups.map((group, g) => blockOf(inside, group.flat(), drawn[g]!));
    const rows = placeRows(blocks, { proportion, gapX, gapY, keep: Math.max(0.02, this.options.keep), beside: before + behind, ...(frame < 0 && { now: coveredNow(this.graph) }) });
    this.cost += rows.cost * (frame < 0 ? 1 : 0.001);
    this.byNumber(inside, frame, groups, rows);
    const [x, y] = [new Float64Array(all.length), new Float64Array(all.length)];
    // strays stand by the end of the flow: behind the last row where there is room, else in a row of their own
    const taken = groups.flatMap((group, g) =>
      group.flat().map((u, i) => ({
        x: rows.x[g]! + drawn[g]!.x[i]!,
        y: rows.y[g]! + drawn[g]!.y[i]!,
        width: (drawn[g]!.anew?.get(u) ?? inside.units[u]!).width,
        height: (drawn[g]!.anew?.get(u) ?? inside.units[u]!).height,
      })),
    );
    const corner = strays.length === 0 ? undefined : cornerFor(taken, rows, loose, closeGap);
    const area = corner ? { width: Math.max(rows.width, corner.x + loose.width), height: Math.max(rows.height, corner.y + loose.height) } : rows;
    const stack = ends.reduce((sum, one) => sum + one.height + gapY, -gapY);
    const height = Math.max(area.height, stack, ...sources.map((one) => one.height));
    const put = (group: readonly number[], laid: Laid, left: number, top: number): void => {
      group.forEach((u, i) => {
        x[u] = left + laid.x[i]!;
        y[u] = top + laid.y[i]!;
      });
    };
    let left = 0;
    first.forEach((group, i) => {
      put(group, sources[i]!, left, (height - sources[i]!.height) / 2);
      left += sources[i]!.width + gapX;
    });
    const start = (height - area.height) / 2;
    groups.forEach((group, g) => put(group.flat(), drawn[g]!, before + rows.x[g]!, start + rows.y[g]!));
    if (corner) put(strays, loose, before + corner.x, start + corner.y);
    let top = (height - stack) / 2;
    last.forEach((group, i) => {
      put(group, ends[i]!, before + area.width + gapX, top);
      top += ends[i]!.height + gapY;
    });
    const anew = new Map([...drawn, ...sources, ...ends].flatMap((laid) => [...(laid.anew ?? [])]));
    return { x, y, width: before + area.width + behind, height, anew };
  }

  /** Parts that are the same but for a number in their names exchange their places until the numbers ascend as one reads. */
  private byNumber(inside: UnitGraph, frame: number, groups: readonly (readonly (readonly number[])[])[], { x, y }: Pick<Laid, 'x' | 'y'>): void {
    const { names } = this.graph;
    if (!names || this.options.keep >= keepsPlaces) return;
    const alike = new Map<string, { group: number; place: number }[]>();
    groups.forEach((parts, group) => {
      const part = parts.length === 1 ? this.repeats.partAt(frame, parts[0]!) : undefined;
      if (!part || parts[0]!.some((u) => inside.units[u]!.frame >= 0)) return;
      // the same unit of each part speaks for it
      const first = parts[0]!.reduce((least, u) => (part.colour.get(u)! < part.colour.get(least)! ? u : least));
      const node = inside.units[first]!.nodes[0]!;
      const key = `${part.key} ${names.stem[node]}`;
      alike.set(key, [...(alike.get(key) ?? []), { group, place: names.place[node]! }]);
    });
    for (const members of alike.values()) {
      const slots = members.map(({ group }) => ({ x: x[group]!, y: y[group]! })).sort((a, b) => a.y - b.y || a.x - b.x);
      members
        .sort((a, b) => a.place - b.place)
        .forEach(({ group }, i) => {
          x[group] = slots[i]!.x;
          y[group] = slots[i]!.y;
        });
    }
  }

  /** Parts that stand together, each by itself, in rows. */
  private cluster(inside: UnitGraph, frame: number, parts: readonly (readonly number[])[]): Laid {
    const drawn = parts.map((part) => this.layered(inside, frame, part));
    if (drawn.length === 1) return drawn[0]!;
    const rows = placeRows(
      parts.map((part, p) => blockOf(inside, part, drawn[p]!)),
      { proportion: this.options.proportion, gapX: closeGap, gapY: closeGap, keep: Math.max(0.1, this.options.keep), beside: 0 },
    );
    return {
      x: Float64Array.from(drawn.flatMap((laid, p) => Array.from(laid.x, (x) => x + rows.x[p]!))),
      y: Float64Array.from(drawn.flatMap((laid, p) => Array.from(laid.y, (y) => y + rows.y[p]!))),
      width: rows.width,
      height: rows.height,
    };
  }

  /** A part; those that are the same but for names and values are laid out alike. Places by their order in `group`. */
  private layered(inside: UnitGraph, frame: number, group: readonly number[]): Laid {
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
    const boxes = group.map((u): Rect => {
      const unit = inside.units[u]!;
      let [left, top, right, bottom] = [Infinity, Infinity, -Infinity, -Infinity];
      for (const v of unit.nodes) {
        let [before, above, after, below] = [0, 0, 0, 0];
        for (let f = own(pads.of[v]!); f !== -1; f = own(pads.parent[f]!)) {
          before += pads.before[f]!;
          above += pads.above[f]!;
          after += pads.after[f]!;
          below += pads.below[f]!;
        }
        const i = at.get(v)!;
        left = Math.min(left, x[i]! - before);
        top = Math.min(top, y[i]! - above);
        right = Math.max(right, x[i]! + graph.width[v]! + after);
        bottom = Math.max(bottom, y[i]! + graph.height[v]! + below);
      }
      return { x: left, y: top, width: right - left, height: bottom - top };
    });
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
    return { spacing, keep: resistance(keep), ...(quality && { quality }), ...(tick && { tick: (_, what) => tick(Math.min(0.9, this.done / (3 * this.graph.count)), what) }) };
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

/** Up to this keep parts are ordered afresh inside, and people's order decides where they stand and between equals. */
const freshUpTo = 0.3;
const resistance = (keep: number): number => Math.max(0, (keep - freshUpTo) / (1 - freshUpTo));

/** A part laid out, its places by role. */
type Template = Laid;

/** From this keep on, what stood above stays above, whatever the numbers say. */
const keepsPlaces = 0.5;

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

/** What all nodes cover where they are, frames included. */
function coveredNow({ count, x, y, width, height, frames }: LayeredGraph): { width: number; height: number } {
  let [left, top, right, bottom] = [Infinity, Infinity, -Infinity, -Infinity];
  for (let v = 0; v < count; v++) {
    let [before, above, after, below] = [0, 0, 0, 0];
    for (let f = frames?.of[v] ?? -1; f !== -1; f = frames!.parent[f]!) {
      before += frames!.before[f]!;
      above += frames!.above[f]!;
      after += frames!.after[f]!;
      below += frames!.below[f]!;
    }
    left = Math.min(left, x[v]! - before);
    top = Math.min(top, y[v]! - above);
    right = Math.max(right, x[v]! + width[v]! + after);
    bottom = Math.max(bottom, y[v]! + height[v]! + below);
  }
  return { width: right - left, height: bottom - top };
}

/** How many nodes a part has at the most that stands with others, and how many they have together. */
const [mostInPart, mostTogether] = [30, 120];
/** Parts stand together where they cover so much of the smaller one. */
const togetherFrom = 0.25;

/** Modules that people have put together though no wire joins them: small ones without frames whose places run into one another. O(modules²). */
function clustersOf(inside: UnitGraph, modules: readonly (readonly number[])[]): (readonly number[])[][] {
  const boxes = modules.map((part) => blockOf(inside, part, { x: new Float64Array(0), y: new Float64Array(0), width: 0, height: 0 }));
  const size = modules.map((part) => part.reduce((sum, u) => sum + inside.units[u]!.nodes.length, 0));
  const isSmall = modules.map((part, m) => size[m]! <= mostInPart && part.every((u) => inside.units[u]!.frame < 0));
  const sets = new Sets(modules.length);
  const together = size.slice();
  for (let a = 0; a < modules.length; a++) {
    for (let b = a + 1; b < modules.length; b++) {
      if (!isSmall[a] || !isSmall[b]) continue;
      const [one, other] = [boxes[a]!, boxes[b]!];
      const wide = Math.min(one.cx + one.nowWidth / 2, other.cx + other.nowWidth / 2) - Math.max(one.cx - one.nowWidth / 2, other.cx - other.nowWidth / 2);
      const high = Math.min(one.cy + one.nowHeight / 2, other.cy + other.nowHeight / 2) - Math.max(one.cy - one.nowHeight / 2, other.cy - other.nowHeight / 2);
      const smaller = Math.min(one.nowWidth * one.nowHeight, other.nowWidth * other.nowHeight);
      const isOver = wide > 0 && high > 0 && wide * high >= togetherFrom * smaller;
      // one close below the other, as this page places what stands together
      const isBelow = wide >= Math.min(one.nowWidth, other.nowWidth) / 2 && high > -closeGap - 4;
      if (!isOver && !isBelow) continue;
      const [p, q] = [sets.find(a), sets.find(b)];
      if (p === q || together[p]! + together[q]! > mostTogether) continue;
      sets.join(p, q);
      together[sets.find(p)] = together[p]! + together[q]!;
    }
  }
  const clusters = new Map<number, (readonly number[])[]>();
  modules.forEach((part, m) => {
    const root = sets.find(m);
    clusters.set(root, [...(clusters.get(root) ?? []), part]);
  });
  return [...clusters.values()];
}

/** Where strays go: the free corner nearest to the end of the flow, or a row of their own at the right. `taken` is what stands there. O(n²) in the corners tried. */
function cornerFor(taken: readonly Rect[], area: { readonly width: number; readonly height: number }, loose: Laid, gap: number): { x: number; y: number } {
  if (taken.length === 0) return { x: 0, y: 0 };
  const isFree = (x: number, y: number): boolean =>
    taken.every((rect) => x >= rect.x + rect.width + gap || x + loose.width + gap <= rect.x || y >= rect.y + rect.height + gap || y + loose.height + gap <= rect.y);
  const [right, low] = [area.width - loose.width, area.height - loose.height];
  const tries = [low, ...taken.map((rect) => rect.y + rect.height + gap), ...taken.map((rect) => rect.y), 0].filter((y) => y >= 0 && y <= low).sort((a, b) => b - a);
  if (right >= 0) for (const y of tries) if (isFree(right, y)) return { x: right, y };
  return { x: Math.max(0, right), y: area.height + gap };
}

function blockOf(inside: UnitGraph, group: readonly number[], laid: Laid): Block {
  let [left, top, right, bottom] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const u of group) {
    const { x, y, width, height } = inside.units[u]!;
    left = Math.min(left, x);
    top = Math.min(top, y);
    right = Math.max(right, x + width);
    bottom = Math.max(bottom, y + height);
  }
  return { width: laid.width, height: laid.height, cx: (left + right) / 2, cy: (top + bottom) / 2, nowWidth: right - left, nowHeight: bottom - top };
}
