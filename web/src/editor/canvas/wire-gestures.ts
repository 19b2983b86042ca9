import { caption, type Doc, indexOf } from '@basitax/core/document/doc';
import type { Point } from '@basitax/core/document/geometry';
import type { Id } from '@basitax/core/document/ids';
import type { PortRef, Wire } from '@basitax/core/document/schema';
import { must } from '@basitax/core/must';
import { insertWay } from '@basitax/core/wiring/insert';
import { perform } from '../actions.ts';
import {
  candidatesNow,
  endOf,
  fromBody,
  fromPort,
  type InHand,
  letGo,
  putToGround,
  putToNode,
  putToPort,
  takeInHand,
  useHand,
} from '../hand.ts';
import { type Moving, useEditor, viewControl } from '../store.ts';
import { follow, graphPoint, type Host, slack } from './press.ts';
import type { Hit, Scene } from './scene.ts';

const { getState, setState } = useEditor;

/** How near on screen a fitting port has to be to draw the wire in, in pixels. */
const pull = 30;
const exact = 7;

/** The fitting port nearest to a point, if one is near enough. */
export function portNear(scene: Scene, at: Point): PortRef | undefined {
  const found = candidatesNow();
  const { view } = getState();
  if (!found) return undefined;
  const reach = pull / view.zoom;
  const direction = found.candidates.hand.direction === 'out' ? 'in' : 'out';
  let [best, least]: [PortRef | undefined, number] = [undefined, reach];
  // who points straight at a port that does not fit means that one, and is told why
  let wrong = exact / view.zoom;
  for (const { node, geometry } of scene.nodesWithin({
    x: at.x - reach,
    y: at.y - reach,
    width: 2 * reach,
    height: 2 * reach,
  })) {
    if (geometry.closed) continue;
    for (const placed of geometry.ports) {
      if (placed.direction !== direction) continue;
      const far = Math.hypot(node.x + placed.x - at.x, node.y + placed.y - at.y);
      const port = node.ports.find((one) => one.direction === direction && one.id === placed.id);
      if (far >= least || !port) continue;
      const real = scene.real(node, placed.id);
      if (
        !found.fitting.has(real.node.id) ||
        found.candidates.refusal(real.node, { ...port, id: real.port }) !== undefined
      )
        wrong = Math.min(wrong, far);
      else [best, least] = [{ node: real.node.id, port: real.port }, far];
    }
  }
  if (wrong < exact / view.zoom && wrong < least) return undefined;
  return best;
}

/** What a press takes in hand: a port, one half of a wire, or with Ctrl the body of a node. */
export function takenBy(
  doc: Doc,
  hit: Hit | undefined,
  at: Point,
  event: PointerEvent,
  scene: Scene,
): InHand | undefined {
  if (hit?.type === 'port') return fromPort(doc, hit.node.id, hit.port, hit.direction, event.shiftKey);
  const body = hit?.type === 'node' ? doc.nodes.get(hit.id) : undefined;
  if (body && (event.ctrlKey || event.metaKey)) return fromBody(body);
  const wire = hit?.type === 'wire' ? doc.wires.get(hit.id) : undefined;
  if (!wire) return undefined;
  const path = scene.path(wire);
  const [start, end] = [must(path[0]), must(path.at(-1))];
  return endOf(
    wire,
    Math.hypot(at.x - start.x, at.y - start.y) < Math.hypot(at.x - end.x, at.y - end.y) ? 'from' : 'to',
    'drag',
  );
}

/** Follows a wire in hand until it is let go. A press that goes nowhere is a click. */
export function drawWire(host: Host, event: PointerEvent, inHand: InHand, click: () => void): void {
  let pan: ReturnType<typeof setInterval> | undefined;
  let last: PointerEvent = event;
  const show = (): void => host.show({ hand: graphPoint(host.element, last) });
  const stop = (): void => {
    clearInterval(pan);
    host.show(undefined);
  };
  follow(host.element, event, {
    move(next, far) {
      last = next;
      if (!far) return;
      if (useHand.getState().inHand !== inHand) {
        takeInHand(inHand);
        pan = setInterval(() => atEdge(host, last) && show(), 16);
      }
      show();
    },
    end(end, far) {
      stop();
      if (!far) click();
      else void putDown(host, inHand, end);
    },
    cancel() {
      stop();
      letGo();
    },
  });
}

/**
 * Width of the strip along the edges of the window in which a wire in hand moves it, in pixels, and how fast at the
 * most, in pixels a step.
 */
const strip = 36;
const fastest = 14;

/** Moves the window while a wire is held at its edge. True where it moved. */
function atEdge(host: Host, event: PointerEvent): boolean {
  const box = host.element.getBoundingClientRect();
  const push = (from: number, to: number): number =>
    from < strip ? (strip - from) / strip : to < strip ? -(strip - to) / strip : 0;
  const [dx, dy] = [
    push(event.clientX - box.left, box.right - event.clientX),
    push(event.clientY - box.top, box.bottom - event.clientY),
  ];
  if (dx === 0 && dy === 0) return false;
  const { view } = getState();
  const step = (by: number): number => Math.max(-1, Math.min(1, by)) * fastest;
  viewControl.set({ ...view, x: view.x + step(dx), y: view.y + step(dy) });
  return true;
}

/**
 * Puts down what is in hand where the pointer is: at the port that draws it in, the port or node under it, or the
 * ground.
 */
async function putDown(host: Host, inHand: InHand, event: PointerEvent): Promise<void> {
  const at = graphPoint(host.element, event);
  const near = inHand.body === undefined ? portNear(host.scene(), at) : undefined;
  if (near) {
    await putToPort(inHand, near);
    return;
  }
  const hit = host.scene().hit(at, slack());
  if (hit?.type === 'port' && hit.node.id !== inHand.hand.fixed.node && hit.direction !== inHand.hand.direction)
    await putToPort(inHand, { node: hit.node.id, port: hit.port });
  else if (hit?.type === 'node') await putToNode(inHand, hit.id);
  else if (hit?.type === 'port') await putToNode(inHand, hit.node.id);
  else if (inHand.body !== undefined) letGo();
  else await putToGround(inHand, at);
}

/**
 * A press while a wire is carried about puts it down; a drag on the ground still moves the window. True where the press
 * is taken.
 */
export function carries(host: Host, event: PointerEvent): boolean {
  const { inHand } = useHand.getState();
  if (inHand?.mode !== 'carry') return false;
  follow(host.element, event, {
    move: (next) => host.show({ hand: graphPoint(host.element, next) }),
    end: (last, far) => {
      if (far) return;
      host.show(undefined);
      void putDown(host, inHand, last);
    },
    cancel: () => letGo(),
  });
  return true;
}

/** What letting a node in hand go would do beside moving it. */
export interface Aim {
  readonly wire?: Id;
  /** The node that would be pulled out of its wires. */
  readonly out?: Id;
  readonly words: string;
  readonly at: Point;
}

/**
 * A node without wires is put into the wire that it is held over; with Shift held, one that has some is pulled out of
 * them.
 */
export function aimOf(host: Host, id: Id, by: Point, isPulled: boolean, before: Aim | undefined): Aim | undefined {
  const { doc, kinds, surroundings } = getState();
  const item = host.scene().get(id);
  if (!item || surroundings || !doc.nodes.has(id)) return undefined;
  const at = { x: item.rect.x + by.x + item.rect.width / 2, y: item.rect.y + by.y };
  const index = indexOf(doc);
  const hasWires = index.wiresOf(id).length > 0;
  if (isPulled) return hasWires ? { out: id, words: `Pull “${caption(item.node)}” out of its wires`, at } : undefined;
  // a node whose passing ports are taken is only moved; so that a crowded graph is not rewired by the way
  const way = {
    into: (to: PortRef) => index.wireInto(to.node, to.port),
    outOf: (from: PortRef) => [...index.wiresOutOf(from.node, from.port)],
  };
  const inner = {
    x: item.rect.x + by.x + 8,
    y: item.rect.y + by.y + 8,
    width: Math.max(1, item.rect.width - 16),
    height: Math.max(1, item.rect.height - 16),
  };
  const runs = (wire: Wire): boolean => {
    const path = host.scene().path(wire);
    return path.some((a, i) => {
      const b = path[i + 1];
      return (
        b !== undefined &&
        Math.max(a.x, b.x) >= inner.x &&
        Math.min(a.x, b.x) <= inner.x + inner.width &&
        Math.max(a.y, b.y) >= inner.y &&
        Math.min(a.y, b.y) <= inner.y + inner.height
      );
    });
  };
  const under = host
    .scene()
    .wiresWithin(inner)
    .filter((wire) => wire.from.node !== id && wire.to.node !== id && runs(wire));
  // the one that was aimed at stays while the node is over it
  under.sort((a, b) => Number(b.id === before?.wire) - Number(a.id === before?.wire));
  for (const wire of under.slice(0, 8)) {
    const found = insertWay(doc, kinds, way, item.node, [wire]);
    if ('input' in found)
      return {
        wire: wire.id,
        words: `Put into the wire of “${caption(must(doc.nodes.get(wire.from.node)))}” (Alt: only move)`,
        at,
      };
  }
  return undefined;
}

export function putAimed(aim: Aim, moving: Moving): void {
  const done = (): void => setState({ moving: undefined });
  const by = { dx: moving.dx, dy: moving.dy };
  if (aim.wire !== undefined) void perform('insert', { wire: aim.wire, ...by }, [...moving.ids]).finally(done);
  else void perform('pull-out', by, [...moving.ids]).finally(done);
}
