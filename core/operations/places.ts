import { z } from 'zod';
import { type Doc, type Selection, selectedNodes } from '../document/doc.ts';
import { type Point, type Rect, rectOf } from '../document/geometry.ts';
import type { Kinds } from '../document/kinds.ts';
import type { GraphNode } from '../document/schema.ts';
import { Transaction } from '../edit/transaction.ts';
import type { Outcome } from '../operation.ts';

// What operations that set places have in common.

export const direction = z.enum(['right', 'down', 'left', 'up']);
export const gridStep = z.number().min(2).max(500).default(20).meta({ title: 'Grid', unit: 'px', step: 2 });

export const rectsOf = (doc: Doc, kinds: Kinds, nodes: readonly GraphNode[]): Rect[] => nodes.map((node) => rectOf(doc, kinds, node));

/** The edit that puts nodes at places, and a sentence with the number of those that moved. */
export function placed(doc: Doc, nodes: readonly GraphNode[], places: readonly Point[], say: (moved: number) => string): Outcome {
  const tx = new Transaction(doc);
  nodes.forEach((node, i) => tx.move(node.id, places[i]!.x, places[i]!.y));
  const moved = new Set(tx.edit.steps.map((step) => step.id)).size;
  return { edit: tx.edit, report: { summary: say(moved), findings: [] } };
}

/** Moves what is selected: nodes (those of selected frames too), notes, and empty frames. Returns how many. */
export function shiftItems(tx: Transaction, doc: Doc, selection: Selection, dx: number, dy: number): number {
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
  return nodes.length || selection.items.length;
}
