import type { ReactNode } from 'react';
import { lookAt, useEditor } from '../store.ts';
import { visibleArea } from './paint/picture.ts';
import type { Scene } from './scene.ts';

/** The window never gets lost: where it shows nothing, it offers the way back. */
export function WayBack({ scene }: { scene: Scene }): ReactNode {
  const lost = useEditor((state) => {
    if (!scene.bounds || state.window.width === 0) return false;
    const area = visibleArea(state.view, state.window.width, state.window.height);
    const b = scene.bounds;
    return b.x > area.x + area.width || b.x + b.width < area.x || b.y > area.y + area.height || b.y + b.height < area.y;
  });
  if (!lost) return null;
  return (
    <button
      data-above
      type="button"
      className="absolute top-1/2 left-1/2 -translate-1/2 rounded border border-edge bg-panel px-4 py-2"
      onClick={() => lookAt('all')}
    >
      No part of the graph is in view. Show all of it
    </button>
  );
}
