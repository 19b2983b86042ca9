import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { builtin } from '../document/builtin.ts';
import { docArbitrary, sketchDoc, testKinds } from '../tests/arbitrary.ts';
import { Outline, type OutlineRow } from './outline.ts';

const { doc } = sketchDoc()
  .graph('g1', { name: 'Inner' })
  .frame('f', { title: 'Beds' })
  .frame('g', { title: 'Far', parent: 'f' })
  .frame('z', { title: 'Empty' })
  .node('h', builtin.nested, { name: 'Host', inner: 'g1', x: 900 })
  .node('in1', 'add', { graph: 'g1', name: 'In_1', bypassed: true })
  .node('m10', 'add', { name: 'Mix_10', frame: 'f', x: 5 })
  .node('m2', 'add', { name: 'Mix_2', frame: 'f', x: 5, show: {} })
  .node('d', 'src', { name: 'Deep', frame: 'g', pinned: true, x: 7 })
  .wire('d.out', 'm2.a');

const outline = new Outline(doc, testKinds);
const said = (row: OutlineRow): string => (outline.marks(row).length > 0 ? ` (${outline.marks(row).join(' ')})` : '');
const lines = (open: readonly string[]): string[] =>
  outline
    .rows(new Set(open))
    .map((row) => `${' '.repeat(row.depth)}${row.title}${row.count > 0 ? ` ${row.count}` : ''}${said(row)}`);

describe('the outline', () => {
  it('shows a level when it is opened: frames, then nodes, numbers in their order, with counts and marks', () => {
    expect(lines([])).toEqual(['Test 5']);
    expect(lines(['root'])).toEqual(['Test 5', ' Beds 3', ' Empty (empty)', ' Host 1']);
    expect(lines(['root', 'f', 'g', 'h'])).toEqual([
      'Test 5',
      ' Beds 3',
      '  Far 1',
      '   Deep (pinned)',
      '  Mix_2 (hidden stacked)',
      '  Mix_10 (unwired stacked)',
      ' Empty (empty)',
      ' Host 1',
      '  In_1 (bypassed unwired)',
    ]);
  });

  it('opens by levels, and knows the way to anything', () => {
    expect([...outline.openable(1)]).toEqual(['root']);
    expect([...outline.openable()].sort()).toEqual(['f', 'g', 'h', 'root', 'z']);
    expect(outline.pathTo('d')).toEqual(['g', 'f', 'root']);
    expect(outline.pathTo('in1')).toEqual(['h', 'root']);
  });

  it('shows every node and frame exactly once when all is open', () => {
    fc.assert(
      fc.property(docArbitrary(), (whole) => {
        const all = new Outline(whole, testKinds);
        const ids = all.rows(all.openable()).map((row) => row.id);
        expect([...ids].sort()).toEqual([whole.head.root, ...whole.nodes.keys(), ...whole.frames.keys()].sort());
        expect(all.rows(new Set())[0]!.count).toBe(whole.nodes.size);
      }),
    );
  });
});
