import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { foreignKind } from '../document/builtin.ts';
import { type Catalogue, catalogueSchema, emptyCatalogue } from '../document/catalogue.ts';
import type { Doc } from '../document/doc.ts';
import { Kinds } from '../document/kinds.ts';
import { problems } from '../document/validate.ts';
import { apply } from '../edit/step.ts';
import { readFile } from '../formats/formats.ts';
import { parseTree } from '../formats/xml.ts';
import { fingerprint } from '../inspect/fingerprint.ts';
import { createContext } from '../operation.ts';
import { runOperation } from '../operations.ts';
import { docArbitrary, sketchDoc, testKinds } from '../tests/arbitrary.ts';
import { materialxDocuments } from '../tests/outside.ts';
import { byCaption, candidatesOf, type Evidence, evidenceOf, mergeEvidence, noEvidence } from './evidence.ts';
import { evidenceFrom, evidenceJson, evidenceSchema } from './evidence-json.ts';
import { learnedFrom, titleFrom, withLearned } from './proposal.ts';

const bare = new Kinds(emptyCatalogue);

function evidence(docs: readonly Doc[], kinds: Kinds, by?: string): Evidence {
  const all = noEvidence();
  for (const doc of docs) mergeEvidence(all, evidenceOf(doc, kinds, by));
  return all;
}

/** The catalogue with all that documents show. */
function taught(docs: readonly Doc[], catalogue: Catalogue, by?: string): Catalogue {
  const learned = learnedFrom(evidence(docs, new Kinds(catalogue), by), new Kinds(catalogue));
  return catalogueSchema.parse(withLearned(catalogue, learned, new Set(learned.kinds.map((one) => one.spec.id))));
}

const reef = readFile(
  'reef.gv',
  `digraph {
    node [shape=box];
    plate1 [tool="Read plate", path="/reef/a.exr", rate=24];
    plate2 [tool="Read plate", path="/reef/b.exr", rate=25];
    blur [tool=Blur, size="12 px", rim=mirror];
    blur2 [tool=Blur, size="4.5px", rim=mirror];
    mix [tool=Mix]; mix2 [tool=Mix]; out [tool=Write, file="/reef/out.exr"];
    plate1 -> blur -> mix; plate2 -> mix; mix -> mix2; blur2 -> mix2; plate1 -> mix2; plate2 -> blur2; mix2 -> out;
    loose
  }`,
  bare,
).doc;

describe('learning kinds', () => {
  it('leaves what files compute as it was, whatever they hold, and a catalogue is valid with it', () => {
    fc.assert(
      fc.property(fc.array(docArbitrary(), { minLength: 1, maxLength: 3 }), (docs) => {
        for (const start of [
          emptyCatalogue,
          { ...testKinds.catalogue, kinds: testKinds.catalogue.kinds.slice(0, 3) },
        ]) {
          const catalogue = taught(docs, catalogueSchema.parse(start));
          for (const doc of docs) {
            expect(fingerprint(doc, new Kinds(catalogue))).toEqual(fingerprint(doc, new Kinds(start)));
            for (const node of doc.nodes.values())
              if (node.inner === undefined && node.kind !== foreignKind && !node.kind.startsWith('shared.'))
                expect(new Kinds(catalogue).kind(node.kind)).toBeDefined();
          }
        }
      }),
      { numRuns: 60 },
    );
  });

  it('learns nothing twice', () => {
    fc.assert(
      fc.property(docArbitrary(), (doc) => {
        const catalogue = taught([doc], emptyCatalogue);
        const again = learnedFrom(evidenceOf(doc, new Kinds(catalogue)), new Kinds(catalogue));
        expect(again.kinds.filter((kind) => kind.is !== 'known')).toEqual([]);
        expect([again.types, again.categories]).toEqual([[], []]);
      }),
      { numRuns: 40 },
    );
  });

  it('goes by an attribute that is called like a kind, or by another one, or by what stands on nodes', () => {
    const found = evidence([reef], bare);
    expect(found.untold).toBe(8);
    expect(candidatesOf(found).map((one) => one.attribute)).toContain('tool');
    const byTool = evidence([reef], bare, 'tool');
    expect([...byTool.kinds.keys()].sort()).toEqual(['team.blur', 'team.mix', 'team.read_plate', 'team.write']);
    expect(byTool.untold).toBe(1);
    expect([...evidence([reef], bare, byCaption).kinds.keys()].sort()).toEqual([
      ...['team.blur', 'team.loose', 'team.mix', 'team.out', 'team.plate'],
    ]);
    const named = readFile('a.gv', 'digraph { a [op_type=Conv]; b [op_type=Relu]; a -> b }', bare).doc;
    expect([...evidence([named], bare).kinds.keys()].sort()).toEqual(['team.conv', 'team.relu']);
  });

  it('tells types, ranges, units, usual values, growing inputs and ends', () => {
    const catalogue = taught([reef], emptyCatalogue, 'tool');
    const kind = (id: string) => catalogue.kinds.find((one) => one.id === id)!;
    expect(kind('team.read_plate')).toMatchObject({ title: 'Read plate', end: false });
    expect(kind('team.read_plate').parameters).toMatchObject([
      { id: 'path', type: 'path', default: '/reef/a.exr' },
      { id: 'rate', type: 'integer', seen: { nodes: 2, of: 2, from: 24, to: 25 } },
    ]);
    expect(kind('team.blur').parameters.find((one) => one.id === 'size')).toMatchObject({
      ...{ type: 'number', unit: 'px', seen: { from: 4.5, to: 12 } },
    });
    // how a node is drawn is no parameter
    expect(kind('team.blur').parameters.map((one) => one.id)).toEqual(['size', 'rim']);
    expect(kind('team.mix').ports.filter((port) => port.direction === 'in')).toMatchObject([
      { id: 'in1', many: true, main: true },
    ]);
  });

  it('says an end where that leaves the ends of files what they were', () => {
    const [plain, mixed] = [
      sketchDoc().node('a', 'x.read').node('b', 'x.write', { x: 300 }),
      sketchDoc().node('a', 'x.read').node('b', 'x.write', { x: 300 }).node('c', 'x.view', { x: 300, y: 200 }),
    ].map((pad) => pad.doc);
    const portless = taught([plain!], emptyCatalogue);
    expect(
      portless.kinds
        .filter((kind) => kind.end)
        .map((kind) => kind.id)
        .sort(),
    ).toEqual(['x.read', 'x.write']);
    expect(taught([mixed!], emptyCatalogue).kinds.every((kind) => kind.end)).toBe(true);
    const known = catalogueSchema.parse({
      ...emptyCatalogue,
      categories: [{ id: 'x', title: 'X', hue: 0 }],
      kinds: [{ id: 'x.view', title: 'View', code: 'Vi', category: 'x', ports: [], end: true }],
    });
    expect(
      taught([mixed!], known)
        .kinds.filter((kind) => kind.end)
        .map((kind) => kind.id),
    ).toEqual(['x.view']);
  });

  it('adds what files use of a kind that is known, and keeps the rest', () => {
    const doc = sketchDoc().node('a', 'src', { params: { value: 3, speed: 0.5 } }).doc;
    const catalogue = taught([doc], testKinds.catalogue);
    const [before, after] = [testKinds.kind('src')!, catalogue.kinds.find((one) => one.id === 'src')!];
    expect(after.ports).toEqual(before.ports);
    expect(after.parameters.slice(0, -1)).toEqual(before.parameters);
    expect(after.parameters.at(-1)).toMatchObject({ id: 'speed', type: 'number', default: 0.5 });
  });

  it('takes imported nodes for nodes of a kind that is called so, and adds no port that no edge has named', () => {
    const known = catalogueSchema.parse({
      ...emptyCatalogue,
      categories: [{ id: 'x', title: 'X', hue: 0 }],
      types: [{ id: 'image', title: 'Picture', sign: 'circle', hue: 0 }],
      kinds: [
        {
          ...{ id: 'x.soften', title: 'Blur', code: 'Bl', category: 'x' },
          ports: [{ id: 'image', name: 'image', type: 'image', direction: 'in' }],
        },
      ],
    });
    const kind = taught([reef], known, 'tool').kinds.find((one) => one.id === 'x.soften')!;
    expect(kind.ports.map((port) => port.id)).toEqual(['image']);
    expect(kind.parameters.map(({ id, type }) => [id, type])).toEqual([
      ['size', 'number'],
      ['rim', 'text'],
    ]);
  });

  it('goes between server and browser as JSON, whole', () => {
    fc.assert(
      fc.property(docArbitrary(), (doc) => {
        const found = evidenceOf(doc, bare);
        const sent = evidenceSchema.parse(JSON.parse(JSON.stringify(evidenceJson(found))));
        expect(learnedFrom(evidenceFrom(sent), bare)).toEqual(learnedFrom(found, bare));
      }),
      { numRuns: 30 },
    );
  });

  it.each([
    ['standard_surface', 'Standard surface'],
    ['fbx.MeshImport', 'Mesh import'],
    ['UVTransform', 'UVTransform'],
    ['x.2', 'X'],
  ])('titles %s as %s', (id, title) => expect(titleFrom(id)).toBe(title));

  it('learns of the graphs of a published standard what its definitions say (MaterialX’s own library)', () => {
    const all = materialxDocuments();
    const definitions = new Map<string, { inputs: Set<string>; outputs: Set<string>; types: Set<string> }>();
    for (const { text } of all) {
      for (const element of parseTree(text).children) {
        if (element.tag !== 'nodedef') continue;
        const name = `materialx.${element.attributes.node}`;
        const own = definitions.get(name) ?? { inputs: new Set(), outputs: new Set(), types: new Set() };
        definitions.set(name, own);
        for (const { tag, attributes } of element.children) {
          if (tag === 'input') own.inputs.add(attributes.name!);
          if (tag === 'input' || tag === 'output') own.types.add(attributes.type!);
        }
      }
    }
    const docs = all.map(({ name, text }) => readFile(name, text, bare).doc);
    const { kinds } = learnedFrom(evidence(docs, bare), bare);
    const known = kinds.filter(({ spec }) => definitions.has(spec.id));
    expect(known.length).toBeGreaterThan(60);
    for (const { spec } of known) {
      const told = definitions.get(spec.id)!;
      for (const port of spec.ports) {
        if (port.direction === 'in') expect(told.inputs, spec.id).toContain(port.id);
        if (port.type !== 'any') expect(told.types, spec.id).toContain(port.type);
      }
      for (const parameter of spec.parameters) expect(told.inputs, spec.id).toContain(parameter.id);
    }
  });
});

describe('giving imported nodes their kinds', () => {
  const catalogue = taught([reef], emptyCatalogue, 'tool');
  const kinds = new Kinds(catalogue);
  const give = async (options: object) => {
    const selection = { graph: reef.head.root, items: [] };
    const { edit, report } = await runOperation('give-kinds', createContext(kinds, 1), reef, selection, options);
    return { doc: apply(reef, edit), report };
  };

  it('keeps every wire, turns attributes into values, and leaves what nothing is said of', async () => {
    const { doc, report } = await give({ by: 'tool' });
    expect(problems(doc)).toEqual([]);
    const named = (name: string) => [...doc.nodes.values()].find((node) => node.name === name)!;
    expect(doc.wires.size).toBe(reef.wires.size);
    expect(named('blur')).toMatchObject({ kind: 'team.blur', params: { size: 12, rim: 'mirror' } });
    expect(named('blur').attributes).toMatchObject({ tool: 'Blur', size: '12 px' });
    expect(named('loose').kind).toBe(foreignKind);
    expect(
      named('mix2')
        .ports.filter((port) => port.direction === 'in')
        .map((port) => port.id),
    ).toEqual([...['in1', 'in2', 'in3', 'in4']]);
    expect(report.findings.map((one) => one.rule)).toEqual(['kind-untold']);
    const ends = (one: Doc) => [...one.wires.values()].map(({ from, to }) => `${from.node} ${to.node}`).sort();
    expect(ends(doc)).toEqual(ends(reef));
  });

  it('refuses where no attribute says a kind, and names kinds that the catalogue lacks', async () => {
    await expect(give({})).rejects.toThrow(/attribute/);
    await expect(give({ by: 'nothing' })).rejects.toThrow(/nothing/);
    const { report } = await give({ by: byCaption });
    expect(report.findings.map((one) => one.rule)).toContain('kind-not-known');
  });
});
