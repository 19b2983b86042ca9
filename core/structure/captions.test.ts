import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { builtin } from '../document/builtin.ts';
import { indexOf } from '../document/doc.ts';
import { problems } from '../document/validate.ts';
import { apply } from '../edit/step.ts';
import { createContext } from '../operation.ts';
import { captioned, captionOptions } from '../operations/captions.ts';
import { runOperation } from '../operations.ts';
import { act } from '../tests/acts.ts';
import { docFromSeed, sketchDoc, testKinds } from '../tests/arbitrary.ts';
import { captionRows } from './captions.ts';

const kelp = () =>
  sketchDoc()
    .frame('f', { title: 'Kelp bed, north' })
    .node('a', 'src', { name: 'Src1', x: 100, frame: 'f' })
    .node('b', 'add', { name: 'Blade_Sum', label: 'Sum of blades', x: 0, frame: 'f' })
    .node('c', 'add', { name: 'Blade_Glow', x: 50 })
    .node('d', 'add', { name: 'Rim', x: 50 });

const rows = (items: string[], options: object) => {
  const { doc } = kelp();
  const parsed = captionOptions.parse(options);
  return captionRows(doc, testKinds, captioned(doc, { graph: 'root', items }, parsed.target), parsed).map(
    ({ before, after, problem, remark }) =>
      [before, after, problem ?? remark].filter((one) => one !== undefined).join(' > '),
  );
};

describe('captions of many', () => {
  it.each([
    [
      'a pattern with numbers by place',
      ['a', 'b'],
      { target: 'name', pattern: '{frame}_{n}', order: 'place', start: 10, step: 5, digits: 3 },
      ['Src1 > Kelp_bed_north_015', 'Blade_Sum > Kelp_bed_north_010'],
    ],
    [
      'a pattern from the kind',
      ['c'],
      { pattern: '{kind} of {name} ({category})' },
      [' > Add of Blade_Glow (Mathematics)'],
    ],
    [
      'plain find and replace',
      ['b', 'c'],
      { target: 'name', find: 'Blade_', replace: 'Frond_' },
      ['Blade_Sum > Frond_Sum', 'Blade_Glow > Frond_Glow'],
    ],
    [
      'signs of expressions taken as they are',
      ['b'],
      { find: 'of', replace: '$1.*' },
      ['Sum of blades > Sum $1.* blades'],
    ],
    [
      'groups of a regular expression',
      ['b', 'c'],
      { target: 'name', find: '^(\\w+)_(\\w+)$', replace: '$2_$1', regex: true },
      ['Blade_Sum > Sum_Blade', 'Blade_Glow > Glow_Blade'],
    ],
    ['other letters', ['b'], { letters: 'Every Word' }, ['Sum of blades > Sum Of Blades']],
    ['snakes', ['c'], { target: 'name', letters: 'snake_case' }, ['Blade_Glow > blade_glow']],
    ['something in front and behind', ['d'], { target: 'name', prefix: 'N_', suffix: '_1' }, ['Rim > N_Rim_1']],
    ['titles of frames', ['f'], { target: 'title', letters: 'UPPER CASE' }, ['Kelp bed, north > KELP BED, NORTH']],
    [
      'illegal names kept',
      ['d'],
      { target: 'name', prefix: '3 ' },
      ['Rim > 3 Rim > “3 Rim” is not a legal name: use letters, digits and _, start with a letter, leave out spaces.'],
    ],
    [
      'taken names kept',
      ['c'],
      { target: 'name', pattern: 'Rim' },
      ['Blade_Glow > Rim > “Rim” is taken by another node of this graph.'],
    ],
    [
      'two of one name: the first has it',
      ['c', 'd'],
      { target: 'name', pattern: 'Both' },
      ['Blade_Glow > Both', 'Rim > Both > “Both” is taken by another node of this graph.'],
    ],
    [
      'the same mended',
      ['c', 'd', 'a'],
      { target: 'name', pattern: '3{name}', find: '[A-Z]\\w+', regex: true, replace: 'x', mend: true },
      [
        'Blade_Glow > n_3x > “3x” was not legal.',
        'Rim > n_3x2 > “3x” was not legal.',
        'Src1 > n_3x3 > “3x” was not legal.',
      ],
    ],
    [
      'default names told',
      ['c'],
      { target: 'name', pattern: '{kind}{n}' },
      ['Blade_Glow > Add01 > This says no more than the kind does.'],
    ],
  ])('%s', (_, items, options, expected) => expect(rows(items, options)).toEqual(expected));

  it('exchanges two names, since neither is taken in the end', async () => {
    const { doc } = kelp();
    const swap = { target: 'name', find: 'Blade_(Sum|Glow)', replace: 'Tip_$1', regex: true };
    expect((await act('captions', doc, ['b', 'c'], swap)).doc.nodes.get('b')!.name).toBe('Tip_Sum');
    const pair = sketchDoc().node('a', 'add', { name: 'A1' }).node('b', 'add', { name: 'A2' }).doc;
    const swapped = await act('captions', pair, ['b', 'a'], { target: 'name', pattern: 'A{n}', digits: 1 });
    expect([swapped.doc.nodes.get('a')!.name, swapped.doc.nodes.get('b')!.name]).toEqual(['A2', 'A1']);
  });

  it('takes the ports of a nested graph along, all that are renamed', async () => {
    const { doc: flat } = sketchDoc()
      .node('a', 'src')
      .node('b', 'add')
      .node('c', 'add')
      .wire('a.out', 'b.a')
      .wire('b.out', 'c.a');
    const { doc, report } = await act('nest', flat, ['b']);
    const host = report.select![0]!;
    const ports = doc.nodes.get(host)!.ports.map((port) => port.id);
    const after = (await act('captions', doc, ports, { target: 'name', prefix: 'Reef_' })).doc;
    expect(after.nodes.get(host)!.ports.map((port) => port.name)).toEqual(['Reef_a', 'Reef_b_out']);
  });

  it('takes taps along with their beacons, and says what it cannot read', async () => {
    const doc = sketchDoc()
      .node('b', builtin.beacon, { name: 'Tide' })
      .node('t', builtin.tap, { name: 'Tap', beacon: { id: 'b', name: 'Tide' } }).doc;
    expect(
      (await act('captions', doc, ['b'], { target: 'name', suffix: '_Low' })).doc.nodes.get('t')!.beacon!.name,
    ).toBe('Tide_Low');
    await expect(act('captions', doc, ['b'], { find: '(', regex: true })).rejects.toThrow(
      'The regular expression cannot be used',
    );
    await expect(act('captions', doc, ['b'], { pattern: '{size}' })).rejects.toThrow(
      '{size}, which stands for nothing',
    );
    await expect(act('captions', doc, ['b'], { target: 'title' })).rejects.toThrow('Select frames first.');
  });

  // (a+)+$ on a row of a takes a backtracking matcher 2^n steps (Cox 2007)
  it('cannot be made to hang by an expression', async () => {
    const doc = sketchDoc().node('a', 'add', { label: `${'a'.repeat(400)}!` }).doc;
    expect((await act('captions', doc, ['a'], { find: '(a+)+$', replace: 'x', regex: true })).report.summary).toBe(
      'Wrote 0 labels; 1 other as before.',
    );
  });

  it('leaves every graph with legal, free names, whatever is asked', async () => {
    const words = fc.constantFrom('', '{name}', '{kind}', 'Same', '{n}', '{frame} {n}', '7', 'Node_1');
    await fc.assert(
      fc.asyncProperty(
        fc.integer({ min: 0, max: 1_000_000 }),
        fc.integer({ min: 1, max: 14 }),
        words,
        fc.boolean(),
        fc.constantFrom('', '_', 'Node'),
        async (seed, size, pattern, mend, find) => {
          const doc = docFromSeed(seed, size);
          const items = indexOf(doc)
            .nodesIn('root')
            .map((node) => node.id);
          if (items.length === 0) return;
          const { edit, report } = await runOperation(
            'captions',
            createContext(testKinds, 1),
            doc,
            { graph: 'root', items },
            { target: 'name', pattern, mend, find, replace: '' },
          );
          const after = apply(doc, edit);
          expect(problems(after)).toEqual([]);
          if (mend) expect(report.findings.filter((item) => item.severity !== 'info')).toEqual([]);
        },
      ),
      { numRuns: 150 },
    );
  });
});
