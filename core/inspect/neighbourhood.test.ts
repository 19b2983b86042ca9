import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { builtin } from '../document/builtin.ts';
import { indexOf } from '../document/doc.ts';
import { overlaps, rectOf } from '../document/geometry.ts';
import { problems } from '../document/validate.ts';
import { docFromSeed, sketchDoc, testKinds } from '../tests/arbitrary.ts';
import { extract, layOut, type Neighbourhood, neighbourhood, nextStep } from './neighbourhood.ts';

// a → b → c → d, e → c, d → f; b → tap of the beacon at b
const { doc } = sketchDoc()
  .frame('fr')
  .node('a', 'src')
  .node('b', 'round', { x: 100, frame: 'fr' })
  .node('c', 'add', { x: 200, pinned: true })
  .node('d', 'round', { x: 300 })
  .node('e', 'src', { y: 90 })
  .node('f', 'round', { x: 400 })
  .node('bc', builtin.beacon, { x: 200, y: 200 })
  .node('tp', builtin.tap, { x: 300, y: 200, beacon: { id: 'bc', name: 'bc' } })
  .node('t', 'round', { x: 400, y: 200 })
  .wire('a.out', 'b.in')
  .wire('b.out', 'c.a')
  .wire('e.out', 'c.b')
  .wire('c.out', 'd.in')
  .wire('d.out', 'f.in')
  .wire('b.out', 'bc.in')
  .wire('tp.out', 't.in');
const area = (more: Partial<Neighbourhood> = {}): Neighbourhood => ({
  graph: 'root',
  from: ['c'],
  up: 1,
  down: 1,
  grown: [],
  pruned: [],
  ...more,
});
const shown = (more: Partial<Neighbourhood>): string[] => neighbourhood(doc, area(more)).sort();

describe('the neighbourhood of a node', () => {
  it('holds its inputs and outputs as deep as asked, worked by hand', () => {
    expect(shown({})).toEqual(['b', 'c', 'd', 'e']);
    expect(shown({ up: 0 })).toEqual(['c', 'd']);
    expect(shown({ up: 2, down: 0 })).toEqual(['a', 'b', 'c', 'e']);
    expect(shown({ up: 9, down: 9 })).toEqual(['a', 'b', 'c', 'd', 'e', 'f']);
    expect(nextStep(doc, area())).toEqual({ up: 1, down: 1 });
  });

  it('is grown and pruned step by step, and sees over remote links', () => {
    expect(shown({ grown: ['b'] })).toEqual(['a', 'b', 'bc', 'c', 'd', 'e']);
    expect(shown({ up: 2, pruned: ['b'] })).toEqual(['c', 'd', 'e']);
    expect(shown({ from: ['b'], up: 0, down: 3, pruned: ['c'] })).toEqual(['b', 'bc', 't', 'tp']);
    expect(shown({ from: ['t'], up: 4, down: 0 })).toEqual(['a', 'b', 'bc', 't', 'tp']);
  });

  it('is shown as a document of its own that lays itself out, without frames, pins or a change to the file', () => {
    const ids = neighbourhood(doc, area());
    const places = layOut(doc, testKinds, 'root', ids);
    const alone = extract(doc, 'root', ids, places);
    expect(
      indexOf(alone)
        .nodesIn('root')
        .map((node) => node.id)
        .sort(),
    ).toEqual(['b', 'c', 'd', 'e']);
    expect(
      indexOf(alone)
        .wiresIn('root')
        .map((wire) => wire.id)
        .sort(),
    ).toEqual(['b.out>c.a', 'c.out>d.in', 'e.out>c.b']);
    const x = (id: string): number => alone.nodes.get(id)!.x;
    expect(x('b') < x('c') && x('c') < x('d')).toBe(true);
    expect(doc.nodes.get('b')).toMatchObject({ x: 100, frame: 'fr' });
    expect(places.has('c')).toBe(true);
  });

  it('never overlaps, and never makes a document that breaks the rules', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 1e6 }), (seed) => {
        const whole = docFromSeed(seed, 16);
        const from = indexOf(whole)
          .nodesIn('root')
          .slice(0, 2)
          .map((node) => node.id);
        const ids = neighbourhood(whole, area({ from, up: 3, down: 3 }));
        const alone = extract(whole, 'root', ids, layOut(whole, testKinds, 'root', ids));
        const rects = indexOf(alone)
          .nodesIn('root')
          .map((node) => rectOf(alone, testKinds, node));
        expect(rects).toHaveLength(ids.length);
        rects.forEach((a, i) => rects.slice(i + 1).forEach((b) => expect(overlaps(a, b)).toBe(false)));
        expect(problems(alone)).toEqual([]);
      }),
    );
  });
});
