import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  attributesIn,
  attributesOf,
  textOfValue,
  typeOfTexts,
  typeOfValue,
  valueOfText,
} from '../document/attributes.ts';
import type { Json } from '../document/json.ts';
import { apply, invert } from '../edit/step.ts';
import { fingerprint } from '../inspect/fingerprint.ts';
import { createContext } from '../operation.ts';
import { operate } from '../operations.ts';
import { select } from '../query/query.ts';
import { readTable } from '../table/in.ts';
import { tableOf } from '../table/out.ts';
import { docArbitrary, testKinds as kinds, plainDoc, sketchDoc } from '../tests/arbitrary.ts';

const context = createContext(kinds, 1);
const doc = sketchDoc()
  .node('a', 'src', { attributes: { weight: 3, 'far side': 'left' } })
  .node('b', 'round', { x: 300, attributes: { weight: 10 } })
  .node('c', 'round', { x: 600 })
  .frame('f')
  .wire('a.out', 'b.in').doc;
const run = (id: string, items: readonly string[], options: Record<string, Json>) =>
  operate(id, context, doc, { graph: 'root', items }, options);

describe('attributes', () => {
  it('are set on whatever is selected, as the type that others of the name have, and on the graph where nothing is', () => {
    const { edit, report } = run('attribute', ['c', 'a.out>b.in', 'f'], { name: 'weight', value: '7' });
    const after = apply(doc, edit);
    expect([after.nodes.get('c')!.attributes, after.wires.get('a.out>b.in')!.attributes]).toEqual([
      { weight: 7 },
      { weight: 7 },
    ]);
    expect(report.summary).toBe('Set “weight” on 1 node, 1 wire, 1 frame.');
    expect(
      apply(doc, run('attribute', [], { name: 'made', value: 'at sea' }).edit).graphs.get('root')!.attributes,
    ).toEqual({
      made: 'at sea',
    });
  });

  it('are removed, and what has none is told', () => {
    const after = apply(doc, run('attribute-remove', ['a'], { name: 'weight' }).edit);
    expect(after.nodes.get('a')!.attributes).toEqual({ 'far side': 'left' });
    const nothing = run('attribute-remove', ['c'], { name: 'weight' });
    expect([nothing.edit.steps, nothing.report.summary]).toEqual([
      [],
      'Nothing in the selection has an attribute “weight”.',
    ]);
    expect(() => run('attribute', ['a'], { name: '__proto__', value: '1' })).toThrow();
  });

  it('mean nothing for what is computed, and are taken back exactly', () => {
    fc.assert(
      fc.property(docArbitrary(8), fc.string({ maxLength: 20 }), (any, value) => {
        const items = [...any.nodes.keys()].slice(0, 3);
        const { edit } = operate('attribute', context, any, { graph: 'root', items }, { name: 'note', value });
        const after = apply(any, edit);
        expect(fingerprint(after, kinds)).toEqual(fingerprint(any, kinds));
        expect(plainDoc(apply(after, invert(edit)))).toEqual(plainDoc(any));
      }),
    );
  });

  it('answer to queries by their names, as parameters do', () => {
    expect(select('weight>5', doc, kinds, 'root')).toEqual(['b']);
    expect(select('attribute.weight<5', doc, kinds, 'root')).toEqual(['a']);
    expect(select('far_side:lef', doc, kinds, 'root')).toEqual(['a']);
    expect(() => select('wieght>5', doc, kinds, 'root')).toThrow('no field “wieght”');
  });

  it('go out in tables and come back', () => {
    const nodes = [...doc.nodes.values()];
    const table = tableOf({ doc, kinds, nodes }, { fields: [], parameters: ['weight'] });
    expect(table.map((row) => row.at(-1))).toEqual(['weight', 3, 10, '']);
    const rows = table.map((cells, i) => ({
      line: i + 1,
      cells: [...cells.slice(0, -1), i === 1 ? 4 : cells.at(-1)!],
    }));
    const { edit, findings } = readTable(doc, kinds, rows, context.newId);
    expect([attributesOf(apply(doc, edit).nodes.get('a')!).weight, findings]).toEqual([4, []]);
  });
});

describe('values of attributes', () => {
  const value = fc.oneof(
    fc.string(),
    fc.integer(),
    fc.double({ noNaN: true, noDefaultInfinity: true }),
    fc.boolean(),
    fc.json().map((text) => JSON.parse(text) as Json),
  );
  it('come back from their text, whatever they are', () => {
    fc.assert(
      fc.property(value, (one) => {
        // −0 is 0 in JSON
        const plain = JSON.parse(JSON.stringify(one)) as Json;
        expect(valueOfText(textOfValue(plain, 'json'), 'json')).toEqual(plain);
        if (typeof plain !== 'string') expect(valueOfText(textOfValue(plain), typeOfValue(plain))).toEqual(plain);
      }),
    );
  });

  it('that JavaScript cannot hold stay as they were written', () => {
    for (const text of ['12345678901234567890', 'NaN', 'inf', '0x10', 'about 5', ''])
      expect(valueOfText(text, 'number')).toBe(text);
    expect([typeOfTexts(['1', '2.5', '']), typeOfTexts(['007', '8']), typeOfTexts(['true', 'false'])]).toEqual([
      'number',
      'text',
      'boolean',
    ]);
    expect(attributesIn(doc, 'node').map(({ name, holds, count }) => [name, holds, count])).toEqual([
      ['far side', 'text', 1],
      ['weight', 'integer', 2],
    ]);
  });
});
