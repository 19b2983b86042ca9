import type { Point, Rect } from '@basitax/core/document/geometry';
import type { Id } from '@basitax/core/document/ids';
import { useEditor } from '../store.ts';
import type { Scene } from './scene.ts';
import type { Drawn } from './strokes.ts';
import type { Aim } from './wire-gestures.ts';

const { getState } = useEditor;

/** A drag begins once the pointer has moved this far, in screen pixels. */
const threshold = 4;

/** What is drawn above everything while a gesture goes on. */
export interface Overlay {
  readonly box?: Rect;
  readonly lasso?: readonly Point[];
  /** Where the pointer is with a wire in hand. */
  readonly hand?: Point;
  /** A line that is being drawn, and what it meets so far. */
  readonly stroke?: Drawn;
  /** The wire that a node in hand would be put into, or its own wires that it would be pulled out of. */
  readonly insert?: Aim;
  /** The frame that what is in hand would join, or leave. */
  readonly join?: Join;
}

/** What letting go would do to membership: the frame joined, or none where `frame` is empty. */
export interface Join {
  readonly frame: Id;
  readonly words: string;
  readonly at: Point;
}

export interface Host {
  readonly element: HTMLElement;
  scene(): Scene;
  show(overlay: Overlay | undefined): void;
}

/** The pointer in graph coordinates. */
export function graphPoint(element: HTMLElement, event: { clientX: number; clientY: number }): Point {
  const { view } = getState();
  const box = element.getBoundingClientRect();
  return { x: (event.clientX - box.left - view.x) / view.zoom, y: (event.clientY - box.top - view.y) / view.zoom };
}

/** How far off a port or wire one may be: eight pixels on screen. */
export const slack = (): number => 8 / getState().view.zoom;

/** Follows one press until it is let go. */
export function follow(
  element: HTMLElement,
  event: PointerEvent,
  on: { move(event: PointerEvent, far: boolean): void; end(event: PointerEvent, far: boolean): void; cancel(): void },
): void {
  const start = { x: event.clientX, y: event.clientY };
  let far = false;
  const stop = new AbortController();
  const { signal } = stop;
  element.setPointerCapture(event.pointerId);
  element.addEventListener(
    'pointermove',
    (next) => {
      far ||= Math.hypot(next.clientX - start.x, next.clientY - start.y) >= threshold;
      on.move(next, far);
    },
    { signal },
  );
  element.addEventListener(
    'pointerup',
    (last) => {
      stop.abort();
      on.end(last, far);
    },
    { signal },
  );
  const cancel = (): void => {
    stop.abort();
    on.cancel();
  };
  element.addEventListener('pointercancel', cancel, { signal });
  window.addEventListener('keydown', (key) => key.key === 'Escape' && cancel(), { signal, capture: true });
}
