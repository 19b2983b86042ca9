import type { Rect } from '@basitax/core/document/geometry';
import type { Id } from '@basitax/core/document/ids';
import { type ReactNode, useEffect, useMemo, useState } from 'react';
import { useEditor } from '../store.ts';
import type { Colors } from './colors.ts';
import { NodeView } from './node-view.tsx';
import { mostDraggedElements } from './paint/painter.ts';
import { readingZoom, visibleArea } from './paint/picture.ts';
import type { Scene, SceneNode } from './scene.ts';

const { getState } = useEditor;

/** Nodes mounted in one frame at the most; the canvas draws those that are not there yet. */
const mountedAFrame = 16;
const margin = 240;

interface Mounted {
  current: ReadonlySet<Id>;
}

/** The nodes in the window, as elements, at reading zoom; a few more each frame until all are there. */
export function NodeLayer({
  scene,
  colors,
  selected,
  mounted,
  onMounted,
}: {
  scene: Scene;
  colors: Colors;
  selected: ReadonlySet<Id>;
  mounted: Mounted;
  onMounted: () => void;
}): ReactNode {
  // with more in hand than elements can follow, nothing is rendered anew while they are dragged
  const inHand = useEditor((state) =>
    state.moving && state.moving.ids.size > mostDraggedElements ? state.moving.ids : undefined,
  );
  const moving = useEditor((state) =>
    state.moving && state.moving.ids.size <= mostDraggedElements ? state.moving : undefined,
  );
  const [area, setArea] = useState<Rect>();
  useEffect(() => {
    const settle = (): void => {
      const { view, window: size, inMotion, isPlaced } = getState();
      // what nobody sees is not brought up with the window
      if (inMotion || !isPlaced) return;
      if (view.zoom < readingZoom || size.width === 0) {
        setArea(undefined);
        return;
      }
      const inner = visibleArea(view, size.width, size.height);
      setArea((known) =>
        known &&
        inner.x >= known.x &&
        inner.y >= known.y &&
        inner.x + inner.width <= known.x + known.width &&
        inner.y + inner.height <= known.y + known.height &&
        known.width < inner.width * 2.2
          ? known
          : visibleArea(view, size.width, size.height, margin),
      );
    };
    settle();
    return useEditor.subscribe(
      (state, before) =>
        (state.view !== before.view || state.window !== before.window || state.inMotion !== before.inMotion) &&
        settle(),
    );
  }, []);
  const wanted = useMemo(() => (area ? scene.nodesWithin(area) : []), [scene, area]);
  const [allowed, setAllowed] = useState(mountedAFrame);
  // what was there before stays; of the rest a few are added each frame
  const shown: SceneNode[] = [];
  let fresh = 0;
  for (const item of wanted) {
    if (inHand?.has(item.node.id)) continue;
    if (mounted.current.has(item.node.id)) shown.push(item);
    else if (fresh < allowed) {
      fresh++;
      shown.push(item);
    }
  }
  const complete = shown.length >= wanted.length - (inHand?.size ?? 0);
  useEffect(() => {
    const ids = shown.map((item) => item.node.id);
    if (ids.length !== mounted.current.size || ids.some((id) => !mounted.current.has(id)))
      mounted.current = new Set(ids);
    onMounted();
    if (complete) {
      setAllowed(mountedAFrame);
      return;
    }
    const frame = requestAnimationFrame(() => setAllowed((count) => count + 1));
    return () => cancelAnimationFrame(frame);
  });
  return shown.map((item) => {
    const drag = moving?.ids.has(item.node.id) ? moving : undefined;
    return (
      <NodeView
        key={item.node.id}
        item={item}
        kinds={scene.kinds}
        flow={scene.flow}
        colors={colors}
        selected={selected.has(item.node.id)}
        label={scene.pointLabel(item.node)}
        link={scene.linkOf(item.node)}
        fed={scene.fedWords(item.node)}
        dx={drag?.dx ?? 0}
        dy={drag?.dy ?? 0}
      />
    );
  });
}
