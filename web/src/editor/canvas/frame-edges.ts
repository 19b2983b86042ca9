import type { Point, Rect } from '@basitax/core/document/geometry';
import type { Id } from '@basitax/core/document/ids';
import { perform } from '../actions.ts';
import { follow, graphPoint, type Host } from './press.ts';
import type { Scene } from './scene.ts';

/** An edge or corner of the one selected frame or note, which can be dragged. */
export interface FrameEdge {
  readonly frame: Id;
  readonly rect: Rect;
  /** -1: the left or upper edge, 1: the right or lower one, 0: neither. */
  readonly x: -1 | 0 | 1;
  readonly y: -1 | 0 | 1;
}

/** The handles of a frame: its corners and the middles of its edges. */
export const handles: readonly (readonly [-1 | 0 | 1, -1 | 0 | 1])[] = [
  [-1, -1],
  [0, -1],
  [1, -1],
  [1, 0],
  [1, 1],
  [0, 1],
  [-1, 1],
  [-1, 0],
];

export const handlePlace = (rect: Rect, [x, y]: readonly [number, number]): Point => ({
  x: rect.x + (rect.width * (x + 1)) / 2,
  y: rect.y + (rect.height * (y + 1)) / 2,
});

/** What can be given another size by its handles: a frame that is not folded, or a note. */
export const sizable = (scene: Scene, id: Id): Rect | undefined =>
  scene.frameRect(id) ?? scene.notes.find((note) => note.id === id);

/** The handle of the one selected frame or note that a point is on. */
export function edgeAt(scene: Scene, selection: readonly Id[], p: Point, slack: number): FrameEdge | undefined {
  const [frame] = selection;
  const rect = frame !== undefined && selection.length === 1 ? sizable(scene, frame) : undefined;
  if (frame === undefined || !rect) return undefined;
  const found = handles.find((one) => {
    const at = handlePlace(rect, one);
    return Math.abs(at.x - p.x) <= slack && Math.abs(at.y - p.y) <= slack;
  });
  return found && { frame, rect, x: found[0], y: found[1] };
}

/** Follows a press on a handle: shows the rectangle that the frame would have, and gives it that. */
export function resizeFrame(host: Host, event: PointerEvent, { frame, rect, x, y }: FrameEdge): void {
  const from = graphPoint(host.element, event);
  const sized = (next: PointerEvent): Rect => {
    const to = graphPoint(host.element, next);
    const [dx, dy] = [to.x - from.x, to.y - from.y];
    const width = Math.max(40, rect.width + x * dx);
    const height = Math.max(40, rect.height + y * dy);
    return {
      x: x < 0 ? rect.x + rect.width - width : rect.x,
      y: y < 0 ? rect.y + rect.height - height : rect.y,
      width,
      height,
    };
  };
  follow(host.element, event, {
    move: (next, far) => far && host.show({ box: sized(next) }),
    end(last, far) {
      host.show(undefined);
      if (far) void perform(host.scene().frameRect(frame) ? 'frame-size' : 'note-change', { ...sized(last) }, [frame]);
    },
    cancel: () => host.show(undefined),
  });
}
