import type { Point, Rect } from '@basitax/core/document/geometry';
import type { Id } from '@basitax/core/document/ids';
import { must } from '@basitax/core/must';
import { perform } from '../actions.ts';
import type { Stroke } from '../layout.ts';
import { useEditor } from '../store.ts';
import { follow, graphPoint, type Host } from './press.ts';
import type { Scene } from './scene.ts';

/** A line drawn over the graph, with what it meets in the order in which it meets it. */
export interface Drawn {
  readonly tool: Stroke;
  readonly line: readonly Point[];
  /** Wires crossed, once each, where they are crossed first. */
  readonly wires: readonly { readonly wire: Id; readonly x: number; readonly y: number }[];
  /** Nodes passed over. */
  readonly nodes: readonly Id[];
}

/** Points nearer to each other than this on screen say nothing new. */
const grain = 3;

/**
 * Follows a drawn line: it cuts the wires that it crosses, puts a reroute point on each, or joins the nodes that it
 * passes.
 */
export function drawStroke(host: Host, event: PointerEvent, from: Point, tool: Stroke): void {
  let drawn: Drawn = { tool, line: [from], wires: [], nodes: [] };
  const grow = (next: PointerEvent): void => {
    const to = graphPoint(host.element, next);
    const last = must(drawn.line.at(-1));
    if (Math.hypot(to.x - last.x, to.y - last.y) * useEditor.getState().view.zoom < grain) return;
    drawn = meets(host.scene(), drawn, last, to);
    host.show({ stroke: drawn });
  };
  follow(host.element, event, {
    move: grow,
    end(last, far) {
      host.show(undefined);
      if (!far) return;
      drawn = meets(host.scene(), drawn, must(drawn.line.at(-1)), graphPoint(host.element, last));
      finish(drawn);
    },
    cancel: () => host.show(undefined),
  });
}

function finish({ tool, wires, nodes }: Drawn): void {
  if (tool === 'join') {
    if (nodes.length > 1) void perform('connect-selected', { pairs: 'each' }, nodes);
  } else if (wires.length > 0) {
    if (tool === 'cut')
      void perform(
        'cut-wires',
        {},
        wires.map(({ wire }) => wire),
      );
    else
      void perform(
        'reroute',
        { at: wires.map(({ wire, x, y }) => ({ wire, x: Math.round(x), y: Math.round(y) })) },
        [],
      );
  }
}

/** A line grown by a piece, with what that meets. */
export function meets(scene: Scene, drawn: Drawn, a: Point, b: Point): Drawn {
  const box: Rect = {
    x: Math.min(a.x, b.x),
    y: Math.min(a.y, b.y),
    width: Math.abs(b.x - a.x),
    height: Math.abs(b.y - a.y),
  };
  const known = new Set(drawn.wires.map(({ wire }) => wire));
  const wires = [...drawn.wires];
  if (drawn.tool !== 'join') {
    const fresh = scene.wiresWithin(box).flatMap((wire) => {
      if (known.has(wire.id)) return [];
      const path = scene.path(wire);
      for (let i = 0; i + 1 < path.length; i++) {
        const at = crossing(a, b, must(path[i]), must(path[i + 1]));
        if (at) return [{ wire: wire.id, x: at.x, y: at.y }];
      }
      return [];
    });
    wires.push(...fresh.sort((p, q) => Math.hypot(p.x - a.x, p.y - a.y) - Math.hypot(q.x - a.x, q.y - a.y)));
  }
  const passed = drawn.tool === 'join' ? scene.nodesWithin(box).filter(({ rect }) => crosses(a, b, rect)) : [];
  passed.sort((p, q) => Math.hypot(p.rect.x - a.x, p.rect.y - a.y) - Math.hypot(q.rect.x - a.x, q.rect.y - a.y));
  const nodes = [...drawn.nodes, ...passed.map(({ node }) => node.id).filter((id) => !drawn.nodes.includes(id))];
  return { ...drawn, line: [...drawn.line, b], wires, nodes };
}

/** Where two pieces cross, or undefined. */
export function crossing(a: Point, b: Point, c: Point, d: Point): Point | undefined {
  const [rx, ry, sx, sy] = [b.x - a.x, b.y - a.y, d.x - c.x, d.y - c.y];
  const cross = rx * sy - ry * sx;
  if (cross === 0) return undefined;
  const t = ((c.x - a.x) * sy - (c.y - a.y) * sx) / cross;
  const u = ((c.x - a.x) * ry - (c.y - a.y) * rx) / cross;
  return t >= 0 && t <= 1 && u >= 0 && u <= 1 ? { x: a.x + t * rx, y: a.y + t * ry } : undefined;
}

/** Does a piece run through a rectangle, or begin or end in it? */
function crosses(a: Point, b: Point, { x, y, width, height }: Rect): boolean {
  const isIn = (p: Point): boolean => p.x >= x && p.x <= x + width && p.y >= y && p.y <= y + height;
  const corners = [
    { x, y },
    { x: x + width, y },
    { x: x + width, y: y + height },
    { x, y: y + height },
  ];
  return (
    isIn(a) || isIn(b) || corners.some((corner, i) => crossing(a, b, corner, must(corners[(i + 1) % 4])) !== undefined)
  );
}
