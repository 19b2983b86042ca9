import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type Doc, indexOf } from '../document/doc.ts';
import { writeDoc } from '../document/file.ts';
import { UnreadableFile } from '../document/unreadable.ts';
import { problems } from '../document/validate.ts';
import { fingerprint } from '../inspect/fingerprint.ts';
import { docArbitrary, testKinds as kinds } from '../tests/arbitrary.ts';
import { graphvizExamples } from '../tests/outside.ts';
import { formatOf, readFile } from './formats.ts';

const read = (text: string) => readFile('reef.jgf.json', text, kinds);
const write = (doc: Doc): string => formatOf('reef.jgf.json').write(doc, kinds);

describe('JSON Graph Format of others', () => {
  // after the examples of the format’s own page (jsongraphformat.info), from memory
  const single = JSON.stringify({
    graph: {
      id: 'usual',
      label: 'Car factory links',
      directed: true,
      type: 'car-sets',
      metadata: { made: 2017 },
      nodes: {
        nissan: { label: 'Nissan', metadata: { x: 40, y: 80 } },
        infiniti: { label: 'Infiniti line', metadata: { x: 400, y: 80 } },
        toyota: {},
      },
      edges: [
        {
          id: 'e7',
          source: 'nissan',
          target: 'infiniti',
          relation: 'has_luxury_division',
          label: 'makes',
          metadata: { since: 1989 },
        },
        { source: 'toyota', target: 'nissan', directed: false },
        { source: 'toyota', target: 'nobody' },
      ],
    },
  });

  it('takes labels, places, edges and what they relate; says what leads to nothing, and arranges what has no place', () => {
    const { doc, findings } = read(single);
    expect(doc.head.title).toBe('Car factory links');
    expect([...doc.nodes.values()].map(({ name, label }) => [name, label])).toEqual([
      ['Nissan', undefined],
      ['Infiniti_line', 'Infiniti line'],
      ['toyota', undefined],
    ]);
    expect([doc.nodes.get('nissan')!.x, doc.nodes.get('infiniti')!.x]).toEqual([40, 400]);
    expect([...doc.wires.values()].map((wire) => `${wire.from.node} ${wire.to.node}`)).toEqual([
      'nissan infiniti',
      'toyota nissan',
    ]);
    expect(findings.map((item) => item.rule)).toContain('wire-to-nothing');
  });

  it('goes back with relations, labels and metadata as they came', () => {
    const { graph } = JSON.parse(write(read(single).doc));
    expect(graph).toMatchObject({ label: 'Car factory links', directed: true, metadata: { made: 2017 } });
    expect(graph.nodes.nissan).toMatchObject({ label: 'Nissan', metadata: { x: 40, y: 80 } });
    expect(graph.edges[0]).toMatchObject({
      id: 'e7',
      source: 'nissan',
      target: 'infiniti',
      relation: 'has_luxury_division',
      label: 'makes',
      metadata: { since: 1989 },
    });
    expect(graph.edges[1]).toMatchObject({ source: 'toyota', target: 'nissan', directed: false });
    expect('id' in graph.edges[1]).toBe(false);
  });

  it('may hold several graphs, nodes as a list, and hyperedges: said where something is left out', () => {
    const several = read(
      JSON.stringify({
        graphs: [
          {
            nodes: [{ id: 'a' }, { id: 'b' }],
            edges: [{ source: 'a', target: 'b' }],
            hyperedges: [{ nodes: ['a', 'b'] }],
          },
          {},
        ],
      }),
    );
    expect([several.doc.nodes.size, several.doc.wires.size]).toEqual([2, 1]);
    expect(several.findings.map((item) => item.rule)).toEqual(['more-graphs', 'hyperedges', 'arranged-on-import']);
    expect(read('{"graphs": {"one": {"nodes": {"a": {}}}}}').doc.nodes.size).toBe(1);
  });

  it.each([
    ['{', /not valid JSON/],
    ['{"node": []}', /has no "graph" or "graphs"/],
    ['{"graph": {"edges": [{"source": "a"}]}}', /graph\.edges\.0\.target/],
    ['{"graph": {"type": "basitax-graph", "metadata": {"basitax": {}}}}', /by Basitax: graph\.metadata\.basitax\.head/],
  ])('says what is wrong with %j', (text, sentence) => {
    expect(() => read(text)).toThrow(UnreadableFile);
    expect(() => read(text)).toThrow(sentence);
  });
});

describe('JSON Graph Format of ours', () => {
  it('has what the format asks of a graph, its nodes and edges, and brings any document back whole', () => {
    fc.assert(
      fc.property(docArbitrary(16), (doc) => {
        const text = write(doc);
        const { graph } = JSON.parse(text);
        for (const edge of graph.edges)
          expect([edge.source in graph.nodes, edge.target in graph.nodes]).toEqual([true, true]);
        for (const node of Object.values<{ label: unknown; metadata: unknown }>(graph.nodes))
          expect([typeof node.label, typeof node.metadata]).toEqual(['string', 'object']);
        expect(writeDoc(read(text).doc)).toBe(writeDoc(doc));
      }),
    );
  });

  it('carries graphs that nobody here wrote, there and back (graphviz-doc)', () => {
    const examples = graphvizExamples();
    expect(examples.length).toBeGreaterThan(20);
    for (const { name, text } of examples) {
      const { doc } = readFile(name, text, kinds);
      const after = read(write(doc)).doc;
      expect(writeDoc(after)).toBe(writeDoc(doc));
      expect(fingerprint(after, kinds)).toEqual(fingerprint(doc, kinds));
    }
  });

  it('takes what others changed on the way: a place, an edge that is gone, one that is new', () => {
    fc.assert(
      fc.property(docArbitrary(10), (doc) => {
        const file = JSON.parse(write(doc));
        const [first] = Object.keys(file.graph.nodes);
        if (first === undefined) return;
        file.graph.nodes[first].metadata.x = 1234;
        file.graph.edges = [];
        const after = read(JSON.stringify(file)).doc;
        expect(after.nodes.get(first)!.x).toBe(1234);
        expect([after.wires.size, problems(after)]).toEqual([0, []]);
        expect(indexOf(after).nodesIn('root').length).toBe(indexOf(doc).nodesIn('root').length);
      }),
    );
  });
});
