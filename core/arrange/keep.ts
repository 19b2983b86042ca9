import { feedbackEdges } from './layered/acyclic.ts';
import type { FrameTree, LayeredGraph, Spacing } from './layered/graph.ts';
import type { Layout } from './layered/layout.ts';
import { type Constraint, separate } from './separate.ts';

/** The least room between a node and the next along a wire: enough for it to turn. */
const leastAlong = 40;

/**
 * The present arrangement with as little change as its wires allow: what a wire would run backwards to is pushed on along the flow, and
 * what overlaps is parted across it, in the present order, frames as wholes. What satisfies both already stays where it is.
 * O((E + n log n) · frames deep).
 */
export function keepPlaces(graph: LayeredGraph, spacing: Spacing): Layout {
  const x = pushAlong(graph, Math.min(leastAlong, spacing.along));
  const y = partAcross(graph, x, spacing.across);
  return { x, y };
}

/** Each node behind all that feed it, in topological order, and no node further back than it is. */
function pushAlong(graph: LayeredGraph, gap: number): Float64Array {
  const reversed = feedbackEdges(graph.count, graph.from, graph.to);
  const [heads, waiting] = [Array.from({ length: graph.count }, (): number[] => []), new Int32Array(graph.count)];
  for (let e = 0; e < graph.from.length; e++) {
    const [u, v] = reversed[e] ? [graph.to[e]!, graph.from[e]!] : [graph.from[e]!, graph.to[e]!];
    if (u === v) continue;
    heads[u]!.push(v);
    waiting[v]!++;
  }
  const x = graph.x.slice();
  const ready: number[] = [];
  for (let v = 0; v < graph.count; v++) if (waiting[v] === 0) ready.push(v);
  for (let i = 0; i < ready.length; i++) {
    const u = ready[i]!;
    for (const v of heads[u]!) {
      x[v] = Math.max(x[v]!, x[u]! + graph.width[u]! + gap);
      if (--waiting[v]! === 0) ready.push(v);
    }
  }
  return x;
}

interface Box {
  readonly members: readonly number[];
  left: number;
  right: number;
  top: number;
  bottom: number;
}

/** Parts what overlaps, the innermost frames first, each then as one box among its neighbours. */
function partAcross(graph: LayeredGraph, x: Float64Array, gap: number): Float64Array {
  const y = graph.y.slice();
  const frames = graph.frames;
  const children: number[][] = Array.from({ length: (frames?.parent.length ?? 0) + 1 }, () => []);
  const inner: number[][] = children.map(() => []);
  for (let v = 0; v < graph.count; v++) children[(frames?.of[v] ?? -1) + 1]!.push(v);
  frames?.parent.forEach((parent, f) => inner[parent + 1]!.push(f));
  const part = (frame: number): Box | undefined => {
    const boxes: Box[] = inner[frame + 1]!.flatMap((f) => part(f) ?? []);
    for (const v of children[frame + 1]!) boxes.push({ members: [v], left: x[v]!, right: x[v]! + graph.width[v]!, top: y[v]!, bottom: y[v]! + graph.height[v]! });
    for (let round = 0; round < 4 && separateBoxes(boxes, gap, y); round++);
    return frame === -1 || !frames ? undefined : frameBox(boxes, frames, frame);
  };
  part(-1);
  return y;
}

function frameBox(boxes: readonly Box[], frames: FrameTree, frame: number): Box | undefined {
  if (boxes.length === 0) return undefined;
  const most = (read: (box: Box) => number): number => boxes.reduce((high, box) => Math.max(high, read(box)), -Infinity);
  return {
    members: boxes.flatMap((box) => box.members),
    left: -most((box) => -box.left) - frames.before[frame]!,
    right: most((box) => box.right) + frames.after[frame]!,
    top: -most((box) => -box.top) - frames.above[frame]!,
    bottom: most((box) => box.bottom) + frames.below[frame]!,
  };
}

/** Moves boxes across the flow until none overlap, least movement, order kept; what was clear keeps what distance it has, up to the gap. Says whether any did overlap. */
function separateBoxes(boxes: Box[], gap: number, y: Float64Array): boolean {
  const order = boxes.map((_, i) => i).sort((a, b) => boxes[a]!.top + boxes[a]!.bottom - boxes[b]!.top - boxes[b]!.bottom || boxes[a]!.members[0]! - boxes[b]!.members[0]!);
  const clash = boxes.some((a, i) => boxes.some((b, k) => k > i && a.left < b.right && b.left < a.right && a.top < b.bottom && b.top < a.bottom));
  if (!clash) return false;
  const constraints: Constraint[] = [];
  order.forEach((i, n) => {
    const a = boxes[i]!;
    for (let m = n - 1, seen = 0; m >= 0 && seen < 16; m--) {
      const b = boxes[order[m]!]!;
      if (a.left >= b.right || b.left >= a.right) continue;
      seen++;
      const height = b.bottom - b.top;
      const present = a.top - b.bottom;
      constraints.push({ left: order[m]!, right: i, gap: height + (present >= 0 ? Math.min(present, gap) : gap) });
    }
  });
  const placed = separate(
    boxes.map((box) => box.top),
    constraints,
    boxes.map((box) => box.members.length),
  );
  boxes.forEach((box, i) => {
    const by = Math.round(placed[i]! - box.top);
    if (by === 0) return;
    box.top += by;
    box.bottom += by;
    for (const v of box.members) y[v]! += by;
  });
  return true;
}
