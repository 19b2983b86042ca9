import { caption, indexOf } from '@basitax/core/document/doc';
import type { Rect } from '@basitax/core/document/geometry';
import type { Id } from '@basitax/core/document/ids';
import { must } from '@basitax/core/must';
import { useEffect } from 'react';
import { useEditor, viewControl } from '../store.ts';
import { graphPoint } from './press.ts';
import { useRoutes } from './routes.ts';
import type { Now } from './viewport.ts';

const { getState } = useEditor;

/** What browser tests need to find things that are only painted. */
interface TestHook {
  setView(view: { x: number; y: number; zoom: number }): void;
  /** A node's place on the page. */
  nodeRect(id: Id): Rect | undefined;
  portPlace(node: Id, port: string, direction: 'in' | 'out'): { x: number; y: number } | undefined;
  wireAt(x: number, y: number): Id | undefined;
  selection(): readonly Id[];
  /** What is shown, as a key; undefined while its wires are still being routed. */
  shown(): string | undefined;
  /** What an input takes: the caption of the node and its output; undefined where it is open. */
  source(node: Id, port: string): string | undefined;
}

declare global {
  interface Window {
    basitaxCanvas?: TestHook;
  }
}

export function useTestHook(host: React.RefObject<HTMLDivElement | null>, now: Now): void {
  useEffect(() => {
    const place = (x: number, y: number): { x: number; y: number } => {
      const { view } = getState();
      const box = must(host.current).getBoundingClientRect();
      return { x: box.left + x * view.zoom + view.x, y: box.top + y * view.zoom + view.y };
    };
    window.basitaxCanvas = {
      setView: (view) => viewControl.set(view),
      nodeRect(id) {
        const item = now.current.scene.get(id);
        const { zoom } = getState().view;
        return (
          item && { ...place(item.rect.x, item.rect.y), width: item.rect.width * zoom, height: item.rect.height * zoom }
        );
      },
      portPlace(node, port, direction) {
        const item = now.current.scene.get(node);
        const placed = item?.geometry.ports.find((one) => one.id === port && one.direction === direction);
        return item && placed && place(item.rect.x + placed.x, item.rect.y + placed.y);
      },
      wireAt(x, y) {
        const hit = host.current
          ? now.current.scene.hit(graphPoint(host.current, { clientX: x, clientY: y }), 8 / getState().view.zoom)
          : undefined;
        return hit?.type === 'wire' ? hit.id : undefined;
      },
      selection: () => getState().selection,
      shown: () =>
        useRoutes.getState().isCurrent
          ? JSON.stringify([getState().view, document.querySelectorAll('[data-node]').length])
          : undefined,
      source(node, port) {
        const { doc } = getState();
        const wire = indexOf(doc).wireInto(node, port);
        const from = wire && doc.nodes.get(wire.from.node);
        return from && `${caption(from)}.${wire.from.port}${wire.off ? ' off' : ''}`;
      },
    };
    return () => {
      delete window.basitaxCanvas;
    };
  }, [host, now]);
}
