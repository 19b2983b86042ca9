import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Expression } from '../document/kinds.ts';
import { diff } from '../edit/diff.ts';
import { apply, invert } from '../edit/step.ts';
import { fingerprint } from '../inspect/fingerprint.ts';
import { createContext } from '../operation.ts';
import { runOperation } from '../operations.ts';
import { Refused } from '../said.ts';
import { expressionText, readExpression } from '../structure/expression.ts';
import { act } from '../tests/acts.ts';
import { plainDoc, sketchDoc, testKinds } from '../tests/arbitrary.ts';
import { settingNames } from './settings.ts';

const pad = () =>
  sketchDoc()
    .node('a', 'src', { params: { value: 4 } })
    .node('b', 'src')
    .node('c', 'end')
    .wire('a.out', 'c.in');

describe('settings', () => {
  it('keep the values of each under a name, and give them back', async () => {
    const { doc } = await act('setting-add', pad().doc, ['a'], { name: 'Storm' });
    expect(doc.nodes.get('a')).toMatchObject({
      setting: 'Storm',
      settings: { Standard: { value: 4 } },
      params: { value: 4 },
    });
    const stormy = (await act('set-parameter', doc, ['a'], { parameter: 'value', value: 90 })).doc;
    const calm = await act('setting-choose', stormy, ['a', 'b'], { name: 'Standard' });
    expect(calm.doc.nodes.get('a')).toMatchObject({
      setting: 'Standard',
      settings: { Storm: { value: 90 } },
      params: { value: 4 },
    });
    expect(calm.report.findings).toEqual([]);
    expect(
      (await act('setting-choose', stormy, ['a', 'b'], { name: 'Storm' })).report.findings.map((item) => item.message),
    ).toEqual(['“b” has no setting “Storm”; it was skipped.']);
    // what is computed follows the present setting alone
    expect(fingerprint(calm.doc, testKinds)).toEqual(fingerprint(pad().doc, testKinds));
    const reset = (await act('reset', stormy, ['a'])).doc.nodes.get('a')!;
    expect([reset.params, reset.settings]).toEqual([undefined, { Standard: { value: 4 } }]);
    expect(settingNames(stormy.nodes.get('a')!)).toEqual(['Standard', 'Storm']);
    const gone = await act('setting-remove', stormy, ['a'], { name: 'Standard' });
    expect(gone.doc.nodes.get('a')!.settings).toBeUndefined();
    await expect(act('setting-remove', stormy, ['a'], { name: 'Storm' })).rejects.toThrow(
      'is the present setting of “a”',
    );
    await expect(act('setting-add', stormy, ['a'], { name: 'Standard' })).rejects.toThrow(
      'has a setting “Standard” already',
    );
    expect((await act('setting-rename', stormy, ['a'], { name: 'Gale' })).doc.nodes.get('a')!.setting).toBe('Gale');
  });

  it('are skipped, and parameters too, where a node is locked', async () => {
    const { doc } = await act('lock', pad().doc, ['a']);
    const set = await act('set-parameter', doc, ['a', 'b'], { parameter: 'value', value: 7 });
    expect([set.doc.nodes.get('a')!.params, set.doc.nodes.get('b')!.params]).toEqual([{ value: 4 }, { value: 7 }]);
    expect(set.report.findings.map((item) => item.message)).toEqual(['“a” is locked; it was skipped.']);
    expect((await act('reset', doc, ['a'])).doc).toBe(doc);
    expect((await act('unlock', doc, ['a'])).doc.nodes.get('a')!.locked).toBeUndefined();
  });

  it('are undone exactly, and the shortest edit between two states is one entry for each value', async () => {
    const acts = fc.array(
      fc.oneof(
        fc.record({
          id: fc.constant('setting-add'),
          options: fc.record({ name: fc.constantFrom('Calm', 'Storm', 'Gale') }),
        }),
        fc.record({
          id: fc.constant('setting-choose'),
          options: fc.record({ name: fc.constantFrom('Calm', 'Storm', 'Standard') }),
        }),
        fc.record({
          id: fc.constant('setting-remove'),
          options: fc.record({ name: fc.constantFrom('Calm', 'Storm') }),
        }),
        fc.record({
          id: fc.constant('set-parameter'),
          options: fc.record({ parameter: fc.constant('value'), value: fc.integer({ min: 0, max: 100 }) }),
        }),
        fc.record({ id: fc.constantFrom('reset', 'lock', 'unlock'), options: fc.constant({}) }),
      ),
      { maxLength: 12 },
    );
    await fc.assert(
      fc.asyncProperty(acts, async (row) => {
        const start = pad().doc;
        let doc = start;
        for (const { id, options } of row) {
          try {
            const { edit } = await runOperation(
              id,
              createContext(testKinds, 1),
              doc,
              { graph: 'root', items: ['a', 'b'] },
              options,
            );
            const after = apply(doc, edit);
            expect(plainDoc(apply(after, invert(edit)))).toEqual(plainDoc(doc));
            doc = after;
          } catch (error) {
            if (!(error instanceof Refused)) throw error;
          }
        }
        expect(plainDoc(apply(start, diff(start, doc)))).toEqual(plainDoc(doc));
      }),
      { numRuns: 100 },
    );
  });
});

describe('expressions as they are typed', () => {
  const { doc } = sketchDoc()
    .graph('g')
    .node('h', 'std.nested', { inner: 'g' })
    .node('a', 'src', { name: 'Tide' })
    .node('i', 'src', { graph: 'g', name: 'Wave' });

  it.each(['2 * [Tide.value] + 1', '[Wave.value]', 'sin(time)', '[Wave.value][Tide.value]'])('%s', (text) => {
    const read = readExpression(doc, testKinds, doc.nodes.get('i')!, text) as Expression;
    expect(expressionText(doc, read)).toBe(text);
  });

  it('refer by id, so that renaming keeps them, and say where a reference leads nowhere', async () => {
    const read = readExpression(doc, testKinds, doc.nodes.get('i')!, '[Tide.value] / 2') as Expression;
    expect(read.expression[0]).toEqual({ node: 'a', parameter: 'value' });
    expect(expressionText((await act('rename', doc, ['a'], { name: 'Moon' })).doc, read)).toBe('[Moon.value] / 2');
    expect(readExpression(doc, testKinds, doc.nodes.get('a')!, '[Wave.value]')).toBe(
      'No node is called “Wave” in this graph or around it.',
    );
    expect(readExpression(doc, testKinds, doc.nodes.get('i')!, '[Tide.phase]')).toBe(
      '“Tide” (Source) has no parameter “phase”.',
    );
  });
});
