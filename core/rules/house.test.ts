import { describe, expect, it } from 'vitest';
import { builtin, foreignKind } from '../document/builtin.ts';
import { type Doc, indexOf } from '../document/doc.ts';
import { Kinds } from '../document/kinds.ts';
import { apply } from '../edit/step.ts';
import type { Finding } from '../finding.ts';
import { fingerprint } from '../inspect/fingerprint.ts';
import { createContext } from '../operation.ts';
import { operationById, runOperation } from '../operations.ts';
import { wideKinds as kinds, sketchDoc, testCatalogue } from '../tests/arbitrary.ts';
import { askedBy, profileProblem } from './profile.ts';
import { profileSchema } from './profile-schema.ts';
import { subjects } from './rule.ts';
import { checkAsked, ruleById, rules, usualRules } from './rules.ts';

/** What one rule finds, as it is set. */
function found(doc: Doc, id: string, options: object = {}, where?: string): Finding[] {
  const profile = profileSchema.parse({
    others: 'off',
    rules: { [id]: { options, ...(where !== undefined && { where }) } },
  });
  expect(profileProblem(profile)).toBeUndefined();
  return checkAsked(doc, kinds, askedBy(profile));
}
const said = (...args: Parameters<typeof found>): string[] => found(...args).map((item) => item.message);

async function fixed(doc: Doc, item: Finding): Promise<Doc> {
  const at = item.place.at(-1)!;
  const graph = doc.nodes.get(at)?.graph ?? doc.frames.get(at)!.graph;
  return apply(
    doc,
    (
      await runOperation(
        item.fix!.operation,
        createContext(kinds, 1),
        doc,
        { graph, items: item.fix!.selection },
        item.fix!.options ?? {},
      )
    ).edit,
  );
}

/** A row of nodes from left to right, each fed by the one before. */
function row(count: number, gap = 300) {
  const pad = sketchDoc();
  for (let i = 0; i < count; i++) {
    pad.node(`n${i}`, 'add', { x: i * gap });
    if (i > 0) pad.wire(`n${i - 1}.out`, `n${i}.a`);
  }
  return pad;
}

describe('the house rules', () => {
  it('are at least twenty-five, over every subject, each with a reason and what to do instead; what can be set has a default', () => {
    expect(rules.length).toBeGreaterThanOrEqual(25);
    for (const subject of subjects)
      expect(`${subject} ${rules.some((rule) => rule.subject === subject)}`).toBe(`${subject} true`);
    for (const rule of rules) {
      expect(`${rule.id}: ${rule.instead}`).toMatch(/: .{20,}\.$/);
      expect(() => rule.options?.parse({})).not.toThrow();
    }
  });

  it('wires against the flow: by their share, mended by arranging', async () => {
    const pad = row(5, -300);
    expect(said(pad.doc, 'backward-wires')).toEqual(['4 of 4 wires run against the flow: 100 %, more than 20 %.']);
    expect(said(pad.doc, 'backward-wires', { most: 100 })).toEqual([]);
    expect(said(await fixed(pad.doc, found(pad.doc, 'backward-wires')[0]!), 'backward-wires')).toEqual([]);
  });

  it('long wires: by windows, turned into links that compute the same', async () => {
    const { doc } = sketchDoc()
      .node('a', 'src')
      .node('b', 'add', { x: 6000 })
      .node('c', 'end', { x: 6400 })
      .wire('a.out', 'b.a')
      .wire('a.out', 'b.b')
      .wire('b.out', 'c.in');
    expect(said(doc, 'long-wires')).toEqual(['2 wires from “a” reach over 4 windows, more than 3.']);
    const after = await fixed(doc, found(doc, 'long-wires')[0]!);
    expect(said(after, 'long-wires')).toEqual([]);
    expect(fingerprint(after, kinds)).toEqual(fingerprint(doc, kinds));
  });

  it('crossings: by the wires that there are', async () => {
    const pad = sketchDoc();
    for (let i = 0; i < 8; i++)
      pad
        .node(`a${i}`, 'src', { y: i * 100 })
        .node(`b${i}`, 'round', { x: 900, y: 50 + (7 - i) * 100 })
        .wire(`a${i}.out`, `b${i}.in`);
    const { doc } = pad;
    expect(said(doc, 'many-crossings')[0]).toMatch(/^28 crossings of 8 wires: 3\.50 for each, more than 1\.5\.$/);
    expect(said(await fixed(doc, found(doc, 'many-crossings')[0]!), 'many-crossings')).toEqual([]);
    expect(found(doc, 'low-readability', { least: 99 })[0]!.message).toMatch(
      /^Readability is \d+, less than 99; most is lost by “crossing” and /,
    );
    expect(said(doc, 'low-readability', { least: 0 })).toEqual([]);
  });

  it('wires switched off, chains of reroute points: taken away, and what feeds what stays', async () => {
    const off = sketchDoc().node('a', 'src').node('b', 'end', { x: 300 }).wire('a.out', 'b.in', { off: true }).doc;
    expect(said(off, 'switched-off')).toEqual(['The wire from “a” to “b” is switched off.']);
    expect((await fixed(off, found(off, 'switched-off')[0]!)).wires.size).toBe(0);
    const ports = [
      { id: 'in', name: 'in', type: 'num', direction: 'in' as const },
      { id: 'out', name: 'out', type: 'num', direction: 'out' as const },
    ];
    const pad = sketchDoc().node('a', 'src').node('e', 'round', { x: 900 });
    for (let i = 0; i < 4; i++)
      pad
        .node(`r${i}`, builtin.reroute, { x: 200 + 100 * i, ports })
        .wire(i === 0 ? 'a.out' : `r${i - 1}.out`, `r${i}.in`);
    const { doc } = pad.wire('r3.out', 'e.in');
    expect(said(doc, 'reroute-chain')).toEqual(['4 reroute points follow one another, more than 3.']);
    expect(said(doc, 'reroute-chain', { most: 4 })).toEqual([]);
    const after = await fixed(doc, found(doc, 'reroute-chain')[0]!);
    expect([...after.nodes.keys()]).toEqual(['a', 'e']);
    expect(fingerprint(after, kinds)).toEqual(fingerprint(doc, kinds));
  });

  it('frames: titles, strangers, overlaps, notes, crowds and nodes outside of all', async () => {
    const pad = sketchDoc()
      .frame('f', { title: ' ' })
      .node('m', 'src', { frame: 'f' })
      .node('w', 'src', { x: 900, frame: 'f' })
      .node('s', 'round', { x: 450 });
    expect(said(pad.doc, 'untitled-frame')).toEqual(['A frame has no title.']);
    expect(said(pad.doc, 'stranger-in-frame')).toEqual(['“s” lies in the frame “ ” and is not a member of it.']);
    const joined = await fixed(pad.doc, found(pad.doc, 'stranger-in-frame')[0]!);
    expect(joined.nodes.get('s')!.frame).toBe('f');
    expect(said(joined, 'stranger-in-frame')).toEqual([]);
    expect(said(pad.doc, 'frameless', { least: 3, most: 30 })).toEqual([
      '1 of 3 nodes stand in no frame: 33 %, more than 30 %.',
    ]);
    expect(said(pad.doc, 'crowded-frame', { most: 1 })).toEqual(['The frame “ ” holds 2 nodes, more than 1.']);
    expect(said(pad.doc, 'silent-frame', { least: 2 })).toEqual(['The frame “ ” holds 2 nodes and has no note.']);
    const over = sketchDoc()
      .frame('f', { title: 'Bay' })
      .frame('g', { title: 'Cove' })
      .frame('h', { title: 'Pool', parent: 'f' });
    const { doc } = over
      .node('a', 'src', { frame: 'f' })
      .node('b', 'src', { y: 30, x: 60, frame: 'g' })
      .node('c', 'src', { y: 200, frame: 'h' });
    expect(said(doc, 'frame-overlap')).toEqual(['The frame “Bay” lies on “Cove”.']);
    expect(said(await fixed(doc, found(doc, 'frame-overlap')[0]!), 'frame-overlap')).toEqual([]);
  });

  it('names: their style and beginnings, captions cut off, labels that are there twice', () => {
    const { doc } = sketchDoc()
      .node('a', 'src', { name: 'Kelp_bed', label: 'Depth' })
      .node('b', 'src', { name: 'kelpBed', x: 300, label: 'Depth ' })
      .node('c', 'src', {
        name: 'Moon',
        x: 600,
        label: 'The light of the moon on the water at the edge of the kelp, late in the night',
      });
    expect(said(doc, 'name-style')).toEqual(['The name “kelpBed” is not written as Capital_words.']);
    expect(said(doc, 'name-style', { style: 'camelCase' })).toHaveLength(2);
    expect(said(doc, 'name-style', { prefixes: ['Kelp_'] }).at(-1)).toBe(
      'The name “Moon” begins with none of “Kelp_”.',
    );
    expect(said(doc, 'cut-caption')).toHaveLength(1);
    expect(said(doc, 'cut-caption')[0]).toMatch(/^“The light .*…” is cut off: the whole is “The light of the moon/);
    expect(said(doc, 'doubled-label')).toEqual(['2 nodes are labelled “Depth”: “Kelp_bed” and “kelpBed”.']);
  });

  it('colours: those of the house, and those that can be seen', async () => {
    const { doc } = sketchDoc()
      .node('a', 'src', { color: '#123456' })
      .node('b', 'src', { x: 300, color: '#E69F00' })
      .frame('f', { color: '#fffff0', title: 'Bay' });
    expect(said(doc, 'off-palette')).toEqual([
      '“a” has the colour #123456, which is none of the house’s 8.',
      'The frame “Bay” has the colour #fffff0, which is none of the house’s 8.',
    ]);
    expect(said(doc, 'off-palette', { colors: ['#123456', '#e69f00', '#FFFFF0'] })).toEqual([]);
    expect((await fixed(doc, found(doc, 'off-palette')[0]!)).nodes.get('a')!.color).toBeUndefined();
    expect(said(doc, 'pale-colour', { theme: 'night' })).toEqual([
      '“a” has the colour #123456, which hardly stands out at night.',
    ]);
    expect(said(doc, 'pale-colour', { theme: 'paper' }).at(-1)).toBe(
      'The frame “Bay” has the colour #fffff0, which hardly stands out on paper.',
    );
  });

  it('remote links: those within sight, and beacons that sound alike', async () => {
    const links = {
      in: { id: 'in', name: 'in', type: 'num', direction: 'in' as const },
      out: { id: 'out', name: 'out', type: 'num', direction: 'out' as const },
    };
    const { doc } = sketchDoc()
      .node('a', 'src')
      .node('b1', builtin.beacon, { name: 'Kelp_bed', x: 200, ports: [links.in, links.out] })
      .node('t1', builtin.tap, { x: 500, beacon: { id: 'b1', name: 'Kelp_bed' }, ports: [links.out] })
      .node('e', 'round', { x: 700 })
      .node('b2', builtin.beacon, { name: 'kelpbed', x: 200, y: 300, ports: [links.in, links.out] })
      .node('t2', builtin.tap, { x: 4000, beacon: { id: 'b2', name: 'kelpbed' }, ports: [links.out] })
      .wire('a.out', 'b1.in')
      .wire('a.out', 'b2.in')
      .wire('t1.out', 'e.in');
    expect(said(doc, 'near-link')).toEqual(['The beacon “Kelp_bed” has one tap, which lies in the same window.']);
    const after = await fixed(doc, found(doc, 'near-link')[0]!);
    expect(indexOf(after).wireInto('e', 'in')!.from).toEqual({ node: 'a', port: 'out' });
    expect(said(doc, 'like-beacons')).toEqual([
      'The beacons “Kelp_bed” and “kelpbed” differ in capitals and underscores alone.',
    ]);
  });

  it('parameters: paths of one machine, unknown kinds, values that do not fit, old versions of shared kinds', async () => {
    const paths = ['/maps/kelp.exr', 'C:\\maps\\kelp.exr', '~/kelp.exr', 'file:///kelp.exr', 'maps/kelp.exr'];
    const pad = sketchDoc();
    for (const [i, file] of paths.entries()) pad.node(`r${i}`, 'reader', { x: i * 300, params: { file } });
    expect(found(pad.doc, 'absolute-path').map((item) => item.place)).toEqual([['r0'], ['r1'], ['r2'], ['r3']]);
    const odd = sketchDoc()
      .node('u', 'lost.kind')
      .node('w', foreignKind, { y: 300 })
      .node('v', 'src', { x: 300, params: { value: 700 } })
      .node('g', 'shared.glow.2', { x: 600, ports: [] }).doc;
    expect(said(odd, 'unknown-kind')).toEqual(['“u” is of the kind “lost.kind”, which the catalogue does not know.']);
    expect(said(odd, 'bad-value')).toEqual(['“v”: “Value” takes a number from 0 to 100, not 700.']);
    expect((await fixed(odd, found(odd, 'bad-value')[0]!)).nodes.get('v')!.params).toBeUndefined();
    expect(said(odd, 'old-shared')).toEqual([]);
    const glow = kinds.kind('shared.glow.2')!;
    const newer = new Kinds({
      ...testCatalogue,
      kinds: [...testCatalogue.kinds, glow, { ...glow, id: 'shared.glow.3', shared: { name: 'glow', version: 3 } }],
    });
    expect(checkAsked(odd, newer, [{ rule: ruleById('old-shared')! }]).map((item) => item.message)).toEqual([
      '“g” is version 2 of the shared kind “glow”; there is 3.',
    ]);
  });

  it('size: nodes of a graph, graphs in graphs; the first that is too deep', () => {
    expect(said(row(12).doc, 'large-graph', { most: 10 })).toEqual(['This graph has 12 nodes, more than 10.']);
    const deep = sketchDoc();
    for (let i = 0; i < 4; i++)
      deep
        .graph(`g${i}`)
        .node(`h${i}`, builtin.nested, { inner: `g${i}`, ports: [], ...(i > 0 && { graph: `g${i - 1}` }) });
    const items = found(deep.doc, 'deep-nesting', { most: 2 });
    expect(items.map((item) => [item.place, item.message])).toEqual([
      [['h0', 'h1', 'h2'], '“h2” lies 3 graphs deep, more than 2.'],
    ]);
  });

  it('offer only fixes that there are', () => {
    for (const rule of rules) expect(`${rule.id} ${rule.why}`).not.toMatch(/undefined/);
    expect(() =>
      [
        'arrange',
        'to-links',
        'cut-wires',
        'delete',
        'to-frame',
        'frame-spacing',
        'propose-frames',
        'color',
        'to-wires',
        'set-parameter',
        'update-shared',
      ].map(operationById),
    ).not.toThrow();
  });
});

describe('a profile', () => {
  const pad = sketchDoc()
    .node('a', 'src', { color: '#123456' })
    .node('b', 'add', { x: 10, y: 8 })
    .frame('f', { title: '' })
    .node('c', 'src', { x: 900, frame: 'f' });

  it('sets how grave a rule is, leaves rules out, and asks for those that are not usual', () => {
    const asked = askedBy(
      profileSchema.parse({
        rules: { overlap: { severity: 'error' }, unused: { severity: 'off' }, 'off-palette': {} },
      }),
    );
    expect(asked.map((one) => one.rule.id).sort()).toEqual(
      [...usualRules.map((rule) => rule.id).filter((id) => id !== 'unused'), 'off-palette'].sort(),
    );
    const items = checkAsked(pad.doc, kinds, asked);
    expect(items[0]).toMatchObject({ rule: 'overlap', severity: 'error' });
    expect(items.some((item) => item.rule === 'off-palette')).toBe(true);
    expect(askedBy(profileSchema.parse({ others: 'off' }))).toEqual([]);
  });

  it('keeps a rule to what is about nodes like a query, and frames with such members', () => {
    expect(found(pad.doc, 'overlap', {}, 'kind:add')).toEqual([]);
    expect(found(pad.doc, 'overlap', {}, 'kind:src')).toHaveLength(1);
    expect(found(pad.doc, 'untitled-frame', {}, 'name:c')).toHaveLength(1);
    expect(found(pad.doc, 'untitled-frame', {}, 'name:a')).toEqual([]);
  });

  it.each([
    [{ neat: {} }, /There is no house rule “neat”\. There are: lost-end, /],
    [{ overlap: { options: { most: 3 } } }, /“overlap” has nothing that can be set/],
    [{ 'large-graph': { options: { most: 'many' } } }, /“large-graph”: most: /],
    [{ 'large-graph': { options: { least: 3 } } }, /“large-graph”: its options: .*least/],
    [{ overlap: { where: 'size >' } }, /the query “size >” cannot be read: /],
  ])('that cannot be used is told of in a sentence: %j', (set, sentence) => {
    expect(profileProblem(profileSchema.parse({ rules: set }))?.message).toMatch(sentence);
  });
});
