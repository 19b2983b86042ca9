import type { Id } from '@basitax/core/document/ids';
import { type ReactNode, useEffect, useMemo, useRef } from 'react';
import { onPointerPlace } from '../actions.ts';
import { letGo, useHand } from '../hand.ts';
import { hasMarks, useMarks } from '../inspect/marks.ts';
import { onKey, onLeave } from '../keys.ts';
import { useLayout } from '../layout.ts';
import { takeMenus } from '../menu/menu.ts';
import { useRegions } from '../regions.ts';
import { Sheet } from '../shortcuts/sheet.tsx';
import { shownDoc, useEditor } from '../store.ts';
import { useLive } from '../together/live.ts';
import { takeBeacons } from './beacon-drop.ts';
import { useCanvasColors } from './colors.ts';
import { takeFiles } from './file-drop.ts';
import { frameLoop } from './frame-loop.ts';
import { onDoublePress, onPress } from './gestures.ts';
import { HandBar } from './hand-bar.tsx';
import { type HeldFocus, useHeldFocus } from './held-focus.ts';
import { HiddenBar } from './hidden-bar.tsx';
import { InPlaceEditor } from './in-place.tsx';
import { NeighbourhoodBar } from './neighbourhood-bar.tsx';
import { NodeLayer } from './node-layer.tsx';
import { NoteLayer } from './note-layer.tsx';
import { drawOverlay } from './overlay.ts';
import { OverviewMap } from './overview-map.tsx';
import { drawOthers } from './paint/others.ts';
import { drawOver, Painter } from './paint/painter.ts';
import { fadeTime, type Picture } from './paint/picture.ts';
import { onPicture } from './pictures.ts';
import { graphPoint, type Overlay } from './press.ts';
import { followRoutes, useRoutes } from './routes.ts';
import { Scene } from './scene.ts';
import { StrokeBar } from './stroke-bar.tsx';
import { useTestHook } from './test-hook.ts';
import { ValuesPanel } from './values-panel.tsx';
import { reveal, useLookAt, useViewport } from './viewport.ts';
import { WayBack } from './way-back.tsx';

const { getState } = useEditor;

/** The scene of what is shown now: made anew when document or graph change, given routes as they come. */
function useScene(): Scene {
  const doc = useEditor(shownDoc);
  const whole = useEditor((state) => state.preview?.after ?? state.doc);
  const graph = useEditor((state) => state.graph);
  const kinds = useEditor((state) => state.kinds);
  const routes = useRoutes((state) => state.routes);
  const scene = useMemo(() => new Scene(doc, kinds, graph, whole), [doc, kinds, graph, whole]);
  scene.takeRoutes(routes);
  return scene;
}

function useGhosts(): Scene | undefined {
  const before = useEditor((state) => (state.preview ? state.doc : undefined));
  const graph = useEditor((state) => state.graph);
  const kinds = useEditor((state) => state.kinds);
  return useMemo(() => before && new Scene(before, kinds, graph), [before, graph, kinds]);
}

const nothing: ReadonlySet<Id> = new Set();
/** The window is at rest when it has stood still for so long, in milliseconds. */
const restAfter = 130;

/** The three canvases and what draws them, one frame at a time. */
function usePainting(
  now: React.RefObject<Pick<Picture, 'scene' | 'ghosts' | 'colors' | 'selected'>>,
  mounted: React.RefObject<ReadonlySet<Id>>,
  focus: HeldFocus,
) {
  const ground = useRef<HTMLCanvasElement>(null);
  const wires = useRef<HTMLCanvasElement>(null);
  const over = useRef<HTMLCanvasElement>(null);
  const layer = useRef<HTMLDivElement>(null);
  const overlay = useRef<Overlay>(undefined);
  const loop = useMemo(() => {
    const painter = new Painter();
    let atRest: ReturnType<typeof setTimeout> | undefined;
    let isRested = false;
    let hadOver = false;
    let hasDrawn = false;
    let wasInMotion = false;
    const own = frameLoop(() => {
      const [below, above, top] = [ground.current, wires.current, over.current].map((canvas) =>
        canvas?.getContext('2d'),
      );
      const { view, window: size, moving, outlines, selection, inMotion, isPlaced } = getState();
      const { regions } = useRegions.getState();
      if (!below || !above || !top || size.width === 0 || !isPlaced) return;
      const { grid: look, step, trace, differs } = useLayout.getState();
      const picture = {
        ...now.current,
        view,
        ...size,
        moving,
        outlines,
        isAlone: inMotion,
        regions,
        trace,
        grid: { look, step },
        mounted: inMotion ? nothing : mounted.current,
      };
      if (layer.current) {
        layer.current.style.visibility = inMotion ? 'hidden' : '';
        if (!inMotion) layer.current.style.transform = `translate(${view.x}px,${view.y}px) scale(${view.zoom})`;
      }
      if (wasInMotion && !inMotion) focus.restore();
      wasInMotion = inMotion;
      const isCoarse = painter.draw(below, above, picture, isRested, inMotion);
      if (!hasDrawn && picture.scene.nodes.length > 0) {
        hasDrawn = true;
        performance.mark('first picture');
      }
      isRested = false;
      clearTimeout(atRest);
      if (isCoarse)
        atRest = setTimeout(() => {
          isRested = true;
          own.ask();
        }, restAfter);
      const order = useLayout.getState().order ? selection : undefined;
      const { marks } = useMarks.getState();
      const others = useLive.getState().others.filter((one) => one.selection.length > 0);
      const hasOver =
        order !== undefined || overlay.current !== undefined || differs || hasMarks(marks) || others.length > 0;
      if (hasOver || hadOver) drawOver(top, picture, order, differs, marks);
      if (others.length > 0) drawOthers(top, picture, others, getState().graph);
      if (overlay.current) drawOverlay(top, overlay.current, picture);
      hadOver = hasOver;
      if (outlines?.since === undefined) return;
      if (performance.now() - outlines.since < fadeTime) own.ask();
      else useEditor.setState({ outlines: undefined });
    });
    onPicture(() => {
      painter.pictureCame();
      own.ask();
    });
    return own;
  }, [now, mounted, focus]);
  useEffect(() => {
    loop.ask();
  });
  useEffect(
    () =>
      useEditor.subscribe(
        (state, before) =>
          (state.view !== before.view ||
            state.inMotion !== before.inMotion ||
            state.moving !== before.moving ||
            state.window !== before.window ||
            state.outlines !== before.outlines) &&
          loop.ask(),
      ),
    [loop],
  );
  useEffect(() => useLayout.subscribe(() => loop.ask()), [loop]);
  useEffect(() => useRegions.subscribe(() => loop.ask()), [loop]);
  useEffect(() => useMarks.subscribe(() => loop.ask()), [loop]);
  useEffect(() => useLive.subscribe((state, before) => state.others !== before.others && loop.ask()), [loop]);
  useEffect(() => () => loop.stop(), [loop]);
  useEffect(() => followRoutes(), []);
  useEffect(() => {
    // the first picture may come before the fonts
    void document.fonts.ready.then(() => loop.ask());
  }, [loop]);
  const show = useMemo(
    () => (what: Overlay | undefined) => {
      overlay.current = what;
      loop.ask();
    },
    [loop],
  );
  return { ground, wires, over, layer, loop, show };
}

/** Presses, double presses, and where the pointer is. */
function useGestures(
  host: React.RefObject<HTMLDivElement | null>,
  now: React.RefObject<{ readonly scene: Scene }>,
  show: (overlay: Overlay | undefined) => void,
): void {
  useEffect(() => {
    const element = host.current;
    if (!element) return;
    const own = { element, scene: () => now.current.scene, show };
    const press = (event: PointerEvent): void => {
      onLeave();
      if ((event.target as HTMLElement).closest('[data-above]')) return;
      if (!(event.target as HTMLElement).closest('[data-node]')) element.focus({ preventScroll: true });
      onPress(own, event);
    };
    const double = (event: MouseEvent): void => {
      if (!(event.target as HTMLElement).closest('[data-above]')) onDoublePress(own, event);
    };
    let pointer: MouseEvent | undefined;
    const carried = (): void => {
      const { inHand } = useHand.getState();
      if (inHand?.mode !== 'carry') return;
      const box = element.getBoundingClientRect();
      show({
        hand: graphPoint(element, pointer ?? { clientX: box.left + box.width / 2, clientY: box.top + box.height / 2 }),
      });
    };
    const track = (event: PointerEvent): void => {
      pointer = event;
      carried();
    };
    // what is carried follows the pointer while the window moves under it, and goes when it is put down
    const stopHand = useHand.subscribe(({ inHand }) => (inHand ? carried() : show(undefined)));
    const stopFiles = takeFiles(own);
    const stopBeacons = takeBeacons(own);
    const stopMenus = takeMenus(own);
    const stopView = useEditor.subscribe((state, before) => state.view !== before.view && carried());
    const leave = (): void => {
      pointer = undefined;
    };
    onPointerPlace(() => pointer && graphPoint(element, pointer));
    element.addEventListener('pointerdown', press);
    element.addEventListener('pointermove', track);
    element.addEventListener('pointerleave', leave);
    element.addEventListener('dblclick', double);
    return () => {
      stopFiles();
      stopBeacons();
      stopMenus();
      stopHand();
      stopView();
      letGo();
      element.removeEventListener('pointerdown', press);
      element.removeEventListener('pointermove', track);
      element.removeEventListener('pointerleave', leave);
      element.removeEventListener('dblclick', double);
    };
  }, [host, now, show]);
}

export function Canvas(): ReactNode {
  const host = useRef<HTMLDivElement>(null);
  const scene = useScene();
  const ghosts = useGhosts();
  const colors = useCanvasColors();
  const selection = useEditor((state) => state.selection);
  const drag = useLayout((state) => state.drag);
  const selected = useMemo(() => {
    const own = new Set(selection);
    for (const block of scene.blocksOf(own)) own.add(block);
    return own;
  }, [selection, scene]);
  const mounted = useRef<ReadonlySet<Id>>(nothing);
  const now = useRef({ scene, ghosts, colors, selected });
  now.current = { scene, ghosts, colors, selected };
  const focus = useHeldFocus(host);
  const { ground, wires, over, layer, loop, show } = usePainting(now, mounted, focus);
  const behavior = useViewport(host, now, focus);
  const onMounted = useMemo(
    () => () => {
      focus.restore();
      loop.ask();
    },
    [focus, loop],
  );
  useLookAt(behavior, host, scene);
  useGestures(host, now, show);
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
      className={`sheet relative min-h-0 min-w-0 flex-1 touch-none overflow-hidden bg-ground outline-none after:pointer-events-none after:absolute after:inset-0 after:z-10 after:border-2 after:border-transparent focus-visible:after:border-accent ${drag === 'pan' ? '' : 'cursor-crosshair'}`}
      onKeyDown={onKey}
      onBlur={onLeave}
      onFocus={(event) =>
        focus.took(event.target as HTMLElement) && reveal((event.target as HTMLElement).dataset.node, scene)
      }
      onScroll={(event) => {
        // the browser scrolls what it focuses into sight; here the window moves instead
        event.currentTarget.scrollTop = 0;
        event.currentTarget.scrollLeft = 0;
      }}
    >
      <canvas ref={ground} className="absolute inset-0 size-full" aria-hidden="true" />
      <canvas ref={wires} className="absolute inset-0 size-full" aria-hidden="true" />
      <div ref={layer} className="node-layer">
        <NodeLayer scene={scene} colors={colors} selected={selected} mounted={mounted} onMounted={onMounted} />
        {/* behind the nodes to the eye, and after them for the keyboard */}
        <NoteLayer scene={scene} selected={selected} />
      </div>
      <canvas ref={over} className="pointer-events-none absolute inset-0 size-full" aria-hidden="true" />
      {isEmpty && (
        <p className="pointer-events-none absolute inset-0 grid place-items-center text-soft" role="status">
          This graph is empty. Paste nodes here, or upload a file.
        </p>
      )}
      <NeighbourhoodBar />
      <HiddenBar />
      <InPlaceEditor scene={scene} />
      <HandBar />
      <StrokeBar />
      <ValuesPanel />
      <OverviewMap scene={scene} colors={colors} />
      <WayBack scene={scene} />
      <Sheet />
    </div>
  );
}
