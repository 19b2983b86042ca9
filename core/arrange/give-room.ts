import { type Doc, indexOf, nodesWithin } from '../document/doc.ts';
import { framePad, frameRects, overlaps, type Rect, rectOf, sameRect, unite } from '../document/geometry.ts';
import type { Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import type { Frame } from '../document/schema.ts';
import type { Place } from './by-wiring.ts';

/** What nodes keep of one another, and what frames keep of all that is beside them, in pixels. */
const [gapOfNodes, gapOfFrames] = [20, 28];
/** How often one thing is pushed before it goes past all others below. */
const mostPushes = 6;

/** A node or a frame among those that one frame holds, or the graph. */
interface Item {
  readonly id: Id;
  readonly isFrame: boolean;
  rect: Rect;
  /** What it covered before; nothing where it is new. */
  readonly was: Rect | undefined;
  /** It stays: the act has put it there, or it is pinned. */
  readonly holds: boolean;
  pushes: number;
}

/**
 * Where nodes go that have to make room after an act: nothing overlaps that did not before, neither nodes nor frames,
 * and what gives way does so by as little as it can, on the side where that is nearest; frames move with all that they
 * hold. What the act itself has added, moved or made larger stays, and so does what is pinned. With `frames`, only
 * frames give way to frames: nodes were put where they are by hand.
 * Works from the innermost frames outwards. O(things changed and pushed · things beside them).
 */
export function giveRoom(
  before: Doc,
  after: Doc,
  kinds: Kinds,
  graph: Id,
  among: 'all' | 'frames' = 'all',
): Map<Id, Place> {
  if (among === 'frames' && !meetAnew(before, after, kinds, graph)) return new Map();
  return new Room(before, after, kinds, graph, among).places();
}

/**
 * Does a frame lie on another that holds neither it nor is held by it, and did not before? O(nodes + frames changed ·
 * frames beside them).
 */
function meetAnew(before: Doc, after: Doc, kinds: Kinds, graph: Id): boolean {
  const [index, was] = [
    indexOf(after),
    before.graphs.has(graph) ? frameRects(before, kinds, graph) : new Map<Id, Rect>(),
  ];
  const is = frameRects(after, kinds, graph);
  return [...is].some(([id, rect]) => {
    const old = was.get(id);
    if (old && sameRect(old, rect)) return false;
    const { parent } = after.frames.get(id)!;
    const beside =
      parent === undefined
        ? index.framesIn(graph).filter((one) => one.parent === undefined)
        : index.framesWithin(parent);
    return beside.some((one) => {
      const then = was.get(one.id);
      return one.id !== id && overlaps(rect, is.get(one.id)!) && !(old && then && overlaps(old, then));
    });
  });
}

class Room {
  private readonly after: Doc;
  private readonly kinds: Kinds;
  private readonly graph: Id;
  private readonly old: ReadonlyMap<Id, Rect>;
  private readonly oldFrames: ReadonlyMap<Id, Rect>;
  private readonly moved = new Map<Id, Place>();
  private readonly partsNodes: boolean;

  constructor(before: Doc, after: Doc, kinds: Kinds, graph: Id, among: 'all' | 'frames') {
    this.partsNodes = among === 'all';
    this.after = after;
    this.kinds = kinds;
    this.graph = graph;
    this.old = before.graphs.has(graph)
      ? new Map(
          indexOf(before)
            .nodesIn(graph)
            .map((node) => [node.id, rectOf(before, kinds, node)]),
        )
      : new Map();
    this.oldFrames = before.graphs.has(graph) ? frameRects(before, kinds, graph) : new Map();
  }

  places(): Map<Id, Place> {
    this.settle(undefined);
    return this.moved;
  }

  /** Parts what a frame holds, or the graph; gives the rectangle that it then has. */
  private settle(frame: Frame | undefined): Rect | undefined {
    const index = indexOf(this.after);
    const inner = (
      frame ? index.framesWithin(frame.id) : index.framesIn(this.graph).filter((one) => one.parent === undefined)
    ).flatMap((one): Item[] => {
      const rect = this.settle(one) ?? { x: one.x, y: one.y, width: one.width, height: one.height };
      return [
        {
          id: one.id,
          isFrame: true,
          rect,
          was: this.oldFrames.get(one.id),
          holds: !this.oldFrames.has(one.id) || nodesWithin(this.after, one.id).some((node) => node.pinned),
          pushes: 0,
        },
      ];
    });
    const nodes = (
      frame ? index.membersOf(frame.id) : index.nodesIn(this.graph).filter((node) => node.frame === undefined)
    ).map((node): Item => {
      const rect = rectOf(this.after, this.kinds, node);
      const was = this.old.get(node.id);
      return {
        id: node.id,
        isFrame: false,
        rect,
        was,
        holds: node.pinned === true || !was || !sameRect(was, rect),
        pushes: 0,
      };
    });
    const items = [...inner, ...nodes];
    this.part(this.partsNodes ? items : inner);
    const pad = frame?.pad ?? framePad;
    const around = unite(items.map((item) => item.rect));
    return (
      frame &&
      around && {
        x: around.x - pad.left,
        y: around.y - pad.top,
        width: around.width + pad.left + pad.right,
        height: around.height + pad.top + pad.bottom,
      }
    );
  }

  /** Pushes what is met by what changed, and what is met by that in turn. */
  private part(items: Item[]): void {
    const queue = items
      .filter(({ was, rect }) => !was || !sameRect(was, rect))
      .sort((a, b) => Number(b.holds) - Number(a.holds) || a.rect.x - b.rect.x || a.rect.y - b.rect.y);
    const done = new Set<Item>();
    for (let at = queue.shift(); at; at = queue.shift()) {
      done.add(at);
      for (const other of items) {
        if (other === at || !meets(at, other) || overlapped(at, other)) continue;
        // of two that stand because of the act or a pin, neither gives way; a frame gives way to what holds
        const [stays, goes]: [Item, Item] = other.holds && !at.holds ? [other, at] : [at, other];
        if (goes.holds) continue;
        const from = goes.rect;
        goes.rect = goes.pushes++ < mostPushes ? awayFrom(stays, goes) : below(items, goes);
        if (sameRect(from, goes.rect)) continue;
        this.carry(goes, goes.rect.x - from.x, goes.rect.y - from.y);
        if (goes.pushes <= 4 * mostPushes) {
          done.delete(goes);
          if (!queue.includes(goes)) queue.push(goes);
        }
        if (goes === at) break;
      }
    }
  }

  private carry({ id, isFrame }: Item, dx: number, dy: number): void {
    const nodes = isFrame ? nodesWithin(this.after, id) : [this.after.nodes.get(id)!];
    for (const node of nodes) {
      const { x, y } = this.moved.get(node.id) ?? node;
      this.moved.set(node.id, { x: x + dx, y: y + dy });
    }
  }
}

const gapOf = (a: Item, b: Item): number => (a.isFrame || b.isFrame ? gapOfFrames : gapOfNodes);

/** How far two rectangles are from one another along an axis; below 0 where they reach into one another. */
const apart = (a: Rect, b: Rect): { x: number; y: number } => ({
  x: Math.max(a.x - b.x - b.width, b.x - a.x - a.width),
  y: Math.max(a.y - b.y - b.height, b.y - a.y - a.height),
});

/** Do they overlap now? Those that only stand close are left as they are. */
function meets(a: Item, b: Item): boolean {
  const { x, y } = apart(a.rect, b.rect);
  return x < 0 && y < 0;
}

function overlapped(a: Item, b: Item): boolean {
  if (!a.was || !b.was) return false;
  const { x, y } = apart(a.was, b.was);
  return x < 0 && y < 0;
}

/** To the side on which it is out of the way soonest. */
function awayFrom(stays: Item, goes: Item): Rect {
  const gap = gapOf(stays, goes);
  const [a, b] = [stays.rect, goes.rect];
  const ways = [
    { x: Math.ceil(a.x + a.width + gap - b.x), y: 0 },
    { x: Math.floor(a.x - gap - b.width - b.x), y: 0 },
    { x: 0, y: Math.ceil(a.y + a.height + gap - b.y) },
    { x: 0, y: Math.floor(a.y - gap - b.height - b.y) },
  ];
  // back the way that it came from it would only meet the same again
  const was = goes.was ?? b;
  const cost = (way: { x: number; y: number }): number => Math.abs(b.x + way.x - was.x) + Math.abs(b.y + way.y - was.y);
  const best = ways.reduce((least, way) => (cost(way) < cost(least) ? way : least));
  return { ...b, x: b.x + best.x, y: b.y + best.y };
}

/** Down past everything that stands in its way. */
function below(items: readonly Item[], goes: Item): Rect {
  let rect = goes.rect;
  for (let again = true; again; ) {
    again = false;
    for (const other of items) {
      if (other === goes) continue;
      const { x, y } = apart(other.rect, rect);
      if (x >= 0 || y >= 0) continue;
      rect = { ...rect, y: Math.ceil(other.rect.y + other.rect.height + gapOf(other, goes)) };
      again = true;
    }
  }
  return rect;
}
