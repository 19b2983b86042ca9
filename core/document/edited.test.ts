import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { apply, type Edit, type Step } from '../edit/step.ts';
import { docArbitrary } from '../tests/arbitrary.ts';
import type { Doc } from './doc.ts';
import { editedProblems, parseDoc, writeDoc } from './file.ts';
import { UnreadableFile } from './unreadable.ts';

/** What reading the whole file back would say. */
const readBack = (doc: Doc): string => {
  try {
    return JSON.stringify(parseDoc(writeDoc(doc)).findings.map((one) => one.message));
  } catch (error) {
    if (error instanceof UnreadableFile) return error.message;
    throw error;
  }
};
const edited = (doc: Doc, edit: Edit): string => {
  try {
    return JSON.stringify(editedProblems(doc, edit).map((one) => one.message));
  } catch (error) {
    if (error instanceof UnreadableFile) return error.message;
    throw error;
  }
};

/**
 * A step that may well break the document: a field with something that may not stand there, a record that others lean
 * on taken away.
 */
function step(doc: Doc, pick: number, what: number): Step | undefined {
  const nodes = [...doc.nodes.values()];
  const node = nodes[pick % Math.max(1, nodes.length)];
  if (!node) return undefined;
  const set = (field: 'name' | 'x' | 'label' | 'frame' | 'graph' | 'color', to: unknown): Step => ({
    type: 'set',
    table: 'nodes',
    id: node.id,
    path: [field],
    ...(node[field] !== undefined && { from: node[field] as never }),
    to: to as never,
  });
  const steps: Step[] = [
    set('name', nodes[0]!.name),
    set('name', 'two words'),
    set('name', 'Fine'),
    set('x', 'far'),
    set('x', 12),
    set('label', 'x'.repeat(600)),
    set('frame', 'nowhere'),
    set('graph', 'nowhere'),
    set('color', 7),
    { type: 'remove', table: 'nodes', id: node.id, value: node as never },
    {
      type: 'add',
      table: 'wires',
      id: 'w!',
      value: { id: 'w!', from: { node: node.id, port: 'out' }, to: { node: 'nowhere', port: 'a' } } as never,
    },
  ];
  return steps[what % steps.length];
}

describe('an edit', () => {
  it('is judged by what it touched as reading the whole file back would judge it', () => {
    let refused = 0;
    fc.assert(
      fc.property(docArbitrary(), fc.nat(), fc.nat(), (doc, pick, what) => {
        const one = step(doc, pick, what);
        if (!one) return;
        const edit = { steps: [one] };
        const after = apply(doc, edit);
        const said = edited(after, edit);
        if (said !== '[]') refused++;
        expect(said).toBe(readBack(after));
      }),
      { numRuns: 200 },
    );
    expect(refused).toBeGreaterThan(50);
  });
});
