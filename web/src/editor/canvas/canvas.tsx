import type { Rect } from '@basitax/core/document/geometry';
import { unite } from '@basitax/core/document/geometry';
import type { Id } from '@basitax/core/document/ids';
import { elbowBetween } from '@basitax/core/route/route';
import { select as pick } from 'd3-selection';
import { type ZoomBehavior, zoom as zoomBehavior, zoomIdentity } from 'd3-zoom';
import { type ReactNode, useEffect, useMemo, useRef, useState } from 'react';
import { useTheme } from '../../theme.ts';
import { onPointerPlace } from '../actions.ts';
import { onKey } from '../keys.ts';
import { lookAt, shownDoc, useEditor, viewControl } from '../store.ts';
import { colorsOf } from './colors.ts';
import { frameLoop } from './frame-loop.ts';
import { graphPoint, isGround, type Overlay, onDoublePress, onPress } from './gestures.ts';
import { NodeView } from './node-view.tsx';
import { drawGraph, drawGround, readingZoom, visibleArea } from './painter.ts';
import { followRoutes, useRoutes } from './routes.ts';
import { Scene, type SceneNode } from './scene.ts';

const { getState, setState } = useEditor;

/** Nodes mounted in one frame at the most; the canvas draws those that are not there yet. */
const mountedAFrame = 16;
/** More than this being dragged is drawn on the canvas alone. */
const mostDraggedElements = 8;
const margin = 240;
const zoomRange: [number, number] = [0.02, 4];

/** The scene of what is shown now: made anew when document or graph change, given routes as they come. */
function useScene(): Scene {
  const doc = useEditor(shownDoc);
  const graph = useEditor((state) => state.graph);
  const kinds = useEditor((state) => state.kinds);
  const routes = useRoutes((state) => state.routes);
  const scene = useMemo(() => new Scene(doc, kinds, graph), [doc, kinds, graph]);
  scene.takeRoutes(routes);
  return scene;
}

function useGhosts(): Scene | undefined {
  const before = useEditor((state) => (state.preview ? state.doc : undefined));
  const graph = useEditor((state) => state.graph);
  const kinds = useEditor((state) => state.kinds);
  return useMemo(() => before && new Scene(before, kinds, graph), [before, graph, kinds]);
}

export function Canvas(): ReactNode {
  const host = useRef<HTMLDivElement>(null);
  const ground = useRef<HTMLCanvasElement>(null);
  const wires = useRef<HTMLCanvasElement>(null);
  const layer = useRef<HTMLDivElement>(null);
  const over = useRef<HTMLCanvasElement>(null);
  const scene = useScene();
  const ghosts = useGhosts();
  const theme = useTheme((state) => state.theme);
  const colors = useMemo(() => colorsOf(theme), [theme]);
  const selection = useEditor((state) => state.selection);
  const moving = useEditor((state) => state.moving);
  const selected = useMemo(() => new Set(selection), [selection]);
  const mounted = useRef<ReadonlySet<Id>>(new Set());
  const now = useRef({ scene, ghosts, colors, selected });
  now.current = { scene, ghosts, colors, selected };

  const loop = useMemo(
    () =>
      frameLoop(() => {
        const [below, above] = [ground.current?.getContext('2d'), wires.current?.getContext('2d')];
        const { view, window: size, moving: drag } = getState();
        if (!below || !above || size.width === 0) return;
        const hidden = layer.current?.style.visibility === 'hidden';
        const picture = { ...now.current, view, ...size, moving: drag, mounted: hidden ? new Set<Id>() : mounted.current };
        if (layer.current) layer.current.style.transform = `translate(${view.x}px,${view.y}px) scale(${view.zoom})`;
        drawGround(below, picture);
        drawGraph(above, picture);
      }),
    [],
  );
  useEffect(() => {
    loop.ask();
  });
  useEffect(() => useEditor.subscribe((state, before) => (state.view !== before.view || state.moving !== before.moving || state.window !== before.window) && loop.ask()), [loop]);
  useEffect(() => () => loop.stop(), [loop]);
  useEffect(() => followRoutes(), []);
  useEffect(() => {
    // the first picture may come before the fonts
    void document.fonts.ready.then(() => loop.ask());
  }, [loop]);

  const behavior = useViewport(host, layer, now, loop);
  useLookAt(behavior, host, scene);

  useEffect(() => {
    const element = host.current;
    if (!element) return;
    const show = (overlay: Overlay | undefined): void => drawOverlay(over.current, overlay, now.current.scene, now.current.colors);
    const own = { element, scene: () => now.current.scene, show };
    const press = (event: PointerEvent): void => {
      if ((event.target as HTMLElement).closest('button')) return;
      if (!(event.target as HTMLElement).closest('[data-node]')) element.focus({ preventScroll: true });
      onPress(own, event);
    };
    const double = (event: MouseEvent): void => onDoublePress(own, event);
    let pointer: MouseEvent | undefined;
    const track = (event: PointerEvent): void => {
      pointer = event;
    };
    const leave = (): void => {
      pointer = undefined;
    };
    onPointerPlace(() => pointer && graphPoint(element, pointer));
    element.addEventListener('pointerdown', press);
    element.addEventListener('pointermove', track);
    element.addEventListener('pointerleave', leave);
    element.addEventListener('dblclick', double);
    return () => {
      element.removeEventListener('pointerdown', press);
      element.removeEventListener('pointermove', track);
      element.removeEventListener('pointerleave', leave);
      element.removeEventListener('dblclick', double);
    };
  }, []);
  useTestHook(host, now);

  const isEmpty = scene.nodes.length === 0 && scene.frames.length === 0 && scene.notes.length === 0;
  return (
    // biome-ignore lint/a11y/useSemanticElements: no element of HTML is a canvas of groups
    <div
      ref={host}
      role="region"
      aria-label="Graph"
      // biome-ignore lint/a11y/noNoninteractiveTabindex: the canvas takes the keyboard: arrows, Enter and the shortcuts act on it
      tabIndex={0}
      className="sheet relative min-h-0 flex-1 touch-none overflow-hidden bg-ground focus-visible:outline-offset-[-3px]"
      onKeyDown={onKey}
      onFocus={(event) => reveal((event.target as HTMLElement).dataset.node, scene)}
      onScroll={(event) => {
        // the browser scrolls what it focuses into sight; here the window moves instead
        event.currentTarget.scrollTop = 0;
        event.currentTarget.scrollLeft = 0;
      }}
    >
      <canvas ref={ground} className="absolute inset-0 size-full" aria-hidden="true" />
      <canvas ref={wires} className="absolute inset-0 size-full" aria-hidden="true" />
      <div ref={layer} className="node-layer">
        <NodeLayer scene={scene} colors={colors} selected={selected} selection={selection} moving={moving} mounted={mounted} onMounted={loop.ask} />
      </div>
      <canvas ref={over} className="pointer-events-none absolute inset-0 size-full" aria-hidden="true" />
      {isEmpty && (
        <p className="pointer-events-none absolute inset-0 grid place-items-center text-soft" role="status">
          This graph is empty. Paste nodes here, or upload a file.
        </p>
      )}
      <WayBack scene={scene} />
    </div>
  );
}

/** Moves the window just so far that a node which took the focus is inside it. */
function reveal(id: Id | undefined, scene: Scene): void {
  const item = id === undefined ? undefined : scene.get(id);
  if (!item) return;
  const { view, window: size } = getState();
  const near = 24;
  const shift = (from: number, to: number, most: number): number => (from < near ? near - from : to > most - near ? Math.max(most - near - to, near - from) : 0);
  const [left, top] = [item.rect.x * view.zoom + view.x, item.rect.y * view.zoom + view.y];
  const dx = shift(left, left + item.rect.width * view.zoom, size.width);
  const dy = shift(top, top + item.rect.height * view.zoom, size.height);
  if (dx !== 0 || dy !== 0) viewControl.set({ ...view, x: view.x + dx, y: view.y + dy });
}

/** The window never gets lost: where it shows nothing, it offers the way back. */
function WayBack({ scene }: { scene: Scene }): ReactNode {
  const lost = useEditor((state) => {
    if (!scene.bounds || state.window.width === 0) return false;
    const area = visibleArea(state.view, state.window.width, state.window.height);
    const b = scene.bounds;
    return b.x > area.x + area.width || b.x + b.width < area.x || b.y > area.y + area.height || b.y + b.height < area.y;
  });
  if (!lost) return null;
  return (
    <button type="button" className="absolute top-1/2 left-1/2 -translate-1/2 rounded border border-edge bg-panel px-4 py-2" onClick={() => lookAt('all')}>
      Nothing of the graph is here. Show all of it
    </button>
  );
}

interface Mounted {
  current: ReadonlySet<Id>;
}

/** The nodes in the window, as elements, at reading zoom; a few more each frame until all are there. */
function NodeLayer({
  scene,
  colors,
  selected,
  selection,
  moving,
  mounted,
  onMounted,
}: {
  scene: Scene;
  colors: ReturnType<typeof colorsOf>;
  selected: ReadonlySet<Id>;
  selection: readonly Id[];
  moving: { ids: ReadonlySet<Id>; dx: number; dy: number } | undefined;
  mounted: Mounted;
  onMounted: () => void;
}): ReactNode {
  const [area, setArea] = useState<Rect>();
  useEffect(() => {
    const settle = (): void => {
      const { view, window: size } = getState();
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
    return useEditor.subscribe((state, before) => (state.view !== before.view || state.window !== before.window) && settle());
  }, []);
  const wanted = useMemo(() => (area ? scene.nodesWithin(area) : []), [scene, area]);
  const [allowed, setAllowed] = useState(mountedAFrame);
  const heavy = moving !== undefined && moving.ids.size > mostDraggedElements;
  // what was there before stays; of the rest a few are added each frame
  const shown: SceneNode[] = [];
  let fresh = 0;
  for (const item of wanted) {
    if (heavy && moving.ids.has(item.node.id)) continue;
    if (mounted.current.has(item.node.id)) shown.push(item);
    else if (fresh < allowed) {
      fresh++;
      shown.push(item);
    }
  }
  const complete = shown.length >= wanted.length - (heavy ? moving.ids.size : 0);
  useEffect(() => {
    mounted.current = new Set(shown.map((item) => item.node.id));
    onMounted();
    if (complete) {
      setAllowed(mountedAFrame);
      return;
    }
    const frame = requestAnimationFrame(() => setAllowed((count) => count + 1));
    return () => cancelAnimationFrame(frame);
  });
  const places = useMemo(() => new Map(selection.map((id, i) => [id, i])), [selection]);
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
        order={places.get(item.node.id) ?? -1}
        dx={drag?.dx ?? 0}
        dy={drag?.dy ?? 0}
      />
    );
  });
}

interface Now {
  readonly current: { readonly scene: Scene; readonly colors: ReturnType<typeof colorsOf> };
}

/** Wheel zooms about the pointer, a drag on the ground pans, two fingers do both. */
function useViewport(
  host: React.RefObject<HTMLDivElement | null>,
  layer: React.RefObject<HTMLDivElement | null>,
  now: Now,
  loop: { ask(): void },
): React.RefObject<ZoomBehavior<HTMLDivElement, unknown> | undefined> {
  const behavior = useRef<ZoomBehavior<HTMLDivElement, unknown>>(undefined);
  useEffect(() => {
    const element = host.current;
    if (!element) return;
    let settled: ReturnType<typeof setTimeout> | undefined;
    const own = zoomBehavior<HTMLDivElement, unknown>()
      .scaleExtent(zoomRange)
      .filter(
        (event: MouseEvent | WheelEvent | TouchEvent) =>
          event.type === 'wheel' ||
          (event instanceof MouseEvent && event.button === 1) ||
          ((event as MouseEvent).button === 0 || 'touches' in event ? isGround({ element, scene: () => now.current.scene, show: () => {} }, event as MouseEvent) : false),
      )
      .on('zoom', (event) => {
        const { x, y, k } = event.transform as { x: number; y: number; k: number };
        if (k !== getState().view.zoom && layer.current) {
          // while the zoom changes, and a moment after, the canvas alone draws
          layer.current.style.visibility = 'hidden';
          clearTimeout(settled);
          settled = setTimeout(() => {
            if (layer.current) layer.current.style.visibility = '';
            loop.ask();
          }, 120);
        }
        setState({ view: { x, y, zoom: k } });
      });
    behavior.current = own;
    pick(element).call(own).on('dblclick.zoom', null);
    const size = new ResizeObserver(() => setState({ window: { width: element.clientWidth, height: element.clientHeight } }));
    size.observe(element);
    setState({ window: { width: element.clientWidth, height: element.clientHeight } });
    return () => {
      size.disconnect();
      clearTimeout(settled);
      pick(element).on('.zoom', null);
    };
  }, [host, layer, now, loop]);
  return behavior;
}

/** Moves the window to show everything, or the selection; never closer than 100 %. */
function useLookAt(behavior: React.RefObject<ZoomBehavior<HTMLDivElement, unknown> | undefined>, host: React.RefObject<HTMLDivElement | null>, scene: Scene): void {
  const wish = useEditor((state) => state.lookAt);
  const isSized = useEditor((state) => state.window.width > 0);
  const done = useRef(0);
  useEffect(() => {
    if (!isSized || wish.count === done.current || !host.current || !behavior.current) return;
    const state = getState();
    const chosen = new Set(state.selection);
    const rects =
      wish.what === 'selection'
        ? [...scene.nodes.filter((item) => chosen.has(item.node.id)).map((item) => item.rect), ...scene.frames.filter((item) => chosen.has(item.frame.id)).map((item) => item.rect)]
        : [];
    const bounds = unite(rects) ?? scene.bounds;
    done.current = wish.count;
    if (!bounds) return;
    const { width, height } = state.window;
    const zoom = Math.max(zoomRange[0], Math.min(1, (width - 80) / Math.max(1, bounds.width), (height - 80) / Math.max(1, bounds.height)));
    pick(host.current).call(
      behavior.current.transform,
      zoomIdentity.translate(width / 2 - (bounds.x + bounds.width / 2) * zoom, height / 2 - (bounds.y + bounds.height / 2) * zoom).scale(zoom),
    );
  }, [wish, isSized, scene, behavior, host]);
  useEffect(() => {
    const before = viewControl.set;
    viewControl.set = ({ x, y, zoom }) =>
      host.current &&
      behavior.current &&
      pick(host.current).call(behavior.current.transform, zoomIdentity.translate(x, y).scale(Math.max(zoomRange[0], Math.min(zoomRange[1], zoom))));
    return () => {
      viewControl.set = before;
    };
  }, [behavior, host]);
}

function drawOverlay(canvas: HTMLCanvasElement | null, overlay: Overlay | undefined, scene: Scene, colors: ReturnType<typeof colorsOf>): void {
  const ctx = canvas?.getContext('2d');
  if (!canvas || !ctx) return;
  const { view, window: size } = getState();
  const ratio = window.devicePixelRatio || 1;
  canvas.width = size.width * ratio;
  canvas.height = size.height * ratio;
  ctx.setTransform(ratio * view.zoom, 0, 0, ratio * view.zoom, ratio * view.x, ratio * view.y);
  if (overlay?.box) {
    const { x, y, width, height } = overlay.box;
    ctx.strokeStyle = colors.accent;
    ctx.lineWidth = 1.5 / view.zoom;
    ctx.setLineDash([5 / view.zoom, 4 / view.zoom]);
    ctx.strokeRect(x, y, width, height);
  }
  if (overlay?.wire) {
    const route = elbowBetween(overlay.wire.from, overlay.wire.to, scene.flow);
    ctx.strokeStyle = colors.hues[scene.kinds.type(overlay.wire.type).hue] ?? colors.edge;
    ctx.lineWidth = 2.2 / Math.min(1, view.zoom);
    ctx.beginPath();
    route.forEach((p, i) => (i === 0 ? ctx.moveTo(p.x, p.y) : ctx.lineTo(p.x, p.y)));
    ctx.stroke();
  }
}

/** What browser tests need to find things that are only painted. */
export interface TestHook {
  setView(view: { x: number; y: number; zoom: number }): void;
  /** A node's place on the page. */
  nodeRect(id: Id): Rect | undefined;
  portPlace(node: Id, port: string, direction: 'in' | 'out'): { x: number; y: number } | undefined;
  wireAt(x: number, y: number): Id | undefined;
  selection(): readonly Id[];
}

declare global {
  interface Window {
    basitaxCanvas?: TestHook;
  }
}

function useTestHook(host: React.RefObject<HTMLDivElement | null>, now: Now): void {
  useEffect(() => {
    const place = (x: number, y: number): { x: number; y: number } => {
      const { view } = getState();
      const box = host.current!.getBoundingClientRect();
      return { x: box.left + x * view.zoom + view.x, y: box.top + y * view.zoom + view.y };
    };
    window.basitaxCanvas = {
      setView: (view) => viewControl.set(view),
      nodeRect(id) {
        const item = now.current.scene.get(id);
        const { zoom } = getState().view;
        return item && { ...place(item.rect.x, item.rect.y), width: item.rect.width * zoom, height: item.rect.height * zoom };
      },
      portPlace(node, port, direction) {
        const item = now.current.scene.get(node);
        const placed = item?.geometry.ports.find((one) => one.id === port && one.direction === direction);
        return item && placed && place(item.rect.x + placed.x, item.rect.y + placed.y);
      },
      wireAt(x, y) {
        const hit = host.current ? now.current.scene.hit(graphPoint(host.current, { clientX: x, clientY: y }), 8 / getState().view.zoom) : undefined;
        return hit?.type === 'wire' ? hit.id : undefined;
      },
      selection: () => getState().selection,
    };
    return () => {
      delete window.basitaxCanvas;
    };
  }, [host, now]);
}
