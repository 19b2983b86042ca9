import { unite } from '@basitax/core/document/geometry';
import type { Id } from '@basitax/core/document/ids';
import { select as pick } from 'd3-selection';
import { type ZoomBehavior, zoom as zoomBehavior, zoomIdentity } from 'd3-zoom';
import { useEffect, useRef } from 'react';
import { useEditor, viewControl } from '../store.ts';
import type { Colors } from './colors.ts';
import { isGround } from './gestures.ts';
import type { HeldFocus } from './held-focus.ts';
import type { Scene } from './scene.ts';

const { getState, setState } = useEditor;

const zoomRange: [number, number] = [0.02, 4];

/** What the canvas shows now, for handlers that outlive a render. */
export interface Now {
  readonly current: { readonly scene: Scene; readonly colors: Colors };
}

/** Wheel zooms about the pointer, a drag on the ground pans, two fingers do both. */
export function useViewport(
  host: React.RefObject<HTMLDivElement | null>,
  now: Now,
  focus: HeldFocus,
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
          ((event as MouseEvent).button === 0 || 'touches' in event
            ? isGround({ element, scene: () => now.current.scene, show: () => {} }, event as MouseEvent)
            : false),
      )
      .on('zoom', (event) => {
        const { x, y, k } = event.transform as { x: number; y: number; k: number };
        // a picture is quicker moved than a hundred elements
        const inMotion = Boolean(event.sourceEvent) || (getState().isPlaced && k !== getState().view.zoom);
        if (inMotion) {
          focus.release();
          clearTimeout(settled);
          settled = setTimeout(() => setState({ inMotion: false }), 120);
        }
        setState({ view: { x, y, zoom: k }, isPlaced: true, ...(inMotion && { inMotion }) });
      });
    behavior.current = own;
    pick(element).call(own).on('dblclick.zoom', null);
    const size = new ResizeObserver(() =>
      setState({ window: { width: element.clientWidth, height: element.clientHeight } }),
    );
    size.observe(element);
    setState({ window: { width: element.clientWidth, height: element.clientHeight } });
    return () => {
      size.disconnect();
      clearTimeout(settled);
      setState({ inMotion: false });
      pick(element).on('.zoom', null);
    };
  }, [host, now, focus]);
  return behavior;
}

/** Moves the window to show everything, the selection or some things; never closer than 100 %. */
export function useLookAt(
  behavior: React.RefObject<ZoomBehavior<HTMLDivElement, unknown> | undefined>,
  host: React.RefObject<HTMLDivElement | null>,
  scene: Scene,
): void {
  const wish = useEditor((state) => state.lookAt);
  const isSized = useEditor((state) => state.window.width > 0);
  const done = useRef(0);
  useEffect(() => {
    if (!isSized || wish.count === done.current || !host.current || !behavior.current) return;
    const state = getState();
    const items = wish.what === 'selection' ? state.selection : wish.what === 'all' ? [] : wish.what;
    const rects = items.flatMap((id) => scene.rectOf(id) ?? []);
    const bounds = unite(rects) ?? scene.bounds;
    done.current = wish.count;
    if (!bounds) {
      setState({ isPlaced: true });
      return;
    }
    const { width, height } = state.window;
    const zoom = Math.max(
      zoomRange[0],
      Math.min(1, (width - 80) / Math.max(1, bounds.width), (height - 80) / Math.max(1, bounds.height)),
    );
    pick(host.current).call(
      behavior.current.transform,
      zoomIdentity
        .translate(width / 2 - (bounds.x + bounds.width / 2) * zoom, height / 2 - (bounds.y + bounds.height / 2) * zoom)
        .scale(zoom),
    );
  }, [wish, isSized, scene, behavior, host]);
  useEffect(() => {
    const before = viewControl.set;
    viewControl.set = ({ x, y, zoom }) =>
      host.current &&
      behavior.current &&
      pick(host.current).call(
        behavior.current.transform,
        zoomIdentity.translate(x, y).scale(Math.max(zoomRange[0], Math.min(zoomRange[1], zoom))),
      );
    return () => {
      viewControl.set = before;
    };
  }, [behavior, host]);
}

/** Moves the window just so far that a node which took the focus is inside it. */
export function reveal(id: Id | undefined, scene: Scene): void {
  const item = id === undefined ? undefined : scene.get(id);
  if (!item) return;
  const { view, window: size } = getState();
  const near = 24;
  const shift = (from: number, to: number, most: number): number =>
    from < near ? near - from : to > most - near ? Math.max(most - near - to, near - from) : 0;
  const [left, top] = [item.rect.x * view.zoom + view.x, item.rect.y * view.zoom + view.y];
  const dx = shift(left, left + item.rect.width * view.zoom, size.width);
  const dy = shift(top, top + item.rect.height * view.zoom, size.height);
  if (dx !== 0 || dy !== 0) viewControl.set({ ...view, x: view.x + dx, y: view.y + dy });
}
