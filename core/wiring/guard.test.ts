import { describe, expect, it } from 'vitest';
import { builtin } from '../document/builtin.ts';
import type { Doc } from '../document/doc.ts';
import { Kinds } from '../document/kinds.ts';
import { createContext, type Outcome } from '../operation.ts';
import { runOperation } from '../operations.ts';
import { act as acted } from '../tests/acts.ts';
import { sketchDoc, testCatalogue, testKinds } from '../tests/arbitrary.ts';

const act = (id: string, doc: Doc, items: string[], options = {}, kinds = testKinds): Promise<Outcome> =>
  runOperation(id, createContext(kinds, 1), doc, { graph: 'root', items }, options);
const said = ({ report }: Outcome): string[] => [report.summary, ...report.findings.map((item) => item.message)];

/** Two ends that take what `s` gives over a reroute point and over a beacon. */
const carried = () =>
  sketchDoc()
    .node('s', 'src', { name: 'Sun' })
    .node('r', builtin.reroute)
    .node('b', builtin.beacon, { name: 'Light' })
    .node('t', builtin.tap, { beacon: { id: 'b', name: 'Light' } })
    .node('x', 'add', { name: 'Kelp' })
    .node('y', 'add', { name: 'Coral' })
    .wire('s.out', 'r.in')
    .wire('r.out', 'x.a')
    .wire('s.out', 'b.in')
    .wire('t.out', 'y.a');

describe('what an act does to inputs', () => {
  it('is said of what starves behind carriers, with a number, and not of the carriers', async () => {
    const outcome = await act('delete', carried().doc, ['s']);
    expect(outcome.report.summary).toContain('2 inputs have lost their number: “Coral” and “Kelp”.');
    expect(outcome.report.findings.filter((item) => item.rule === 'input-opened').map((item) => item.message)).toEqual([
      'Input “a” of “Coral” is open now: it took “Sun”.',
      'Input “a” of “Kelp” is open now: it took “Sun”.',
    ]);
  });

  it('is said of a feed whose scope a frame narrows', async () => {
    const { doc } = sketchDoc()
      .node('s', 'src', { name: 'Sun' })
      .node('f', builtin.feed, {
        name: 'Light',
        params: { types: 'num' },
        ports: [{ id: 'in', name: 'in', type: 'num', direction: 'in' }],
      })
      .node('x', 'tint', { name: 'Kelp' })
      .node('y', 'tint', { name: 'Coral' })
      .wire('s.out', 'f.in');
    const outcome = await act('frame', doc, ['s', 'f', 'x'], { supply: 'let go' });
    expect(outcome.report.summary).toContain('1 input has lost its number: “Coral”.');
    expect(outcome.report.findings.some((item) => item.rule === 'input-opened' && item.severity === 'warning')).toBe(
      true,
    );
  });

  it('is said of all that take something else over a bypassed node', async () => {
    let pad = sketchDoc().node('s', 'src').node('m', 'add', { name: 'Mix' }).wire('s.out', 'm.b');
    for (let i = 0; i < 10; i++) pad = pad.node(`x${i}`, 'add').wire('m.out', `x${i}.a`);
    expect((await act('bypass', pad.doc, ['m'])).report.summary).toMatch(/^Bypassed 1 node\. 10 inputs take something/);
  });
});

describe('expressions', () => {
  const reading = () =>
    sketchDoc()
      .node('s', 'src', { name: 'Sun' })
      .node('x', 'src', {
        name: 'Moon',
        params: { value: { expression: ['2 * ', { node: 's', parameter: 'value' }] } },
      });

  it('that lose what they read are said, and are no loss where their own node goes too', async () => {
    expect(said(await act('delete', reading().doc, ['s']))).toEqual([
      'Deleted 1 node. 1 expression has lost what it reads: “Moon”.',
      'The expression in “Value” of “Moon” reads “Sun”, which is gone.',
    ]);
    expect(said(await act('delete', reading().doc, ['s', 'x']))).toEqual(['Deleted 2 nodes.']);
  });

  it('keep what they read where that is wanted: the value, or the expression that stood there', async () => {
    const value = (doc: Doc, id = 'x') => doc.nodes.get(id)?.params?.value;
    const of = (node: string) => ({ node, parameter: 'value' });
    const after = async (expression: readonly unknown[], gone = ['s']) => {
      const { doc } = sketchDoc()
        .node('s', 'src', { params: { value: 7 } })
        .node('t', 'src', { params: { value: { expression: [of('s'), ' + ', of('u')] } } })
        .node('u', 'src', { params: { value: { expression: ['1 + ', of('t')] } } })
        .node('d', 'src')
        .node('x', 'src', { params: { value: { expression: expression as never } } });
      const { doc: left, report } = await acted('delete', doc, gone, { readings: 'keep' });
      return [value(left), report.summary.includes('expression')];
    };
    // alone it is a plain value; a default is a value too
    expect(await after([of('s')])).toEqual([7, false]);
    expect(await after([' ', of('d')], ['d'])).toEqual([1, false]);
    expect(await after(['2 * ', of('d'), ' + ', of('s')], ['d'])).toEqual([
      { expression: ['2 * 1 + ', of('s')] },
      false,
    ]);
    expect(await after(['2 * ', of('t')], ['t'])).toEqual([
      { expression: ['2 * (', of('s'), ' + ', of('u'), ')'] },
      // “u” read “t”, which read “u”
      true,
    ]);
    // over a ring of nodes that go nothing can be worked out
    expect(await after(['2 * ', of('t')], ['t', 'u'])).toEqual([{ expression: ['2 * ', of('t')] }, true]);
  });

  it('are left lost where putting in what they read would never end', async () => {
    // each reads the one before it twice
    let pad = sketchDoc().node('n0', 'src');
    for (let i = 1; i <= 40; i++) {
      const read = { node: `n${i - 1}`, parameter: 'value' };
      pad = pad.node(`n${i}`, 'src', { params: { value: { expression: [read, ' + ', read] } } });
    }
    const gone = Array.from({ length: 40 }, (_, i) => `n${i}`);
    const { doc } = await acted('delete', pad.doc, gone, { readings: 'keep' });
    expect(doc.nodes.get('n40')?.params).toEqual(pad.doc.nodes.get('n40')?.params);
  });

  it('close loops as wires do where loops are forbidden', async () => {
    const kinds = new Kinds({ ...testCatalogue, loops: 'forbidden' });
    // Moon reads Mix, so Mix cannot take what Moon gives
    const { doc } = sketchDoc()
      .node('m', 'add', { name: 'Mix' })
      .node('x', 'src', { name: 'Moon', params: { value: { expression: [{ node: 'm', parameter: 'amount' }] } } });
    const ends = { from: { node: 'x', port: 'out' }, to: { node: 'm', port: 'a' } };
    await expect(act('connect', doc, [], ends, kinds)).rejects.toMatchObject({ code: 'wiring.closes-loop' });
    expect((await act('connect', doc, [], ends)).edit.steps.length).toBeGreaterThan(0);
  });

  it('count as what a feed stands on: it does not supply what its source reads', async () => {
    const { doc } = sketchDoc()
      .node('k', 'tint', { name: 'Kelp' })
      .node('s', 'src', { name: 'Sun', params: { value: { expression: [{ node: 'k', parameter: 'amount' }] } } });
    const outcome = await act('standing-feed', doc, ['s'], { types: 'num' });
    expect(outcome.report.findings.filter((item) => item.rule === 'feed-changed')).toEqual([]);
  });
});

describe('ends', () => {
  const ends = () =>
    sketchDoc()
      .graph('g', { name: 'Reef' })
      .node('h', builtin.nested, { inner: 'g', name: 'Reef', ports: [] })
      .node('e', 'end', { graph: 'g', name: 'Kelp' })
      .node('d', 'end', { name: 'Dome' }).doc;
  const told = async (id: string, items: string[], options: object = {}) => {
    const { report } = await act(id, ends(), items, options);
    return [report.summary, report.findings.flatMap((item) => (item.rule === 'end-lost' ? [item.severity] : []))];
  };

  it('that go, or are switched off, are counted by name, and are a loss where nobody chose them', async () => {
    expect(await told('bypass', ['h'])).toEqual([
      'Bypassed 1 node. 1 end no longer computes anything: “Kelp”.',
      ['warning'],
    ]);
    expect(await told('delete', ['h', 'd'])).toEqual([
      'Deleted 2 nodes. 2 ends no longer compute anything: “Dome” and “Kelp”.',
      ['info', 'warning'],
    ]);
    expect(await told('label', ['d'], { label: 'Night' })).toEqual([expect.not.stringContaining('end'), []]);
  });
});
