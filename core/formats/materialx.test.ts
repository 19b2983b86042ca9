import fc from 'fast-check';
import { beforeAll, describe, expect, it } from 'vitest';
import { type Doc, indexOf } from '../document/doc.ts';
import { writeDoc } from '../document/file.ts';
import { UnreadableFile } from '../document/unreadable.ts';
import { problems } from '../document/validate.ts';
import { docArbitrary, testKinds as kinds, sketchDoc } from '../tests/arbitrary.ts';
import { type MaterialxLibrary, materialxDocuments, openMaterialx } from '../tests/outside.ts';
import { formatOf, readFile, written } from './formats.ts';
import { lostBetween } from './lost.ts';
import { parseTree, type XmlTree } from './xml.ts';

const format = formatOf('reef.mtlx');
const read = (text: string) => readFile('reef.mtlx', text, kinds);
const write = (doc: Doc): string => format.write(doc, kinds);
const named = (doc: Doc, name: string) => [...doc.nodes.values()].find((node) => node.name === name)!;

// in the shape of the specification’s own example of a compound graph (MaterialX 1.39, from memory)
const marble = `<?xml version="1.0"?>
<materialx version="1.39" colorspace="lin_rec709">
  <!-- a marble -->
  <nodegraph name="NG_marble1" xpos="1.5" ypos="-2" uicolor="0.2, 0.4, 0.6">
    <input name="base_color_1" type="color3" value="0.8, 0.8, 0.8" uiname="Color 1" uifolder="Marble Color" />
    <input name="noise_power" type="float" value="3.0" nodename="strength" />
    <position name="obj_pos" type="vector3" xpos="0" ypos="0" />
    <fractal3d name="noise" type="float" xpos="2" ypos="0.5">
      <input name="octaves" type="integer" value="3" />
      <input name="amplitude" type="float" interfacename="noise_power" />
      <input name="position" type="vector3" nodename="obj_pos" />
    </fractal3d>
    <mix name="color_mix" type="color3" xpos="4" ypos="0">
      <input name="fg" type="color3" interfacename="base_color_1" />
      <input name="bg" type="color3" value="0.1, 0.1, 0.3" colorspace="srgb_texture" />
      <input name="mix" type="float" nodename="noise" />
    </mix>
    <dot name="through" type="color3" xpos="5" ypos="0"><input name="in" type="color3" nodename="color_mix" /></dot>
    <backdrop name="pattern" contains="obj_pos, noise" xpos="-0.5" ypos="-0.5" width="4" height="3" doc="Where the veins come from" />
    <output name="out" type="color3" nodename="through" />
  </nodegraph>
  <constant name="strength" type="float" xpos="0" ypos="0"><input name="value" type="float" value="2.5" /></constant>
  <standard_surface name="SR_marble1" type="surfaceshader" xpos="4" ypos="0">
    <input name="base_color" type="color3" nodegraph="NG_marble1" output="out" />
    <input name="metalness" type="float" value="0.25" />
    <input name="thin_walled" type="boolean" value="false" />
  </standard_surface>
  <surfacematerial name="Marble_3D" type="material"><input name="surfaceshader" type="surfaceshader" nodename="SR_marble1" /></surfacematerial>
  <look name="default"><materialassign name="a" material="Marble_3D" geom="/" /></look>
</materialx>`;

describe('MaterialX of others', () => {
  const { doc, findings } = read(marble);

  it('gives inputs that take channels of another type their own type back (MaterialX 1.38, “channels”)', () => {
    const text = `<materialx version="1.38"><image name="tex" type="color3"/>
      <roughness name="rough" type="float"><input name="in" type="float" nodename="tex" channels="r"/></roughness></materialx>`;
    expect(write(read(text).doc)).toMatch(/<input name="in" type="float" nodename="tex" channels="r"/);
  });

  it('reads nodes with values and kinds, places in nodes, and colours', () => {
    expect(problems(doc)).toEqual([]);
    expect(named(doc, 'SR_marble1')).toMatchObject({
      kind: 'materialx.standard_surface',
      x: 800,
      y: 0,
      params: { metalness: 0.25, thin_walled: false },
    });
    expect(named(doc, 'noise')).toMatchObject({ kind: 'materialx.fractal3d', x: 400, y: 100, params: { octaves: 3 } });
    expect(named(doc, 'color_mix')).toMatchObject({ params: { bg: '0.1, 0.1, 0.3' } });
    expect(named(doc, 'NG_marble1')).toMatchObject({ kind: 'std.nested', x: 300, y: -400, color: '#336699' });
    expect(named(doc, 'through').kind).toBe('std.reroute');
    expect(findings.map((item) => item.rule)).toEqual(
      expect.arrayContaining(['comments', 'kept', 'arranged-on-import']),
    );
  });

  it('reads a node graph as a nested graph, wired by its inputs and outputs', () => {
    const host = named(doc, 'NG_marble1');
    expect(host.ports.map(({ name, direction, type }) => [name, direction, type])).toEqual([
      ['base_color_1', 'in', 'color3'],
      ['noise_power', 'in', 'float'],
      ['out', 'out', 'color3'],
    ]);
    expect(
      indexOf(doc)
        .nodesIn(host.inner!)
        .map((node) => [node.name, node.kind]),
    ).toEqual(
      expect.arrayContaining([
        ['base_color_1', 'std.input'],
        ['out', 'std.output'],
        ['obj_pos', 'materialx.position'],
      ]),
    );
    const ends = [...doc.wires.values()]
      .map(({ from, to }) => `${doc.nodes.get(from.node)!.name} ${doc.nodes.get(to.node)!.name}`)
      .sort();
    expect(ends).toEqual(
      [
        'NG_marble1 SR_marble1',
        'SR_marble1 Marble_3D',
        'base_color_1 color_mix',
        'color_mix through',
        'noise color_mix',
        'noise_power noise',
        'obj_pos noise',
        'strength NG_marble1',
        'through out',
      ].sort(),
    );
    const [frame] = [...doc.frames.values()];
    expect(frame).toMatchObject({ title: 'pattern', graph: host.inner, note: 'Where the veins come from' });
    expect(
      indexOf(doc)
        .membersOf(frame!.id)
        .map((node) => node.name),
    ).toEqual(['noise', 'obj_pos']);
  });

  it('goes back with all that it came with', () => {
    const text = write(doc);
    for (const part of [
      'colorspace="lin_rec709"',
      'uifolder="Marble Color"',
      'uiname="Color 1"',
      'colorspace="srgb_texture"',
      'geom="/"',
      '<dot name="through" type="color3"',
      'uicolor="0.2, 0.4, 0.6"',
    ])
      expect(text).toContain(part);
    expect(writeDoc(read(text).doc)).toBe(writeDoc(doc));
  });

  it('takes what others changed on the way', () => {
    const ours = sketchDoc()
      .node('a', 'src')
      .node('b', 'round', { x: 300, params: { amount: 0.5 } })
      .wire('a.out', 'b.in').doc;
    const changed = write(ours).replace('value="0.5"', 'value="0.75"').replace('xpos="1.5"', 'xpos="2"');
    expect(read(changed).doc.nodes.get('b')).toMatchObject({ x: 400, params: { amount: 0.75 } });
  });

  it.each([
    ['<gpx/>', 'outermost element is <gpx>'],
    ['<materialx><a></materialx>', 'not well-formed XML'],
    ['<!DOCTYPE a [<!ENTITY b "c">]><materialx/>', 'declares entities'],
    [`<materialx>${'<nodegraph name="n">'.repeat(120)}${'</nodegraph>'.repeat(120)}</materialx>`, 'nest'],
  ])('refuses %.60j in one sentence', (text, why) => {
    expect(() => read(text)).toThrow(UnreadableFile);
    expect(() => read(text)).toThrow(why);
  });

  it('says what leads to nothing, what stands twice, and what does not fit of ours', () => {
    const { doc: odd, findings: said } = read(
      `<materialx version="1.39"><add name="a" type="float" basitax="no json"><input name="in1" type="float" nodename="nowhere"/></add><add name="a" type="float" basitax='{"node":{"pinned":"perhaps"}}'/></materialx>`,
    );
    expect(said.map((item) => item.rule)).toEqual(
      expect.arrayContaining(['wire-to-nothing', 'doubled-id', 'bad-detail']),
    );
    expect([odd.nodes.size, odd.wires.size, problems(odd)]).toEqual([2, 0, []]);
  });
});

/** Nodes, values and connections of a document as another program’s parser gives them, in no order. */
function gist(tree: XmlTree, path = ''): string[] {
  const { basitax: _own, ...attributes } = tree.attributes;
  if (tree.attributes.basitax?.includes('"made":true')) return [];
  const shown = ['xpos', 'ypos', 'value'];
  const plain = Object.entries(attributes).filter(([name]) => !shown.includes(name) && attributes[name] !== '');
  const value =
    attributes.value === undefined || attributes.value === '' || Number.isNaN(Number(attributes.value))
      ? attributes.value
      : Number(attributes.value);
  const own = `${path}${tree.tag} ${plain
    .map(([name, text]) => `${name}=${text}`)
    .sort()
    .join(' ')} ${value ?? ''}`;
  return [own, ...tree.children.flatMap((child) => gist(child, `${path}${attributes.name ?? ''}/`))];
}

describe('the open MaterialX standard’s own library', () => {
  it.each(materialxDocuments().map(({ name, text }) => [name, text] as const))(
    '%s comes back with every element',
    (_name, text) => {
      const first = read(text).doc;
      expect(problems(first)).toEqual([]);
      const { text: again, lost } = written(format, first, kinds);
      expect(lost).toEqual([]);
      expect(gist(parseTree(again)).sort()).toEqual(gist(parseTree(text)).sort());
    },
  );

  it('is as large as it is', () => {
    const all = materialxDocuments().map(({ text }) => read(text).doc);
    // figures of the library as it is packed: 54 documents, 271 node graphs
    expect(all.length).toBe(54);
    expect(all.flatMap((one) => [...one.nodes.values()].filter((node) => node.inner !== undefined)).length).toBe(271);
  });
});

describe('MaterialX by the reference library', () => {
  let library: MaterialxLibrary;
  beforeAll(async () => {
    library = await openMaterialx();
  });

  it('finds the example valid as it goes back', async () => {
    expect(await library.check(write(read(marble).doc))).toBe('');
  });

  it('finds valid what we write of graphs of ours with nested graphs, frames and values', async () => {
    const inner = sketchDoc()
      .node('a', 'src', { params: { amount: 2, on: true, text: 'a, "b" & c' } })
      .node('b', 'round', { x: 300, color: '#336699', label: 'Rounded off' })
      .wire('a.out', 'b.in').doc;
    expect(await library.check(write(inner))).toBe('');
  });

  it('reads every graph that we write, and finds the same nodes and frames', async () => {
    for (const doc of fc.sample(docArbitrary(25), { numRuns: 40, seed: 5 })) {
      const found = await library.count(write(doc));
      const atRoot = indexOf(doc).nodesIn('root');
      expect(found.nodes).toBe(
        atRoot.filter((node) => node.inner === undefined && node.kind !== 'std.input' && node.kind !== 'std.output')
          .length,
      );
      expect(found.backdrops).toBe(indexOf(doc).framesIn('root').length);
    }
  });
});

it('MaterialX brings every document of ours back whole', () => {
  fc.assert(
    fc.property(docArbitrary(25), (doc) => {
      const back = read(write(doc)).doc;
      expect(problems(back)).toEqual([]);
      expect(lostBetween(doc, back)).toEqual([]);
    }),
  );
});
