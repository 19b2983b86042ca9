import { z } from 'zod';
import { type Doc, type Selection, selectedNodes } from '../document/doc.ts';
import type { Frame, GraphNode } from '../document/schema.ts';
import { Transaction } from '../edit/transaction.ts';
import { must } from '../must.ts';
import { operation } from '../operation.ts';
import { type CaptionTarget, captionRows, captionTargets, letterCases, numberOrders } from '../structure/captions.ts';
import { renameNode } from '../structure/rename.ts';
import { plural } from '../words.ts';
import { find, refuse } from './sentences.ts';

const text = z.string().max(500).default('');

export const captionOptions = z.object({
  target: z.enum(captionTargets).default('label').meta({ title: 'Write' }),
  pattern: text.meta({ title: 'Pattern', hint: 'such as {frame}_{kind}_{n}; empty keeps the text' }),
  find: text.meta({ title: 'Find' }),
  replace: text.meta({ title: 'Replace with' }),
  regex: z.boolean().default(false).meta({ title: 'Regular expression' }),
  letters: z.enum(letterCases).default('as it is').meta({ title: 'Letters' }),
  prefix: text.meta({ title: 'In front' }),
  suffix: text.meta({ title: 'Behind' }),
  start: z.int().min(-1e6).max(1e6).default(1).meta({ title: 'Numbers from' }),
  step: z.int().min(-1000).max(1000).default(1).meta({ title: 'By' }),
  digits: z.int().min(1).max(12).default(2).meta({ title: 'Digits' }),
  order: z.enum(numberOrders).default('selection').meta({ title: 'Numbered by' }),
  mend: z.boolean().default(false).meta({ title: 'Make names legal and free' }),
});

/** What is meant by a target: the selected nodes, those of selected frames too; or the selected frames themselves. */
export function captioned(doc: Doc, selection: Selection, target: CaptionTarget): readonly (GraphNode | Frame)[] {
  return target === 'title' ? selection.items.flatMap((id) => doc.frames.get(id) ?? []) : selectedNodes(doc, selection);
}

export const captions = operation({
  id: 'captions',
  title: 'Rename and relabel many',
  area: 'edit',
  about:
    'Changes names, labels or frame titles by a pattern, numbers, find and replace, or letter case. Shows each one before and after.',
  needs: { what: 'items', least: 1 },
  options: captionOptions,
  changesFunction: true,
  preview: 'at-once',
  asks: true,
  run(context, doc, selection, options) {
    const items = captioned(doc, selection, options.target);
    if (items.length === 0) throw refuse('nothing-to-name', { target: options.target });
    const rows = captionRows(doc, context.kinds, items, options);
    const tx = new Transaction(doc);
    const findings = [];
    let count = 0;
    for (const row of rows) {
      if (row.problem)
        findings.push(
          find('caption-kept', 'warning', [row.id], 'caption-stays', { before: row.before, problem: row.problem }),
        );
      else if (row.after !== row.before) {
        count++;
        if (row.remark)
          findings.push(
            find('caption-remark', 'info', [row.id], 'caption-adapted', {
              before: row.before,
              after: row.after,
              remark: row.remark,
            }),
          );
        if (options.target === 'title') tx.set('frames', row.id, 'title', row.after);
        else if (options.target === 'label') tx.set('nodes', row.id, 'label', row.after === '' ? undefined : row.after);
        else renameNode(tx, doc, must(doc.nodes.get(row.id)), row.after);
      }
    }
    const what = { name: 'name', label: 'label', title: 'title' }[options.target];
    return {
      edit: tx.edit,
      report: { summary: `Wrote ${plural(count, what)}; ${plural(rows.length - count, 'other')} as before.`, findings },
    };
  },
});
