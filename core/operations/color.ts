import { z } from 'zod';
import { parseColor } from '../color/contrast.ts';
import type { Doc, Selection } from '../document/doc.ts';
import { Transaction } from '../edit/transaction.ts';
import { operation } from '../operation.ts';
import { plural } from '../words.ts';
import { refuse } from './sentences.ts';

const tables = ['nodes', 'frames', 'notes'] as const;

/** What can have a colour of its own: the selected nodes, frames and notes themselves, not what lies in a frame. */
const coloured = (doc: Doc, { items }: Selection): (readonly [(typeof tables)[number], string])[] =>
  items.flatMap((id) => tables.filter((table) => doc[table].has(id)).map((table) => [table, id] as const));

export const color = operation({
  id: 'color',
  title: 'Own colour',
  area: 'frame',
  about:
    'Gives the selected nodes, frames and notes their own colour instead of that of the team’s scheme; “none” removes it.',
  needs: { what: 'items', least: 1 },
  options: z.object({ color: z.string().max(30).default('').meta({ title: 'Colour', choose: 'color' }) }),
  changesFunction: false,
  preview: 'at-once',
  asks: true,
  run(_context, doc, selection, { color: wanted }) {
    const text = wanted.trim().toLowerCase();
    if (text !== '' && !parseColor(text)) throw refuse('no-colour', { wanted });
    const found = coloured(doc, selection);
    if (found.length === 0) throw refuse('nothing-to-colour');
    const tx = new Transaction(doc);
    for (const [table, id] of found) tx.set(table, id, 'color', text === '' ? undefined : text);
    const what = plural(found.length, 'thing');
    return {
      edit: tx.edit,
      report: { summary: text === '' ? `${what} follow the scheme again.` : `Coloured ${what}.`, findings: [] },
    };
  },
});
