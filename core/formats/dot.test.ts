import { readdirSync, readFileSync } from 'node:fs';
import { gunzipSync } from 'node:zlib';
import fc from 'fast-check';
import { parse } from 'ts-graphviz/ast';
import { describe, expect, it } from 'vitest';
import { attributesOf } from '../document/attributes.ts';
import { indexOf } from '../document/doc.ts';
import { rectOf } from '../document/geometry.ts';
import { problems } from '../document/validate.ts';
import { docArbitrary, sketchDoc, testKinds } from '../tests/arbitrary.ts';
import { recordPorts, recordText } from './dot-record.ts';
import { formats, readFile } from './formats.ts';

const read = (text: string) => readFile('theirs.gv', text, testKinds);
const write = (doc: Parameters<(typeof formats)[number]['write']>[0]) =>
  formats.find((format) => format.id === 'dot')!.write(doc, testKinds);
const keptOf = (record: object | undefined) => record && attributesOf(record);

describe('DOT of others', () => {
  // Debian's graphviz-doc: graphs that nobody here drew. Latin1.gv is what its name says, and some are compressed by
  // the package.
  const base = '/usr/share/doc/graphviz/examples/graphs';
  const files = ['directed', 'undirected'].flatMap((folder) =>
    readdirSync(`${base}/${folder}`).map((file) => `${folder}/${file}`),
  );

  it('reads every example graph of Debian’s graphviz-doc, without a broken rule, and writes it so that the same comes back', () => {
    expect(files.length).toBeGreaterThanOrEqual(60);
    for (const file of files) {
      const stored = readFileSync(`${base}/${file}`);
      const bytes = file.endsWith('.gz') ? gunzipSync(stored) : stored;
      const { doc } = read(bytes.toString(file.includes('Latin1') ? 'latin1' : 'utf8'));
      expect(problems(doc), file).toEqual([]);
      const again = read(write(doc)).doc;
      const shape = (one: typeof doc) => [
        one.nodes.size,
        one.wires.size,
        one.frames.size,
        [...one.nodes.values()].map((node) => node.ports.length).sort(),
      ];
      expect(shape(again), file).toEqual(shape(doc));
    }
  });

  it('counts nodes and edges as the package’s own description of clust4.gv and fsm.gv has them (counted by hand)', () => {
    const clust = read(readFileSync(`${base}/directed/clust4.gv`, 'utf8')).doc;
    expect([...clust.frames.values()].map((frame) => frame.title).sort()).toEqual(['process #1', 'process #2']);
    expect(clust.nodes.get('a0')?.frame).toBe('cluster_0');
    const fsm = read(readFileSync(`${base}/directed/fsm.gv`, 'utf8')).doc;
    expect([fsm.nodes.size, fsm.wires.size]).toEqual([9, 14]);
    expect(fsm.graphs.get('root')?.flow ?? 'right').toBe('right');
  });

  it('takes ports of records, compass points, places and sizes; y grows upwards there', () => {
    const { doc } = read(`digraph G { rankdir=LR;
      a [shape=record, label="<in> take|{head|<o1> one|<o2> two}", pos="100,200", width=2, height=1];
      b [pos="400,200!", width="1.5", height="0.5"];
      a:o2:e -> b:w [color=red]; }`);
    // the middle at 100,200 in points, 2 × 1 inches of 72 points: from 28,-236
    expect(rectOf(doc, testKinds, doc.nodes.get('a')!)).toEqual({ x: 28, y: -236, width: 144, height: 72 });
    expect(doc.nodes.get('a')!.ports.map((port) => [port.id, port.name, port.direction])).toContainEqual([
      'o2',
      'two',
      'out',
    ]);
    const [wire] = [...doc.wires.values()];
    expect(wire!.from).toEqual({ node: 'a', port: 'o2' });
    expect(keptOf(wire)).toEqual({ color: 'red', tailport: 'o2:e', headport: 'w' });
    const back = write(doc);
    expect(back).toContain('a:o2 -> b [color=red');
    expect(back).toContain('pos="100,200"');
  });

  it('keeps attributes, gives defaults to what comes behind them, and knows which cluster named a node first', () => {
    const { doc } = read(
      `digraph { node [color=blue]; a; subgraph cluster_x { label="Outer"; style=dashed; node [shape=box]; b; subgraph cluster_y { label=<In<B>ner</B>>; c } } a -> b -> c; d [color=green, peripheries=2] }`,
    );
    expect(doc.nodes.get('a')?.color).toBe('blue');
    expect(doc.nodes.get('b')).toMatchObject({ color: 'blue', attributes: { shape: 'box' } });
    expect(doc.nodes.get('d')).toMatchObject({ color: 'green', attributes: { peripheries: '2' } });
    expect(doc.frames.get('cluster_y')).toMatchObject({ title: 'Inner', parent: 'cluster_x' });
    expect([doc.nodes.get('b')?.frame, doc.nodes.get('c')?.frame, doc.nodes.get('d')?.frame]).toEqual([
      'cluster_x',
      'cluster_y',
      undefined,
    ]);
    expect(write(doc)).toMatch(/style=dashed;[\s\S]*label=<In<B>ner<\/B>>/);
  });

  it('makes all wires of an edge between groups, and of chains', () => {
    const { doc } = read('digraph { a -> {b c} -> d; {e f} -> d }');
    const pairs = [...doc.wires.values()].map((wire) => `${wire.from.node}${wire.to.node}`).sort();
    expect(pairs).toEqual(['ab', 'ac', 'bd', 'cd', 'ed', 'fd']);
  });

  it('has the nodes and edges that another parser finds in the package’s examples (ts-graphviz 3.0.7)', () => {
    interface Tree {
      readonly type: string;
      readonly id?: { readonly value: string };
      readonly targets?: readonly Tree[];
      readonly children: readonly Tree[];
    }
    const namesIn = (tree: Tree): string[] => [
      ...(tree.id && (tree.type === 'Node' || tree.type === 'NodeRef') ? [tree.id.value] : []),
      ...[...(tree.targets ?? []), ...tree.children].flatMap(namesIn),
    ];
    let compared = 0;
    for (const file of files) {
      const bytes = readFileSync(`${base}/${file}`);
      const text = (file.endsWith('.gz') ? gunzipSync(bytes) : bytes).toString(
        file.includes('Latin1') ? 'latin1' : 'utf8',
      );
      let tree: Tree;
      try {
        tree = parse(text, { maxASTNodes: 1e6 }) as unknown as Tree;
      } catch {
        // it knows less of the language
        continue;
      }
      compared++;
      const named = new Set(namesIn(tree.children.find((one) => one.type === 'Graph')!));
      expect([...read(text).doc.nodes.values()].length, file).toBe(named.size);
    }
    expect(compared).toBeGreaterThan(50);
  });

  it('reads all that the language allows (the grammar at graphviz.org/doc/info/lang.html, from memory)', () => {
    const names = (text: string) => [...read(text).doc.nodes.values()].map((node) => node.label ?? node.name);
    const ids = (text: string) => [...read(text).doc.nodes.keys()];
    const ends = (text: string) =>
      [...read(text).doc.wires.values()].map(({ from, to }) => `${from.node}.${from.port} ${to.node}.${to.port}`);
    expect(names('digraph { a [label="one" + " and " + "two"] }')).toEqual(['one and two']);
    expect(ends('digraph { a [shape=record label="<x y> 1"]; "a":"x y" -> b:"p q":sw }')).toEqual(['a.x y b.p q']);
    expect(ids('digraph { 🙂 -> "ä b"; -.5 -> 3.; /* x */ c -> d // y\n }')).toEqual([
      '🙂',
      'ä b',
      '-.5',
      '3.',
      'c',
      'd',
    ]);
    expect(ids('#line 1\nDiGraph g { a; subgraph { b c } ; subgraph x; }')).toEqual(['a', 'b', 'c']);
    expect(read('digraph { a -> { b [color=red]; c } }').doc.nodes.get('b')?.color).toBe('red');
    expect(ends('strict digraph { a -> b; a -> b; b -> a }')).toHaveLength(2);
    expect(ends('strict graph { a -- b; b -- a [color=red] }')).toHaveLength(1);
    expect(ends('graph { a -- b; b -- a }')).toHaveLength(2);
    expect(read('digraph { subgraph cluster_a { b }; subgraph cluster_a { label="Later"; c } }').doc.frames.size).toBe(
      1,
    );
    expect(names('digraph { a [label="<b>"]; b [label=<<b>bold</b>>]; c [label="\\N &amp; &eacute;"] }')).toEqual([
      '<b>',
      'bold',
      'c & é',
    ]);
    expect(write(read('digraph { a [label="<b>"] }').doc)).not.toContain('label=<b>');
    expect(write(read('strict graph { a -- b }').doc)).toMatch(/^strict graph/);
    expect(names('digraph { a [label=<<table><tr><td>x</td><td>y</td></tr></table>>] }')).toEqual(['x y']);
    expect(read('digraph { a } digraph { b }').findings.map(({ rule }) => rule)).toContain('several-graphs');
  });

  it('takes names and values that JavaScript has a meaning for as what they are', () => {
    const text = 'digraph { rankdir=__proto__; constructor [__proto__=x, label=__proto__]; __proto__ -> constructor }';
    const { doc } = read(text);
    expect(problems(doc)).toEqual([]);
    expect([doc.nodes.size, doc.wires.size, doc.graphs.get('root')?.flow]).toEqual([2, 1, 'down']);
    expect(problems(read('digraph { "_" ; "__" ; "…" }').doc)).toEqual([]);
  });

  it('refuses what the language does not allow, with the line', () => {
    for (const [text, line] of [
      ['digraph {\n a -- b }', 2],
      ['graph { a -> b }', 1],
      ['digraph {\n\n a [label="x }', 3],
      ['digraph { a [label=<<b>x</b> }', 1],
      ['digraph { a\n /* x }', 2],
      ['digraph { node -> b }', 1],
      ['digraph { a = }', 1],
      ['digraph { a:b = c }', 1],
      ['digraph { a [b=c }', 1],
      ['digraph { a } }', 1],
      ['digraph { ? }', 1],
    ] as const)
      expect(() => read(text), text).toThrow(new RegExp(`^Line ${line}: `));
  });

  it('writes any text so that the same is read', () => {
    fc.assert(
      fc.property(fc.string({ unit: fc.constantFrom('a', '"', '\\', '\n', '<', '>', '|', '{', 'ä', ' ') }), (value) => {
        const doc = read(`digraph { a [comment=${JSON.stringify('x')}] }`).doc;
        const node = { ...doc.nodes.get('a')!, attributes: { comment: value } };
        const back = keptOf(read(write({ ...doc, nodes: new Map([['a', node]]) })).doc.nodes.get('a'))!.comment!;
        // DOT has no way to write an odd number of backslashes before a quote, a line break or the end
        const plain = (text: string): string => text.replace(/\\+(?="|$|\n)/g, '');
        expect(plain(String(back)).replace(/^\\(?=<)/, '')).toBe(plain(value).replace(/^\\(?=<)/, ''));
      }),
    );
  });

  it('says where the text is not DOT', () => {
    expect(() => read('digraph G {\n a -> ;\n}')).toThrow(/^Line 2: this is not valid DOT/);
    expect(() => read('hello')).toThrow('not valid DOT');
  });

  it('parts record labels as the shape’s handbook page has them (graphviz.org/doc/info/shapes.html, from memory)', () => {
    expect(recordPorts('<f0> left|<f1> mid&#92; dle|<f2> right').map((port) => port.id)).toEqual(['f0', 'f1', 'f2']);
    expect(recordText('hello\\nworld |{ b |{c|<here> d|e}| f}| g | h', true)).toBe('hello\nworld b c d e f g h');
    expect(recordText('a \\| b \\{c\\}', true)).toBe('a | b {c}');
    expect(recordText('<<B>bold</B> &amp;<BR/>more>')).toBe('bold &\nmore');
  });
});

describe('DOT of ours', () => {
  it('brings nodes, wires, frames, places and sizes back from any document', () => {
    fc.assert(
      fc.property(docArbitrary(16), (doc) => {
        const again = read(write(doc)).doc;
        const nodes = indexOf(doc).nodesIn(doc.head.root);
        expect(again.nodes.size).toBe(nodes.length);
        expect(again.wires.size).toBe(indexOf(doc).wiresIn(doc.head.root).length);
        expect(again.frames.size).toBe(indexOf(doc).framesIn(doc.head.root).length);
        for (const node of nodes) {
          const [one, two] = [rectOf(doc, testKinds, node), rectOf(again, testKinds, again.nodes.get(node.id)!)];
          for (const side of ['x', 'y', 'width', 'height'] as const)
            expect(Math.abs(one[side] - two[side])).toBeLessThanOrEqual(1);
        }
      }),
      { numRuns: 40 },
    );
  });

  it('names ports so that a wire comes back to its own', () => {
    const { doc } = sketchDoc().node('a', 'add').node('b', 'add').wire('a.out', 'b.b');
    const [wire] = [...read(write(doc)).doc.wires.values()];
    expect(wire).toEqual(doc.wires.get('a.out>b.b'));
  });
});
