import { describe, expect, it } from 'vitest';
import { apply } from '../edit/step.ts';
import { act, ref, strictKinds } from '../tests/acts.ts';
import { sketchDoc, testKinds } from '../tests/arbitrary.ts';
import { forbiddenWiring, misfits } from './check.ts';

describe('what is read and what is saved', () => {
  it('lists wires that do not fit and loops where they are forbidden; nothing where all is well', () => {
    const pad = sketchDoc()
      .node('t', 'tint')
      .node('r', 'round')
      .node('a', 'add')
      .node('b', 'add')
      .wire('t.out', 'r.in')
      .wire('a.out', 'b.a')
      .wire('b.out', 'a.a');
    expect(misfits(pad.doc, strictKinds).map((item) => item.rule)).toEqual(['misfit', 'loop']);
    expect(misfits(pad.doc, testKinds).map((item) => item.rule)).toEqual(['misfit']);
  });

  it('finds what an edit wires that is forbidden, and lets healing and pasting be', async () => {
    const pad = sketchDoc().node('t', 'tint').node('r', 'round').node('a', 'add').node('b', 'add').wire('a.out', 'b.a');
    const adding = (from: string, to: string) => {
      const wire = { id: 'new', from: ref(from), to: ref(to) };
      const edit = { steps: [{ type: 'add' as const, table: 'wires' as const, id: 'new', value: wire }] };
      return forbiddenWiring(pad.doc, apply(pad.doc, edit), strictKinds, edit).map((item) => item.message);
    };
    expect(adding('t.out', 'r.in')).toEqual(['“in” takes number, “out” gives colour.']);
    expect(adding('b.out', 'a.a')).toEqual([
      'A wire from “b” to “a” would close a loop, which this catalogue forbids.',
    ]);
    expect(adding('a.out', 'b.b')).toEqual([]);
    const reading = (node: string, read: string) => {
      const value = { expression: [{ node: read, parameter: 'value' }] };
      const edit = {
        steps: [{ type: 'set' as const, table: 'nodes' as const, id: node, path: ['params', 'value'], to: value }],
      };
      return forbiddenWiring(pad.doc, apply(pad.doc, edit), strictKinds, edit).map((item) => item.place);
    };
    expect([reading('a', 'b'), reading('b', 'a'), reading('t', 'r'), reading('t', 't')]).toEqual([
      [['a']],
      [],
      [],
      [['t']],
    ]);
    const healed = await act('delete', pad.doc, ['a'], {}, strictKinds);
    expect(forbiddenWiring(pad.doc, healed.doc, strictKinds, healed.edit)).toEqual([]);
  });

  it('looks at many links all together with the same answer as at each by itself', () => {
    const chain = sketchDoc();
    for (let i = 0; i < 60; i++) chain.node(`n${i}`, 'add');
    for (let i = 0; i < 30; i++) chain.wire(`n${i}.out`, `n${i + 1}.a`);
    const wires = Array.from({ length: 55 }, (_, i) => ({
      id: `new${i}`,
      from: ref(`n${(i * 17) % 60}.out`),
      to: ref(`n${i}.b`),
    }));
    const steps = wires.map((wire) => ({ type: 'add' as const, table: 'wires' as const, id: wire.id, value: wire }));
    const after = apply(chain.doc, { steps });
    const asked = (some: typeof steps) =>
      forbiddenWiring(chain.doc, after, strictKinds, { steps: some }).map((one) => one.message);
    const together = asked(steps);
    expect(together).toEqual(steps.flatMap((step) => asked([step])));
    expect(together.length).toBeGreaterThan(5);
    expect(together.length).toBeLessThan(55);
  });
});
