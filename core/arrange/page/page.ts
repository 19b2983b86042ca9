import { addTo } from '../../group-by.ts';
import { boundsOf } from '../layered/bounds.ts';
import type { LayeredGraph } from '../layered/graph.ts';
import { type Layout, layOut } from '../layered/layout.ts';
import { blockOf, clustersOf, cornerFor } from './clusters.ts';
import { Containers } from './containers.ts';
import { asTheyStand, gainOf, middleOf, placeInPlace } from './in-place.ts';
import { closeGap, keepsPlaces, leastGain, type PageOptions, resistance } from './options.ts';
import { PartLayouts } from './part-layouts.ts';
import { Repeats } from './repeats.ts';
import { placeRows } from './rows.ts';
import { type Laid, type Unit, type UnitGraph, unitGraph } from './units.ts';

/** A page; `isFresh` where it does not depend on where anything stands now. */
export interface PageLayout extends Layout {
  readonly isFresh: boolean;
}

export function layOutPage(graph: LayeredGraph, options: PageOptions): PageLayout {
  if (options.layout === 'one flow') {
    const { keep, ...others } = options;
    return {
      ...layOut(graph, { ...others, keep: resistance(keep) }, options.proportion),
      isFresh: resistance(keep) === 0,
    };
  }
  return new Page(graph, options).layout();
}

/** What columns and rows keep that hubs feed, and what each of their trunks takes more, in pixels. */
const [leastX, leastY, trunkWidth, mostTrunks] = [64, 48, 7, 16];
/** Shapes of frames that are tried, as parts of the page's. */
const shapes = [1, 0.55, 0.3];

class Page {
  private readonly graph: LayeredGraph;
  private readonly options: PageOptions;
  private readonly containers: Containers;
  private readonly repeats: Repeats;
  private readonly parts: PartLayouts;
  private cost = 0;
  private done = 0;

  constructor(graph: LayeredGraph, options: PageOptions) {
    this.graph = graph;
    const { tick } = options;
    this.options = {
      ...options,
      ...(tick && { tick: (_: number, what: string) => tick(Math.min(0.9, this.done / (3 * graph.count)), what) }),
    };
    this.containers = new Containers(graph);
    this.repeats = new Repeats(graph, this.containers);
    this.parts = new PartLayouts(graph, this.options, this.containers, this.repeats);
  }

  /** The layout whose frames have the shape that makes the whole fit best. */
  layout(): PageLayout {
    const [x, y] = [new Float64Array(this.graph.count), new Float64Array(this.graph.count)];
    let best: Unit | undefined;
    let least = Number.POSITIVE_INFINITY;
    // only frames that hold several parts can have another shape
    const canTurn = [...this.repeats.sharing].some(([frame, { modules }]) => frame >= 0 && modules.length > 1);
    for (const shape of canTurn && !this.isInPlace ? shapes : [1]) {
      this.cost = 0;
      const whole = this.container(-1, this.options.proportion * shape);
      if (!whole || this.cost >= least - 1e-9) continue;
      [best, least] = [whole, this.cost];
    }
    const [left, top] =
      best && this.isInPlace
        ? [
            middleOf(best.nodes.map((v, i) => this.graph.x[v]! - best.dx[i]!)),
            middleOf(best.nodes.map((v, i) => this.graph.y[v]! - best.dy[i]!)),
          ]
        : [0, 0];
    best?.nodes.forEach((v, i) => {
      x[v] = Math.round(left + best.dx[i]!);
      y[v] = Math.round(top + best.dy[i]!);
    });
    return { x, y, isFresh: this.parts.isFresh };
  }

  private get isInPlace(): boolean {
    return this.options.keep >= keepsPlaces;
  }

  /** A frame, or the whole (−1), laid out with all that it holds; undefined where it holds no node. */
  private container(frame: number, proportion: number): Unit | undefined {
    const { graph, containers } = this;
    const units: Unit[] = [
      ...containers.inner[frame + 1]!.flatMap((f) => this.container(f, proportion) ?? []),
      ...containers.members[frame + 1]!.map((v) => containers.single(v)),
    ];
    if (units.length === 0) return undefined;
    this.options.tick?.(0, 'laying out');
    const inside = unitGraph(graph, units, (v) => containers.wires[v]!);
    const laid = this.isInPlace
      ? this.leave(inside, frame)
      : this.place(inside, frame, frame < 0 ? this.options.proportion : proportion);
    this.done += units.length;
    return this.unitOf(units, laid, frame);
  }

  private unitOf(units: readonly Unit[], laid: Laid, frame: number): Unit {
    const pads = this.graph.frames;
    const [before, after, above, below] =
      frame < 0 || !pads
        ? [0, 0, 0, 0]
        : [pads.before[frame]!, pads.after[frame]!, pads.above[frame]!, pads.below[frame]!];
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

  /** All that a frame or the whole holds where it stands, parts laid out where that is worth it. */
  private leave(inside: UnitGraph, frame: number): Laid {
    const { sources, ends, modules, strays } = this.repeats.sharing.get(frame)!;
    const groups = [...sources, ...modules, ...ends];
    const asOne =
      this.options.keep >= 1 ? [] : groups.filter((group) => group.every((u) => inside.units[u]!.frame < 0));
    const alone = [...strays, ...groups.flatMap((group) => (asOne.includes(group) ? [] : group))];
    const blocks = [...asOne, ...alone.map((u) => [u])].map((units) => {
      const now = asTheyStand(inside, units);
      const laid = units.length > 1 ? this.parts.lay(inside, frame, units) : now;
      return { units, laid: gainOf(inside, units, now, laid) > leastGain(this.options.keep) ? laid : now };
    });
    return placeInPlace(this.graph, inside, blocks, closeGap);
  }

  private place(inside: UnitGraph, frame: number, proportion: number): Laid {
    const all = inside.units.map((_, i) => i);
    const { sources: first, ends: last, modules, strays } = this.repeats.sharing.get(frame)!;
    const isSource = new Set(first.flat());
    const hubNets = new Set(inside.from.flatMap((u, e) => (isSource.has(u) ? [inside.net[e]!] : []))).size;
    const lanes = trunkWidth * Math.min(hubNets, mostTrunks);
    const groups = clustersOf(inside, modules);
    const drawn = groups.map((group) => this.cluster(inside, frame, group));
    const loose = this.parts.lay(inside, frame, strays);
    const [sources, ends] = [
      first.map((group) => this.parts.lay(inside, frame, group)),
      last.map((group) => this.parts.lay(inside, frame, group)),
    ];
    // further apart than what stands together, so that the next time it is not taken for that
    const [gapX, gapY] = hubNets > 0 ? [leastX + lanes, leastY + lanes] : [closeGap, leastY];
    // each source in a column of its own, so that its trunk can go up and down behind it
    const before = sources.reduce((sum, one) => sum + one.width + gapX, 0);
    const behind = ends.reduce((most, one) => Math.max(most, one.width + gapX), 0);
    const blocks = groups.map((group, g) => blockOf(inside, group.flat(), drawn[g]!));
    const rows = placeRows(blocks, {
      proportion,
      gapX,
      gapY,
      keep: Math.max(0.02, this.options.keep),
      beside: before + behind,
      ...(frame < 0 && { now: boundsOf(this.graph, Array(this.graph.count).keys(), this.graph) }),
    });
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
    const area = corner
      ? { width: Math.max(rows.width, corner.x + loose.width), height: Math.max(rows.height, corner.y + loose.height) }
      : rows;
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

  /**
   * Parts that are the same but for a number in their names exchange their places until the numbers ascend as one
   * reads.
   */
  private byNumber(
    inside: UnitGraph,
    frame: number,
    groups: readonly (readonly (readonly number[])[])[],
    { x, y }: Pick<Laid, 'x' | 'y'>,
  ): void {
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
      addTo(alike, key, { group, place: names.place[node]! });
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
    const drawn = parts.map((part) => this.parts.lay(inside, frame, part));
    if (drawn.length === 1) return drawn[0]!;
    const rows = placeRows(
      parts.map((part, p) => blockOf(inside, part, drawn[p]!)),
      {
        proportion: this.options.proportion,
        gapX: closeGap,
        gapY: closeGap,
        keep: Math.max(0.1, this.options.keep),
        beside: 0,
      },
    );
    return {
      x: Float64Array.from(drawn.flatMap((laid, p) => Array.from(laid.x, (x) => x + rows.x[p]!))),
      y: Float64Array.from(drawn.flatMap((laid, p) => Array.from(laid.y, (y) => y + rows.y[p]!))),
      width: rows.width,
      height: rows.height,
    };
  }
}
