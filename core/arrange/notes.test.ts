import { expect, it } from 'vitest';
import type { Doc } from '../document/doc.ts';
import { overlaps, rectOf, titleTabs } from '../document/geometry.ts';
import { act } from '../tests/acts.ts';
import { testKinds } from '../tests/arbitrary.ts';
import { modulesDoc } from '../tests/modules.ts';

/** Repeated parts with a note close above every tenth node, tied to nothing. */
function annotated(seed: number): Doc {
  const doc = modulesDoc(seed);
  const notes = [...doc.nodes.values()]
    .filter((_, i) => i % 10 === 0)
    .map((node, i) => ({
      id: `note${i}`,
      graph: 'root',
      x: node.x + 4,
      y: node.y - 70,
      width: 140,
      height: 50,
      text: `Tide ${i}`,
    }));
  return { ...doc, notes: new Map(notes.map((note) => [note.id, note])) };
}

it('notes that are tied to nothing go along with the node that they stand by, lie on nothing, and stay the second time', async () => {
  for (const seed of [1, 4]) {
    const doc = annotated(seed);
    const { doc: after } = await act('arrange', doc, []);
    const [notes, nodes] = [[...after.notes.values()], [...after.nodes.values()]];
    const taken = [...nodes.map((node) => rectOf(after, testKinds, node)), ...titleTabs(after, testKinds, 'root')];
    for (const [i, note] of notes.entries()) {
      expect(taken.some((rect) => overlaps(rect, note))).toBe(false);
      expect(notes.slice(i + 1).some((other) => overlaps(other, note))).toBe(false);
      const beside = (of: Doc): number =>
        Math.min(
          ...[...of.nodes.values()]
            .filter((_, n) => n % 10 === 0)
            .map((node) => Math.hypot(node.x - of.notes.get(note.id)!.x, node.y - of.notes.get(note.id)!.y)),
        );
      expect(beside(after)).toBeLessThan(1200);
    }
    expect((await act('arrange', after, [])).edit.steps).toEqual([]);
  }
});
