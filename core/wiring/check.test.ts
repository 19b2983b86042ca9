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
    const healed = await act('delete', pad.doc, ['a'], {}, strictKinds);
    expect(forbiddenWiring(pad.doc, healed.doc, strictKinds, healed.edit)).toEqual([]);
  });
});
