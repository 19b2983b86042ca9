import { z } from 'zod';
import { selectedNodes } from '../document/doc.ts';
import { Transaction } from '../edit/transaction.ts';
import { operation } from '../operation.ts';
import { shiftItems } from '../structure/frames.ts';
import { plural } from '../words.ts';
import { direction, gridStep } from './places.ts';

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
    const count = shiftItems(tx, doc, selection, dx, dy);
    return { edit: tx.edit, report: { summary: `Moved ${plural(count, 'item')}.`, findings: [] } };
  },
});

const ways = { right: [1, 0], down: [0, 1], left: [-1, 0], up: [0, -1] } as const;

export const nudge = operation({
  id: 'nudge',
  title: 'Nudge',
  area: 'arrange',
  about: 'Moves the selection by one step of the grid, or by one pixel. The arrow keys do it.',
  asks: true,
  needs: { what: 'items', least: 1 },
  options: z.object({
    direction: direction.default('right').meta({ title: 'Where to' }),
    by: z.enum(['grid', 'pixel']).default('grid').meta({ title: 'By' }),
    step: gridStep,
  }),
  changesFunction: false,
  preview: 'at-once',
  run(_context, doc, selection, options) {
    const tx = new Transaction(doc);
    const [x, y] = ways[options.direction];
    const step = options.by === 'grid' ? options.step : 1;
    const count = shiftItems(tx, doc, selection, x * step, y * step);
    return { edit: tx.edit, report: { summary: `Nudged ${plural(count, 'item')}.`, findings: [] } };
  },
});

export const pins = ([true, false] as const).map((pinned) =>
  operation({
    id: pinned ? 'pin' : 'unpin',
    title: pinned ? 'Pin in place' : 'Unpin',
    area: 'arrange',
    about: pinned
      ? 'Arranging leaves the selected nodes where they are.'
      : 'Arranging may move the selected nodes again.',
    needs: { what: 'nodes', least: 1 },
    options: z.object({}),
    changesFunction: false,
    preview: 'at-once',
    run(_context, doc, selection) {
      const tx = new Transaction(doc);
      const nodes = tx.flag(selectedNodes(doc, selection), 'pinned', pinned);
      return {
        edit: tx.edit,
        report: { summary: `${pinned ? 'Pinned' : 'Unpinned'} ${plural(nodes.length, 'node')}.`, findings: [] },
      };
    },
  }),
);
