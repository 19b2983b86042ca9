import { z } from 'zod';
import { type Doc, indexOf, type Selection } from '../document/doc.ts';
import { frameRects, type Rect, rectOf, unite } from '../document/geometry.ts';
import type { Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import { corners, marks, type Note } from '../document/schema.ts';
import { Transaction } from '../edit/transaction.ts';
import { operation } from '../operation.ts';
import { plural } from '../words.ts';
import { refuse } from './sentences.ts';

/** How large a new note is, in pixels at 100 % zoom; a mark is as large as what it points at asks for. */
const noteSize = { width: 240, height: 110 } as const;
const gap = 20;

const place = z.number().min(-1e6).max(1e6);
const length = z.number().min(16).max(20_000);

/** The first selected node or frame, to which a note is tied. */
function target(doc: Doc, kinds: Kinds, { graph, items }: Selection): { id: Id; rect: Rect } | undefined {
  for (const id of items) {
    const node = doc.nodes.get(id);
    if (node?.graph === graph) return { id, rect: rectOf(doc, kinds, node) };
    const rect = doc.frames.has(id) ? frameRects(doc, kinds, graph).get(id) : undefined;
    if (rect) return { id, rect };
  }
  return undefined;
}

export const addNote = operation({
  id: 'note',
  title: 'Note',
  area: 'frame',
  about:
    'Adds a note at a place, or above the selected node or frame and tied to it, so that they move together. The text is Markdown.',
  needs: { what: 'nothing', least: 0 },
  asks: true,
  options: z.object({
    text: z.string().max(20_000).default('').meta({ title: 'Text', hint: 'Markdown', long: true }),
    tied: z.boolean().default(true).meta({ title: 'Tied to what is selected' }),
    x: place.optional().meta({ title: 'Left edge', unit: 'px' }),
    y: place.optional().meta({ title: 'Top edge', unit: 'px' }),
  }),
  changesFunction: false,
  preview: 'at-once',
  run({ kinds, newId }, doc, selection, { text, tied, x, y }) {
    const at = tied ? target(doc, kinds, selection) : undefined;
    const right = unite(
      indexOf(doc)
        .nodesIn(selection.graph)
        .map((node) => rectOf(doc, kinds, node)),
    );
    const free = { x: x ?? (right ? right.x + right.width + gap : 0), y: y ?? right?.y ?? 0 };
    const spot = at ? { x: at.rect.x, y: at.rect.y - noteSize.height - gap } : free;
    const note: Note = {
      id: newId('t'),
      graph: selection.graph,
      x: Math.round(spot.x),
      y: Math.round(spot.y),
      ...noteSize,
      text,
      ...(at && { tiedTo: at.id }),
    };
    const tx = new Transaction(doc);
    tx.add('notes', note);
    return {
      edit: tx.edit,
      report: {
        summary: at ? 'Added a note, tied to the selection.' : 'Put a note.',
        findings: [],
        select: [note.id],
      },
    };
  },
});

/**
 * Where a mark goes that is to point at something: a ring around it, an arrow or line from the upper left to its
 * corner.
 */
function markPlace(mark: (typeof marks)[number], rect: Rect): Rect {
  if (mark === 'ring') return { x: rect.x - 16, y: rect.y - 16, width: rect.width + 32, height: rect.height + 32 };
  return { x: rect.x - 90, y: rect.y - 70, width: 86, height: 66 };
}

export const addMark = operation({
  id: 'mark',
  title: 'Mark',
  area: 'frame',
  about:
    'Adds an arrow, a line or a ring to point at something: at the selected node or frame and tied to it, or at a place.',
  needs: { what: 'nothing', least: 0 },
  asks: true,
  options: z.object({
    mark: z.enum(marks).default('arrow').meta({ title: 'Mark' }),
    text: z.string().max(500).default('').meta({ title: 'Words beside it' }),
    tied: z.boolean().default(true).meta({ title: 'Tied to what is selected' }),
    x: place.optional().meta({ title: 'Left edge', unit: 'px' }),
    y: place.optional().meta({ title: 'Top edge', unit: 'px' }),
  }),
  changesFunction: false,
  preview: 'at-once',
  run({ kinds, newId }, doc, selection, { mark, text, tied, x, y }) {
    const at = tied ? target(doc, kinds, selection) : undefined;
    const rect = at ? markPlace(mark, at.rect) : { x: x ?? 0, y: y ?? 0, width: 120, height: 80 };
    const note: Note = {
      id: newId('t'),
      graph: selection.graph,
      x: Math.round(rect.x),
      y: Math.round(rect.y),
      width: Math.round(rect.width),
      height: Math.round(rect.height),
      text,
      mark,
      ...(mark !== 'ring' && { towards: 'bottom-right' as const }),
      ...(at && { tiedTo: at.id }),
    };
    const tx = new Transaction(doc);
    tx.add('notes', note);
    return {
      edit: tx.edit,
      report: { summary: `Drew ${mark === 'arrow' ? 'an arrow' : `a ${mark}`}.`, findings: [], select: [note.id] },
    };
  },
});

/** The selected notes. Throws Refused where there are none. */
function meant(doc: Doc, { items }: Selection): Note[] {
  const notes = items.flatMap((id) => doc.notes.get(id) ?? []);
  if (notes.length === 0) throw refuse('select-note');
  return notes;
}

export const noteChange = operation({
  id: 'note-change',
  title: 'Change the note',
  area: 'frame',
  about: 'Changes the text, size, direction or tie of the selected note or mark.',
  needs: { what: 'items', least: 1 },
  asks: true,
  options: z.object({
    text: z.string().max(20_000).optional().meta({ title: 'Text', hint: 'Markdown', long: true }),
    x: place.optional().meta({ title: 'Left edge', unit: 'px' }),
    y: place.optional().meta({ title: 'Top edge', unit: 'px' }),
    width: length.optional().meta({ title: 'Width', unit: 'px' }),
    height: length.optional().meta({ title: 'Height', unit: 'px' }),
    towards: z.enum(corners).optional().meta({ title: 'Leads to' }),
    tiedTo: z
      .string()
      .max(200)
      .optional()
      .meta({ title: 'Tied to', hint: 'the id of a node or frame; empty: not tied' }),
  }),
  changesFunction: false,
  preview: 'at-once',
  run(_context, doc, selection, { tiedTo, ...fields }) {
    const notes = meant(doc, selection);
    const tx = new Transaction(doc);
    for (const note of notes) {
      for (const [field, value] of Object.entries(fields)) {
        if (value !== undefined)
          tx.set('notes', note.id, field as 'text', (typeof value === 'number' ? Math.round(value) : value) as string);
      }
      if (tiedTo === undefined) continue;
      const goal = doc.nodes.get(tiedTo) ?? doc.frames.get(tiedTo);
      if (tiedTo !== '' && !goal) throw refuse('no-node-or-frame', { tiedTo });
      if (goal && goal.graph !== note.graph) throw refuse('note-tied-across-graphs');
      tx.set('notes', note.id, 'tiedTo', goal?.id);
    }
    return { edit: tx.edit, report: { summary: `Changed ${plural(notes.length, 'note')}.`, findings: [] } };
  },
});
