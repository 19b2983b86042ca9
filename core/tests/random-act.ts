import type { Doc } from '../document/doc.ts';
import { apply } from '../edit/step.ts';
import { createContext, Refused } from '../operation.ts';
import { runOperation } from '../operations.ts';
import { testKinds } from './arbitrary.ts';

/** A document after some random act of a person. */
export async function acted(doc: Doc, seed: number): Promise<Doc> {
  const items = [...doc.nodes.values()].filter((node) => node.graph === 'root').map((node) => node.id);
  const some = items.filter((_, i) => (seed >> (i % 8)) % 2 === 0);
  const [id, options] = (
    [
      ['move', { dx: 40, dy: 8 }],
      ['delete', {}],
      ['duplicate', {}],
      ['bypass', {}],
      ['label', { text: `Depth ${seed}` }],
      ['cut-wires', {}],
      ['frame', { title: 'Bay' }],
    ] as const
  )[seed % 7]!;
  try {
    return apply(doc, (await runOperation(id, createContext(testKinds, seed), doc, { graph: 'root', items: some }, options)).edit);
  } catch (error) {
    if (error instanceof Refused) return doc;
    throw error;
  }
}
