import type { Rect } from '../../document/geometry.ts';
import type { LayeredGraph, Spacing } from '../layered/graph.ts';
import { type Layout, layOut } from '../layered/layout.ts';
import type { Quality } from '../layered/order.ts';
import { Sets } from '../layered/parts.ts';
import { Containers } from './containers.ts';
import { type Sharing, shareOut } from './hubs.ts';
import { type Block, placeRows } from './rows.ts';
import { layeredOf, type Unit, type UnitGraph, unitGraph } from './units.ts';

export interface PageOptions {
  readonly spacing: Spacing;
  readonly keep: number;
  readonly quality?: Quality;
  /** Width ÷ height of the window that the page is for, in flow coordinates. */
  readonly proportion: number;
  readonly tick?: (fraction: number, what: string) => void;
}

export function layOutPage(graph: LayeredGraph, options: PageOptions): Layout {
  return new Page(graph, options).layout();
}

/** Places of units, and what they cover. */
interface Laid {
  readonly x: Float64Array;
  readonly y: Float64Array;
  readonly width: number;
  readonly height: number;
}

/** Shapes of frames that are tried, as parts of the page's. */
const shapes = [1, 0.55, 0.3];

class Page {
  private readonly graph: LayeredGraph;
  private readonly options: PageOptions;
  private readonly containers: Containers;
  /** What does not depend on the shape of frames is worked out once: who stands where in each container, and modules without frames. */
  private readonly shared = new Map<number, Sharing>();
  private readonly drawn = new Map<string, Laid>();
  private cost = 0;

  constructor(graph: LayeredGraph, options: PageOptions) {
    this.graph = graph;
    this.options = options;
    this.containers = new Containers(graph);
  }

  /** The layout whose frames have the shape that makes the whole fit best. */
  layout(): Layout {
    const [x, y] = [new Float64Array(this.graph.count), new Float64Array(this.graph.count)];
    let best: Unit | undefined;
    let least = Number.POSITIVE_INFINITY;
    const hasFrames = this.containers.inner[0]!.length > 0;
    for (const shape of hasFrames ? shapes : [1]) {
      this.cost = 0;
      const whole = this.container(-1, this.options.proportion * shape);
      if (!whole || this.cost >= least - 1e-9) continue;
      [best, least] = [whole, this.cost];
    }
    best?.nodes.forEach((v, i) => {
      x[v] = Math.round(best.dx[i]!);
      y[v] = Math.round(best.dy[i]!);
    });
    return { x, y };
  }

  /** A frame, or the whole (−1), laid out with all that it holds; undefined where it holds no node. */
  private container(frame: number, proportion: number): Unit | undefined {
    const { graph, containers } = this;
    const units: Unit[] = [
      ...containers.inner[frame + 1]!.flatMap((f) => this.container(f, proportion) ?? []),
      ...containers.members[frame + 1]!.map((v) => containers.single(v)),
    ];
    if (units.length === 0) return undefined;
    const inside = unitGraph(graph, units, (v) => containers.wires[v]!);
    const laid = this.place(inside, frame, frame < 0 ? this.options.proportion : proportion);
    return this.unitOf(units, laid, frame);
  }

  private unitOf(units: readonly Unit[], laid: Laid, frame: number): Unit {
    const pads = this.graph.frames;
    const [before, after, above, below] = frame < 0 || !pads ? [0, 0, 0, 0] : [pads.before[frame]!, pads.after[frame]!, pads.above[frame]!, pads.below[frame]!];
    const [nodes, dx, dy]: [number[], number[], number[]] = [[], [], []];
    units.forEach((unit, u) => {
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
    const { sources: first, ends: last, modules, strays } = this.sharing(inside, frame);
    const isSource = new Set(first.flat());
    const hubNets = new Set(inside.from.flatMap((u, e) => (isSource.has(u) ? [inside.net[e]!] : []))).size;
    const lanes = 7 * Math.min(hubNets, 16);
    const groups = clustersOf(inside, modules);
    const drawn = groups.map((group) => this.cluster(inside, frame, group));
    const loose = this.layered(inside, frame, strays);
    const [sources, ends] = [
      first.map((group) => this.layered(inside, frame, group)),
      last.map((group) => this.layered(inside, frame, group)),
    ];
    const [gapX, gapY] = hubNets > 0 ? [64 + lanes, 48 + lanes] : [2 * this.options.spacing.across, 2 * this.options.spacing.across];
    // each source in a column of its own, so that its trunk can go up and down behind it
    const before = sources.reduce((sum, one) => sum + one.width + gapX, 0);
    const behind = ends.reduce((most, one) => Math.max(most, one.width + gapX), 0);
    const blocks = groups.map((group, g) => blockOf(inside, group.flat(), drawn[g]!));
    const rows = placeRows(blocks, { proportion, gapX, gapY, keep: Math.max(0.02, this.options.keep), beside: before + behind, ...(frame < 0 && { now: coveredNow(this.graph) }) });
    this.cost += rows.cost * (frame < 0 ? 1 : 0.001);
    const [x, y] = [new Float64Array(all.length), new Float64Array(all.length)];
    // strays stand by the end of the flow: behind the last row where there is room, else in a row of their own
    const taken = groups.flatMap((group, g) =>
      group.flat().map((u, i) => ({ x: rows.x[g]! + drawn[g]!.x[i]!, y: rows.y[g]! + drawn[g]!.y[i]!, width: inside.units[u]!.width, height: inside.units[u]!.height })),
    );
    const corner = strays.length === 0 ? undefined : cornerFor(taken, rows, loose, 2 * this.options.spacing.across);
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
    return { x, y, width: before + area.width + behind, height };
  }

  /** Parts that stand together, each by itself, in rows. */
  private cluster(inside: UnitGraph, frame: number, parts: readonly (readonly number[])[]): Laid {
    const drawn = parts.map((part) => this.layered(inside, frame, part));
    if (drawn.length === 1) return drawn[0]!;
    const gap = 2 * this.options.spacing.across;
    const rows = placeRows(
      parts.map((part, p) => blockOf(inside, part, drawn[p]!)),
      { proportion: this.options.proportion, gapX: gap, gapY: gap, keep: Math.max(0.1, this.options.keep), beside: 0 },
    );
    return {
      x: Float64Array.from(drawn.flatMap((laid, p) => Array.from(laid.x, (x) => x + rows.x[p]!))),
      y: Float64Array.from(drawn.flatMap((laid, p) => Array.from(laid.y, (y) => y + rows.y[p]!))),
      width: rows.width,
      height: rows.height,
    };
  }

  /** Who stands where; without hubs, what wires join is a module, and what none reaches is a stray. */
  private sharing(inside: UnitGraph, frame: number): Sharing {
    const known = this.shared.get(frame);
    if (known) return known;
    const shared = shareOut(inside);
    this.shared.set(frame, shared);
    return shared;
  }

  /** Some of the units by layered layout; what no wire joins is packed. Places by their order in `group`. */
  private layered(inside: UnitGraph, frame: number, group: readonly number[]): Laid {
    if (group.length === 0) return { x: new Float64Array(0), y: new Float64Array(0), width: 0, height: 0 };
    const key = `${frame} ${group[0]}`;
    const piece = layeredOf(inside, group);
    const hasFrames = group.some((u) => inside.units[u]!.frame >= 0);
    const known = hasFrames ? undefined : this.drawn.get(key);
    if (known) return known;
    const { spacing, quality, keep } = this.options;
    const { x, y } = layOut(piece, { spacing, keep, ...(quality && { quality }) }, this.options.proportion);
    let [width, height] = [0, 0];
    group.forEach((_, i) => {
      width = Math.max(width, x[i]! + piece.width[i]!);
      height = Math.max(height, y[i]! + piece.height[i]!);
    });
    const laid = { x, y, width, height };
    if (!hasFrames) this.drawn.set(key, laid);
    return laid;
  }
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
      if (wide <= 0 || high <= 0 || wide * high < togetherFrom * smaller) continue;
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
