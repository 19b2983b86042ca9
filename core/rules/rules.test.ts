import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { builtin } from '../document/builtin.ts';
import { type Doc, indexOf } from '../document/doc.ts';
import { Kinds } from '../document/kinds.ts';
import { apply } from '../edit/step.ts';
import type { Finding } from '../finding.ts';
import { fingerprint } from '../inspect/fingerprint.ts';
import { measureGraph } from '../inspect/measure.ts';
import { createContext } from '../operation.ts';
import { runOperation } from '../operations.ts';
import { Refused } from '../said.ts';
import { docArbitrary, wideKinds as kinds, sketchDoc, testCatalogue, testKinds } from '../tests/arbitrary.ts';
import { neededNodes } from '../wiring/needed.ts';
import type { Facts } from './facts.ts';
import { checkRules, leftoverRules, ruleById, rules } from './rules.ts';

const found = (doc: Doc, rule: string, facts: Facts = {}): Finding[] =>
  checkRules(doc, kinds, [ruleById(rule)!], facts);
const said = (doc: Doc, rule: string, facts: Facts = {}): string[] =>
  found(doc, rule, facts).map((item) => item.message);

/** The document after the fix of a finding. */
async function fixed(doc: Doc, item: Finding): Promise<Doc> {
  const { operation, selection, options } = item.fix ?? item.choices![0]!;
  const at = selection[0] ?? item.place.at(-1)!;
  const graph =
    doc.nodes.get(at)?.graph ??
    doc.frames.get(at)?.graph ??
    indexOf(doc).hostOf(at)?.graph ??
    doc.nodes.get(doc.wires.get(at)?.to.node ?? '')?.graph ??
    'root';
  const { edit } = await runOperation(
    operation,
    createContext(kinds, 1),
    doc,
    { graph, items: selection },
    options ?? {},
  );
  return apply(doc, edit);
}

describe('the rules', () => {
  it('have ids of their own, a reason each, and leave a small tidy file alone', () => {
    expect(new Set(rules.map((rule) => rule.id)).size).toBe(rules.length);
    for (const rule of rules) expect(rule.why.length).toBeGreaterThan(20);
    const tidy = sketchDoc()
      .node('Swell', 'src')
      .node('Depth', 'round', { x: 300 })
      .node('Master', 'end', { x: 600 })
      .wire('Swell.out', 'Master.in')
      .wire('Swell.out', 'Depth.in');
    expect(checkRules(tidy.doc, kinds).map((item) => item.rule)).toEqual(['unused']);
  });

  it('overlap: names what lies on one another, and parts it', async () => {
    const doc = sketchDoc().node('a', 'src').node('b', 'add', { x: 10, y: 8 }).node('c', 'src', { x: 900 }).doc;
    expect(said(doc, 'overlap')).toEqual(['“a” and “b” lie on one another.']);
    expect(said(await fixed(doc, found(doc, 'overlap')[0]!), 'overlap')).toEqual([]);
  });

  it('stacked duplicate: only what computes the same, and merges it', async () => {
    const pad = sketchDoc()
      .node('a', 'src', { params: { value: 2 } })
      .node('b', 'src', { x: 6, y: 4, params: { value: 2 } })
      .node('c', 'src', { x: 3, params: { value: 3 } })
      .node('far', 'src', { x: 900, params: { value: 2 } })
      .node('m', 'add', { x: 400 })
      .node('e', 'end', { x: 700 })
      .wire('a.out', 'm.a')
      .wire('b.out', 'm.b')
      .wire('m.out', 'e.in');
    const { doc } = pad;
    expect(said(doc, 'stacked-duplicate')).toEqual(['“a” and “b” lie on one another and compute the same.']);
    const after = await fixed(doc, found(doc, 'stacked-duplicate')[0]!);
    expect(said(after, 'stacked-duplicate')).toEqual([]);
    expect(fingerprint(after, kinds).ends).toBe(fingerprint(doc, kinds).ends);
  });

  it('lost end: taps, beacons, feeds and expressions that lead nowhere', async () => {
    const { doc } = sketchDoc()
      .node('t', builtin.tap, { beacon: { id: 'gone', name: 'Moon' } })
      .node('bc', builtin.beacon, { name: 'Tide' })
      .node('tp', builtin.tap, { beacon: { id: 'bc', name: 'Tide' } })
      .node('fd', builtin.feed, { params: { types: 'num' } })
      .node('x', 'src', { params: { value: { expression: [{ node: 'nobody', parameter: 'value' }, ' + 1'] } } });
    expect(said(doc, 'lost-end')).toEqual([
      'The beacon “Tide” takes nothing, and its tap gives nothing.',
      'The tap “t” listens for the beacon “Moon”, which is not there.',
      'The expression in “value” of “x” refers to a node that is gone.',
    ]);
    let now = doc;
    for (let item = found(now, 'lost-end')[0]; item; item = found(now, 'lost-end')[0]) now = await fixed(now, item);
    // feeds have rules of their own, which leave the choice to people
    expect([...now.nodes.keys()]).toEqual(['fd', 'x']);
    expect(now.nodes.get('x')!.params).toBeUndefined();
  });

  it('default name: a name after the frame, a neighbour or the category', async () => {
    const { doc } = sketchDoc()
      .frame('f', { title: 'Kelp bed' })
      .node('a', 'src', { name: 'Source_3', frame: 'f' })
      .node('b', 'add', { name: 'Add1', x: 300 })
      .node('c', 'round', { name: 'Shelf_depth', x: 600 })
      .node('d', 'src', { name: 'src_2', y: 400 })
      .node('e', 'src', { name: 'Source', label: 'Moon', y: 600 })
      .wire('b.out', 'c.in');
    const items = found(doc, 'default-name');
    expect(items.map((item) => item.place.at(-1))).toEqual(['a', 'b', 'd']);
    const counting = new Kinds({
      ...kinds.catalogue,
      kinds: kinds.catalogue.kinds.map((kind) => ({ ...kind, nameMatters: true })),
    });
    expect(checkRules(doc, counting, [ruleById('default-name')!])[0]!.message).toMatch(
      /Its name matters: a different name changes the result\.$/,
    );
    expect((await fixed(doc, items[0]!)).nodes.get('a')!.name).toBe('Kelp_bed_Source');
    expect((await fixed(doc, items[1]!)).nodes.get('b')!.name).toBe('Shelf_depth_Add');
    expect((await fixed(doc, items[2]!)).nodes.get('d')!.name).toBe('Mathematics_Source');
  });

  it('wire through a node: where wires are straight, right-angled ones go round', async () => {
    const pad = sketchDoc()
      .node('a', 'src')
      .node('b', 'src', { x: 300 })
      .node('c', 'round', { x: 700 })
      .wire('a.out', 'c.in');
    const straight = { ...pad.doc, head: { ...pad.doc.head, wireStyle: 'straight' as const } };
    expect(said(straight, 'wire-through-node')).toEqual(['The wire from “a” to “c” runs through “b”.']);
    expect(said(await fixed(straight, found(straight, 'wire-through-node')[0]!), 'wire-through-node')).toEqual([]);
  });

  it('missing asset: only what the store was asked for, with the place where it lies now', async () => {
    const { doc } = sketchDoc()
      .node('a', 'reader', { params: { file: 'maps/old/kelp.exr' } })
      .node('b', 'reader', { params: { file: 'maps/reef.exr' } })
      .node('c', 'reader', { params: { file: 'unknown.exr' } });
    expect(said(doc, 'missing-asset')).toEqual([]);
    const assets = {
      'maps/old/kelp.exr': { exists: false, elsewhere: ['maps/kelp.exr'] },
      'maps/reef.exr': { exists: true, elsewhere: [] },
    };
    expect(said(doc, 'missing-asset', { assets })).toEqual([
      '“a” reads “maps/old/kelp.exr”, which is not in the asset store. A file of that name is at “maps/kelp.exr”.',
    ]);
    expect((await fixed(doc, found(doc, 'missing-asset', { assets })[0]!)).nodes.get('a')!.params).toEqual({
      file: 'maps/kelp.exr',
    });
    // what is written need not be there
    const writers = new Kinds({
      ...kinds.catalogue,
      kinds: kinds.catalogue.kinds.map((kind) => ({ ...kind, reads: [] })),
    });
    expect(checkRules(doc, writers, [ruleById('missing-asset')!], { assets })).toEqual([]);
    const two = { 'maps/old/kelp.exr': { exists: false, elsewhere: ['a/kelp.exr', 'b/kelp.exr'] } };
    expect(found(doc, 'missing-asset', { assets: two })[0]!.fix).toBeUndefined();
  });

  it('unused and unreachable: what no end needs, apart by whether anything reads it', async () => {
    const { doc } = sketchDoc()
      .node('a', 'src')
      .node('e', 'end')
      .node('u', 'src')
      .node('v', 'round')
      .node('w', 'round')
      .wire('a.out', 'e.in')
      .wire('u.out', 'v.in')
      .wire('v.out', 'w.in');
    expect(said(doc, 'unused')).toEqual(['Nothing takes from “w” (Round).']);
    expect(said(doc, 'unreachable')).toEqual([
      '“u” (Source) reaches no end of the file.',
      '“v” (Round) reaches no end of the file.',
    ]);
    const after = await fixed(doc, found(doc, 'unreachable')[0]!);
    expect([...after.nodes.keys()].sort()).toEqual(['a', 'e']);
    // without an end nothing can be said to be needed
    expect(said(sketchDoc().node('a', 'src').doc, 'unused')).toEqual([]);
  });

  it('bypassed: since when where that is known, and graver with time; deleting it changes no end', async () => {
    const { doc } = sketchDoc()
      .node('a', 'src')
      .node('m', 'add', { bypassed: true })
      .node('e', 'end')
      .wire('a.out', 'm.b')
      .wire('m.out', 'e.in');
    expect(said(doc, 'long-bypassed')).toEqual(['“m” is bypassed; since when, a file alone does not say.']);
    const since = (days: number) => found(doc, 'long-bypassed', { bypassedSince: { m: { revision: 4, days } } })[0]!;
    expect([since(0.2).message, since(0.2).severity]).toEqual(['“m” is bypassed since revision 4, today.', 'info']);
    expect([since(20).message, since(20).severity]).toEqual([
      '“m” is bypassed since revision 4, for 20 days.',
      'warning',
    ]);
    expect(fingerprint(await fixed(doc, since(20)), kinds).ends).toBe(fingerprint(doc, kinds).ends);
  });

  it('cycle: switching off the wires that close it leaves none', async () => {
    const { doc } = sketchDoc()
      .node('a', 'add')
      .node('b', 'add', { x: 200 })
      .node('c', 'add', { x: 400 })
      .wire('a.out', 'b.a')
      .wire('b.out', 'c.a')
      .wire('c.out', 'a.a')
      .wire('b.out', 'b.b');
    expect(said(doc, 'cycle')).toEqual(['“a”, “b” and “c” read one another in a cycle.']);
    expect(said(await fixed(doc, found(doc, 'cycle')[0]!), 'cycle')).toEqual([]);
    const referring = (to: string) => ({ params: { value: { expression: [{ node: to, parameter: 'value' }] } } });
    const told = sketchDoc()
      .node('a', 'src', referring('b'))
      .node('b', 'src', { x: 200, ...referring('a') }).doc;
    expect(said(told, 'cycle')).toEqual(['“a” and “b” read one another in a cycle.']);
    expect(said(await fixed(told, found(told, 'cycle')[0]!), 'cycle')).toEqual([]);
    const strict = new Kinds({ ...testCatalogue, loops: 'forbidden' });
    expect(checkRules(doc, strict, [ruleById('cycle')!])[0]!.severity).toBe('warning');
    expect(found(doc, 'cycle')[0]!.severity).toBe('info');
  });

  it('empty frame: not one that holds a frame', async () => {
    const { doc } = sketchDoc().frame('f', { title: 'Swell' }).frame('g', { parent: 'f', title: '' });
    expect(said(doc, 'empty-frame')).toEqual(['The frame “Untitled frame” holds nothing.']);
    expect([...(await fixed(doc, found(doc, 'empty-frame')[0]!)).frames.keys()]).toEqual(['f']);
  });

  it('equal parts: the outermost of what is there twice, with all that feeds it', async () => {
    const twice = (pad: ReturnType<typeof sketchDoc>, n: string, y: number) =>
      pad
        .node(`s${n}`, 'src', { y, params: { value: 4 } })
        .node(`m${n}`, 'add', { x: 300, y })
        .node(`r${n}`, 'add', { x: 600, y })
        .wire(`s${n}.out`, `m${n}.a`)
        .wire(`m${n}.out`, `r${n}.a`);
    const pad = twice(twice(sketchDoc().node('j', 'tint', { x: 900 }).node('e', 'end', { x: 1200 }), '1', 0), '2', 400);
    const { doc } = pad.wire('r1.out', 'j.amount').wire('r2.out', 'j.base').wire('j.out', 'e.in');
    expect(said(doc, 'equal-parts')).toEqual(['“r1” and “r2” compute the same, with 2 nodes each that feed them.']);
    const after = await fixed(doc, found(doc, 'equal-parts')[0]!);
    expect([...after.nodes.keys()].sort()).toEqual(['e', 'j', 'm1', 'r1', 's1']);
    expect(fingerprint(after, kinds).ends).toBe(fingerprint(doc, kinds).ends);
    expect(said(after, 'equal-parts')).toEqual([]);
    // single nodes that are alike are no parts
    expect(
      said(sketchDoc().node('a', 'src').node('b', 'src').node('e', 'end').wire('a.out', 'e.in').doc, 'equal-parts'),
    ).toEqual([]);
  });

  it('find the place of what lies in a nested graph by its hosts', () => {
    const { doc } = sketchDoc()
      .graph('g')
      .node('h', builtin.nested, { inner: 'g', ports: [] })
      .node('t', builtin.tap, { graph: 'g', beacon: { name: 'Moon' } });
    expect(found(doc, 'lost-end')[0]!.place).toEqual(['h', 't']);
  });

  it('come the gravest first, and count as many overlaps and wires through nodes as measuring does', () => {
    fc.assert(
      fc.property(docArbitrary(16), (doc) => {
        const all = checkRules(doc, testKinds);
        const grave = all.map((item) => ['error', 'warning', 'info'].indexOf(item.severity));
        expect(grave).toEqual([...grave].sort((a, b) => a - b));
        const measured = [...doc.graphs.keys()].map((graph) => measureGraph(doc, testKinds, graph));
        const has = (rule: string): boolean => all.some((item) => item.rule === rule);
        expect(has('overlap')).toBe(measured.some((one) => one.overlaps > 0));
        expect(has('wire-through-node')).toBe(measured.some((one) => one.throughNodes > 0));
      }),
    );
  });

  it('have fixes that can be done, keep what the ends compute where they say so, and do away with the finding', async () => {
    // arranging parts a wire from nodes mostly, not always: only that it can be done is asked
    const mends = new Set(leftoverRules.filter((rule) => !['cycle'].includes(rule.id)).map((rule) => rule.id));
    await fc.assert(
      fc.asyncProperty(docArbitrary(12), fc.nat(), async (doc, pick) => {
        const items = checkRules(doc, testKinds).filter((item) => item.fix);
        const item = items[pick % Math.max(1, items.length)];
        if (!item) return;
        try {
          const after = await fixed(doc, item);
          // others may come to light: what an unused node read is unused next
          if (mends.has(item.rule))
            expect(found(after, item.rule).map((one) => one.message)).not.toContain(item.message);
          // where a file has no end, whatever nobody reads is taken for one
          if (
            neededNodes(doc, testKinds, false) &&
            ['unused', 'unreachable', 'long-bypassed', 'stacked-duplicate', 'default-name', 'empty-frame'].includes(
              item.rule,
            )
          )
            expect(fingerprint(after, kinds).ends).toBe(fingerprint(doc, kinds).ends);
        } catch (error) {
          if (!(error instanceof Refused)) throw error;
          // what is locked is not changed
          expect(error.message).toMatch(/lock/i);
        }
      }),
      { numRuns: 60 },
    );
  });
});
