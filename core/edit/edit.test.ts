import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Doc } from '../document/doc.ts';
import { seededRandom } from '../document/ids.ts';
import { createContext } from '../operation.ts';
import { runOperation } from '../operations.ts';
import { docArbitrary, docFromSeed, plainDoc, sketchDoc, testKinds } from '../tests/arbitrary.ts';
import { diff } from './diff.ts';
import { rebase } from './rebase.ts';
import { apply, type Edit, editSchema, invert, StaleEdit } from './step.ts';
import { Transaction } from './transaction.ts';

/** A random edit made of the acts that people do: moves, renames, values, wires, deletions, additions. */
function randomEdit(doc: Doc, seed: number, acts: number): Edit {
  const random = seededRandom(seed);
  const tx = new Transaction(doc);
  const pick = <T>(list: readonly T[]): T | undefined => list[Math.floor(random() * list.length)];
  for (let i = 0; i < acts; i++) {
    const node = pick([...tx.doc.nodes.keys()]);
    switch (Math.floor(random() * 7)) {
      case 0:
        if (node) tx.move(node, Math.floor(random() * 900), Math.floor(random() * 900));
        break;
      case 1:
        if (node) tx.set('nodes', node, 'label', random() < 0.3 ? undefined : `L${seed}_${i}`);
        break;
      case 2:
        if (node)
          tx.setParameter(node, `p${Math.floor(random() * 3)}`, random() < 0.3 ? undefined : Math.floor(random() * 9));
        break;
      case 3: {
        const wire = pick([...tx.doc.wires.keys()]);
        if (wire) tx.remove('wires', wire);
        break;
      }
      case 4:
        tx.add('nodes', {
          id: `new${seed}_${i}`,
          graph: 'root',
          kind: 'src',
          name: `New_${seed}_${i}`,
          x: 0,
          y: 0,
          ports: [{ id: 'out', name: 'out', type: 'num', direction: 'out' }],
        });
        break;
      case 5: {
        const frame = pick([...tx.doc.frames.keys()]);
        if (frame) tx.set('frames', frame, 'title', `T${seed}_${i}`);
        break;
      }
      default:
        tx.setHead('title', `Title ${seed} ${i}`);
    }
  }
  return tx.edit;
}

describe('edits', () => {
  it('apply then invert gives the same document, for any edit', () => {
    fc.assert(
      fc.property(docArbitrary(), fc.integer(), fc.integer({ min: 1, max: 20 }), (doc, seed, acts) => {
        const edit = randomEdit(doc, seed, acts);
        const after = apply(doc, edit);
        expect(plainDoc(apply(after, invert(edit)))).toEqual(plainDoc(doc));
      }),
      { numRuns: 200 },
    );
  });

  it('the difference of two documents leads from one to the other, and nothing else', () => {
    fc.assert(
      fc.property(docArbitrary(), fc.integer(), (doc, seed) => {
        const after = apply(doc, randomEdit(doc, seed, 8));
        const edit = diff(doc, after);
        expect(plainDoc(apply(doc, edit))).toEqual(plainDoc(after));
        expect(diff(after, after).steps).toEqual([]);
        expect(plainDoc(apply(after, diff(after, doc)))).toEqual(plainDoc(doc));
      }),
      { numRuns: 150 },
    );
  });

  it('survives JSON, as it is sent and stored', () => {
    const doc = docFromSeed(7, 20);
    const edit = randomEdit(doc, 3, 30);
    const back = editSchema.parse(JSON.parse(JSON.stringify(edit))) as Edit;
    expect(plainDoc(apply(doc, back))).toEqual(plainDoc(apply(doc, edit)));
  });

  it('refuses fields that would reach the prototype', () => {
    expect(
      editSchema.safeParse({ steps: [{ type: 'set', table: 'nodes', id: 'n', path: ['__proto__'], to: 1 }] }).success,
    ).toBe(false);
  });

  it('refuses a step whose old value is not there, and does nothing by halves', () => {
    const doc = sketchDoc().node('a', 'src').doc;
    const edit: Edit = {
      steps: [
        { type: 'set', table: 'nodes', id: 'a', path: ['x'], from: 0, to: 5 },
        { type: 'set', table: 'nodes', id: 'a', path: ['y'], from: 99, to: 5 },
      ],
    };
    expect(() => apply(doc, edit)).toThrow(StaleEdit);
    expect(doc.nodes.get('a')?.x).toBe(0);
  });

  it('shares what did not change', () => {
    const doc = docFromSeed(11, 20);
    const id = [...doc.nodes.keys()][0]!;
    const after = apply(doc, {
      steps: [{ type: 'set', table: 'nodes', id, path: ['x'], from: doc.nodes.get(id)!.x, to: 12345 }],
    });
    expect(after.wires).toBe(doc.wires);
    for (const [other, node] of doc.nodes) if (other !== id) expect(after.nodes.get(other)).toBe(node);
  });
});

describe('rebase', () => {
  const base = sketchDoc().node('a', 'src').node('b', 'add').node('c', 'end').wire('a.out', 'b.a').doc;
  const edit = (make: (tx: Transaction) => void): Edit => {
    const tx = new Transaction(base);
    make(tx);
    return tx.edit;
  };
  const onto = (mine: Edit, theirs: Edit) => rebase(mine, theirs, apply(base, theirs), testKinds);

  it('merges different fields, and different parameters of one node', () => {
    const mine = edit((tx) => {
      tx.set('nodes', 'a', 'label', 'Mine');
      tx.setParameter('a', 'value', 3);
    });
    const theirs = edit((tx) => {
      tx.move('a', 50, 60);
      tx.setParameter('a', 'other', 4);
    });
    const merged = onto(mine, theirs);
    expect(merged.conflicts).toEqual([]);
    expect(apply(apply(base, theirs), merged.edit).nodes.get('a')).toMatchObject({
      label: 'Mine',
      x: 50,
      y: 60,
      params: { value: 3, other: 4 },
    });
  });

  it('drops equal changes to one', () => {
    const both = edit((tx) => tx.set('nodes', 'a', 'label', 'Same'));
    const merged = onto(both, both);
    expect(merged).toMatchObject({ conflicts: [], edit: { steps: [] } });
  });

  it('reports one field changed by both, positions as one group', () => {
    const value = onto(
      edit((tx) => tx.set('nodes', 'a', 'label', 'M')),
      edit((tx) => tx.set('nodes', 'a', 'label', 'T')),
    );
    expect(value.conflicts.map((conflict) => conflict.kind)).toEqual(['value']);
    const place = onto(
      edit((tx) => tx.move('a', 1, 2)),
      edit((tx) => tx.move('a', 3, 4)),
    );
    expect(place.conflicts.map((conflict) => conflict.kind)).toEqual(['position', 'position']);
  });

  it('reports a deletion against a change inside, either way round', () => {
    const remove = edit((tx) => tx.remove('nodes', 'c'));
    const change = edit((tx) => tx.set('nodes', 'c', 'label', 'Kept'));
    expect(onto(remove, change).conflicts[0]?.kind).toBe('deleted');
    expect(onto(change, remove).conflicts[0]?.kind).toBe('deleted');
  });

  it('reports a wire to something deleted, either way round', () => {
    const wire = edit((tx) =>
      tx.add('wires', { id: 'w2', from: { node: 'b', port: 'out' }, to: { node: 'c', port: 'in' } }),
    );
    const remove = edit((tx) => tx.remove('nodes', 'c'));
    expect(onto(wire, remove).conflicts[0]?.kind).toBe('deleted');
    expect(onto(remove, wire).conflicts[0]?.kind).toBe('deleted');
  });

  it('reports two wires to one input, unless they say the same', () => {
    const wire = (id: string, from: string) =>
      edit((tx) => tx.add('wires', { id, from: { node: from, port: 'out' }, to: { node: 'b', port: 'b' } }));
    expect(onto(wire('w2', 'a'), wire('w3', 'c')).conflicts[0]?.kind).toBe('wire');
    expect(onto(wire('w2', 'a'), wire('w3', 'a'))).toMatchObject({ conflicts: [], edit: { steps: [] } });
  });

  it('numbers the later of two equal new names, and says so', () => {
    const add = (id: string) =>
      edit((tx) => tx.add('nodes', { id, graph: 'root', kind: 'src', name: 'Moon', x: 0, y: 0, ports: [] }));
    const merged = onto(add('m'), add('t'));
    expect(merged.conflicts).toEqual([]);
    const after = apply(apply(base, add('t')), merged.edit);
    expect([after.nodes.get('t')?.name, after.nodes.get('m')?.name]).toEqual(['Moon', 'Moon2']);
    expect(merged.notes[0]?.message).toContain('Moon2');
  });

  it('edits of different things merge to the same document in either order', () => {
    fc.assert(
      fc.property(docArbitrary(), fc.integer(), fc.integer(), (doc, one, two) => {
        const [mine, theirs] = [randomEdit(doc, one, 6), randomEdit(doc, two === one ? one + 1 : two, 6)];
        const [mineDone, theirsDone] = [apply(doc, mine), apply(doc, theirs)];
        const [over, under] = [rebase(mine, theirs, theirsDone, testKinds), rebase(theirs, mine, mineDone, testKinds)];
        fc.pre(over.conflicts.length === 0 && under.conflicts.length === 0);
        expect(plainDoc(apply(theirsDone, over.edit))).toEqual(plainDoc(apply(mineDone, under.edit)));
      }),
      { numRuns: 200 },
    );
  });
});

describe('undo of operations', () => {
  it('takes any operation back exactly', async () => {
    for (let seed = 1; seed <= 25; seed++) {
      const doc = docFromSeed(seed, 18);
      const items = [...doc.nodes.values()]
        .filter((node) => node.graph === 'root')
        .slice(0, 5)
        .map((node) => node.id);
      if (items.length < 3) continue;
      for (const id of [
        'arrange',
        'align-left',
        'align-middle',
        'distribute-y',
        'pin',
        'unpin',
        'delete',
        'delete-with-wires',
        'duplicate',
      ]) {
        const { edit } = await runOperation(id, createContext(testKinds, seed), doc, { graph: 'root', items });
        expect(plainDoc(apply(apply(doc, edit), invert(edit)))).toEqual(plainDoc(doc));
      }
    }
  });
});
