import { toast } from 'sonner';
import { perform } from '../actions.ts';
import { useEditor } from '../store.ts';
import { graphPoint, type Host, slack } from './press.ts';

const { getState } = useEditor;

/** What a beacon that is dragged from the list carries: its id. */
export const draggedBeacon = 'application/x-basitax-beacon';

/** Takes beacons that are dropped on the canvas: on an input for a tap that feeds it, on a node for its first open input that fits, on the ground for a tap. Returns a way to stop. */
export function takeBeacons(host: Host): () => void {
  const over = (event: DragEvent): void => {
    if (!event.dataTransfer?.types.includes(draggedBeacon)) return;
    event.preventDefault();
    event.dataTransfer.dropEffect = getState().readOnly ? 'none' : 'copy';
  };
  const drop = (event: DragEvent): void => {
    const beacon = event.dataTransfer?.getData(draggedBeacon);
    if (!beacon) return;
    event.preventDefault();
    const { readOnly } = getState();
    if (readOnly) {
      toast(readOnly, { duration: 4000 });
      return;
    }
    const at = graphPoint(host.element, event);
    const hit = host.scene().hit(at, slack());
    const place = { x: Math.round(at.x), y: Math.round(at.y) };
    if (hit?.type === 'port' && hit.direction === 'in') void perform('tap', { beacon, to: { node: hit.node.id, port: hit.port }, replace: true }, []);
    else void perform('tap', { beacon, ...place }, hit?.type === 'node' ? [hit.id] : hit?.type === 'port' ? [hit.node.id] : []);
  };
  host.element.addEventListener('dragover', over);
  host.element.addEventListener('drop', drop);
  return () => {
    host.element.removeEventListener('dragover', over);
    host.element.removeEventListener('drop', drop);
  };
}
