import { gzipSync, strToU8, zipSync } from 'fflate';
import { createTar } from 'nanotar';
import { describe, expect, it } from 'vitest';
import { attributesOf } from '../document/attributes.ts';
import { caption } from '../document/doc.ts';
import { geometryOf } from '../document/geometry.ts';
import { UnreadableFile } from '../document/unreadable.ts';
import { testKinds as kinds } from '../tests/arbitrary.ts';
import { decodeFile } from './decode.ts';
import type { FormatId } from './endings.ts';
import { formatById, readBytes, readFile, type written } from './formats.ts';
import { guessPlan, planOf } from './table-plan.ts';

// What an audit with the files of others found, each once.

const read = (name: string, text: string) => readFile(name, text, kinds);
const again = (id: FormatId, doc: Parameters<typeof written>[1]) =>
  readFile(`x${formatById(id).extensions[0]}`, formatById(id).write(doc, kinds), kinds).doc;
const seen = (doc: Parameters<typeof written>[1]) => [...doc.nodes.values()].map((node) => node.label || node.name);

describe('names', () => {
  const names = [
    'Zürich Süd',
    '北京',
    'Москва',
    'say "hi"',
    'a\nb',
    '🙂',
    "it's; x|y{z}",
    'C:\\reef\\',
    '<b>',
    'x & y',
  ];
  const dot = (name: string): string => `"${name.replace(/(\\+)$/, '$1$1').replace(/"/g, '\\"')}"`;
  const { doc } = read('names.gv', `digraph { ${names.map((name) => `${dot(name)};`).join(' ')} }`);

  it('are what people see, in any alphabet, with blanks, quotes and line breaks, and a safe one stands beside', () => {
    // two backslashes before a quote are two in DOT
    expect(seen(doc).map((name) => name.replace(/\\\\$/, '\\'))).toEqual(names);
    for (const node of doc.nodes.values()) {
      expect(node.name).toMatch(/^[A-Za-z][A-Za-z0-9_]*$/);
      expect(geometryOf(doc, kinds, node).title).not.toContain('\n');
      expect(caption(node)).not.toContain('\n');
    }
    expect(new Set([...doc.nodes.values()].map((node) => node.name)).size).toBe(names.length);
  });

  it.each(['json', 'yaml', 'graphml', 'jgf', 'dot', 'gexf', 'csv'] as const)('go through %s as they are', (id) => {
    expect(seen(again(id, doc)).sort()).toEqual(seen(doc).sort());
    expect([...again(id, doc).nodes.keys()].sort()).toEqual([...doc.nodes.keys()].sort());
  });

  it('of 600 characters are kept whole', () => {
    const long = 'kelp '.repeat(120).trim();
    const { doc: one } = read('a.dot', `digraph { a [label="${long}"] }`);
    expect([...one.nodes.values()][0]!.label).toBe(long);
  });

  it('and ids of more than 200 characters come back', () => {
    const id = 'n'.repeat(400);
    const { doc: one } = read(
      'a.gexf',
      `<gexf xmlns="http://gexf.net/1.3"><graph><nodes><node id="${id}" label="x"/></nodes></graph></gexf>`,
    );
    expect(formatById('gexf').write(one, kinds)).toContain(`<node id="${id}"`);
  });
});

describe('DOT', () => {
  it('leaves out how another program drew it, and says so', () => {
    const { doc, findings } = read(
      'laid.dot',
      'digraph { graph [bb="0,0,54,108"]; a [pos="27,90", width=0.75, height=0.5]; b [pos="27,18"]; a -> b [pos="e,27,36 27,72", lp="40,54", label=x]; }',
    );
    expect(findings.map((item) => item.rule)).toContain('drawn-elsewhere');
    const text = formatById('dot').write(doc, kinds);
    expect(text).not.toMatch(/27,72|40,54|0,0,54/);
    expect([...doc.wires.values()].map(attributesOf)).toEqual([{ label: 'x' }]);
  });

  it('of several graphs nests each in a node, and writes them apart again', () => {
    const { doc } = read('two.gv', 'digraph ebb { a -> b } graph flood { a -- c }');
    expect([doc.graphs.size, doc.nodes.size, doc.wires.size]).toEqual([3, 6, 2]);
    expect(formatById('dot').write(doc, kinds)).toMatch(/^digraph ebb \{[\s\S]*\}\ngraph flood \{/);
    expect(again('dot', doc).nodes.size).toBe(6);
  });
});

describe('GraphML', () => {
  const theirs = `<g:graphml xmlns:g="http://graphml.graphdrawing.org/xmlns">
    ${['title', 'note', 'text', 'role', 'route', 'pinned', 'weight'].map((name) => `<g:key id="k_${name}" for="node" attr.name="${name}" attr.type="${name === 'weight' ? 'double' : 'string'}"/>`).join('')}
    <g:graph id="G" edgedefault="undirected"><g:desc>Of the bay</g:desc>
      <g:node id="a"><g:desc>First</g:desc><g:data key="k_role">note</g:data><g:data key="k_text">x</g:data><g:data key="k_pinned">true</g:data><g:data key="k_weight">1.5</g:data></g:node>
      <g:node id="b"/><g:edge source="a" target="b" directed="true"/><g:edge source="b" target="a"/></g:graph></g:graphml>`;
  const { doc } = read('theirs.graphml', theirs);

  it('of a prefixed namespace is read, and keys called like ours are those of others', () => {
    expect(doc.nodes.get('a')).toMatchObject({
      attributes: { role: 'note', text: 'x', pinned: 'true', weight: 1.5, description: 'First' },
    });
    expect(doc.nodes.get('a')!.pinned).toBeUndefined();
    expect(doc.graphs.get('G')).toMatchObject({ undirected: true, attributes: { description: 'Of the bay' } });
  });

  it('goes back with what it said of directions, descriptions and types', () => {
    const text = formatById('graphml').write(doc, kinds);
    expect(text).toMatch(/edgedefault="undirected"/);
    expect(text).toMatch(/<edge source="a" target="b"[^>]* directed="true">/);
    expect(text).toMatch(/<desc>First<\/desc>/);
    expect(text).toMatch(/attr\.name="weight" attr\.type="double"/);
  });

  it('has ids that XML takes for such, where they came from elsewhere', () => {
    const { doc: other } = read('a.gv', 'digraph { "far kelp" -> "a|b" }');
    const ids = [
      ...formatById('graphml')
        .write(other, kinds)
        .matchAll(/<node id="([^"]*)"/g),
    ].map(([, id]) => id);
    expect(ids.every((id) => /^[\w.:-]+$/.test(id!))).toBe(true);
  });
});

describe('attributes cross formats', () => {
  const source = `<graphml><key id="w" for="node" attr.name="weight" attr.type="double"/><key id="t" for="node" attr.name="team" attr.type="string"/><graph id="G" edgedefault="directed"><node id="a"><data key="w">2.5</data><data key="t">lights</data></node></graph></graphml>`;
  it.each([
    ['gexf', /title="weight" type="double"[\s\S]*value="2.5"/],
    ['dot', /weight="?2\.5"?/],
    ['jgf', /"weight": 2\.5/],
    ['nodelink', /"weight": 2\.5/],
    ['gml', /weight 2\.5/],
    ['csv', /weight[\s\S]*2\.5/],
    ['nodes', /weight[\s\S]*2\.5/],
    ['yaml', /weight: 2\.5/],
  ] as const)('from GraphML to %s', (id, expected) => {
    const text = formatById(id).write(read('a.graphml', source).doc, kinds);
    expect(text).toMatch(expected);
    expect(text).toContain('lights');
  });
});

describe('GEXF', () => {
  it('keeps each value of those that change in time', () => {
    const text = `<gexf xmlns="http://gexf.net/1.3"><graph mode="dynamic"><attributes class="node" mode="dynamic"><attribute id="0" title="depth" type="integer"/></attributes>
      <nodes><node id="a" label="A"><attvalues><attvalue for="0" value="1" start="2009"/><attvalue for="0" value="4" start="2010" end="2011"/></attvalues><spells><spell start="2009" end="2012"/></spells></node></nodes></graph></gexf>`;
    const { doc } = read('a.gexf', text);
    expect(attributesOf(doc.nodes.get('a')!)).toEqual({
      depth: [
        { value: 1, start: '2009' },
        { value: 4, start: '2010', end: '2011' },
      ],
      spells: [{ start: '2009', end: '2012' }],
    });
    expect(formatById('gexf').write(doc, kinds)).toMatch(
      /value="1" start="2009"\/><attvalue for="0" value="4" start="2010" end="2011"\/>[\s\S]*<spell start="2009" end="2012"\/>/,
    );
  });
});

describe('tables', () => {
  it.each([
    ['Id,Label,Team\nr1,Reef one,lights\nr2,Reef two,sets', 'nodes', 2, 0],
    ['Von;Nach;Anzahl\nbay;reef;3\nreef;dome;1', 'edges', 3, 2],
    ['parent\tchild\nreef\tkelp\nreef\tcoral', 'edges', 3, 2],
    ['de,vers\na,b', 'edges', 2, 1],
    ['origen;destino\na;b', 'edges', 2, 1],
    [',a,b,c\na,0,1,0\nb,0,0,2\nc,0,0,0', 'matrix', 3, 2],
    ['0 1\n', undefined, 0, 0],
    ['sep=;\nsource;target\na;b', 'edges', 2, 1],
  ] as const)('%j', (text, kind, nodes, wires) => {
    if (kind === undefined) {
      expect(() => read('a.csv', text)).toThrow(UnreadableFile);
      return;
    }
    const { doc, findings } = read('a.csv', text);
    expect([guessPlan(text).plan.kind, doc.nodes.size, doc.wires.size]).toEqual([kind, nodes, wires]);
    expect(findings.map((item) => item.rule)).not.toContain('unsure-table');
  });

  it('say how they were read where that is a guess, and are read as somebody says', () => {
    const text = 'Studio,Supplies,Weeks\nreef,dome,3\nkelp,dome,2';
    const guess = read('a.csv', text);
    expect(guess.findings.map((item) => item.rule)).toContain('unsure-table');
    const { doc, findings } = readFile('a.csv', text, kinds, { plan: planOf(text, 'source=Supplies,target=1') });
    expect([...doc.wires.values()].map(({ from, to }) => `${from.node} ${to.node}`)).toEqual([
      'dome reef',
      'dome kelp',
    ]);
    expect(findings.map((item) => item.rule)).not.toContain('unsure-table');
    expect(() => planOf(text, 'source=Who')).toThrow('no column “Who”');
    expect(() => planOf(text, 'begin=1')).toThrow('does not say what a column is');
  });

  it('of edges take one of nodes beside them', () => {
    const { doc } = readFile('edges.csv', 'from,to\na,b', kinds, {
      beside: 'id;label;x;y\na;Reef;10;20\nb;Dome;400;20',
    });
    expect([...doc.nodes.values()].map(({ label, name, x }) => [label ?? name, x])).toEqual([
      ['Reef', 10],
      ['Dome', 400],
    ]);
  });
});

describe('what a file is, is told by what it holds', () => {
  const dot = 'digraph { ö -> b }';
  const utf16 = (text: string): Uint8Array => Uint8Array.from([0xff, 0xfe, ...Buffer.from(text, 'utf16le')]);
  it.each([
    ['UTF-16', utf16(dot)],
    ['UTF-16 without a mark', Uint8Array.from(Buffer.from(dot, 'utf16le'))],
    ['Latin-1', Uint8Array.from(Buffer.from(dot, 'latin1'))],
    ['gzip', gzipSync(strToU8(dot))],
    ['a ZIP archive of one', zipSync({ 'shots/a.gv': strToU8(dot), '__MACOSX/x': strToU8('x') })],
    ['a tar archive of one', createTar([{ name: 'a.gv', data: dot }])],
  ])('%s', (_what, bytes) => {
    expect(readBytes('a.gv', bytes, kinds).doc.nodes.size).toBe(2);
    expect(seen(readBytes('a.gv', bytes, kinds).doc)).toContain('ö');
  });

  it('declared encodings of XML count', () => {
    const text = '<?xml version="1.0" encoding="ISO-8859-1"?><graphml><graph id="G"><node id="Süd"/></graph></graphml>';
    const { doc, findings } = readBytes('a.graphml', Uint8Array.from(Buffer.from(text, 'latin1')), kinds);
    expect(seen(doc)).toEqual(['Süd']);
    expect(findings.map((item) => item.rule)).toContain('encoding');
  });

  it.each([
    ['JGF in .json', 'a.json', '{"graph": {"nodes": {"a": {}, "b": {}}}}', 2],
    ['GraphML in .dot', 'a.dot', '<graphml><graph id="G"><node id="a"/></graph></graphml>', 1],
    [
      'node-link JSON in .json',
      'a.json',
      '{"nodes": [{"id": "a"}, {"id": 2}], "links": [{"source": "a", "target": 2}]}',
      2,
    ],
    ['DOT in .txt', 'a.txt', '/* tide */ digraph { a -> b }', 2],
    ['a table in .txt', 'a.txt', 'source\ttarget\na\tb\nb\tc\n', 3],
    ['GML without an ending', 'reef', 'graph [ node [ id 1 label "a" ] ]', 1],
    [
      'Mermaid in .md text',
      'a.mermaid',
      'flowchart LR\n  a[Reef one] -->|feeds| b & c\n  subgraph s [Night]\n  c --> d((x))\n  end',
      4,
    ],
  ])('%s', (_what, name, text, nodes) => {
    expect(read(name, text).doc.nodes.size).toBe(nodes);
  });

  it.each([
    ['a.gv', Uint8Array.from([0x89, 0x50, 0x4e, 0x47, 13, 10]), 'PNG picture'],
    ['a.csv', Uint8Array.from(Buffer.from('%PDF-1.7')), 'PDF'],
    ['a.gv', Uint8Array.from([65, 66, 0, 67, 68]), 'not a text file'],
    ['a.zip', zipSync({ 'a.gv': strToU8('digraph {}'), 'b.gv': strToU8('digraph {}') }), 'holds 2 graphs'],
    ['a.zip', zipSync({ 'a.png': strToU8('x') }), 'none with the ending of a graph'],
    ['a.gz', Uint8Array.from([0x1f, 0x8b, 8, 0, 1, 2, 3]), 'gzip file is broken'],
  ])('%s is refused with what it is', (name, bytes, why) => {
    expect(() => decodeFile(bytes, name)).toThrow(UnreadableFile);
    expect(() => decodeFile(bytes, name)).toThrow(why);
  });

  it('a bomb is left before it has grown', () => {
    const bomb = gzipSync(new Uint8Array(80 * 1024 * 1024));
    expect(() => decodeFile(bomb, 'a.gv.gz')).toThrow('more than 64 MB');
  });
});

describe('Mermaid', () => {
  it('is read with its texts, shapes, groups, directions and what stands on edges', () => {
    const { doc, findings } = read(
      'a.mmd',
      `---\ntitle: "Tide"\n---\n%% note\nflowchart TD\n  a["Ebb #amp; flow"] --> b{Turn?}\n  b -->|yes| c & d\n  b -- no --> e\n  c -.-> d\n  d === e\n  a <--> e\n  classDef x fill:#f00\n  class a x`,
    );
    expect([doc.head.title, doc.graphs.get('root')!.flow, doc.nodes.size, doc.wires.size]).toEqual([
      'Tide',
      'down',
      5,
      7,
    ]);
    expect(doc.nodes.get('a')!.label).toBe('Ebb & flow');
    expect(attributesOf(doc.nodes.get('b')!)).toEqual({ shape: 'diamond' });
    expect([...doc.wires.values()].map((wire) => [attributesOf(wire), wire.direction])).toContainEqual([
      { label: 'no' },
      undefined,
    ]);
    expect(findings.map((item) => item.rule)).toContain('looks');
  });

  it.each([
    ['sequenceDiagram\n a->>b: x', 'another kind of Mermaid diagram'],
    ['flowchart LR\n a --> ', 'neither a node nor an arrow'],
    ['flowchart LR\n end', 'closes no subgraph'],
  ])('refuses %j', (text, why) => {
    expect(() => read('a.mmd', text)).toThrow(why);
  });
});
