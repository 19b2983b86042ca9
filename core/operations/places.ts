import { z } from 'zod';
import type { Doc } from '../document/doc.ts';
import { type Point, type Rect, rectOf } from '../document/geometry.ts';
import type { Kinds } from '../document/kinds.ts';
import type { GraphNode } from '../document/schema.ts';
import { Transaction } from '../edit/transaction.ts';
import { must } from '../must.ts';
import type { Outcome } from '../operation.ts';

// What operations that set places have in common.

export const direction = z.enum(['right', 'down', 'left', 'up']);
export const gridStep = z.number().min(2).max(500).default(20).meta({ title: 'Grid', unit: 'px', step: 2 });

export const rectsOf = (doc: Doc, kinds: Kinds, nodes: readonly GraphNode[]): Rect[] =>
  nodes.map((node) => rectOf(doc, kinds, node));

/** The edit that puts nodes at places, and a sentence with the number of those that moved. */
export function placed(
  doc: Doc,
  nodes: readonly GraphNode[],
  places: readonly Point[],
  say: (moved: number) => string,
): Outcome {
  const tx = new Transaction(doc);
  nodes.forEach((node, i) => tx.move(node.id, must(places[i]).x, must(places[i]).y));
  const moved = new Set(tx.edit.steps.map((step) => step.id)).size;
  return { edit: tx.edit, report: { summary: say(moved), findings: [] } };
}
