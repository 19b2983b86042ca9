import type { Id } from '@basitax/core/document/ids';
import { type ReactNode, useEffect, useMemo, useRef } from 'react';
import { useTheme } from '../../theme.ts';
import { onPointerPlace } from '../actions.ts';
import { onKey } from '../keys.ts';
import { shownDoc, useEditor } from '../store.ts';
import { colorsOf } from './colors.ts';
import { frameLoop } from './frame-loop.ts';
import { graphPoint, type Overlay, onDoublePress, onPress } from './gestures.ts';
import { NodeLayer } from './node-layer.tsx';
import { drawOverlay } from './overlay.ts';
import { drawGraph, drawGround, fadeTime } from './painter.ts';
import { followRoutes, useRoutes } from './routes.ts';
import { Scene } from './scene.ts';
import { useTestHook } from './test-hook.ts';
import { reveal, useLookAt, useViewport } from './viewport.ts';
import { WayBack } from './way-back.tsx';

const { getState } = useEditor;

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
        const { view, window: size, moving: drag, outlines } = getState();
        if (!below || !above || size.width === 0) return;
        const hidden = layer.current?.style.visibility === 'hidden';
        const picture = { ...now.current, view, ...size, moving: drag, outlines, mounted: hidden ? new Set<Id>() : mounted.current };
        if (layer.current) layer.current.style.transform = `translate(${view.x}px,${view.y}px) scale(${view.zoom})`;
        drawGround(below, picture);
        drawGraph(above, picture);
        if (outlines?.since === undefined) return;
        if (performance.now() - outlines.since < fadeTime) loop.ask();
        else useEditor.setState({ outlines: undefined });
      }),
    [],
  );
  useEffect(() => {
    loop.ask();
  });
  useEffect(
    () =>
      useEditor.subscribe(
        (state, before) => (state.view !== before.view || state.moving !== before.moving || state.window !== before.window || state.outlines !== before.outlines) && loop.ask(),
      ),
    [loop],
  );
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
      data-canvas
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
        <NodeLayer scene={scene} colors={colors} selected={selected} moving={moving} mounted={mounted} onMounted={loop.ask} />
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
