import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { z } from 'zod';
import type { Doc } from '../document/doc.ts';
import { UnreadableFile } from '../document/unreadable.ts';
import { docArbitrary, testKinds as kinds, sketchDoc } from '../tests/arbitrary.ts';
import { formats, readFile, written } from './formats.ts';
import { jsonAs } from './json-as.ts';
import { lostBetween } from './lost.ts';

describe('what is lost between two versions', () => {
  it('of a document and itself is nothing', () => {
    fc.assert(
      fc.property(docArbitrary(20), (doc) => {
        expect(lostBetween(doc, structuredClone(doc))).toEqual([]);
      }),
    );
  });

  it('names what is gone with its number, and nothing else', () => {
    fc.assert(
      fc.property(docArbitrary(20), (doc) => {
        const bare = { ...doc, frames: new Map(), notes: new Map() };
        const lost = lostBetween(doc, bare);
        const count = (size: number, thing: string): string[] =>
          size === 0 ? [] : [`${size} ${thing}${size === 1 ? '' : 's'}`];
        expect(lost).toEqual([...count(doc.frames.size, 'frame'), ...count(doc.notes.size, 'note')]);
      }),
    );
  });

  const doc = sketchDoc()
    .node('a', 'src', { label: 'Ebb', params: { value: 3 } })
    .node('b', 'round', { x: 300, color: '#336699' })
    .wire('a.out', 'b.in').doc;
  const changed = (id: string, more: object) => ({
    ...doc,
    nodes: new Map(doc.nodes).set(id, { ...doc.nodes.get(id)!, ...more }),
  });

  it.each([
    ['a label', changed('a', { label: undefined }), ['label of 1 node']],
    ['a value', changed('a', { params: { value: 4 } }), ['parameters of 1 node']],
    ['both places of one', changed('b', { x: 0, y: 9 }), ['place of 1 node']],
    [
      'a node with its wire',
      { ...doc, nodes: new Map([...doc.nodes].slice(0, 1)), wires: new Map() },
      ['1 node', '1 wire'],
    ],
    [
      'the id of a wire that is there all the same',
      { ...doc, wires: new Map([['other', { ...doc.wires.get('a.out>b.in')!, id: 'other' }]]) },
      ['ids of 1 wire'],
    ],
    ['the title', { ...doc, head: { ...doc.head, title: 'Another' } }, ['title']],
    [
      'the catalogue',
      { ...doc, head: { ...doc.head, catalogue: { id: 'none', version: 0 } } },
      ['which catalogue it is read with'],
    ],
    [
      'nothing where something came in',
      { ...doc, nodes: new Map(doc.nodes).set('c', { ...doc.nodes.get('a')!, id: 'c', name: 'c' }) },
      [],
    ],
    [
      'nothing where ports changed only their order',
      changed('b', { ports: [...doc.nodes.get('b')!.ports].reverse() }),
      [],
    ],
  ])('says %s', (_what, after, said) => {
    expect(lostBetween(doc, after as typeof doc)).toEqual(said);
  });

  /** Nodes that a format has no place for: those that are nested, or without a wire. */
  const losesNodes = (id: string, any: Doc): boolean => {
    const wired = new Set([...any.wires.values()].flatMap(({ from, to }) => [from.node, to.node]));
    return [...any.nodes.values()].some(
      (node) => (id === 'mermaid' && node.graph !== 'root') || (id === 'edges' && !wired.has(node.id)),
    );
  };

  it('is said of every format just as reading the file again shows it', () => {
    fc.assert(
      fc.property(docArbitrary(15), (any) => {
        for (const format of formats) {
          const { text, lost } = written(format, any, kinds);
          if (!format.read) expect(lost.join()).toMatch(/^everything but/);
          // where nodes have other ids in the file, what is lost is told by what they are called there
          else if (format.called) expect(lost.some((one) => /^\d+ nodes?$/.test(one))).toBe(losesNodes(format.id, any));
          else if (format.id !== 'json')
            expect(lost).toEqual(
              lostBetween(any, readFile(`${any.head.title}${format.extensions[0]}`, text, kinds).doc),
            );
          else expect([lost, lostBetween(any, readFile('x.graph.json', text, kinds).doc)]).toEqual([[], []]);
        }
      }),
      { numRuns: 30 },
    );
  });

  it.each(['graphml', 'jgf', 'materialx'])(
    'is nothing of any document in %s, but for fields of later versions in GraphML',
    (id) => {
      const format = formats.find((one) => one.id === id)!;
      fc.assert(
        fc.property(docArbitrary(20), (any) => {
          expect(
            written(format, any, kinds).lost.filter((one) => id !== 'graphml' || !one.startsWith('futureField')),
          ).toEqual([]);
        }),
        { numRuns: 60 },
      );
    },
  );
});

describe('JSON of a shape', () => {
  const shape = z.object({ steps: z.array(z.object({ do: z.string() })) });
  it('is given as it is', () =>
    expect(jsonAs(shape, '{"steps":[{"do":"arrange"}]}', 'recipe')).toEqual({ steps: [{ do: 'arrange' }] }));
  it.each([
    ['', /^this is not valid JSON: .+\.$/],
    ['{"steps":\n[}', /^(Line 2: )?this is not valid JSON: [^\n]+\.$/],
    ['{"steps":[{"do":7}]}', /^this is not a recipe: steps\.0\.do: .+\.$/],
    ['[]', /^this is not a recipe: the whole: .+\.$/],
  ])('that %j is not is said with the place, in one line', (text, said) => {
    expect(() => jsonAs(shape, text, 'recipe')).toThrow(UnreadableFile);
    expect(() => jsonAs(shape, text, 'recipe')).toThrow(said);
  });
});
