import { ontoGrid } from '@basitax/core/arrange/align';
import { snapPlace, snapTargets } from '@basitax/core/arrange/snap';
import { type Doc, indexOf, selectedNodes } from '@basitax/core/document/doc';
import { type Point, type Rect, rectOf, titleOf } from '@basitax/core/document/geometry';
import type { Id } from '@basitax/core/document/ids';
import { must } from '@basitax/core/must';
import { foldAround, foldedView } from '@basitax/core/structure/fold';
import { frameTree } from '@basitax/core/structure/frames';
import { perform } from '../actions.ts';
import { writeInPlace } from '../in-place.ts';
import { isStroke, useLayout } from '../layout.ts';
import { mayEdit, whyNoAct } from '../may-edit.ts';
import { moveInView } from '../neighbourhood.ts';
import { enterGraph, type Moving, select, useEditor } from '../store.ts';
import { edgeAt, resizeFrame } from './frame-edges.ts';
import { follow, graphPoint, type Host, type Join, type Overlay, slack } from './press.ts';
import type { Hit, SceneNode } from './scene.ts';
import { drawStroke } from './strokes.ts';
import { type Aim, aimOf, carries, drawWire, putAimed, takenBy } from './wire-gestures.ts';

const { getState, setState } = useEditor;

/**
 * Nothing but a press on the ground pans; with Shift it draws a box, with Shift and Alt a lasso, unless these are what
 * a plain drag does.
 */
export function isGround(host: Host, event: MouseEvent | TouchEvent): boolean {
  const pointer = 'touches' in event ? event.touches[0] : event;
  if (!pointer || event.shiftKey || useLayout.getState().drag !== 'pan') return false;
  const at = graphPoint(host.element, pointer);
  return (
    host.scene().hit(at, slack()) === undefined && edgeAt(host.scene(), getState().selection, at, slack()) === undefined
  );
}

/** What a press on something selects: a port stands for its node. */
const idOf = (hit: Hit): Id => (hit.type === 'port' ? hit.node.id : hit.id);

function toggled(id: Id, event: PointerEvent): readonly Id[] {
  const { selection } = getState();
  const isIn = selection.includes(id);
  if (event.ctrlKey || event.metaKey) return isIn ? selection.filter((other) => other !== id) : [...selection, id];
  if (event.shiftKey) return isIn ? selection : [...selection, id];
  return isIn ? selection : [id];
}

/** Everything that begins with a press on the canvas, but for panning and zooming. */
export function onPress(host: Host, event: PointerEvent): void {
  if (event.button !== 0) return;
  const state = getState();
  const at = graphPoint(host.element, event);
  const hit = host.scene().hit(at, slack());
  const { drag } = useLayout.getState();
  const isFree = whyNoAct(state) === undefined;
  if (carries(host, event)) return;
  if (isStroke(drag) && isFree) {
    drawStroke(host, event, at, drag);
    return;
  }
  const resized = isFree ? edgeAt(host.scene(), state.selection, at, slack()) : undefined;
  if (resized) {
    resizeFrame(host, event, resized);
    return;
  }
  const taken = isFree ? takenBy(state.doc, hit, at, event, host.scene()) : undefined;
  if (taken) {
    drawWire(host, event, taken, () => select(toggled(idOf(must(hit)), event)));
    return;
  }
  if (hit) {
    dragItems(host, event, idOf(hit));
    return;
  }
  if (event.shiftKey ? event.altKey : drag === 'lasso') selectLasso(host, event, at);
  else if (event.shiftKey || drag === 'box') selectBox(host, event, at);
  else
    follow(host.element, event, {
      move: () => {},
      end: (_last, far) => !far && select([]),
      cancel: () => {},
    });
}

/**
 * What is in hand: nodes with those of selected frames, the blocks of folded ones, and notes that are selected or tied
 * to any of it.
 */
function inHandOf(doc: Doc, graph: Id, items: readonly Id[]): Set<Id> {
  const ids = new Set(selectedNodes(doc, { graph, items }).map((node) => node.id));
  const frames = items.flatMap((id) => frameTree(doc, id)).map((frame) => frame.id);
  for (const id of frames) ids.add(id);
  const block = (id: Id): void => {
    const node = doc.nodes.get(id);
    const fold = node && foldAround(doc, node);
    if (fold) ids.add(fold.id);
  };
  for (const id of [...ids]) block(id);
  for (const note of indexOf(doc).notesIn(graph))
    if (items.includes(note.id) || (note.tiedTo !== undefined && ids.has(note.tiedTo))) ids.add(note.id);
  return ids;
}

/** The frame that what is in hand would join where the pointer is, or leave; undefined where nothing would change. */
function joinOf(host: Host, doc: Doc, items: readonly Id[], to: Point): Join | undefined {
  const own = new Set(items.flatMap((id) => frameTree(doc, id)).map((frame) => frame.id));
  const frame = host.scene().frameAt(to, (id) => own.has(id));
  const chosen = [
    ...items.flatMap((id) => doc.nodes.get(id) ?? []),
    ...items.flatMap((id) => doc.frames.get(id) ?? []),
  ];
  const now = [...new Set(chosen.map((item) => ('kind' in item ? item.frame : item.parent)))];
  if (chosen.length === 0 || (now.length === 1 && now[0] === frame?.id)) return undefined;
  const left = doc.frames.get(now.find((one) => one !== undefined) ?? '');
  const words = frame ? `Joins “${titleOf(frame)}”` : `Leaves “${titleOf(left)}”`;
  return { frame: frame?.id ?? '', words, at: to };
}

function dragItems(host: Host, event: PointerEvent, id: Id): void {
  const before = getState();
  const wasIn = before.selection.includes(id);
  select(toggled(id, event));
  const movable = whyNoAct(before) === undefined;
  const from = graphPoint(host.element, event);
  let snapped: ((dx: number, dy: number) => Point) | undefined;
  let aim: Aim | undefined;
  let join: Join | undefined;
  follow(host.element, event, {
    move(next, far) {
      if (!far || !movable) return;
      const { selection, doc, graph } = getState();
      if (!selection.includes(id)) return;
      const to = graphPoint(host.element, next);
      const ids = getState().moving?.ids ?? inHandOf(doc, graph, selection);
      snapped ??= snapper(id, ids);
      const free = { x: Math.round(to.x - from.x), y: Math.round(to.y - from.y) };
      const by = next.altKey ? free : snapped(free.x, free.y);
      setState({ moving: { ids, dx: by.x, dy: by.y } });
      const isJoining = (next.ctrlKey || next.metaKey) && getState().surroundings === undefined;
      join = isJoining ? joinOf(host, doc, selection, to) : undefined;
      aim = ids.size === 1 && !next.altKey && !isJoining ? aimOf(host, id, by, next.shiftKey, aim) : undefined;
      host.show(join ? { join } : aim && { insert: aim });
    },
    end(last, far) {
      const { moving } = getState();
      host.show(undefined);
      if (far && moving && join)
        void perform('to-frame', { frame: join.frame, dx: moving.dx, dy: moving.dy }).finally(() =>
          setState({ moving: undefined }),
        );
      else if (far && moving && aim) putAimed(aim, moving);
      else if (far && moving) drop(moving);
      else if (wasIn && !last.shiftKey && !last.ctrlKey && !last.metaKey) select([id]);
    },
    cancel: () => {
      host.show(undefined);
      setState({ moving: undefined });
    },
  });
}

/** How far nodes are moved when the one that was pressed snaps to what the person chose: a neighbour, or the grid. */
function snapper(pressed: Id, ids: ReadonlySet<Id>): (dx: number, dy: number) => Point {
  const { snap, step } = useLayout.getState();
  const { doc: whole, kinds, graph, surroundings } = getState();
  const doc = foldedView(whole, kinds);
  const node = doc.nodes.get(pressed);
  if (!node || surroundings || snap === 'off') return (x, y) => ({ x, y });
  if (snap === 'grid') {
    const rect = rectOf(doc, kinds, node);
    return (dx, dy) => {
      const [on] = ontoGrid([{ ...rect, x: rect.x + dx, y: rect.y + dy }], step);
      return { x: must(on).x - rect.x, y: must(on).y - rect.y };
    };
  }
  const targets = snapTargets(doc, kinds, graph, ids);
  return (dx, dy) => {
    const place = snapPlace(
      doc,
      kinds,
      node,
      { x: node.x + dx, y: node.y + dy },
      targets,
      snapReach / getState().view.zoom,
    );
    return { x: place.x - node.x, y: place.y - node.y };
  };
}

/** How near on screen a node in hand has to come to what it snaps to, in pixels. */
const snapReach = 6;

/** Nodes in hand go where they are: in the file, or in the neighbourhood that is shown. */
function drop(moving: Moving): void {
  if (moveInView(moving.ids, moving.dx, moving.dy)) setState({ moving: undefined });
  else void perform('move', { dx: moving.dx, dy: moving.dy }).finally(() => setState({ moving: undefined }));
}

/** Follows a press that draws an area: what it catches is selected behind what is kept, by the rule of the area. */
function selectArea(
  host: Host,
  event: PointerEvent,
  catches: (to: Point, kept: readonly Id[]) => { readonly overlay: Overlay; readonly selection: readonly Id[] },
): void {
  const kept = event.ctrlKey || event.metaKey || event.shiftKey ? getState().selection : [];
  follow(host.element, event, {
    move(next, far) {
      if (!far) return;
      const { overlay, selection } = catches(graphPoint(host.element, next), kept);
      select(selection);
      host.show(overlay);
    },
    end: (_last, far) => {
      host.show(undefined);
      if (!far) select(kept);
    },
    cancel: () => host.show(undefined),
  });
}

const idsOf = (items: readonly SceneNode[]): Id[] => items.map((item) => item.node.id);

/** Selects the nodes whose middle lies in the loop that is drawn, in the order in which it takes them in. */
function selectLasso(host: Host, event: PointerEvent, from: Point): void {
  const loop: Point[] = [from];
  selectArea(host, event, (to, kept) => {
    loop.push(to);
    const near = host.scene().nodesWithin(boundsOf(loop));
    const caught = idsOf(
      near.filter(({ rect }) => isInside(loop, { x: rect.x + rect.width / 2, y: rect.y + rect.height / 2 })),
    );
    // those that were caught before keep their turn
    const before = getState().selection.filter((id) => kept.includes(id) || caught.includes(id));
    return { overlay: { lasso: loop }, selection: [...before, ...caught.filter((id) => !before.includes(id))] };
  });
}

function boundsOf(points: readonly Point[]): Rect {
  const [left, top] = [Math.min(...points.map((p) => p.x)), Math.min(...points.map((p) => p.y))];
  return {
    x: left,
    y: top,
    width: Math.max(...points.map((p) => p.x)) - left,
    height: Math.max(...points.map((p) => p.y)) - top,
  };
}

/**
 * Is a point inside a closed loop? By the number of edges that a ray from it crosses (the even-odd rule). O(points).
 */
export function isInside(loop: readonly Point[], p: Point): boolean {
  let inside = false;
  loop.forEach((a, i) => {
    const b = must(loop[(i + 1) % loop.length]);
    if (a.y > p.y !== b.y > p.y && p.x < a.x + ((p.y - a.y) / (b.y - a.y)) * (b.x - a.x)) inside = !inside;
  });
  return inside;
}

function selectBox(host: Host, event: PointerEvent, from: Point): void {
  selectArea(host, event, (to, kept) => {
    const box = boundsOf([from, to]);
    return {
      overlay: { box },
      selection: [...kept, ...idsOf(host.scene().nodesWithin(box)).filter((id) => !kept.includes(id))],
    };
  });
}

/** A double press on a note or the tab of a frame begins to write it. True where it does. */
function writeAt(hit: Hit): boolean {
  if (!mayEdit(getState()) || (hit.type !== 'note' && hit.type !== 'frame')) return false;
  writeInPlace({ id: hit.id, what: hit.type === 'note' ? 'note' : 'title' });
  return true;
}

/** A double press on a nested graph enters it; on a folded frame it unfolds. */
export function onDoublePress(host: Host, event: MouseEvent): void {
  const hit = host.scene().hit(graphPoint(host.element, event), slack());
  const node = hit?.type === 'node' ? getState().doc.nodes.get(hit.id) : undefined;
  if (hit && node?.inner === undefined && writeAt(hit)) return;
  if (node?.inner !== undefined) enterGraph(node.inner);
  if (hit?.type === 'node' && getState().doc.frames.has(hit.id) && mayEdit(getState()))
    void perform('unfold', {}, [hit.id]);
}
