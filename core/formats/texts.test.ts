import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { attributesOf } from '../document/attributes.ts';
import { type Doc, indexOf, nodePath } from '../document/doc.ts';
import { writeDoc } from '../document/file.ts';
import { UnreadableFile } from '../document/unreadable.ts';
import { problems } from '../document/validate.ts';
import { docArbitrary, testKinds as kinds, sketchDoc } from '../tests/arbitrary.ts';
import type { FormatId } from './endings.ts';
import { formatById, readFile } from './formats.ts';

// Formats of plain text: what of a document is in them, and comes back.

const again = (id: FormatId, doc: Doc): Doc =>
  readFile(`x${formatById(id).extensions[0]}`, formatById(id).write(doc, kinds), kinds).doc;
const seen = (doc: Doc, graph?: string) =>
  [...doc.nodes.values()].flatMap((node) => (graph && node.graph !== graph ? [] : [node.label || node.name])).sort();

describe('Graph YAML', () => {
  it('holds any document whole', () => {
    fc.assert(
      fc.property(docArbitrary(12), (doc) => {
        expect(writeDoc(again('yaml', doc))).toBe(writeDoc(doc));
      }),
    );
  });

  it.each([
    ['a: [1, 2', 'not valid YAML'],
    ['a: &x 1\nb: 2', 'lacks "format"'],
    ['format: basitax-graph\na: &x [1]\nb: *x', 'refers to other parts of itself'],
    [`a: ${'['.repeat(200)}${']'.repeat(200)}`, 'not valid YAML'],
    ['!!js/function "x"', 'not valid YAML'],
  ])('refuses %.40j', (text, why) => {
    expect(() => readFile('a.yaml', text, kinds)).toThrow(UnreadableFile);
    expect(() => readFile('a.yaml', text, kinds)).toThrow(why);
  });
});

describe('GML', () => {
  it('holds what people see of nodes, their kinds, and who feeds whom', () => {
    fc.assert(
      fc.property(docArbitrary(12), (doc) => {
        const back = again('gml', doc);
        expect(problems(back)).toEqual([]);
        expect([back.nodes.size, back.wires.size]).toEqual([doc.nodes.size, doc.wires.size]);
        expect(seen(back)).toEqual(seen(doc));
        expect([...back.nodes.values()].map((node) => node.kind).sort()).toEqual(
          [...doc.nodes.values()].map((node) => node.kind).sort(),
        );
      }),
    );
  });

  // after the examples of Himsolt’s description of 1997, from memory
  it('reads nested lists, entities, comments and keys of others', () => {
    const { doc } = readFile(
      'a.gml',
      'Creator "someone"\n# tide\ngraph [ directed 1 comment "of &quot;the&quot; bay" node [ id 7 label "Ebb &#228;" depth 2.5 graphics [ x 100 y 50 w 40 h 20 fill "#aabbcc" type "oval" ] ] node [ id 8 ] edge [ source 7 target 8 weight 3 ] ]',
      kinds,
    );
    const node = doc.nodes.get('7')!;
    expect(node).toMatchObject({ label: 'Ebb ä', color: '#aabbcc', x: 80, y: 40 });
    expect(attributesOf(node)).toEqual({ depth: 2.5, graphics: { type: 'oval' } });
    expect([...doc.wires.values()].map(attributesOf)).toEqual([{ weight: 3 }]);
    expect(doc.graphs.get('root')!.attributes).toEqual({ comment: 'of "the" bay' });
  });

  it.each([
    ['graph [', 'ends within a list'],
    ['graph ]', 'closes nothing'],
    ['"x"', 'not valid GML'],
    ['node [ id 1 ]', 'holds no graph'],
    ['graph [ id ? ]', 'neither a key nor a value'],
  ])('refuses %j', (text, why) => {
    expect(() => readFile('a.gml', text, kinds)).toThrow(why);
  });
});

describe('node-link JSON', () => {
  it('holds what GML does, and attributes', () => {
    fc.assert(
      fc.property(docArbitrary(12), (doc) => {
        const back = again('nodelink', doc);
        expect([back.nodes.size, back.wires.size, seen(back)]).toEqual([doc.nodes.size, doc.wires.size, seen(doc)]);
        for (const node of doc.nodes.values()) {
          const other = [...back.nodes.values()].find((one) => (one.foreignId ?? one.id) === nodePath(doc, node))!;
          for (const [name, value] of Object.entries(attributesOf(node)))
            if (!['x', 'label', 'basitax'].includes(name)) expect(attributesOf(other)[name]).toEqual(value);
        }
      }),
    );
  });

  it('takes ends by ids, by objects, and by places in the list where nodes have no ids', () => {
    const ends = (text: string) =>
      [...readFile('a.nodelink.json', text, kinds).doc.wires.values()].map(({ from, to }) => `${from.node}-${to.node}`);
    expect(ends('{"nodes": [{"id": 4}, {"id": 9}], "links": [{"source": 9, "target": 4}]}')).toEqual(['9-4']);
    expect(ends('{"nodes": [{"name": "a"}, {"name": "b"}], "links": [{"source": 1, "target": 0}]}')).toEqual(['b-a']);
    expect(ends('{"nodes": ["a", "b"], "edges": [{"source": {"id": "a"}, "target": {"id": "b"}}]}')).toEqual(['a-b']);
    expect(() => readFile('a.nodelink.json', '{"nodes": 3, "links": []}', kinds)).toThrow('nodes and links');
  });
});

describe('Mermaid', () => {
  it('holds the outermost graph: what people see, wires, frames and flow', () => {
    fc.assert(
      fc.property(docArbitrary(12), (doc) => {
        const back = again('mermaid', doc);
        expect(problems(back)).toEqual([]);
        expect(seen(back)).toEqual(seen(doc, 'root'));
        expect([back.wires.size, back.frames.size]).toEqual([
          indexOf(doc).wiresIn('root').length,
          indexOf(doc).framesIn('root').length,
        ]);
      }),
    );
  });

  it('writes words of the language as names that it does not take for them', () => {
    const doc = sketchDoc()
      .node('a', 'src', { name: 'end' })
      .node('b', 'round', { name: 'graph', label: 'say "#1" <b>\nx' }).doc;
    const text = formatById('mermaid').write(doc, kinds);
    expect(text).toContain('end_');
    expect(text).not.toMatch(/^\s*end$/m);
    expect(seen(again('mermaid', doc))).toEqual(['end', 'say "#1" <b>\nx'].sort());
  });
});

describe('the outline', () => {
  it('tells every node, frame and note once, in plain words', () => {
    const doc = sketchDoc()
      .frame('f', { title: 'Night *rig*', note: 'Lit by the moon' })
      .node('a', 'src', { label: 'Ebb', frame: 'f' })
      .node('b', 'round', { x: 300, bypassed: true })
      .wire('a.out', 'b.in').doc;
    const text = formatById('outline').write(doc, kinds);
    expect(text).toContain('- Night \\*rig\\*: Lit by the moon');
    expect(text).toMatch(/\*\*b\*\* .*\(bypassed\).* ← Ebb|\*\*b\*\* .*← Ebb/);
    expect(text.startsWith('# ')).toBe(true);
    fc.assert(
      fc.property(docArbitrary(10), (any) => {
        const lines = formatById('outline').write(any, kinds).split('\n');
        expect(lines.filter((line) => /^\s*- \*\*/.test(line)).length).toBe(any.nodes.size);
      }),
    );
  });
});

describe('several graphs in a DOT file', () => {
  it('come back with what each says of itself, its nodes and edges', () => {
    const text = `digraph ebb { bgcolor=blue; node [fontsize=9, fixedsize=true]; a [shape=box, label="one\\ntwo"]; a -> b [weight=3] }
      strict graph "flood tide" { a -- c [color=red] }`;
    const { doc } = readFile('x.gv', text, kinds);
    const back = again('dot', doc);
    const told = (one: Doc) =>
      [...one.nodes.values()].map((node) => [node.label || node.name, attributesOf(node)]).sort();
    expect(told(back)).toEqual(told(doc));
    expect([...back.wires.values()].map(attributesOf)).toEqual([...doc.wires.values()].map(attributesOf));
    expect(
      [...back.graphs.values()].map(({ name, strict, undirected, attributes }) => ({
        name,
        strict,
        undirected,
        attributes,
      })),
    ).toEqual(
      [...doc.graphs.values()].map(({ name, strict, undirected, attributes }) => ({
        name,
        strict,
        undirected,
        attributes,
      })),
    );
  });
});
