import { z } from 'zod';
import { arrangeByWiring } from '../arrange/by-wiring.ts';
import { selectedNodes, selectedOrAll } from '../document/doc.ts';
import { rectOf, unite } from '../document/geometry.ts';
import { Transaction } from '../edit/transaction.ts';
import { Cancelled, operation, plural, Refused } from '../operation.ts';

export const arrange = operation({
  id: 'arrange',
  title: 'Arrange by wiring',
  area: 'arrange',
  about: 'Lays out the selection, or everything, along the flow of the wires; frames stay whole, pinned nodes stay put.',
  needs: { what: 'nodes', least: 0, all: true },
  options: z.object({
    keep: z.number().min(0).max(1).default(0).meta({ title: 'Keep present order', unit: '0 fresh, 1 keep', step: 0.1 }),
    along: z.number().min(16).max(1000).default(72).meta({ title: 'Gap along the flow', unit: 'px', step: 4 }),
    across: z.number().min(8).max(1000).default(26).meta({ title: 'Gap across the flow', unit: 'px', step: 2 }),
  }),
  changesFunction: false,
  preview: 'first',
  run(context, doc, selection, options) {
    const nodes = selectedOrAll(doc, selection);
    const tick = (fraction: number, what: string): void => {
      if (context.cancelled()) throw new Cancelled();
      context.progress(fraction, what);
    };
    const places = arrangeByWiring(doc, context.kinds, selection.graph, nodes, { keep: options.keep, spacing: { along: options.along, across: options.across }, tick });
    const tx = new Transaction(doc);
    let moved = 0;
    for (const node of nodes) {
      const place = places.get(node.id);
      if (!place || (place.x === node.x && place.y === node.y)) continue;
      moved++;
      tx.move(node.id, place.x, place.y);
    }
    return { edit: tx.edit, report: { summary: moved === 0 ? 'Everything is arranged already.' : `Arranged ${plural(moved, 'node')}.`, findings: [] } };
  },
});

const sides = ['left', 'centre', 'right', 'top', 'middle', 'bottom'] as const;
type SideName = (typeof sides)[number];

const alignTitles: Record<SideName, string> = {
  left: 'Align left edges',
  centre: 'Align centres, one column',
  right: 'Align right edges',
  top: 'Align top edges',
  middle: 'Align centres, one row',
  bottom: 'Align bottom edges',
};

/** One operation for each side, so that each has a key of its own. All align to the outer edge, or the centre, of the selection's bounds. */
export const aligns = sides.map((side) =>
  operation({
    id: `align-${side}`,
    title: alignTitles[side],
    area: 'arrange',
    about:
      side === 'centre' || side === 'middle'
        ? 'Puts the centres of the selected nodes on the centre of their bounds.'
        : `Moves the selected nodes to the ${side}most edge among them.`,
    needs: { what: 'nodes', least: 2 },
    options: z.object({}),
    changesFunction: false,
    preview: 'at-once',
    run(context, doc, selection) {
      const nodes = selectedNodes(doc, selection);
      const rects = nodes.map((node) => rectOf(doc, context.kinds, node));
      const bounds = unite(rects);
      if (!bounds || nodes.length < 2) throw new Refused('Aligning wants at least two selected nodes.');
      const tx = new Transaction(doc);
      nodes.forEach((node, i) => {
        const rect = rects[i]!;
        const place = {
          left: { x: bounds.x, y: node.y },
          centre: { x: bounds.x + (bounds.width - rect.width) / 2, y: node.y },
          right: { x: bounds.x + bounds.width - rect.width, y: node.y },
          top: { x: node.x, y: bounds.y },
          middle: { x: node.x, y: bounds.y + (bounds.height - rect.height) / 2 },
          bottom: { x: node.x, y: bounds.y + bounds.height - rect.height },
        }[side];
        tx.move(node.id, place.x, place.y);
      });
      return { edit: tx.edit, report: { summary: `Aligned ${plural(nodes.length, 'node')}.`, findings: [] } };
    },
  }),
);

/** First and last stay where they are; the gaps between edges become equal, so that a shorter span gives a tighter row. */
export const distributes = (['x', 'y'] as const).map((axis) =>
  operation({
    id: `distribute-${axis}`,
    title: axis === 'x' ? 'Distribute along x' : 'Distribute along y',
    area: 'arrange',
    about: 'Makes the gaps between the edges of the selected nodes equal; the first and the last stay.',
    needs: { what: 'nodes', least: 3 },
    options: z.object({}),
    changesFunction: false,
    preview: 'at-once',
    run(context, doc, selection) {
      const extent = axis === 'x' ? 'width' : 'height';
      const items = selectedNodes(doc, selection).map((node) => ({ node, rect: rectOf(doc, context.kinds, node) }));
      if (items.length < 3) throw new Refused('Distributing wants at least three selected nodes.');
      items.sort((a, b) => a.rect[axis] - b.rect[axis] || a.rect[axis] + a.rect[extent] - b.rect[axis] - b.rect[extent] || (a.node.id < b.node.id ? -1 : 1));
      const [first, last] = [items[0]!, items[items.length - 1]!];
      const between = items.slice(1, -1).reduce((sum, item) => sum + item.rect[extent], 0);
      const gap = (last.rect[axis] - first.rect[axis] - first.rect[extent] - between) / (items.length - 1);
      const tx = new Transaction(doc);
      let at = first.rect[axis] + first.rect[extent] + gap;
      for (const { node, rect } of items.slice(1, -1)) {
        tx.move(node.id, axis === 'x' ? at : node.x, axis === 'y' ? at : node.y);
        at += rect[extent] + gap;
      }
      return { edit: tx.edit, report: { summary: `Distributed ${plural(items.length, 'node')} with gaps of ${Math.round(gap)} px.`, findings: [] } };
    },
  }),
);

export const move = operation({
  id: 'move',
  title: 'Move by',
  area: 'arrange',
  about: 'Moves the selection by a number of pixels.',
  asks: true,
  needs: { what: 'items', least: 1 },
  options: z.object({
    dx: z.number().min(-1e6).max(1e6).default(0).meta({ title: 'To the right', unit: 'px' }),
    dy: z.number().min(-1e6).max(1e6).default(0).meta({ title: 'Down', unit: 'px' }),
  }),
  changesFunction: false,
  preview: 'at-once',
  run(_context, doc, selection, { dx, dy }) {
    const tx = new Transaction(doc);
    const nodes = selectedNodes(doc, selection);
    for (const node of nodes) tx.move(node.id, node.x + dx, node.y + dy);
    for (const id of selection.items) {
      const note = doc.notes.get(id);
      const frame = doc.frames.get(id);
      for (const [table, item] of [
        ['notes', note],
        ['frames', frame],
      ] as const) {
        if (!item) continue;
        tx.set(table, id, 'x', item.x + dx);
        tx.set(table, id, 'y', item.y + dy);
      }
    }
    return { edit: tx.edit, report: { summary: `Moved ${plural(nodes.length || selection.items.length, 'item')}.`, findings: [] } };
  },
});

export const pins = ([true, false] as const).map((pinned) =>
  operation({
    id: pinned ? 'pin' : 'unpin',
    title: pinned ? 'Pin in place' : 'Unpin',
    area: 'arrange',
    about: pinned ? 'Arranging leaves the selected nodes where they are.' : 'Arranging may move the selected nodes again.',
    needs: { what: 'nodes', least: 1 },
    options: z.object({}),
    changesFunction: false,
    preview: 'at-once',
    run(_context, doc, selection) {
      const tx = new Transaction(doc);
      const nodes = selectedNodes(doc, selection).filter((node) => (node.pinned === true) !== pinned);
      for (const node of nodes) tx.set('nodes', node.id, 'pinned', pinned ? true : undefined);
      return { edit: tx.edit, report: { summary: `${pinned ? 'Pinned' : 'Unpinned'} ${plural(nodes.length, 'node')}.`, findings: [] } };
    },
  }),
);
