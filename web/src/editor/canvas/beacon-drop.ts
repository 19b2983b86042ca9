import { perform } from '../actions.ts';
import { takeDrops } from './drop.ts';
import type { Host } from './press.ts';

/** What a beacon that is dragged from the list carries: its id. */
export const draggedBeacon = 'application/x-basitax-beacon';

/**
 * Takes beacons that are dropped on the canvas: on an input for a tap that feeds it, on a node for its first open input
 * that fits, on the ground for a tap. Returns a way to stop.
 */
export const takeBeacons = (host: Host): (() => void) =>
  takeDrops(host, {
    type: draggedBeacon,
    effect: 'copy',
    take(transfer, at, hit) {
      const beacon = transfer.getData(draggedBeacon);
      const place = { x: Math.round(at.x), y: Math.round(at.y) };
      if (hit?.type === 'port' && hit.direction === 'in')
        void perform('tap', { beacon, to: { node: hit.node.id, port: hit.port }, replace: true }, []);
      else
        void perform(
          'tap',
          { beacon, ...place },
          hit?.type === 'node' ? [hit.id] : hit?.type === 'port' ? [hit.node.id] : [],
        );
      return true;
    },
  });
