import { z } from 'zod';
import { unstack } from '../arrange/unstack.ts';
import { type Doc, indexOf, nodesWithin, type Selection } from '../document/doc.ts';
import { framePad, frameRects, framesAround, type Rect, rectOf, tab, titleOf } from '../document/geometry.ts';
import type { Frame } from '../document/schema.ts';
import { Transaction } from '../edit/transaction.ts';
import { must } from '../must.ts';
import { operation } from '../operation.ts';
import { shiftItems } from '../structure/frames.ts';
import { plural } from '../words.ts';
import { oneFrame } from './frame.ts';
import { refuse } from './sentences.ts';

/**
 * The selected frames, and those around the selected nodes where no frame is selected. Throws Refused where there are
 * none.
 */
export function meantFrames(doc: Doc, { items }: Selection): Frame[] {
  const own = items.flatMap((id) => doc.frames.get(id) ?? []);
  const around = items.flatMap((id) => doc.frames.get(doc.nodes.get(id)?.frame ?? '') ?? []);
  const frames = [...new Set(own.length > 0 ? own : around)];
  if (frames.length === 0) throw refuse('select-frame-or-node-inside');
  return frames;
}

const said = (frames: readonly Frame[]): string =>
  frames.length === 1 ? `“${titleOf(must(frames[0]))}”` : plural(frames.length, 'frame');
const items = { what: 'items', least: 1 } as const;

export const folds = ([true, false] as const).map((folded) =>
  operation({
    id: folded ? 'fold' : 'unfold',
    title: folded ? 'Fold the frame' : 'Unfold the frame',
    area: 'frame',
    about: folded
      ? 'Shows each selected frame as one block, with the wires that cross its edge. Nothing moves.'
      : 'Shows the contents of the selected frames again, at their old places.',
    needs: items,
    options: z.object({}),
    changesFunction: false,
    preview: 'at-once',
    ...(!folded && { room: 'all' as const }),
    run(_context, doc, selection) {
      const frames = meantFrames(doc, selection).filter((frame) => (frame.folded === true) !== folded);
      if (frames.length === 0) throw refuse('folded-already', { folded });
      const empty = folded ? frames.find((frame) => nodesWithin(doc, frame.id).length === 0) : undefined;
      if (empty) throw refuse('frame-empty', { empty: titleOf(empty) });
      const tx = new Transaction(doc);
      for (const frame of frames) tx.set('frames', frame.id, 'folded', folded ? true : undefined);
      return {
        edit: tx.edit,
        report: {
          summary: `${folded ? 'Folded' : 'Unfolded'} ${said(frames)}.`,
          findings: [],
          select: frames.map((frame) => frame.id),
        },
      };
    },
  }),
);

const length = z.number().min(0).max(1e6);

export const frameSize = operation({
  id: 'frame-size',
  title: 'Size of the frame',
  area: 'frame',
  about:
    'Sets the rectangle of the selected frame. Its contents always stay inside, and the margin is kept when they move.',
  needs: { ...items, most: 1 },
  options: z.object({
    x: z.number().min(-1e6).max(1e6).meta({ title: 'Left edge', unit: 'px' }),
    y: z.number().min(-1e6).max(1e6).meta({ title: 'Top edge', unit: 'px' }),
    width: length.meta({ title: 'Width', unit: 'px' }),
    height: length.meta({ title: 'Height', unit: 'px' }),
  }),
  changesFunction: false,
  preview: 'at-once',
  run({ kinds }, doc, selection, rect) {
    const frame = oneFrame(doc, selection);
    const tx = new Transaction(doc);
    const own = must(frameRects(doc, kinds, frame.graph).get(frame.id));
    const { left, top, right, bottom } = frame.pad ?? framePad;
    const isEmpty = indexOf(doc).membersOf(frame.id).length + indexOf(doc).framesWithin(frame.id).length === 0;
    if (isEmpty) {
      for (const field of ['x', 'y'] as const) tx.set('frames', frame.id, field, Math.round(rect[field]));
      tx.set('frames', frame.id, 'width', Math.max(60, Math.round(rect.width)));
      tx.set('frames', frame.id, 'height', Math.max(tab.height * 2, Math.round(rect.height)));
    } else {
      const room = (value: number, least: number): number => Math.max(least, Math.round(value));
      tx.set('frames', frame.id, 'pad', {
        left: room(own.x + left - rect.x, 0),
        // the title keeps its place over what is inside
        top: room(own.y + top - rect.y, tab.height),
        right: room(rect.x + rect.width - own.x - own.width + right, 0),
        bottom: room(rect.y + rect.height - own.y - own.height + bottom, 0),
      });
    }
    return { edit: tx.edit, report: { summary: `Resized ${said([frame])}.`, findings: [] } };
  },
});

export const frameFit = operation({
  id: 'frame-fit',
  title: 'Fit the frame',
  area: 'frame',
  about: 'Gives the selected frames the default margin around their contents.',
  needs: items,
  options: z.object({}),
  changesFunction: false,
  preview: 'at-once',
  room: 'all',
  run(_context, doc, selection) {
    const frames = meantFrames(doc, selection);
    const tx = new Transaction(doc);
    for (const frame of frames) tx.set('frames', frame.id, 'pad', undefined);
    return {
      edit: tx.edit,
      report: { summary: `${frames.length === 1 ? 'It fits' : 'They fit'} again: ${said(frames)}.`, findings: [] },
    };
  },
});

const ways = {
  front: ['frame-front', 'Frame to the front', 'Draws the selected frames over all others at the same level.'],
  back: ['frame-back', 'Frame to the back', 'Draws the selected frames behind all others at the same level.'],
  size: [
    'frame-by-size',
    'Order frames by size',
    'Draws larger frames behind smaller ones: the selected frames, or all frames of the graph.',
  ],
} as const;

export const frameOrders = (['front', 'back', 'size'] as const).map((way) =>
  operation({
    id: ways[way][0],
    title: ways[way][1],
    area: 'frame',
    about: ways[way][2],
    needs: way === 'size' ? { what: 'nothing', least: 0 } : items,
    options: z.object({}),
    changesFunction: false,
    preview: 'at-once',
    run(_context, doc, selection) {
      const all = indexOf(doc).framesIn(selection.graph);
      const own = selection.items.flatMap((id) => doc.frames.get(id) ?? []);
      const frames = way === 'size' && own.length === 0 ? all : meantFrames(doc, selection);
      const chosen = new Set(frames);
      const others = all.filter((frame) => !chosen.has(frame)).map((frame) => frame.order ?? 0);
      const order = way === 'size' ? 0 : way === 'front' ? Math.max(0, ...others) + 1 : Math.min(0, ...others) - 1;
      const tx = new Transaction(doc);
      for (const frame of frames) tx.set('frames', frame.id, 'order', order === 0 ? undefined : order);
      return {
        edit: tx.edit,
        report: {
          summary: `${way === 'size' ? 'Ordered by size' : way === 'front' ? 'Brought to the front' : 'Put to the back'}: ${said(frames)}.`,
          findings: [],
        },
      };
    },
  }),
);

export const frameSpacing = operation({
  id: 'frame-spacing',
  title: 'Room between frames',
  area: 'arrange',
  about:
    'Moves frames that are closer than a distance apart, each with its contents, so that they are easy to tell apart and to grab.',
  needs: { what: 'nothing', least: 0 },
  options: z.object({
    gap: z
      .number()
      .min(0)
      .max(1000)
      .default(40)
      .meta({ title: 'Distance', unit: 'px', step: 4, slider: [0, 200] }),
    loose: z.boolean().default(true).meta({ title: 'Nodes outside give way too' }),
  }),
  changesFunction: false,
  preview: 'first',
  live: true,
  run({ kinds }, doc, { graph }, { gap, loose }) {
    const tx = new Transaction(doc);
    const frames = indexOf(doc).framesIn(graph);
    // the innermost first, so that those around know how large they become
    const depths = [...new Set(frames.map((frame) => framesAround(doc, frame).length))].sort((a, b) => b - a);
    let moved = 0;
    for (const depth of depths) {
      const parents = new Set(
        frames.filter((frame) => framesAround(doc, frame).length === depth).map((frame) => frame.parent),
      );
      for (const parent of parents) moved += part(tx, kinds, graph, parent, gap, loose);
    }
    return {
      edit: tx.edit,
      report: {
        summary: moved === 0 ? 'Every frame already has this much room.' : `Moved ${plural(moved, 'frame')} apart.`,
        findings: [],
      },
    };
  },
});

/** Parts the frames that lie side by side in one frame, or in none. Returns how many moved. */
function part(
  tx: Transaction,
  kinds: Parameters<typeof frameRects>[1],
  graph: string,
  parent: string | undefined,
  gap: number,
  loose: boolean,
): number {
  const { doc } = tx;
  const index = indexOf(doc);
  const rects = frameRects(doc, kinds, graph);
  const frames = index.framesIn(graph).filter((frame) => frame.parent === parent);
  const nodes = loose ? index.nodesIn(graph).filter((node) => node.frame === parent) : [];
  const grown = (rect: Rect): Rect => ({
    x: rect.x - gap / 2,
    y: rect.y - gap / 2,
    width: rect.width + gap,
    height: rect.height + gap,
  });
  const before = [
    ...frames.map((frame) => grown(must(rects.get(frame.id)))),
    ...nodes.map((node) => rectOf(doc, kinds, node)),
  ];
  const after = unstack(before, 0, (i) => i >= frames.length && must(nodes[i - frames.length]).pinned === true);
  let moved = 0;
  before.forEach((rect, i) => {
    const by = { x: Math.round(must(after[i]).x - rect.x), y: Math.round(must(after[i]).y - rect.y) };
    if (by.x === 0 && by.y === 0) return;
    const id = i < frames.length ? must(frames[i]).id : must(nodes[i - frames.length]).id;
    if (i < frames.length) moved++;
    shiftItems(tx, doc, { graph, items: [id] }, by.x, by.y);
  });
  return moved;
}
