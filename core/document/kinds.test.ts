import Ajv2020 from 'ajv/dist/2020.js';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { docArbitrary, docFromSeed, sketchDoc, testCatalogue, testKinds } from '../tests/arbitrary.ts';
import { builtin, builtinKinds, foreignKind } from './builtin.ts';
import { caption, type Doc, graphPath, indexOf, placeOf, selectedOrAll, tableOf } from './doc.ts';
import { fileJsonSchema, writeDoc } from './file.ts';
import { Kinds } from './kinds.ts';
import type { GraphNode, Port } from './schema.ts';

const port = (id: string, type: string, direction: 'in' | 'out' = 'in'): Port => ({ id, name: id, type, direction });
const node = (kind: string, ports: Port[], more: Partial<GraphNode> = {}): GraphNode => ({
  id: 'n',
  graph: 'root',
  kind,
  name: 'n',
  x: 0,
  y: 0,
  ports,
  ...more,
});

describe('the pass rule, case by case', () => {
  // worked by hand from the rule: named by the kind; else first of exactly the type, wired or not; else first
  // assignable; else none
  it.each([
    ['named by the kind', node('add', testKinds.startPorts('add')), 'out', 'b'],
    [
      'first of exactly the type',
      node('x', [port('a', 'int'), port('b', 'col'), port('c', 'col'), port('o', 'col', 'out')]),
      'o',
      'b',
    ],
    [
      'exact before assignable, though it comes later',
      node('x', [port('a', 'num'), port('b', 'col'), port('o', 'col', 'out')]),
      'o',
      'b',
    ],
    [
      'assignable where none is exact',
      node('x', [port('a', 'int'), port('b', 'num'), port('o', 'col', 'out')]),
      'o',
      'b',
    ],
    ['an input for anything', node('x', [port('a', 'any'), port('o', 'col', 'out')]), 'o', 'a'],
    ['none that fits', node('x', [port('a', 'col'), port('o', 'num', 'out')]), 'o', undefined],
    ['no inputs at all', node('src', testKinds.startPorts('src')), 'out', undefined],
    ['an output that is not there', node('add', testKinds.startPorts('add')), 'nope', undefined],
    ['reroute points', node(builtin.reroute, testKinds.startPorts(builtin.reroute)), 'out', 'in'],
    [
      'unknown kinds, from their ports',
      node('later.kind', [port('p', 'exotic'), port('q', 'exotic', 'out')]),
      'q',
      'p',
    ],
    [
      'a named input that the node lacks: the rule goes on',
      node('add', [port('a', 'num'), port('out', 'num', 'out')]),
      'out',
      'a',
    ],
  ])('%s', (_what, bypassed, output, input) => {
    expect(testKinds.passInput(bypassed, output)?.id).toBe(input);
  });
});

describe('kinds', () => {
  it('has the kinds that every catalogue has, none of which computes', () => {
    expect(builtinKinds.map((kind) => kind.id).sort()).toEqual(Object.values(builtin).sort());
    expect(new Set([...builtinKinds, ...testCatalogue.kinds].map((kind) => kind.code)).size).toBe(
      builtinKinds.length + testCatalogue.kinds.length,
    );
    expect(testKinds.all()).toHaveLength(builtinKinds.length - 1 + testCatalogue.kinds.length);
  });

  it('answers for unknown kinds and types with what it has', () => {
    expect([testKinds.code('water.surface'), testKinds.code('?'), testKinds.title('water.surface')]).toEqual([
      'WA',
      '??',
      'water.surface',
    ]);
    expect(testKinds.category('water.surface').title).toBe('Unknown');
    expect([testKinds.title(foreignKind), testKinds.code(foreignKind), testKinds.category(foreignKind).title]).toEqual([
      'Imported node',
      'IM',
      'Imported',
    ]);
    expect(testKinds.type('exotic')).toMatchObject({ id: 'exotic', hue: 0 });
    expect(() => testKinds.startPorts('water.surface')).toThrow(/has no kind “water.surface”/);
  });

  it('grows numbered ports in a row, whatever numbers are there', () => {
    const grown = node('sum', [port('in1', 'num'), port('in4', 'num'), port('out', 'num', 'out')]);
    expect(testKinds.grownPort(grown, 'in4')).toMatchObject({ id: 'in5', type: 'num', direction: 'in' });
    expect(testKinds.grownPort(node('add', testKinds.startPorts('add')), 'a')).toBeUndefined();
    expect(testKinds.feedable(node('tint', testKinds.startPorts('tint')), 'amount')).toBe(true);
    expect(testKinds.feedable(node('tint', testKinds.startPorts('tint')), 'base')).toBe(false);
  });

  it('gives what counts for the function: defaults in, cosmetic ones out, unknown ones kept, numbers by type', () => {
    const whole = new Kinds({
      ...testCatalogue,
      kinds: [
        {
          ...testCatalogue.kinds[0]!,
          parameters: [
            { id: 'n', title: 'N', type: 'integer', default: 2, main: false, cosmetic: false },
            { id: 'c', title: 'C', type: 'color', default: '#FFFFFF', main: false, cosmetic: false },
            { id: 'm', title: 'M', type: 'text', default: '', main: false, cosmetic: true },
          ],
        },
      ],
    });
    expect(whole.functionValues(node('src', [], { params: { n: 3.0000001, later: [1] } }))).toEqual({
      n: 3,
      c: '#ffffff',
      later: [1],
    });
    expect(whole.value(node('src', []), 'n')).toBe(2);
    expect(whole.isEnd(node('end', [])) || testKinds.isEnd(node('end', [], { bypassed: true }))).toBe(false);
    expect(testKinds.isEnd(node('end', []))).toBe(true);
  });

  it.each([
    ['integer', 3, 2.5, 'a whole number'],
    ['boolean', true, 'yes', 'yes or no'],
    ['choice', 'a', 'z', 'one of a, b'],
    ['vector', [1, 2], [1, 'x'], 'a row of numbers'],
    ['color', '#12ab9F', 'red', 'a colour'],
    ['path', 'cache/x', 7, 'text'],
  ] as const)('takes the right values for %s, and says what is wrong with others', (type, right, wrong, words) => {
    const kinds = new Kinds({
      ...testCatalogue,
      kinds: [
        {
          ...testCatalogue.kinds[0]!,
          parameters: [{ id: 'p', title: 'P', type, choices: ['a', 'b'], default: null, main: false, cosmetic: false }],
        },
      ],
    });
    expect(kinds.valueProblem('src', 'p', right as never)).toBeUndefined();
    expect(kinds.valueProblem('src', 'p', wrong as never)?.message).toContain(words);
    expect(kinds.valueProblem('src', 'unknown', wrong as never)).toBeUndefined();
  });
});

describe('the index of a document', () => {
  it('answers as a look at everything does', () => {
    fc.assert(
      fc.property(docArbitrary(30), (doc) => {
        const index = indexOf(doc);
        const wires = [...doc.wires.values()];
        for (const one of doc.nodes.values()) {
          expect(
            index
              .wiresOf(one.id)
              .map((wire) => wire.id)
              .sort(),
          ).toEqual(
            wires
              .filter((wire) => wire.from.node === one.id || wire.to.node === one.id)
              .map((wire) => wire.id)
              .sort(),
          );
          for (const own of one.ports) {
            if (own.direction === 'in')
              expect(index.wireInto(one.id, own.id)).toBe(
                wires.find((wire) => wire.to.node === one.id && wire.to.port === own.id),
              );
            else
              expect(index.wiresOutOf(one.id, own.id)).toHaveLength(
                wires.filter((wire) => wire.from.node === one.id && wire.from.port === own.id).length,
              );
          }
        }
        const counted = [...doc.graphs.keys()].reduce((sum, graph) => sum + index.nodesIn(graph).length, 0);
        expect(counted).toBe(doc.nodes.size);
        for (const frame of doc.frames.keys())
          expect(index.membersOf(frame)).toEqual(
            [...doc.nodes.values()]
              .filter((one) => one.frame === frame)
              .sort((a, b) => index.nodesIn(a.graph).indexOf(a) - index.nodesIn(b.graph).indexOf(b)),
          );
        expect(indexOf(doc)).toBe(index);
      }),
    );
  });

  it('knows paths, places, tables and captions', () => {
    const doc: Doc = sketchDoc()
      .graph('g')
      .graph('h')
      .node('outer', 'std.nested', { inner: 'g' })
      .node('inner', 'std.nested', { inner: 'h', graph: 'g' })
      .node('deep', 'src', { graph: 'h', label: 'Deep one' }).doc;
    expect(graphPath(doc, 'h')).toEqual(['root', 'g', 'h']);
    expect(placeOf(doc, 'h', 'deep')).toEqual(['outer', 'inner', 'deep']);
    expect([tableOf(doc, 'g'), tableOf(doc, 'deep'), tableOf(doc, 'nothing')]).toEqual(['graphs', 'nodes', undefined]);
    expect([caption(doc.nodes.get('deep')!), caption(doc.nodes.get('inner')!)]).toEqual(['Deep one', 'inner']);
    expect(selectedOrAll(doc, { graph: 'g', items: [] }).map((one) => one.id)).toEqual(['inner']);
  });
});

describe('the JSON Schema of the file (checked with Ajv, an independent validator)', () => {
  const validate = new Ajv2020({ strict: false }).compile(fileJsonSchema());

  it('accepts every document that we write', () => {
    fc.assert(
      fc.property(docArbitrary(20), (doc) => {
        expect(validate(JSON.parse(writeDoc(doc))), JSON.stringify(validate.errors)).toBe(true);
      }),
      { numRuns: 60 },
    );
  });

  it.each([
    ['another format', (raw: Record<string, unknown>) => ({ ...raw, format: 'other' })],
    ['no root', ({ root: _, ...raw }: Record<string, unknown>) => raw],
    [
      'a node without ports',
      (raw: Record<string, unknown>) => ({
        ...raw,
        nodes: (raw.nodes as object[]).map((one) => ({ ...one, ports: undefined })),
      }),
    ],
    [
      'a place that is text',
      (raw: Record<string, unknown>) => ({
        ...raw,
        nodes: (raw.nodes as object[]).map((one) => ({ ...one, x: 'left' })),
      }),
    ],
  ])('refuses %s', (_what, spoil) => {
    const raw = JSON.parse(writeDoc(docFromSeed(4, 6))) as Record<string, unknown>;
    expect(validate(JSON.parse(JSON.stringify(spoil(raw))))).toBe(false);
  });

  it('names the kinds that read a file by its ending, where they have a path to put it in', () => {
    const path = {
      ...testCatalogue.kinds[0]!.parameters[0]!,
      id: 'file',
      title: 'File',
      type: 'path' as const,
      default: '',
    };
    const own = new Kinds({
      ...testCatalogue,
      kinds: [
        { ...testCatalogue.kinds[0]!, id: 'tide', code: 'Ta', reads: ['csv', 'tide'], parameters: [path] },
        { ...testCatalogue.kinds[0]!, id: 'sea', code: 'Sa', reads: ['csv'], parameters: [] },
      ],
    });
    expect(own.readers('moon.TIDE').map((kind) => kind.id)).toEqual(['tide']);
    expect(own.readers('moon.csv').map((kind) => kind.id)).toEqual(['tide']);
    expect(own.readers('csv')).toEqual([]);
    expect(own.readers('moon.wav')).toEqual([]);
    expect([own.pathParameter('tide')?.id, own.pathParameter('sea')]).toEqual(['file', undefined]);
  });
});
