import type { Id } from '@basitax/core/document/ids';
import { useEffect, useMemo } from 'react';
import { focusCanvas, useDialogs } from '../dialogs.ts';

/** Keeps the keyboard in the canvas. */
export interface HeldFocus {
  /**
   * To be called when something in the canvas has taken the focus. False where that is only the return of what had it.
   */
  took(target: HTMLElement): boolean;
  /** The elements of the nodes are about to be hidden: the canvas takes over from one that has the focus. */
  release(): void;
  /** Gives the focus back to the node that had it, or to the canvas, where the browser has dropped it. */
  restore(): void;
}

/**
 * What has the focus may leave the window, or be drawn without an element while the zoom changes: keys go on to the
 * canvas then, and return to the node with it.
 */
export function useHeldFocus(host: React.RefObject<HTMLElement | null>): HeldFocus {
  const own = useMemo(() => {
    let isIn = false;
    let node: Id | undefined;
    let isOwn = false;
    const focus = (element: HTMLElement | null): void => {
      isOwn = true;
      element?.focus({ preventScroll: true });
      isOwn = false;
    };
    const isDropped = (): boolean => document.activeElement === document.body || document.activeElement === null;
    return {
      left: () => {
        isIn = false;
        node = undefined;
      },
      took(target: HTMLElement): boolean {
        isIn = true;
        if (!isOwn) node = target.dataset.node;
        return !isOwn;
      },
      release(): void {
        const at = document.activeElement;
        if (at instanceof HTMLElement && at.dataset.node !== undefined && host.current?.contains(at))
          focus(host.current);
      },
      restore(): void {
        if (!isIn || !(isDropped() || document.activeElement === host.current)) return;
        const element =
          node === undefined
            ? null
            : (host.current?.querySelector<HTMLElement>(`[data-node="${CSS.escape(node)}"]`) ?? null);
        if (element?.checkVisibility({ visibilityProperty: true })) focus(element);
        else if (isDropped()) focus(host.current);
      },
      /** Where nothing else has the focus. */
      toCanvas: () => isDropped() && focus(host.current),
    };
  }, [host]);
  useEffect(() => {
    const outside = (event: Event): void => {
      if (event.target instanceof Node && !host.current?.contains(event.target)) own.left();
    };
    document.addEventListener('focusin', outside);
    document.addEventListener('pointerdown', outside);
    // keys act at once in a file that was just opened
    own.toCanvas();
    const stop = useDialogs.subscribe((state, before) => {
      // a moment later, when the dialog has given the focus back to what had it before
      if (!state.opened && before.opened)
        setTimeout(() => !useDialogs.getState().opened && (state.toCanvas ? focusCanvas() : own.toCanvas()), 30);
    });
    return () => {
      stop();
      document.removeEventListener('focusin', outside);
      document.removeEventListener('pointerdown', outside);
    };
  }, [host, own]);
  return own;
}
