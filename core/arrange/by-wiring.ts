import Flatbush from 'flatbush';
import { type Doc, indexOf, nodesWithin } from '../document/doc.ts';
import {
  flowOf,
  frameRects,
  framesAround,
  isVertical,
  overlaps,
  type Rect,
  rectOf,
  unite,
} from '../document/geometry.ts';
import { compareIds, type Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import type { Flow, GraphNode } from '../document/schema.ts';
import { addTo } from '../group-by.ts';
import { compileWithLikeness } from './compile.ts';
import { type LayeredGraph, normalSpacing, type Spacing } from './layered/graph.ts';
import type { Layout } from './layered/layout.ts';
import type { Quality } from './layered/order.ts';
import { keepsPlaces, type LayoutName, type PageOptions, steadySteps } from './page/options.ts';
import { layOutPage } from './page/page.ts';

export interface ArrangeOptions {
  readonly keep: number;
  readonly spacing?: Spacing;
  readonly quality?: Quality;
  readonly layout?: LayoutName;
  /** Width ÷ height of the window that the page is for. */
  readonly proportion?: number;
  readonly tick?: (fraction: number, what: string) => void;
}

export interface Place {
  readonly x: number;
  readonly y: number;
}

/** The proportion of a window of 1280 × 800. */
const windowShape = 1.6;

/**
 * Where each of the nodes goes when they are arranged by their wiring: frames whole, disconnected parts packed, pinned
 * nodes fixed.
 * Nodes not named stay out of it. From 0.3 on, more `keep` never moves nodes further on the mean, but for a twentieth.
 * Cost: that of the layered layout, at most four times.
 */
export function arrangeByWiring(
  doc: Doc,
  kinds: Kinds,
  graph: Id,
  nodes: readonly GraphNode[],
  options: ArrangeOptions,
): Map<Id, Place> {
  const sorted = [...nodes].sort((a, b) => compareIds(a.id, b.id));
  const compiled = compileWithLikeness(doc, kinds, graph, sorted);
  const steps = options.layout === 'one flow' ? [options.keep] : steadySteps(options.keep);
  const ways = steps.map((keep) => arrangedAt(doc, kinds, graph, sorted, compiled, { ...options, keep }));
  if (ways.length === 1) return ways[0]!;
  const moved = (places: ReadonlyMap<Id, Place>): number =>
    nodes.reduce((sum, node) => sum + Math.hypot(places.get(node.id)!.x - node.x, places.get(node.id)!.y - node.y), 0);
  const all = ways.map((places) => ({ places, moved: moved(places) }));
  const most = Math.min(...all.map((one) => one.moved)) * nearlyLeast;
  return all.filter((one) => one.moved <= most).at(-1)!.places;
}

/** What moves nodes so little further than the least is as good. */
const nearlyLeast = 1.05;

/** The same at one value of `keep`, of nodes in the order in which they were compiled. */
function arrangedAt(
  doc: Doc,
  kinds: Kinds,
  graph: Id,
  sorted: readonly GraphNode[],
  compiled: ReturnType<typeof compileWithLikeness>,
  options: ArrangeOptions,
): Map<Id, Place> {
  const spacing = options.spacing ?? normalSpacing;
  const proportion = options.proportion ?? windowShape;
  const { x, y } = untilItStays(compiled.graph, {
    spacing,
    keep: options.keep,
    quality: options.quality ?? 'quick',
    layout: options.layout ?? 'page',
    proportion: compiled.axes.vertical ? 1 / proportion : proportion,
    ...(options.tick && { tick: options.tick }),
  });
  const placed = new Map(
    sorted.map((node, v) => [
      node.id,
      compiled.axes.rectOut({ x: x[v]!, y: y[v]!, width: compiled.graph.width[v]!, height: compiled.graph.height[v]! }),
    ]),
  );
  // what was kept stands where it is; what was laid out afresh goes where the nodes were
  const meant =
    options.keep >= keepsPlaces && options.layout !== 'one flow' ? placed : anchored(doc, kinds, placed, sorted);
  const places = new Map<Id, Place>();
  for (const node of sorted) {
    const { x, y } = node.pinned ? node : meant.get(node.id)!;
    places.set(node.id, { x, y });
  }
  const rest = rectsOfTheRest(doc, kinds, graph, sorted);
  const pinned = sorted.filter((node) => node.pinned);
  if (pinned.length === 0) return besideTheRest(doc, kinds, sorted, places, rest, spacing.across);
  giveWay(doc, kinds, flowOf(doc, graph), sorted, [...pinned.map((node) => rectOf(doc, kinds, node)), ...rest], places);
  return places;
}

/** How often a page is laid out until it comes out as it went in. */
const mostTimes = 4;

/**
 * A page whose order comes from where things stand is laid out anew from the result until that no longer changes, so
 * that arranging twice is the same as once.
 */
function untilItStays(graph: LayeredGraph, options: PageOptions): Layout {
  let laid = layOutPage(graph, options);
  for (let k = 1; k < mostTimes && !laid.isFresh; k++) {
    const next = layOutPage({ ...graph, x: laid.x, y: laid.y }, options);
    const isSame = next.x.every((x, v) => x === laid.x[v] && next.y[v] === laid.y[v]);
    laid = next;
    if (isSame) break;
  }
  return laid;
}

/** What stays where only part of a graph is arranged: its nodes, and the frames that hold none of the part. */
function rectsOfTheRest(doc: Doc, kinds: Kinds, graph: Id, nodes: readonly GraphNode[]): Rect[] {
  const chosen = new Set(nodes.map((node) => node.id));
  const rest = indexOf(doc)
    .nodesIn(graph)
    .filter((node) => !chosen.has(node.id));
  if (rest.length === 0) return [];
  const own = new Set(nodes.flatMap((node) => framesAround(doc, node).map((frame) => frame.id)));
  const frames = [...frameRects(doc, kinds, graph)].filter(([id]) => !own.has(id));
  return [...rest.map((node) => rectOf(doc, kinds, node)), ...frames.map(([, rect]) => rect)];
}

/** The whole part gives way to what stays, on the side where that is nearest. */
function besideTheRest(
  doc: Doc,
  kinds: Kinds,
  nodes: readonly GraphNode[],
  places: Map<Id, Place>,
  rest: readonly Rect[],
  gap: number,
): Map<Id, Place> {
  if (rest.length === 0) return places;
  const moved = nodes.map((node) => ({ ...rectOf(doc, kinds, node), ...places.get(node.id)! }));
  const shifts = (
    [
      [1, 0],
      [-1, 0],
      [0, 1],
      [0, -1],
    ] as const
  ).map(([sx, sy]) => {
    const away = distanceToClear(moved, rest, sx, sy, gap);
    return { dx: sx * away, dy: sy * away, away };
  });
  const best = shifts.reduce((least, one) => (one.away < least.away ? one : least));
  // far off it would be lost: then what is there makes room
  if (best.away === 0 || best.away > mostAside) return places;
  return new Map([...places].map(([id, place]) => [id, { x: place.x + best.dx, y: place.y + best.dy }]));
}

/** How far a part that is arranged moves aside as a whole, in pixels. */
const mostAside = 400;

/**
 * How far all of `moved` has to go in one direction until none is nearer than the gap to any of `fixed` that it would
 * overlap.
 */
function distanceToClear(moved: readonly Rect[], fixed: readonly Rect[], sx: number, sy: number, gap: number): number {
  const tree = new Flatbush(fixed.length);
  for (const rect of fixed) tree.add(rect.x, rect.y, rect.x + rect.width, rect.y + rect.height);
  tree.finish();
  let away = 0;
  for (let again = true; again; ) {
    again = false;
    for (const rect of moved) {
      const at = { ...rect, x: rect.x + sx * away, y: rect.y + sy * away };
      for (const i of tree.search(at.x, at.y, at.x + at.width, at.y + at.height)) {
        const other = fixed[i]!;
        if (!overlaps(at, other)) continue;
        const more =
          sx > 0
            ? other.x + other.width - at.x
            : sx < 0
              ? at.x + at.width - other.x
              : sy > 0
                ? other.y + other.height - at.y
                : at.y + at.height - other.y;
        away += Math.ceil(more + gap);
        again = true;
        break;
      }
    }
  }
  return away;
}

/** The arrangement where the nodes were (same top-left corner), or about where its pinned nodes are. */
function anchored(
  doc: Doc,
  kinds: Kinds,
  placed: ReadonlyMap<Id, Rect>,
  nodes: readonly GraphNode[],
): ReadonlyMap<Id, Rect> {
  const bounds = unite(placed.values());
  const before = unite(nodes.map((node) => rectOf(doc, kinds, node)));
  if (!bounds || !before) return placed;
  const pinned = nodes.filter((node) => node.pinned);
  const mean = (values: number[]): number => values.reduce((sum, value) => sum + value, 0) / values.length;
  const dx = pinned.length > 0 ? mean(pinned.map((node) => node.x - placed.get(node.id)!.x)) : before.x - bounds.x;
  const dy = pinned.length > 0 ? mean(pinned.map((node) => node.y - placed.get(node.id)!.y)) : before.y - bounds.y;
  return new Map(
    [...placed].map(([id, rect]) => [id, { ...rect, x: Math.round(rect.x + dx), y: Math.round(rect.y + dy) }]),
  );
}

/**
 * Moves what overlaps something that stays across the flow, past it, frames as wholes; each pass can only push further
 * out.
 */
function giveWay(
  doc: Doc,
  kinds: Kinds,
  flow: Flow,
  nodes: readonly GraphNode[],
  staying: readonly Rect[],
  places: Map<Id, Place>,
): void {
  const gap = normalSpacing.across;
  const vertical = isVertical(flow);
  const rectAt = (node: GraphNode): Rect => ({ ...rectOf(doc, kinds, node), ...places.get(node.id)! });
  const fixed: Rect[] = [...staying];
  const groups = new Map<Id, GraphNode[]>();
  for (const node of nodes) {
    if (node.pinned) continue;
    let key = node.id;
    for (let frame = node.frame; frame !== undefined; frame = doc.frames.get(frame)?.parent)
      if (!nodesWithin(doc, frame).some((one) => one.pinned)) key = frame;
    addTo(groups, key, node);
  }
  const boxes = [...groups.values()].map((members) => ({ members, box: unite(members.map(rectAt))! }));
  boxes.sort(
    (a, b) => (vertical ? a.box.x - b.box.x : a.box.y - b.box.y) || compareIds(a.members[0]!.id, b.members[0]!.id),
  );
  for (const { members, box } of boxes) {
    let at = box;
    for (let tries = 0; tries < fixed.length + 1; tries++) {
      const hit = fixed.find((other) => overlaps(at, other));
      if (!hit) break;
      at = vertical ? { ...at, x: hit.x + hit.width + gap } : { ...at, y: hit.y + hit.height + gap };
    }
    if (at !== box)
      for (const node of members)
        places.set(node.id, { x: places.get(node.id)!.x + at.x - box.x, y: places.get(node.id)!.y + at.y - box.y });
    fixed.push(at);
  }
}
