import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type Catalogue, catalogueSchema } from '../document/catalogue.ts';
import type { Doc } from '../document/doc.ts';
import { Kinds } from '../document/kinds.ts';
import { problems } from '../document/validate.ts';
import { apply } from '../edit/step.ts';
import { nodeBoxes } from '../inspect/boxes.ts';
import { fingerprint } from '../inspect/fingerprint.ts';
import { into } from '../tests/acts.ts';
import { docArbitrary, sketchDoc, testCatalogue, testKinds } from '../tests/arbitrary.ts';
import { emptyMapping, type Mapping, mappingSchema } from './mapping.ts';
import { upgrade } from './upgrade.ts';

/** The test catalogue with some kinds changed. */
function changed(change: (kinds: Record<string, Record<string, unknown>>) => void): Kinds {
  const raw = JSON.parse(JSON.stringify(testCatalogue)) as Omit<Catalogue, 'kinds'> & {
    kinds: Record<string, unknown>[];
  };
  const kinds = Object.fromEntries(raw.kinds.map((kind) => [kind.id as string, kind as Record<string, unknown>]));
  change(kinds);
  return new Kinds(catalogueSchema.parse({ ...raw, version: 2, kinds: Object.values(kinds) }));
}

function run(doc: Doc, after: Kinds, mapping: object = {}) {
  const done = upgrade(doc, testKinds, after, mappingSchema.parse({ ...emptyMapping, ...mapping }) as Mapping);
  const result = apply(doc, done.edit);
  expect(problems(result)).toEqual([]);
  return { ...done, doc: result };
}

const small = sketchDoc()
  .node('s', 'src', { params: { value: 4 } })
  .node('d', 'src', { x: 300 })
  .node('a', 'add', { x: 600 })
  .node('e', 'tint', { x: 900, params: { gain: { expression: ['2 * ', { node: 's', parameter: 'value' }] } } })
  .wire('s.out', 'a.a')
  .wire('d.out', 'a.b')
  .wire('a.out', 'e.amount').doc;

describe('an upgrade', () => {
  it('changes nothing but the version where the kinds are the same', () => {
    fc.assert(
      fc.property(docArbitrary(), (doc) => {
        const { edit, findings, doc: after } = run(doc, new Kinds({ ...testCatalogue, version: 2 }));
        expect(edit.steps.map((step) => step.table)).toEqual(['head']);
        expect(findings).toEqual([]);
        expect(fingerprint(after, testKinds)).toEqual(fingerprint(doc, testKinds));
      }),
      { numRuns: 40 },
    );
  });

  it('renames kinds, ports and parameters, with wires and references', () => {
    const after = changed((kinds) => {
      kinds.src = {
        ...kinds.src,
        id: 'source',
        ports: [{ id: 'result', name: 'result', type: 'num', direction: 'out' }],
        parameters: [{ id: 'amount', title: 'Amount', type: 'number', default: 1 }],
      };
    });
    const { doc, findings } = run(small, after, {
      kinds: { src: { to: 'source', outputs: { out: 'result' }, parameters: { value: 'amount' } } },
    });
    expect(findings).toEqual([]);
    expect(doc.nodes.get('s')).toMatchObject({ kind: 'source', params: { amount: 4 } });
    expect([into(doc, 'a.a'), into(doc, 'a.b')]).toEqual(['s.result', 'd.result']);
    expect(doc.nodes.get('e')!.params!.gain).toEqual({ expression: ['2 * ', { node: 's', parameter: 'amount' }] });
    expect(doc.head.catalogue).toEqual({ id: 'test', version: 2 });
  });

  it('keeps what was computed where a default has changed, or takes the new one where that is said', () => {
    const after = changed((kinds) => {
      kinds.src!.parameters = [{ id: 'value', title: 'Value', type: 'number', min: 0, max: 100, default: 9 }];
    });
    const kept = run(small, after);
    expect([kept.doc.nodes.get('s')!.params!.value, kept.doc.nodes.get('d')!.params!.value]).toEqual([4, 1]);
    expect(kept.summary).toContain('1 old default kept');
    expect(fingerprint(kept.doc, after)).toEqual(fingerprint(small, testKinds));
    const taken = run(small, after, { defaults: 'take' });
    expect(taken.doc.nodes.get('d')!.params).toBeUndefined();
    expect(fingerprint(taken.doc, after)).not.toEqual(fingerprint(small, testKinds));
  });

  it('counts values anew, looks others up, and says what it cannot', () => {
    const doc = sketchDoc()
      .node('n', 'src', { params: { value: 4 }, settings: { Other: { value: 10 } } })
      .node('x', 'src', { params: { value: { expression: ['1'] } } }).doc;
    const { doc: scaled, findings } = run(doc, testKinds, {
      kinds: { src: { parameters: { value: { to: 'value', scale: 2, offset: 1 } } } },
    });
    expect(scaled.nodes.get('n')).toMatchObject({ params: { value: 9 }, settings: { Other: { value: 21 } } });
    expect(findings.map((one) => [one.severity, one.place])).toEqual([['warning', ['x']]]);
    const looked = run(doc, testKinds, {
      kinds: { src: { parameters: { value: { to: 'value', values: { 4: 40 } } } } },
    });
    expect(looked.doc.nodes.get('n')!.params).toEqual({ value: 40 });
  });

  it('loses nothing silently: kinds, wires and parameters that fit no more are told by name', () => {
    const after = changed((kinds) => {
      delete kinds.add;
      kinds.tint!.ports = [
        { id: 'base', name: 'base', type: 'col', direction: 'in' },
        { id: 'out', name: 'out', type: 'col', direction: 'out' },
      ];
      kinds.src!.parameters = [];
    });
    const { doc, findings } = run(small, after);
    expect(findings.map((one) => one.message).sort()).toEqual([
      'The wire from “a” into amount of “e” could not be kept: “e” no longer has the input amount.',
      '“a”: the new catalogue has no kind “add”; the node stays as it is. Map it to another kind.',
      '“s”: its kind no longer has the parameter value; its value 4 is kept, but not used.',
    ]);
    expect(doc.nodes.get('s')!.params).toEqual({ value: 4 });
    expect(doc.nodes.get('a')!.kind).toBe('add');
    const dropped = run(small, after, { kinds: { src: { parameters: { value: null } } } });
    expect(dropped.doc.nodes.get('s')!.params).toBeUndefined();
    expect(dropped.findings.filter((one) => one.severity === 'info').map((one) => one.message)).toEqual([
      '“s”: value (4) was dropped, as the mapping says.',
    ]);
  });

  it('cuts a wire whose types fit no more', () => {
    const after = changed((kinds) => {
      kinds.src!.ports = [{ id: 'out', name: 'out', type: 'vec', direction: 'out' }];
    });
    const { doc, findings } = run(small, after);
    expect(into(doc, 'a.a')).toBeUndefined();
    expect(findings.map((one) => one.message)[0]).toContain('the types no longer fit');
  });

  it('keeps rows of ports that had grown, and components that were open', () => {
    const doc = sketchDoc()
      .node('w', 'wind')
      .node('s', 'src')
      .node('r', 'sum', {
        x: 300,
        ports: ['in1', 'in2', 'in3']
          .map((id) => ({ id, name: id, type: 'num', direction: 'in' as const }))
          .concat({ id: 'out', name: 'out', type: 'num', direction: 'out' as never }),
      })
      .wire('s.out', 'r.in2').doc;
    const after = changed((kinds) => {
      kinds.sum = {
        ...kinds.sum,
        ports: [
          { id: 'part1', name: 'part 1', type: 'num', direction: 'in', many: true },
          { id: 'out', name: 'out', type: 'num', direction: 'out' },
        ],
      };
    });
    const { doc: result, findings } = run(doc, after, {
      kinds: { sum: { inputs: { in1: 'part1', in2: 'part2', in3: 'part3' } } },
    });
    expect(findings).toEqual([]);
    expect(result.nodes.get('r')!.ports.map((port) => port.id)).toEqual(['part1', 'part2', 'part3', 'out']);
    expect(into(result, 'r.part2')).toBe('s.out');
  });

  it('puts apart what overlaps since nodes have grown, and leaves what overlapped before', () => {
    const many = Array.from({ length: 12 }, (_, i) => ({ id: `p${i}`, name: `p${i}`, type: 'num', direction: 'in' }));
    const after = changed((kinds) => {
      kinds.src!.ports = [...many, { id: 'out', name: 'out', type: 'num', direction: 'out' }];
    });
    const pad = sketchDoc();
    for (let i = 0; i < 5; i++) pad.node(`s${i}`, 'src', { y: i * 70 });
    pad.node('x', 'src', { x: 600 }).node('y', 'src', { x: 610, y: 10 });
    const { doc, summary } = run(pad.doc, after);
    const boxes = nodeBoxes(doc, after, 'root');
    expect(boxes.overlapping().map((pair) => pair.map((i) => boxes.nodes[i]!.id))).toEqual([['x', 'y']]);
    expect([doc.nodes.get('x')!.x, doc.nodes.get('y')!.y]).toEqual([600, 10]);
    expect(summary).toMatch(/nodes put apart/);
  });
});
