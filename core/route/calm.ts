import type { Axes } from '../document/axes.ts';
import { type Doc, indexOf } from '../document/doc.ts';
import { flowOf, type Rect, rectOf, sameRect, titleTabs } from '../document/geometry.ts';
import type { Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import { nudge } from './nudge.ts';
import { type Ends, findPath, hitsOf, joinPath, type Path, pitch, stub } from './paths.ts';
import { compileRoutes, pointsOf, type Route, routesOf } from './route.ts';
import type { RouteTask } from './router.ts';
import { Space } from './space.ts';

/** With more nodes changed than this, or than this share of all, everything is routed anew. A few may always change. */
const [mostChanged, mostShare, fewChanged] = [40, 0.25, 3];
/** So many pictures are kept. */
const mostDrawn = 12;
/** Kept wires nearer to a new way than this are looked at when it is put among them, in pixels. */
const near = 40;
/** Ends that have moved no further keep the rest of their way, in pixels. */
const mostBent = 120;

/** A graph as it was drawn. */
interface Drawn {
  readonly doc: Doc;
  readonly routes: ReadonlyMap<Id, Route>;
}

/**
 * Routes of a graph that is being edited. What an act does not touch keeps its way: only wires that are new, whose ends
 * have moved, or that something now stands in the way of are routed, round everything and beside the others. Where much
 * has changed at once, all are routed as `routesOf` does it.
 * The last pictures are kept, so that what is undone looks as it did.
 */
export class CalmRoutes {
  private drawn: Drawn[] = [];
  private of: { readonly kinds: Kinds; readonly graph: Id } | undefined;

  routes(doc: Doc, kinds: Kinds, graph: Id): ReadonlyMap<Id, Route> {
    if (this.of?.kinds !== kinds || this.of.graph !== graph) this.drawn = [];
    this.of = { kinds, graph };
    const routes = routesAfter(this.drawn, doc, kinds, graph) ?? routesOf(doc, kinds, graph);
    this.drawn = [{ doc, routes }, ...this.drawn].slice(0, mostDrawn);
    return routes;
  }
}

/**
 * Routes after a small act: those of the picture that differs least, and new ones for what has changed since; undefined
 * where all of them differ too much.
 * O(pictures · (nodes + wires · things moved) + wires routed · log n).
 */
export function routesAfter(
  pictures: readonly Drawn[],
  doc: Doc,
  kinds: Kinds,
  graph: Id,
): ReadonlyMap<Id, Route> | undefined {
  const style = doc.head.wireStyle;
  if (style === 'straight' || style === 'curved') return undefined;
  const known = pictures.filter(
    ({ doc: old }) =>
      old.head.wireStyle === style && flowOf(old, graph) === flowOf(doc, graph) && old.graphs.has(graph),
  );
  const candidates = known
    .map((picture) => ({ ...picture, changes: changesSince(picture.doc, doc, kinds, graph) }))
    .filter(({ changes }) => changes !== undefined);
  if (candidates.length === 0) return undefined;
  const { wires, task, axes } = compileRoutes(doc, kinds, graph);
  const differences = candidates.map(({ routes, changes }) => {
    const { covered, gone } = changes!;
    const touched = wires.flatMap((wire, i) => {
      const [old, end] = [routes.get(wire.id), task.ends[i]];
      return end && (!old || !startsAndEnds(old, axes, end) || covered.some((rect) => runsInto(old, rect))) ? [i] : [];
    });
    return { routes, touched, size: touched.length + covered.length + gone };
  });
  const { routes: old, touched } = differences.reduce((least, one) => (one.size < least.size ? one : least));
  const routes = new Map<Id, Route>();
  const isTouched = new Set(touched);
  const paths: (Path | undefined)[] = wires.map((wire, i) => {
    const route = task.ends[i] && !isTouched.has(i) ? old.get(wire.id)! : undefined;
    if (route) routes.set(wire.id, route);
    return route && pathOf(route, axes);
  });
  if (touched.length > 0) {
    const whole = () => routesOf(doc, kinds, graph);
    seek(
      task,
      axes,
      paths,
      touched,
      (wire) => old.get(wires[wire]!.id),
      (wire) => whole().get(wires[wire]!.id),
    );
    for (const i of touched) routes.set(wires[i]!.id, axes.outAll(pointsOf(paths[i]!, task.ends[i]!)));
  }
  return routes;
}

/** Finds ways for the wires that are touched among those that stay, and puts them apart. */
function seek(
  { boxes, ends, nets }: RouteTask,
  axes: Axes,
  paths: (Path | undefined)[],
  touched: number[],
  oldRoute: (wire: number) => Route | undefined,
  wholeRoute: (wire: number) => Route | undefined,
): void {
  const space = new Space(boxes);
  const isTouched = new Set(touched);
  // the farthest first: it is the trunk
  touched.sort((a, b) => ends[b]!.x2 - ends[a]!.x2 || a - b);
  for (const i of touched) {
    const [end, old] = [ends[i]!, oldRoute(i)];
    paths[i] = old && bend(space, old, axes, end);
    if (paths[i]) continue;
    const trunks = paths.flatMap((path, k) =>
      nets[k] === nets[i] && path?.hits === 0 ? [{ path, end: ends[k]!.x2 }] : [],
    );
    const found = joinPath(space, end, trunks) ?? findPath(space, end);
    // a way over the whole page may need its lanes: then it is that of all wires together
    const whole = found.hits > 0 ? wholeRoute(i) : undefined;
    paths[i] = whole ? pathOf(whole, axes) : found;
    paths[i]!.hits = hitsOf(space, paths[i]!, end);
  }
  const areas = touched.map((i) => boundsOf(pointsOf(paths[i]!, ends[i]!)));
  const beside = paths.map((path, i) =>
    path && (isTouched.has(i) || areas.some((area) => isNear(area, boundsOf(pointsOf(path, ends[i]!)))))
      ? path
      : undefined,
  );
  const plain = touched.map((i) => ({ ...paths[i]!, xs: [...paths[i]!.xs], ys: [...paths[i]!.ys] }));
  nudge(space, [], ends, nets, beside, space, (wire) => !isTouched.has(wire));
  touched.forEach((i, k) => {
    if (hitsOf(space, paths[i]!, ends[i]!) > plain[k]!.hits) paths[i] = plain[k]!;
  });
}

/**
 * What nodes and titles cover now that they did not cover before, and how many nodes have gone; undefined where more
 * than a few have changed. O(nodes + frames).
 */
function changesSince(
  before: Doc,
  after: Doc,
  kinds: Kinds,
  graph: Id,
): { readonly covered: readonly Rect[]; readonly gone: number } | undefined {
  const was = new Map(
    indexOf(before)
      .nodesIn(graph)
      .map((node) => [node.id, node]),
  );
  const covered: Rect[] = [];
  const nodes = indexOf(after).nodesIn(graph);
  const most = Math.min(mostChanged, Math.max(fewChanged, mostShare * nodes.length));
  for (const node of nodes) {
    const then = was.get(node.id);
    was.delete(node.id);
    if (then === node) continue;
    const rect = rectOf(after, kinds, node);
    const oldRect = then && rectOf(before, kinds, then);
    if (!oldRect || !sameRect(rect, oldRect)) covered.push(rect);
    if (covered.length > most) return undefined;
  }
  const keyOf = ({ x, y, width }: Rect): string => `${x} ${y} ${width}`;
  const titles = new Set(titleTabs(before, kinds, graph).map(keyOf));
  for (const tab of titleTabs(after, kinds, graph)) if (!titles.has(keyOf(tab))) covered.push(tab);
  return covered.length + was.size > 2 * mostChanged ? undefined : { covered, gone: was.size };
}

function startsAndEnds(
  route: Route,
  axes: Axes,
  { x1, y1, x2, y2 }: { x1: number; y1: number; x2: number; y2: number },
): boolean {
  const [start, end] = [axes.in(route[0]!), axes.in(route.at(-1)!)];
  return start.x === x1 && start.y === y1 && end.x === x2 && end.y === y2;
}

/** Does a right-angled route run through a rectangle? What ends at its edge does not. */
function runsInto(route: Route, { x, y, width, height }: Rect): boolean {
  for (let i = 1; i < route.length; i++) {
    const [a, b] = [route[i - 1]!, route[i]!];
    if (
      Math.min(a.x, b.x) < x + width &&
      Math.max(a.x, b.x) > x &&
      Math.min(a.y, b.y) < y + height &&
      Math.max(a.y, b.y) > y
    )
      return true;
  }
  return false;
}

/**
 * The old way with its first and last piece drawn to ends that have moved a little; undefined where that runs into
 * something or folds back.
 */
function bend(space: Space, route: Route, axes: Axes, end: Ends): Path | undefined {
  const [start, stop] = [axes.in(route[0]!), axes.in(route.at(-1)!)];
  const shift = Math.max(
    Math.abs(start.x - end.x1),
    Math.abs(start.y - end.y1),
    Math.abs(stop.x - end.x2),
    Math.abs(stop.y - end.y2),
  );
  const path = pathOf(route, axes);
  const { xs, ys } = path;
  if (shift > mostBent || xs.length === 0) return undefined;
  const ways = directions(path);
  ys[0] = end.y1;
  ys[ys.length - 1] = end.y2;
  xs[0] = Math.max(xs[0]!, end.x1 + stub);
  xs[xs.length - 1] = Math.min(xs.at(-1)!, end.x2 - stub);
  const isPlain =
    xs[0]! >= end.x1 + stub &&
    directions(path) === ways &&
    ys.every((y, k) => k === 0 || Math.abs(y - ys[k - 1]!) >= pitch);
  return isPlain && hitsOf(space, path, end) === 0 ? path : undefined;
}

/** Which way each inner level runs, as one text. */
const directions = ({ xs }: Path): string =>
  xs
    .slice(1)
    .map((x, k) => Math.sign(x - xs[k]!))
    .join();

/** A route as levels and uprights in turn, in flow coordinates. */
function pathOf(route: Route, axes: Axes): Path {
  const points = route.map((p) => axes.in(p));
  const path: Path = { xs: [], ys: [points[0]!.y], hits: 0 };
  for (let i = 1; i < points.length; i++) {
    if (points[i]!.y === points[i - 1]!.y) continue;
    path.xs.push(points[i]!.x);
    path.ys.push(points[i]!.y);
  }
  return path;
}

interface Area {
  readonly left: number;
  readonly top: number;
  readonly right: number;
  readonly bottom: number;
}

function boundsOf(points: Route): Area {
  const [xs, ys] = [points.map(({ x }) => x), points.map(({ y }) => y)];
  return { left: Math.min(...xs), top: Math.min(...ys), right: Math.max(...xs), bottom: Math.max(...ys) };
}

const isNear = (a: Area, b: Area): boolean =>
  a.left - near < b.right && b.left - near < a.right && a.top - near < b.bottom && b.top - near < a.bottom;
