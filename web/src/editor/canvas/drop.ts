import type { Point } from '@basitax/core/document/geometry';
import { toast } from 'sonner';
import { useEditor } from '../store.ts';
import { graphPoint, type Host, slack } from './press.ts';
import type { Hit } from './scene.ts';

const { getState } = useEditor;

interface Dropped {
  /** What is dragged, as its transfer names it. */
  readonly type: string;
  readonly effect: 'link' | 'copy';
  /** Takes what was dropped at a place of the graph; false where it is not meant for it. */
  take(transfer: DataTransfer, at: Point, hit: Hit | undefined): boolean;
}

/**
 * Takes what is dragged onto the canvas and let go there, unless nothing may be changed, which is said then. Returns a
 * way to stop.
 */
export function takeDrops(host: Host, { type, effect, take }: Dropped): () => void {
  const over = (event: DragEvent): void => {
    if (!event.dataTransfer?.types.includes(type)) return;
    event.preventDefault();
    event.dataTransfer.dropEffect = getState().readOnly ? 'none' : effect;
  };
  const drop = (event: DragEvent): void => {
    if (!event.dataTransfer?.types.includes(type)) return;
    const { readOnly } = getState();
    const at = graphPoint(host.element, event);
    if (readOnly) toast(readOnly, { duration: 4000 });
    else if (!take(event.dataTransfer, at, host.scene().hit(at, slack()))) return;
    event.preventDefault();
  };
  host.element.addEventListener('dragover', over);
  host.element.addEventListener('drop', drop);
  return () => {
    host.element.removeEventListener('dragover', over);
    host.element.removeEventListener('drop', drop);
  };
}
