import type { Point } from '@basitax/core/document/geometry';
import type { Id } from '@basitax/core/document/ids';
import type { MouseEvent } from 'react';
import { create } from 'zustand';
import { holdPlace } from '../actions.ts';
import { graphPoint, type Host, slack } from '../canvas/press.ts';
import type { Hit } from '../canvas/scene.ts';
import { focusCanvas } from '../dialogs.ts';
import { select, showGraph, useEditor } from '../store.ts';
import { type Target, targetOf } from './target.ts';

const { getState } = useEditor;

interface OpenMenu {
  readonly target: Target;
  /** Where it opens, in pixels of the browser’s window. */
  readonly at: Point;
}

/** The menu of the canvas, where one is open. */
export const useMenu = create<{ readonly menu: OpenMenu | undefined }>(() => ({ menu: undefined }));

/** Closes the menu. What was chosen runs a moment later, and still goes to the place of the menu. */
export function closeMenu(): void {
  useMenu.setState({ menu: undefined });
  clearTimeout(letGoLater);
  letGoLater = setTimeout(() => holdPlace(undefined), 50);
}
let letGoLater: ReturnType<typeof setTimeout> | undefined;

/** Opens a menu. Acts go to its place while it is open, if it has one. */
function openMenu(menu: OpenMenu, place: Point | undefined): void {
  clearTimeout(letGoLater);
  holdPlace(place);
  useMenu.setState({ menu });
}

/** What is under the pointer becomes the selection, unless it is part of it. */
function selectHit(hit: Hit): void {
  const id = hit.type === 'port' ? hit.node.id : hit.id;
  if (!getState().selection.includes(id)) select([id]);
}

/** Opens the menu of what lies under a place of the window. */
export function openMenuAt(host: Host, event: { readonly clientX: number; readonly clientY: number }): void {
  const place = graphPoint(host.element, event);
  const hit = host.scene().hit(place, slack());
  if (hit) selectHit(hit);
  // what is chosen for the ground is not for what was selected elsewhere
  else select([]);
  const target: Target = !hit
    ? { type: 'ground' }
    : hit.type === 'port'
      ? { type: 'port', at: { node: hit.node.id, port: hit.port }, direction: hit.direction }
      : targetOf(getState());
  const at = { x: event.clientX, y: event.clientY };
  openMenu({ target, at }, { x: Math.round(place.x), y: Math.round(place.y) });
}

/** Opens the menu of the selection beside it, or of the graph in the middle of the window. */
export function openMenuByKey(): void {
  const { selection, doc, view, window: size } = getState();
  const box = document.querySelector<HTMLElement>('[data-canvas]')?.getBoundingClientRect();
  if (!box) return;
  const [id = ''] = selection;
  const wire = doc.wires.get(id);
  const thing = doc.nodes.get(id) ?? doc.frames.get(id) ?? doc.notes.get(id) ?? (wire && doc.nodes.get(wire.to.node));
  const inside = (value: number, most: number): number => Math.min(Math.max(value, 8), most - 8);
  const at = thing
    ? {
        x: inside(thing.x * view.zoom + view.x + 16, size.width),
        y: inside(thing.y * view.zoom + view.y + 16, size.height),
      }
    : { x: size.width / 2, y: size.height / 2 };
  focusCanvas();
  openMenu({ target: targetOf(getState()), at: { x: box.left + at.x, y: box.top + at.y } }, undefined);
}

/**
 * Opens the menu of things in the row of a list, in place of the browser’s: they are selected, in the graph where they
 * are.
 */
export function openMenuOf(ids: readonly Id[], event: MouseEvent, row: Element = event.currentTarget): void {
  const { doc, graph, selection } = getState();
  const [id = ''] = ids;
  const thing = doc.nodes.get(id) ?? doc.frames.get(id) ?? doc.notes.get(id);
  const wire = doc.wires.get(id);
  const at = thing?.graph ?? (wire && doc.nodes.get(wire.to.node)?.graph);
  if (at === undefined) return;
  event.preventDefault();
  if (at !== graph) {
    if (!showGraph(at, ids)) return;
  } else if (!ids.every((one) => selection.includes(one))) select(ids);
  // the menu key tells no place of the pointer
  const { left, top, bottom } = row.getBoundingClientRect();
  const isAtRow = event.button === 2 && event.clientY >= top && event.clientY <= bottom;
  const place = isAtRow ? { x: event.clientX, y: event.clientY } : { x: left + 24, y: top + 16 };
  openMenu({ target: targetOf(getState()), at: place }, undefined);
}

/** Held for so long without moving, a finger or pen opens the menu, in milliseconds. */
const longPress = 550;

/**
 * Right click, menu key, and a long press of finger or pen open the menu. Returns what stops listening.
 */
export function takeMenus(host: Host): () => void {
  const { element } = host;
  const stop = new AbortController();
  const { signal } = stop;
  const isAbove = (event: Event): boolean =>
    (event.target as HTMLElement).closest('[data-above], input, textarea') !== null;
  element.addEventListener(
    'contextmenu',
    (event) => {
      if (isAbove(event)) return;
      event.preventDefault();
      // the menu key sends no pointer
      if (event.button === 2) openMenuAt(host, event);
      else openMenuByKey();
    },
    { signal },
  );
  element.addEventListener(
    'pointerdown',
    (event) => {
      if (event.pointerType === 'mouse' || !event.isPrimary || isAbove(event)) return;
      const pressed = new AbortController();
      const timer = setTimeout(() => {
        pressed.abort();
        // the press was for the menu: what it had begun is given up
        element.dispatchEvent(new PointerEvent('pointercancel', { pointerId: event.pointerId }));
        openMenuAt(host, event);
      }, longPress);
      const giveUp = (): void => {
        clearTimeout(timer);
        pressed.abort();
      };
      const either = AbortSignal.any([signal, pressed.signal]);
      const moved = (next: PointerEvent): void => {
        if (Math.hypot(next.clientX - event.clientX, next.clientY - event.clientY) > 8) giveUp();
      };
      element.addEventListener('pointermove', moved, { signal: either });
      for (const end of ['pointerup', 'pointercancel'] as const)
        element.addEventListener(end, giveUp, { signal: either });
    },
    { signal },
  );
  return () => stop.abort();
}
