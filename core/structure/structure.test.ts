import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { builtin } from '../document/builtin.ts';
import { type Doc, indexOf } from '../document/doc.ts';
import { parseDoc } from '../document/file.ts';
import { frameRects } from '../document/geometry.ts';
import { idMaker } from '../document/ids.ts';
import { problems } from '../document/validate.ts';
import { Transaction } from '../edit/transaction.ts';
import { fingerprint } from '../inspect/fingerprint.ts';
import { Refused } from '../said.ts';
import { docArbitrary, sketchDoc, testKinds } from '../tests/arbitrary.ts';
import { Wiring } from '../wiring/wiring.ts';
import { copyText, type Paste, paste, readClipboard } from './clipboard.ts';
import { removeGraph, removeNodes, sourceAround } from './remove.ts';

const wiringFor = (doc: Doc) => new Wiring(new Transaction(doc), testKinds, idMaker(5));
const copied = (doc: Doc, items: readonly string[], graph = 'root') =>
  readClipboard(copyText(doc, testKinds, { graph, items }));
const pasted = (target: Doc, clip: ReturnType<typeof copied>, options: Partial<Paste> = {}) => {
  const tx = new Transaction(target);
  const result = paste(tx, testKinds, clip, { graph: 'root', incoming: true, newId: idMaker(77), ...options });
  return { ...result, doc: tx.doc };
};

describe('the clipboard', () => {
  it('is a whole document in the file format, and says so where it is none', () => {
    const { doc } = sketchDoc().node('a', 'src').node('b', 'round').wire('a.out', 'b.in');
    expect(parseDoc(copyText(doc, testKinds, { graph: 'root', items: ['a', 'b'] })).findings).toEqual([]);
    expect(() => copyText(doc, testKinds, { graph: 'root', items: [] })).toThrow(Refused);
    for (const text of ['', 'words', '{}', '[1]', '{"format":"basitax-graph","version":1}'])
      expect(() => readClipboard(text)).toThrow(/The clipboard holds no nodes/);
  });

  it('takes frames whose nodes are all chosen, with their places, and leaves others', () => {
    const { doc } = sketchDoc()
      .frame('f')
      .frame('g', { parent: 'f' })
      .node('a', 'src', { frame: 'g' })
      .node('b', 'src', { frame: 'g', x: 300 })
      .node('c', 'src', { frame: 'f', y: 300 });
    const whole = copied(doc, ['a', 'b']).doc;
    expect([...whole.frames.keys()]).toEqual(['g']);
    expect(whole.frames.get('g')).toMatchObject({ ...frameRects(doc, testKinds, 'root').get('g') });
    expect(whole.frames.get('g')?.parent).toBeUndefined();
    expect(copied(doc, ['a']).doc.frames.size).toBe(0);
    expect([...copied(doc, ['f']).doc.nodes.keys()].sort()).toEqual(['a', 'b', 'c']);
    const again = pasted(doc, copied(doc, ['f'])).doc;
    expect(again.frames.size).toBe(4);
    expect(problems(again)).toEqual([]);
  });

  it('takes nested graphs along whole, whose ports and wires follow the new ids', () => {
    const { doc } = sketchDoc()
      .graph('g')
      .node('s', 'src')
      .node('h', builtin.nested, {
        inner: 'g',
        ports: [
          { id: 'gi', name: 'i', type: 'num', direction: 'in' },
          { id: 'go', name: 'o', type: 'num', direction: 'out' },
        ],
      })
      .node('gi', builtin.input, { graph: 'g' })
      .node('m', 'add', { graph: 'g' })
      .node('go', builtin.output, { graph: 'g' })
      .node('r', 'round')
      .wire('s.out', 'h.gi')
      .wire('gi.out', 'm.b')
      .wire('m.out', 'go.in')
      .wire('h.go', 'r.in');
    const empty = sketchDoc().doc;
    const there = pasted(empty, copied(doc, ['s', 'h', 'r'])).doc;
    expect(problems(there)).toEqual([]);
    expect(fingerprint(there, testKinds)).toEqual(fingerprint(doc, testKinds));
    expect([...there.nodes.keys()].some((id) => doc.nodes.has(id))).toBe(false);
  });

  it('maps references in expressions among what is copied, and keeps those to the outside', () => {
    const value = {
      expression: ['2 * ', { node: 'a', parameter: 'value' }, ' + ', { node: 'far', parameter: 'value' }],
    };
    const { doc } = sketchDoc().node('far', 'src').node('a', 'src').node('b', 'src', { params: { value } });
    const { doc: there, select } = pasted(doc, copied(doc, ['a', 'b']));
    const copy = select.map((id) => there.nodes.get(id)!).find((node) => node.params)!;
    const original = select.find((id) => there.nodes.get(id)!.name === 'a2')!;
    expect(copy.params).toEqual({
      value: {
        expression: ['2 * ', { node: original, parameter: 'value' }, ' + ', { node: 'far', parameter: 'value' }],
      },
    });
  });

  it('keeps taps with their beacon: the copied one, else the one that is there, else the name', () => {
    const { doc } = sketchDoc()
      .node('b', builtin.beacon, { name: 'Moon' })
      .node('t', builtin.tap, { beacon: { id: 'b', name: 'Moon' } });
    const both = pasted(doc, copied(doc, ['b', 't']));
    const tap = both.select.map((id) => both.doc.nodes.get(id)!).find((node) => node.kind === builtin.tap)!;
    expect(both.doc.nodes.get(tap.beacon!.id!)).toMatchObject({ kind: builtin.beacon, name: 'Moon2' });
    expect(pasted(doc, copied(doc, ['t'])).findings).toEqual([]);
    const elsewhere = pasted(sketchDoc().node('x', 'src').doc, copied(doc, ['t']));
    expect(elsewhere.findings[0]?.message).toContain('“Moon”');
  });

  it('brings wires in from outside where their sources still are, and lists those that it cannot', () => {
    const { doc } = sketchDoc().node('a', 'src').node('b', 'round').wire('a.out', 'b.in');
    const here = pasted(doc, copied(doc, ['b']));
    expect(indexOf(here.doc).wireInto(here.select[0]!, 'in')?.from.node).toBe('a');
    const there = pasted(sketchDoc().doc, copied(doc, ['b']));
    expect(there.findings.map((item) => item.rule)).toEqual(['wire-lost']);
    expect(pasted(doc, copied(doc, ['b']), { incoming: false }).doc.wires.size).toBe(1);
  });

  it('puts the top-left corner where it is asked to, and never on something alike', () => {
    fc.assert(
      fc.property(
        docArbitrary(10),
        fc.integer({ min: -500, max: 500 }),
        fc.integer({ min: -500, max: 500 }),
        (doc, x, y) => {
          const items = indexOf(doc)
            .nodesIn('root')
            .map((node) => node.id);
          fc.pre(items.length > 0);
          const { doc: after, select } = pasted(doc, copied(doc, items), { at: { x, y } });
          const fresh = select.flatMap((id) => after.nodes.get(id) ?? []);
          const old = new Set(items.map((id) => `${doc.nodes.get(id)!.x} ${doc.nodes.get(id)!.y}`));
          for (const node of fresh) expect(old.has(`${node.x} ${node.y}`)).toBe(false);
          const left = Math.min(
            ...fresh.map((node) => node.x),
            ...select.flatMap((id) => after.notes.get(id)?.x ?? []),
          );
          expect(left).toBeGreaterThanOrEqual(x - 0.5);
        },
      ),
      { numRuns: 80 },
    );
  });
});

describe('removing', () => {
  it('leaves nothing of a nested graph, however deep', () => {
    const { doc } = sketchDoc()
      .graph('g')
      .graph('h')
      .frame('f', { graph: 'h' })
      .node('outer', builtin.nested, { inner: 'g' })
      .node('inner', builtin.nested, { graph: 'g', inner: 'h' })
      .node('x', 'src', { graph: 'h', frame: 'f' })
      .node('y', 'round', { graph: 'h' })
      .wire('x.out', 'y.in');
    const tx = new Transaction(doc);
    removeGraph(tx, doc, 'g');
    expect([tx.doc.graphs.size, tx.doc.nodes.size, tx.doc.wires.size, tx.doc.frames.size]).toEqual([1, 1, 0, 0]);
  });

  it('follows the pass rule through a whole chain, and carries a switched-off wire along', () => {
    const { doc } = sketchDoc()
      .node('a', 'src')
      .node('m', 'add')
      .node('n', 'add')
      .node('r', 'round')
      .wire('a.out', 'm.b', { off: true })
      .wire('m.out', 'n.b')
      .wire('n.out', 'r.in');
    const wiring = wiringFor(doc);
    expect(sourceAround(wiring, new Set(['m', 'n']), { node: 'n', port: 'out' })).toEqual({
      source: { node: 'a', port: 'out' },
      off: true,
    });
    expect(sourceAround(wiring, new Set(['a', 'm', 'n']), { node: 'n', port: 'out' })).toBeUndefined();
    const { tx } = wiring;
    expect(removeNodes(wiring, [doc.nodes.get('m')!, doc.nodes.get('n')!], true)).toEqual([]);
    expect([...tx.doc.wires.values()]).toMatchObject([{ from: { node: 'a' }, to: { node: 'r' }, off: true }]);
  });

  it('ends where deleted nodes pass in a loop', () => {
    const { doc } = sketchDoc()
      .node('m', 'add')
      .node('n', 'add')
      .node('r', 'round')
      .wire('m.out', 'n.b')
      .wire('n.out', 'm.b')
      .wire('n.out', 'r.in');
    const wiring = wiringFor(doc);
    const { tx } = wiring;
    expect(removeNodes(wiring, [doc.nodes.get('m')!, doc.nodes.get('n')!], true)).toEqual([]);
    expect(tx.doc.wires.size).toBe(0);
  });

  it('unties notes from what goes', () => {
    const base = sketchDoc().node('a', 'src').doc;
    const doc: Doc = {
      ...base,
      notes: new Map([
        ['t', { id: 't', graph: 'root', x: 0, y: 0, width: 9, height: 9, text: 'See here', tiedTo: 'a' }],
      ]),
    };
    const wiring = wiringFor(doc);
    const { tx } = wiring;
    removeNodes(wiring, [doc.nodes.get('a')!], true);
    expect(tx.doc.notes.get('t')).not.toHaveProperty('tiedTo');
  });
});
