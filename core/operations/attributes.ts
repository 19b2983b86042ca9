import { z } from 'zod';
import { attributesIn, attributesOf, typeOfTexts, valueOfText } from '../document/attributes.ts';
import type { Doc, Selection } from '../document/doc.ts';
import type { Id } from '../document/ids.ts';
import type { AttributeBearer, AttributeType, TableName } from '../document/schema.ts';
import { Transaction } from '../edit/transaction.ts';
import { operation } from '../operation.ts';
import { plural } from '../words.ts';
import { refuse } from './sentences.ts';

const bearers: Readonly<Partial<Record<TableName, AttributeBearer>>> = {
  nodes: 'node',
  wires: 'wire',
  frames: 'frame',
  notes: 'note',
};

interface Bearer {
  readonly table: TableName;
  readonly of: AttributeBearer;
  readonly id: Id;
  readonly record: object;
}

/** What is selected and may bear attributes; the graph itself where nothing is. */
function bearersOf(doc: Doc, { graph, items }: Selection): Bearer[] {
  if (items.length === 0) {
    const record = doc.graphs.get(graph);
    return record ? [{ table: 'graphs', of: 'graph', id: graph, record }] : [];
  }
  return items.flatMap((id): Bearer[] => {
    for (const [table, of] of Object.entries(bearers) as [TableName, AttributeBearer][]) {
      const record = doc[table].get(id);
      if (record) return [{ table, of, id, record }];
    }
    return [];
  });
}

/** A name as an edit may address it. */
const name = z
  .string()
  .trim()
  .min(1, 'Name the attribute.')
  .max(180)
  .refine((text) => !['__proto__', 'constructor', 'prototype'].includes(text), 'An attribute cannot have this name.')
  .meta({ title: 'Attribute' });

/** The type of an attribute: as others of the same name have it, else as the text looks. */
function typeFor(doc: Doc, of: AttributeBearer, wanted: string, text: string): AttributeType {
  const known = attributesIn(doc, of).find((one) => one.name === wanted);
  return known && (known.count > 0 || known.key !== undefined) ? known.holds : typeOfTexts([text]);
}

export const setAttribute = operation({
  id: 'attribute',
  title: 'Set an attribute',
  area: 'edit',
  about:
    'Gives the selection, or the graph if nothing is selected, a named value for other programs and for people. It does not change what is computed, and is written to every format that has a place for it.',
  needs: { what: 'items', least: 0 },
  options: z.object({
    name,
    value: z.string().max(100_000).default('').meta({ title: 'Value', hint: 'a number, text, true or false, or JSON' }),
  }),
  changesFunction: false,
  preview: 'at-once',
  asks: true,
  run(_context, doc, selection, { name: wanted, value }) {
    const found = bearersOf(doc, selection);
    if (found.length === 0) throw refuse('nothing-for-attributes');
    const tx = new Transaction(doc);
    for (const { table, of, id } of found)
      tx.setPart(table, id, 'attributes', wanted, valueOfText(value, typeFor(doc, of, wanted, value)));
    return {
      edit: tx.edit,
      report: { summary: `Set “${wanted}” on ${toldBearers(found)}.`, findings: [] },
    };
  },
});

export const removeAttribute = operation({
  id: 'attribute-remove',
  title: 'Remove an attribute',
  area: 'edit',
  about: 'Removes an attribute from the selection, or from the graph if nothing is selected.',
  needs: { what: 'items', least: 0 },
  options: z.object({ name }),
  changesFunction: false,
  preview: 'at-once',
  asks: true,
  run(_context, doc, selection, { name: wanted }) {
    const found = bearersOf(doc, selection).filter(({ record }) => Object.hasOwn(attributesOf(record), wanted));
    const tx = new Transaction(doc);
    for (const { table, id } of found) tx.setPart(table, id, 'attributes', wanted, undefined);
    return {
      edit: tx.edit,
      report: {
        summary:
          found.length === 0
            ? `Nothing in the selection has an attribute “${wanted}”.`
            : `Removed “${wanted}” from ${toldBearers(found)}.`,
        findings: [],
      },
    };
  },
});

/** What bears attributes, counted by what it is. */
function toldBearers(found: readonly Bearer[]): string {
  const counts = new Map<string, number>();
  for (const { of } of found) counts.set(of, (counts.get(of) ?? 0) + 1);
  return [...counts].map(([of, count]) => (of === 'graph' ? 'the graph' : plural(count, of))).join(', ');
}
