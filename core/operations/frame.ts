import { z } from 'zod';
import type { Doc, Selection } from '../document/doc.ts';
import { framedRect, frameRects, rectOf, titleOf, untitledFrame } from '../document/geometry.ts';
import type { Id } from '../document/ids.ts';
import type { Frame } from '../document/schema.ts';
import { Transaction } from '../edit/transaction.ts';
import { must } from '../must.ts';
import { type Context, operation } from '../operation.ts';
import { type Chosen, chosenIn, heldBy, leaving, proposeTitle, sharedFrame } from '../structure/frames.ts';
import { supplyOption } from '../wiring/keep-supplied.ts';
import { plural } from '../words.ts';
import { refuse } from './sentences.ts';

export const frameSelection = operation({
  id: 'frame',
  title: 'Frame the selection',
  area: 'frame',
  about: 'Puts a frame around the selected nodes and frames. They become its members and do not move.',
  needs: { what: 'items', least: 1 },
  options: z.object({
    title: z.string().max(500).default('').meta({ title: 'Title', hint: 'proposed where empty' }),
    supply: supplyOption('keep'),
  }),
  // what stands in a frame is fed by the frame's standing feeds
  changesFunction: true,
  preview: 'at-once',
  run(context, doc, selection, { title }) {
    const chosen = chosenIn(doc, selection);
    if (chosen.nodes.length + chosen.frames.length === 0) throw refuse('select-nodes-or-frames');
    const { frame, parent } = newFrame(context, doc, selection.graph, chosen, title);
    const tx = new Transaction(doc);
    tx.add('frames', frame);
    for (const node of chosen.nodes) tx.set('nodes', node.id, 'frame', frame.id);
    for (const inner of chosen.frames) tx.set('frames', inner.id, 'parent', frame.id);
    const parts = [
      chosen.nodes.length > 0 ? plural(chosen.nodes.length, 'node') : '',
      chosen.frames.length > 0 ? plural(chosen.frames.length, 'frame') : '',
    ];
    return {
      edit: tx.edit,
      report: {
        summary: `Framed ${parts.filter(Boolean).join(' and ')} as “${frame.title}”.`,
        findings: leaving(doc, chosen, parent),
        select: [frame.id],
      },
    };
  },
});

function newFrame(
  { kinds, newId }: Context,
  doc: Doc,
  graph: Id,
  chosen: Chosen,
  title: string,
): { frame: Frame; parent: Id | undefined } {
  const rects = frameRects(doc, kinds, graph);
  const rect = framedRect([
    ...chosen.nodes.map((node) => rectOf(doc, kinds, node)),
    ...chosen.frames.map((frame) => must(rects.get(frame.id))),
  ]);
  const parent = sharedFrame(doc, [...chosen.nodes, ...chosen.frames]);
  const held = heldBy(doc, chosen);
  const proposed =
    chosen.nodes.length > 0 ? proposeTitle(kinds, held) : chosen.frames.map((frame) => titleOf(frame)).join(', ');
  return {
    parent,
    frame: {
      id: newId('f'),
      graph,
      title: title.trim() || proposed,
      ...(parent !== undefined && { parent }),
      ...rect,
    },
  };
}

/** The one selected frame. Throws Refused where it is another number. */
export function oneFrame(doc: Doc, selection: Selection): Frame {
  const frames = selection.items.flatMap((id) => doc.frames.get(id) ?? []);
  const [frame] = frames;
  if (!frame || frames.length > 1) throw refuse('select-one-frame');
  return frame;
}

export const frameTitle = operation({
  id: 'frame-title',
  title: 'Title of the frame',
  area: 'frame',
  about: 'Changes the title of the selected frame. Nothing else is renamed.',
  needs: { what: 'items', least: 1, most: 1 },
  options: z.object({ title: z.string().max(500).meta({ title: 'Title' }) }),
  changesFunction: false,
  preview: 'at-once',
  run(_context, doc, selection, { title }) {
    const frame = oneFrame(doc, selection);
    const tx = new Transaction(doc);
    tx.set('frames', frame.id, 'title', title.trim());
    return {
      edit: tx.edit,
      report: { summary: `The frame is called “${title.trim() || untitledFrame}” now.`, findings: [] },
    };
  },
});

export const frameNote = operation({
  id: 'frame-note',
  title: 'Note on the frame',
  area: 'frame',
  about: 'Describes what the selected frame is about; an empty note removes the text.',
  needs: { what: 'items', least: 1, most: 1 },
  asks: true,
  options: z.object({ note: z.string().max(20_000).default('').meta({ title: 'Note' }) }),
  changesFunction: false,
  preview: 'at-once',
  run(_context, doc, selection, { note }) {
    const frame = oneFrame(doc, selection);
    const tx = new Transaction(doc);
    tx.set('frames', frame.id, 'note', note.trim() === '' ? undefined : note);
    return {
      edit: tx.edit,
      report: {
        summary: note.trim() === '' ? 'Took the note off the frame.' : `Wrote a note on “${titleOf(frame)}”.`,
        findings: [],
      },
    };
  },
});
