import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { builtin } from '../document/builtin.ts';
import { type Doc, indexOf } from '../document/doc.ts';
import { writeDoc } from '../document/file.ts';
import { overlaps, portPoint, rectOf } from '../document/geometry.ts';
import { UnreadableFile } from '../document/unreadable.ts';
import { problems } from '../document/validate.ts';
import { docArbitrary, plainDoc, sketchDoc, testKinds } from '../tests/arbitrary.ts';
import { formatById, formatOf, readFile, titleOf } from './formats.ts';

const read = (text: string) => readFile('theirs.graphml', text, testKinds);
const write = (doc: Doc) => formatById('graphml').write(doc, testKinds);
const wrap = (body: string, keys = '') =>
  `<?xml version="1.0" encoding="UTF-8"?>\n<graphml xmlns="http://graphml.graphdrawing.org/xmlns">${keys}<graph id="G" edgedefault="directed">${body}</graph></graphml>`;
/** A node with one of the keys that our own namespace declares. */
const ours = (data: string, name: string) =>
  `<graphml xmlns:b="urn:basitax:graphml"><key id="${name}" for="node" attr.name="${name}" b:key="${name}"/><graph id="G"><node id="a">${data}</node></graph></graphml>`;
const rules = (text: string) => read(text).findings.map((item) => item.rule);

// Brandes, Eiglsperger & Lerner, “GraphML primer”: simple graph, attributes with default, nested graph, ports. From
// memory.
const primer = {
  attributes: `<?xml version="1.0" encoding="UTF-8"?>
<graphml xmlns="http://graphml.graphdrawing.org/xmlns" xmlns:xsi="http://www.w3.org/2001/XMLSchema-instance" xsi:schemaLocation="http://graphml.graphdrawing.org/xmlns http://graphml.graphdrawing.org/xmlns/1.0/graphml.xsd">
  <key id="d0" for="node" attr.name="color" attr.type="string"><default>yellow</default></key>
  <key id="d1" for="edge" attr.name="weight" attr.type="double"/>
  <graph id="G" edgedefault="undirected">
    <node id="n0"><data key="d0">green</data></node>
    <node id="n1"/>
    <node id="n2"><data key="d0">blue</data></node>
    <edge id="e0" source="n0" target="n2"><data key="d1">1.0</data></edge>
    <edge id="e1" source="n0" target="n1"><data key="d1">1.0</data></edge>
    <edge id="e2" source="n1" target="n2"/>
  </graph>
</graphml>`,
  ports: wrap(`
    <node id="n0"><port name="North"/><port name="South"/><port name="East"/><port name="West"/></node>
    <node id="n1"><port name="North"/><port name="South"/></node>
    <edge source="n0" target="n1" sourceport="North" targetport="South"/>
    <edge source="n1" target="n0" sourceport="North" targetport="East"/>`),
  nested: wrap(`
    <node id="n0"/>
    <node id="n5"><graph id="n5:" edgedefault="directed"><node id="n5::n0"/><node id="n5::n1"/><edge id="e0" source="n5::n0" target="n5::n1"/></graph></node>
    <edge id="e1" source="n0" target="n5"/>
    <edge id="e2" source="n0" target="n5::n1"/>
    <edge id="e3" source="n5::n0" target="n0"/>`),
};

describe('GraphML of others', () => {
  it('reads attributes and defaults, keeps ids, and carries unknown keys there and back', () => {
    const { doc } = read(primer.attributes);
    expect([...doc.nodes.keys()].sort()).toEqual(['n0', 'n1', 'n2']);
    expect([...doc.wires.keys()].sort()).toEqual(['e0', 'e1', 'e2']);
    expect(doc.nodes.get('n0')?.color).toBe('green');
    expect(doc.nodes.get('n1')?.color).toBe('yellow');
    const back = write(doc);
    expect(back).toContain('xsi:schemaLocation=');
    expect(back).toMatch(/<key id="d1" for="edge" attr.name="weight" attr.type="double"\/>/);
    expect(back).toMatch(/<edge id="e0"[^>]*>\s*<data key="d1">1<\/data>/);
    expect(rules(primer.attributes)).toContain('undirected');
  });

  it('puts ports on the side that their edges say, and keeps their names', () => {
    const { doc } = read(primer.ports);
    const sides = Object.fromEntries(doc.nodes.get('n0')!.ports.map((port) => [port.id, port.direction]));
    expect(sides).toMatchObject({ North: 'out', East: 'in' });
    const back = write(doc);
    expect(back).toMatch(/source="n0" target="n1" sourceport="North" targetport="South"/);
    expect(back).not.toContain('<edge id=');
    expect((back.match(/<port name=/g) ?? []).length).toBe(6);
  });

  it('gives edges that cross levels boundary ports, and says so', () => {
    const { doc, findings } = read(primer.nested);
    expect(problems(doc)).toEqual([]);
    expect(findings.filter((item) => item.rule === 'wire-over-border')).toHaveLength(2);
    const inner = doc.nodes.get('n5')!.inner!;
    const kinds = indexOf(doc)
      .nodesIn(inner)
      .map((node) => node.kind);
    expect(kinds).toEqual(expect.arrayContaining([builtin.input, builtin.output]));
    // the host has the port of edge e1, which named none, and one for each boundary node
    expect(doc.nodes.get('n5')!.ports).toHaveLength(3);
    expect(doc.wires.get('e2')?.to.node).toBe('n5::n1');
  });

  it('gives edges that name no port one output of their node, and an input each', () => {
    const edges = ['b', 'c', 'd']
      .map((to) => `<edge source="a" target="${to}"/><edge source="${to}" target="e"/>`)
      .join('');
    const nodes = ['a', 'b', 'c', 'd', 'e'].map((id) => `<node id="${id}"/>`).join('');
    const { doc } = readFile(
      't.graphml',
      `<graphml><graph id="G" edgedefault="directed">${nodes}${edges}</graph></graphml>`,
      testKinds,
    );
    const count = (id: string, side: string) =>
      doc.nodes.get(id)!.ports.filter((port) => port.direction === side).length;
    expect([count('a', 'out'), count('e', 'in')]).toEqual([1, 3]);
  });

  it('names no port where the edge named none, there and back, though each edge has a port of its own here', () => {
    const { doc } = read(
      wrap(
        '<node id="a"/><node id="b"/><node id="c"/><edge source="a" target="c"/><edge source="b" target="c"/><edge source="b" target="c"/>',
      ),
    );
    expect(doc.nodes.get('c')?.ports.filter((port) => port.direction === 'in')).toHaveLength(3);
    expect(problems(doc)).toEqual([]);
    const back = write(doc);
    expect(back).not.toContain('targetport');
    expect(back).not.toContain('<port');
    expect((back.match(/<edge source="b" target="c">/g) ?? []).length).toBe(2);
  });

  it('arranges nodes without a position, and only those', () => {
    const keys =
      '<key id="x" for="node" attr.name="x" attr.type="double"/><key id="y" for="node" attr.name="y" attr.type="double"/>';
    const place = (x: number, y: number) => `<data key="x">${x}</data><data key="y">${y}</data>`;
    const { doc, findings } = read(
      wrap(
        `<node id="a">${place(700, 40)}</node><node id="b"/><node id="c"/><edge source="a" target="b"/><edge source="b" target="c"/>`,
        keys,
      ),
    );
    expect(doc.nodes.get('a')).toMatchObject({ x: 700, y: 40 });
    expect(findings.map((item) => item.rule)).toContain('arranged-on-import');
    const rects = ['a', 'b', 'c'].map((id) => rectOf(doc, testKinds, doc.nodes.get(id)!));
    rects.forEach((r, i) => rects.slice(i + 1).forEach((other) => expect(overlaps(r, other)).toBe(false)));
  });

  it('carries markup in data of others as it stands', () => {
    const shape = '<v:Box w="3"><v:Fill tone="a &amp; b"/></v:Box>';
    const { doc } = read(
      wrap(`<node id="a"><data key="look">${shape}</data></node>`, '<key id="look" for="node" attr.name="look"/>'),
    );
    expect(write(doc)).toContain(`<data key="look">${shape}</data>`);
  });

  it('reads entities, character numbers and CDATA', () => {
    const { doc } = read(
      wrap(
        '<node id="a&amp;b"><data key="l">1 &lt; 2 &#x2713; &#65;</data></node><node id="c"><data key="l"><![CDATA[x < y & z]]></data></node>',
        '<key id="l" for="node" attr.name="label"/>',
      ),
    );
    expect(doc.nodes.get('a&b')?.label).toBe('1 < 2 ✓ A');
    expect(doc.nodes.get('c')?.label).toBe('x < y & z');
    expect(write(doc)).toContain('<node id="a&amp;b">');
  });
});

describe('GraphML of our own', () => {
  it('brings the whole document back, apart from fields that GraphML has no place for', () => {
    const only = (doc: Doc): Doc => ({
      ...doc,
      extra: {},
      nodes: new Map(
        [...doc.nodes].map(([id, node]) => [
          id,
          Object.fromEntries(
            Object.entries(node).filter(([field]) => field !== 'futureField'),
          ) as unknown as typeof node,
        ]),
      ),
    });
    fc.assert(
      fc.property(docArbitrary(20), (random) => {
        const doc = only(random);
        const back = read(write(doc)).doc;
        const plain = (one: Doc) => {
          const { frames, ...rest } = plainDoc(one) as { frames: Record<string, object> };
          // a frame's rectangle follows from its members
          return {
            ...rest,
            frames: Object.fromEntries(
              Object.entries(frames).map(([id, frame]) => [id, { ...frame, x: 0, y: 0, width: 0, height: 0 }]),
            ),
          };
        };
        expect(plain(back)).toEqual(plain(doc));
      }),
      { numRuns: 80 },
    );
  });

  it('writes routes where they are wanted, from the outer edge of the source port to that of the target port', () => {
    const { doc } = sketchDoc().node('a', 'src').node('b', 'round', { x: 400, y: 120 }).wire('a.out', 'b.in');
    const [start, end] = [
      portPoint(doc, testKinds, doc.nodes.get('a')!, 'out', 'out')!,
      portPoint(doc, testKinds, doc.nodes.get('b')!, 'in', 'in')!,
    ];
    const route = /<data key="e_route">([^<]*)<\/data>/
      .exec(formatById('graphml').write(doc, testKinds, { routes: true }))![1]!
      .split(' ');
    expect(route[0]).toBe(`${start.x},${start.y}`);
    expect(route.at(-1)).toBe(`${end.x},${end.y}`);
    expect(write(doc)).not.toContain('e_route">');
    expect(JSON.parse(formatById('json').write(doc, testKinds))).not.toHaveProperty('routes');
    const json = JSON.parse(formatById('json').write(doc, testKinds, { routes: true })) as {
      routes: Record<string, number[][]>;
    };
    expect(json.routes['a.out>b.in']![0]).toEqual([start.x, start.y]);
  });
});

describe('bad input', () => {
  const bomb = `<?xml version="1.0"?>\n<!DOCTYPE lolz [<!ENTITY a "aaaaaaaaaa"><!ENTITY b "&a;&a;&a;&a;&a;&a;">]>\n<graphml><graph><node id="&b;"/></graph></graphml>`;
  const external =
    '<?xml version="1.0"?>\n<!DOCTYPE g [<!ENTITY x SYSTEM "file:///etc/passwd">]>\n<graphml><graph id="&x;"/></graphml>';
  const deep = `<graphml>${'<graph><node id="n">'.repeat(120)}${'</node></graph>'.repeat(120)}</graphml>`;

  it.each([
    ['hello', /not well-formed XML/],
    ['<graphml>\n<graph>\n</graphml>', /Line 3.*not well-formed XML/],
    ['<svg/>', /is a picture/],
    ['<gpx/>', /outermost element is <gpx>/],
    ['<graphml/>', /has no <graph>/],
    [bomb, /Line 2.*declares entities/],
    [external, /declares entities/],
    [deep, /deep|nest/i],
  ])('is refused with one clear sentence: %#', (text, message) => {
    expect(() => read(text)).toThrow(UnreadableFile);
    expect(() => read(text)).toThrow(message);
  });

  it('over the size limit is refused before it is read', () => {
    expect(() => readFile('huge.graphml', 'x'.repeat(65 * 1024 * 1024), testKinds)).toThrow('65 MB; the most is 64 MB');
  });

  it.each([
    ['wire-to-nothing', wrap('<node id="a"/><edge id="e" source="a" target="gone"/>')],
    ['doubled-id', wrap('<node id="a"/><node id="a"/>')],
    [
      'second-wire',
      wrap(
        '<node id="a"><port name="o"/></node><node id="b"><port name="i"/></node><edge source="a" target="b" sourceport="o" targetport="i"/><edge source="a" target="b" sourceport="o" targetport="i"/>',
      ),
    ],
    ['hyperedge', wrap('<node id="a"/><hyperedge><endpoint node="a"/></hyperedge>')],
    ['bad-number', ours('<data key="x">far</data>', 'x')],
    ['bad-parameters', ours('<data key="parameters">{oops</data>', 'parameters')],
    ['more-graphs', '<graphml><graph id="one"/><graph id="two"/></graphml>'],
  ])('is mended and listed: %s', (rule, text) => {
    expect(rules(text)).toContain(rule);
    expect(problems(read(text).doc)).toEqual([]);
  });

  it('cycles, self-loops and names with spaces are taken as they are, with a legal name beside', () => {
    const { doc, findings } = read(
      wrap(
        '<node id="far kelp"/><node id="b"/><edge source="far kelp" target="b"/><edge source="b" target="far kelp"/><edge source="b" target="b"/>',
      ),
    );
    expect(doc.wires.size).toBe(3);
    expect(findings.map((item) => item.rule)).toEqual(expect.arrayContaining(['loop', 'self-loop', 'name']));
    expect(doc.nodes.get('far kelp')).toMatchObject({ name: 'far_kelp', label: 'far kelp' });
    expect(problems(doc)).toEqual([]);
  });

  it('never breaks on any text', () => {
    fc.assert(
      fc.property(fc.string({ maxLength: 200 }), (text) => {
        for (const name of ['a.graphml', 'a.json']) {
          try {
            readFile(name, text, testKinds);
          } catch (error) {
            expect(error).toBeInstanceOf(UnreadableFile);
          }
        }
      }),
    );
  });
});

describe('formats by name', () => {
  it('knows the endings, and what to do without one', () => {
    expect(formatOf('A/b.GRAPH.JSON').id).toBe('json');
    expect(formatOf('x.graphml').id).toBe('graphml');
    expect(['x.jgf.json', 'x.JGF', 'x.json'].map((name) => formatOf(name).id)).toEqual(['jgf', 'jgf', 'json']);
    expect(titleOf('reef night.jgf.json')).toBe('reef night');
    expect(() => formatOf('x.txt')).toThrow('.graphml');
    expect(titleOf('/shots/reef night.graph.json')).toBe('reef night');
    expect(() => readFile('x.json', `\uFEFF${writeDoc(sketchDoc().doc)}`, testKinds)).not.toThrow();
  });
});
