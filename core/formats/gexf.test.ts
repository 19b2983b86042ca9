import fc from 'fast-check';
import { MultiGraph } from 'graphology';
import { parse, write } from 'graphology-gexf';
import { describe, expect, it } from 'vitest';
import type { Doc } from '../document/doc.ts';
import type { Wire } from '../document/schema.ts';
import { UnreadableFile } from '../document/unreadable.ts';
import { problems } from '../document/validate.ts';
import { docArbitrary, testKinds as kinds, sketchDoc } from '../tests/arbitrary.ts';
import { graphvizExamples } from '../tests/outside.ts';
import { formatOf, readFile, written } from './formats.ts';

const gexf = formatOf('reef.gexf');
const read = (text: string) => readFile('reef.gexf', text, kinds);

// after the hello world and the data example of the GEXF 1.3 primer (gexf.net), from memory
const primer = `<?xml version="1.0" encoding="UTF-8"?>
<gexf xmlns="http://gexf.net/1.3" xmlns:viz="http://gexf.net/1.3/viz" version="1.3">
  <meta lastmodifieddate="2009-03-20"><creator>Somebody</creator><description>A Web network</description></meta>
  <graph defaultedgetype="directed" mode="static">
    <attributes class="node">
      <attribute id="0" title="url" type="string"/>
      <attribute id="1" title="indegree" type="float"/>
      <attribute id="2" title="frog" type="boolean"><default>true</default></attribute>
    </attributes>
    <nodes>
      <node id="0" label="Hello &amp; co">
        <attvalues><attvalue for="0" value="http://a.example/?a=1&amp;b=2"/><attvalue for="1" value="1"/></attvalues>
        <viz:color r="239" g="173" b="66" a="0.6"/><viz:position x="15.783598" y="40.109245" z="0.0"/><viz:size value="2.0375757"/><viz:shape value="disc"/>
      </node>
      <node id="1" label="World"><attvalues><attvalue for="2" value="false"/></attvalues><viz:color hex="#FF7700"/></node>
    </nodes>
    <edges>
      <edge id="0" source="0" target="1" weight="2.5" kind="causes" label="is"/>
      <edge id="1" source="0" target="1" kind="follows"/>
      <edge source="1" target="9"/>
    </edges>
  </graph>
</gexf>`;

describe('GEXF of others', () => {
  it('takes labels, places, colours and edges; says what leads to nothing, and arranges what has no place', () => {
    const { doc, findings } = read(primer);
    const [hello, world] = [doc.nodes.get('0')!, doc.nodes.get('1')!];
    expect(hello).toMatchObject({
      name: 'Hello_co',
      label: 'Hello & co',
      x: 15.783598,
      y: 40.109245,
      color: '#efad42',
    });
    expect(world).toMatchObject({ name: 'World', color: '#ff7700' });
    expect(world.label).toBeUndefined();
    expect([...doc.wires.values()].map((wire) => `${wire.from.node} ${wire.to.node}`)).toEqual(['0 1', '0 1']);
    expect(findings.map((item) => item.rule)).toEqual(
      expect.arrayContaining(['wire-to-nothing', 'arranged-on-import', 'name']),
    );
    expect(problems(doc)).toEqual([]);
  });

  it('goes back with what was declared, values, sizes, weights and kinds as they came', () => {
    const text = gexf.write(read(primer).doc, kinds);
    for (const part of [
      '<attribute id="2" title="frog" type="boolean"><default>true</default></attribute>',
      '<attvalue for="0" value="http://a.example/?a=1&amp;b=2"/>',
      '<viz:color r="239" g="173" b="66" a="0.6"/>',
      '<viz:position x="15.783598" y="40.109245" z="0"/>',
      '<viz:size value="2.0375757"/>',
      '<viz:shape value="disc"/>',
      'label="Hello &amp; co"',
      'weight="2.5" kind="causes" label="is"',
    ])
      expect(text).toContain(part);
  });

  it('may be undirected, hold trees of nodes as version 1.2 did, and times: each is said', () => {
    const old = `<gexf xmlns="http://www.gexf.net/1.2draft" version="1.2"><graph mode="dynamic"><nodes>
      <node id="a" label="A"><nodes><node id="b" label="B"/></nodes><edges><edge id="x" source="a" target="b"/></edges></node>
      <node id="c" pid="a" label="C"><spells><spell start="2009-01-01"/></spells></node></nodes></graph></gexf>`;
    const { doc, findings } = read(old);
    expect([doc.nodes.size, doc.wires.size]).toEqual([3, 1]);
    expect(findings.map((item) => item.rule)).toEqual(expect.arrayContaining(['undirected', 'tree-of-nodes']));
  });

  it.each([
    ['<gpx/>', 'outermost element is <gpx>, not <gexf>'],
    ['<gexf/>', 'has no <graph>'],
    ['<gexf><graph></gexf>', 'not well-formed XML'],
    ['<!DOCTYPE gexf [<!ENTITY a "b">]><gexf/>', 'declares entities'],
  ])('refuses %j in one sentence', (text, why) => {
    expect(() => read(text)).toThrow(UnreadableFile);
    expect(() => read(text)).toThrow(why);
  });
});

describe('GEXF by the library graphology-gexf', () => {
  const other = (text: string) => parse(MultiGraph, text);
  const ends = (doc: Doc): string[] =>
    [...doc.wires.values()].map((wire) => `${wire.from.node} ${wire.to.node}`).sort();

  it('is read there with the same nodes, places, colours and edges', () => {
    fc.assert(
      fc.property(docArbitrary(15), (any) => {
        // “mutual” is a type that GEXF has and this reader does not
        const wires = [...any.wires].map(([id, { direction, ...wire }]): [string, Wire] => [
          id,
          { ...wire, ...(direction && direction !== 'both' && { direction }) },
        ]);
        const doc = { ...any, wires: new Map(wires) };
        const graph = other(gexf.write(doc, kinds));
        expect(graph.nodes().sort()).toEqual([...doc.nodes.keys()].sort());
        expect(graph.mapEdges((_edge, _attributes, source, target) => `${source} ${target}`).sort()).toEqual(ends(doc));
        for (const [id, node] of doc.nodes)
          expect(graph.getNodeAttributes(id)).toMatchObject({ x: node.x, y: node.y, label: node.label || node.name });
      }),
    );
    const colored = other(gexf.write(sketchDoc().node('a', 'src', { color: '#3366cc' }).doc, kinds));
    expect(colored.getNodeAttribute('a', 'color')).toBe('rgb(51,102,204)');
  });

  it('what it writes of graphs that nobody here drew comes back to it the same (graphviz-doc)', () => {
    for (const { name, text } of graphvizExamples()) {
      const { doc } = readFile(name, text, kinds);
      const theirs = new MultiGraph();
      for (const node of doc.nodes.values())
        theirs.addNode(node.id, {
          label: node.label ?? node.name,
          x: node.x,
          y: 1 - node.y,
          size: 3,
          depth: node.ports.length,
          color: 'rgb(10,20,30)',
        });
      for (const wire of doc.wires.values())
        theirs.addEdge(wire.from.node, wire.to.node, { weight: 2, stroke: wire.from.port });
      const before = write(theirs);
      const ours = read(before);
      expect(problems(ours.doc)).toEqual([]);
      const back = other(gexf.write(ours.doc, kinds));
      expect(back.order).toBe(theirs.order);
      for (const node of theirs.nodes())
        expect(back.getNodeAttributes(node)).toMatchObject(theirs.getNodeAttributes(node));
      expect(
        back.mapEdges((_edge, { weight, stroke }, source, target) => [source, target, weight, stroke]).sort(),
      ).toEqual(
        theirs.mapEdges((_edge, { weight, stroke }, source, target) => [source, target, weight, stroke]).sort(),
      );
    }
  });
});

it('GEXF brings nodes and wires back whole, and what it has no place for is named', () => {
  fc.assert(
    fc.property(docArbitrary(20), (doc) => {
      const { text, lost } = written(gexf, doc, kinds);
      const back = read(text).doc;
      expect(problems(back)).toEqual([]);
      expect(back.head.title).toBe(doc.head.title);
      for (const [id, { graph: _g, frame: _f, inner: _i, name: _n, ...node }] of doc.nodes)
        expect(back.nodes.get(id)).toMatchObject(node);
      for (const [id, wire] of doc.wires) expect(back.wires.get(id)).toEqual(wire);
      expect(lost.some((one) => /\d+ notes?$/.test(one))).toBe(doc.notes.size > 0);
      expect(lost.some((one) => /^\d+ frames?$/.test(one))).toBe(doc.frames.size > 0);
    }),
  );
  for (const color of ['#FF8800', 'teal', '#12c']) {
    const { text, lost } = written(gexf, sketchDoc().node('a', 'src', { color, label: 'a' }).doc, kinds);
    expect([read(text).doc.nodes.get('a'), lost]).toMatchObject([{ color, label: 'a' }, []]);
  }
});
