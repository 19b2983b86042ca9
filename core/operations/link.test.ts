import { describe, expect, it } from 'vitest';
import { builtin } from '../document/builtin.ts';
import { type Doc, emptyDoc, indexOf } from '../document/doc.ts';
import { problems, repair } from '../document/validate.ts';
import { rebase } from '../edit/rebase.ts';
import { apply, type Edit, type Step } from '../edit/step.ts';
import { createContext } from '../operation.ts';
import { runOperation } from '../operations.ts';
import { copyText } from '../structure/clipboard.ts';
import { act, into, strictKinds } from '../tests/acts.ts';
import { sketchDoc, testKinds } from '../tests/arbitrary.ts';
import { beaconOf, tapsOf } from '../wiring/carriers.ts';
import { effectiveWiring } from '../wiring/effective.ts';

// What holds for all links is in remote/links.test.ts, and who hears whom in remote/scope.test.ts.

/** A source that two nodes in a frame and one outside take from, far off. */
const fan = () =>
  sketchDoc()
    .frame('glow', { title: 'Glow' })
    .node('moon', 'src', { name: 'Moon', label: 'Moon light' })
    .node('a', 'tint', { x: 3000, y: 0, frame: 'glow' })
    .node('b', 'tint', { x: 3000, y: 200, frame: 'glow' })
    .node('c', 'add', { x: 3000, y: 900 })
    .wire('moon.out', 'a.amount')
    .wire('moon.out', 'b.amount')
    .wire('moon.out', 'c.a')
    .wire('moon.out', 'c.b');

describe('turning wires into links', () => {
  it.each([
    ['input', 4],
    ['node', 3],
    ['frame', 2],
  ])('one tap for each %s', async (taps, count) => {
    const { doc, report } = await act('to-links', fan().doc, ['moon'], { taps });
    expect(indexOf(doc).nodesOfKind(builtin.tap)).toHaveLength(count);
    const [beacon] = indexOf(doc).nodesOfKind(builtin.beacon);
    expect(tapsOf(doc, beacon!.id)).toHaveLength(count);
    expect(report.summary).toBe(`Turned 4 wires into ${count} taps of “Moon_light”.`);
  });

  it('a wire, a fan-out, what comes in, what runs between, and only long ones', async () => {
    const { doc } = fan();
    const drawn = async (items: string[], options: object) => {
      const { doc: after } = await act('to-links', doc, items, options);
      return ['a.amount', 'b.amount', 'c.a', 'c.b'].filter((input) => into(after, input) === 'moon.out');
    };
    expect(await drawn(['moon.out>a.amount'], {})).toEqual(['b.amount', 'c.a', 'c.b']);
    expect(await drawn(['moon'], {})).toEqual([]);
    expect(await drawn(['c'], { which: 'in' })).toEqual(['a.amount', 'b.amount']);
    expect(await drawn(['moon', 'a'], { which: 'between' })).toEqual(['b.amount', 'c.a', 'c.b']);
    expect(await drawn(['moon'], { least: 3500 })).toEqual(['a.amount', 'b.amount']);
  });

  it('tap and beacon stand with the nodes that they serve, in their frames, level with the ports', async () => {
    const { doc } = await act('to-links', fan().doc, ['moon.out>a.amount'], {});
    const [tap] = indexOf(doc).nodesOfKind(builtin.tap);
    const [beacon] = indexOf(doc).nodesOfKind(builtin.beacon);
    expect([tap!.frame, beacon!.frame]).toEqual(['glow', undefined]);
    expect(tap!.x).toBeGreaterThan(2800);
    expect(beacon!.x).toBeLessThan(300);
    expect(into(doc, `${beacon!.id}.in`)).toBe('moon.out');
  });

  it('uses the beacon that an output has, and what a tap hears, instead of a second one', async () => {
    const once = await act('to-links', fan().doc, ['moon.out>a.amount']);
    const twice = await act('to-links', once.doc, ['moon.out>b.amount']);
    expect(indexOf(twice.doc).nodesOfKind(builtin.beacon)).toHaveLength(1);
    expect(twice.report.summary).toBe('Turned 1 wire into 1 tap of 1 beacon that was there.');
    const [tap] = indexOf(once.doc).nodesOfKind(builtin.tap);
    // the tap's only wire gets a tap of its own, so that the first one goes
    const moved = await act('to-links', once.doc, [tap!.id]);
    expect(indexOf(moved.doc).nodesOfKind(builtin.tap)).toHaveLength(1);
    expect(indexOf(moved.doc).nodesOfKind(builtin.beacon)).toHaveLength(1);
  });

  it.each([
    ['the label, and what all take it as', { label: 'Moon light' }, 'amount', 'Moon_light_amount'],
    ['the name where it says something', {}, 'amount', 'moon_amount'],
    ['the kind where the name is a number', { name: 'src12' }, 'amount', 'Source_amount'],
    ['no word twice', { label: 'Amount of fog' }, 'amount', 'Amount_of_fog'],
    ['what is legal', { label: '3 × größer' }, 'amount', 'n_3_gro_er_amount'],
  ])('proposes %s', async (_what, more, input, name) => {
    const pad = sketchDoc().node('moon', 'src', more).node('a', 'tint', { x: 900 }).wire('moon.out', `a.${input}`);
    const { doc } = await act('to-links', pad.doc, ['moon']);
    expect(indexOf(doc).nodesOfKind(builtin.beacon)[0]!.name).toBe(name);
  });

  it('takes a name that is given, for one output, and numbers one that is proposed and taken', async () => {
    expect(
      indexOf((await act('to-links', fan().doc, ['moon'], { name: 'Night' })).doc).nodesNamed('Night'),
    ).toHaveLength(1);
    await expect(act('to-links', fan().doc, ['moon'], { name: 'Moon' })).rejects.toThrow('“Moon” is taken');
    const pad = fan().node('sun', 'src').wire('sun.out', 'a.base');
    await expect(act('to-links', pad.doc, ['moon', 'sun'], { name: 'Night' })).rejects.toThrow('these are 2');
    const taken = fan().node('x', 'src', { name: 'Moon_light' });
    expect((await act('to-links', taken.doc, ['moon'])).report.summary).toContain('“Moon_light2”');
  });

  it('says what is not there', async () => {
    await expect(act('to-links', fan().doc, ['a'])).rejects.toThrow('no wire here that could become a link');
    await expect(
      act('to-links', fan().doc, [], { links: [{ from: { node: 'moon', port: 'out' }, wires: ['gone'] }] }),
    ).rejects.toThrow('look at the advice again');
    const lost = sketchDoc()
      .node('t', builtin.tap, { beacon: { name: 'Nowhere' } })
      .node('a', 'tint')
      .wire('t.out', 'a.amount');
    await expect(act('to-links', lost.doc, ['t'])).rejects.toThrow('has lost its beacon “Nowhere”');
  });
});

describe('drawing wires again', () => {
  it('of one tap; the beacon goes with the last', async () => {
    const { doc } = await act('to-links', fan().doc, ['moon']);
    const taps = indexOf(doc).nodesOfKind(builtin.tap);
    const some = await act('to-wires', doc, [taps[0]!.id]);
    expect([
      indexOf(some.doc).nodesOfKind(builtin.tap).length,
      indexOf(some.doc).nodesOfKind(builtin.beacon).length,
    ]).toEqual([2, 1]);
    const all = await act(
      'to-wires',
      doc,
      taps.map((tap) => tap.id),
    );
    expect(all.report.summary).toBe('Drew 4 wires again; 3 taps and 1 beacon went.');
  });

  it('lists what stays, with the reason', async () => {
    const lost = sketchDoc()
      .node('t', builtin.tap, { beacon: { name: 'Nowhere' } })
      .node('a', 'tint')
      .wire('t.out', 'a.amount');
    const { doc, report } = await act('to-wires', lost.doc, ['t']);
    expect(report.findings[0]!.message).toContain('has lost its beacon “Nowhere”');
    expect(into(doc, 'a.amount')).toBe('t.out');
    const silent = sketchDoc()
      .node('b', builtin.beacon)
      .node('t', builtin.tap, { beacon: { id: 'b', name: 'b' } })
      .node('a', 'tint')
      .wire('t.out', 'a.amount');
    expect((await act('to-wires', silent.doc, ['t'])).report.findings[0]!.message).toContain(
      'nothing is wired to its beacon',
    );
    await expect(act('to-wires', fan().doc, ['moon'])).rejects.toThrow('Select taps, beacons');
    await expect(act('to-wires', silent.node('b2', builtin.beacon).doc, ['b2'])).rejects.toThrow('No tap hears “b2”');
  });
});

describe('beacons and taps', () => {
  it('a reroute point becomes a beacon where it stands, with its wires', async () => {
    const pad = sketchDoc()
      .node('s', 'src')
      .node('r', builtin.reroute, { label: 'Moon', x: 300, y: 100 })
      .node('a', 'tint')
      .wire('s.out', 'r.in')
      .wire('r.out', 'a.amount');
    const { doc } = await act('beacon', pad.doc, ['r']);
    expect(doc.nodes.get('r')).toMatchObject({ kind: builtin.beacon, name: 'Moon' });
    expect(effectiveWiring(doc, testKinds).source('a', 'amount')?.node).toBe('s');
    await expect(act('beacon', doc, ['r'])).rejects.toThrow('a beacon already');
  });

  it('an output gets one beacon', async () => {
    const { doc, fresh } = await act('beacon', fan().doc, ['moon'], { name: 'Night' });
    expect(into(doc, `${fresh[0]!.id}.in`)).toBe('moon.out');
    await expect(act('beacon', doc, ['moon'])).rejects.toThrow('has the beacon “Night” already');
    await expect(act('beacon', fan().node('e', 'end').doc, ['e'])).rejects.toThrow('gives nothing');
  });

  it('a tap feeds the input that is said, or the first open one that fits, in any graph', async () => {
    const { doc: lit, fresh } = await act(
      'beacon',
      fan()
        .graph('g', { name: 'Inner' })
        .node('host', builtin.nested, { inner: 'g' })
        .node('in', 'tint', { graph: 'g' }).doc,
      ['moon'],
    );
    const beacon = fresh[0]!.id;
    const outcome = await runOperation(
      'tap',
      createContext(testKinds, 3),
      lit,
      { graph: 'g', items: ['in'] },
      { beacon },
    );
    const doc = apply(lit, outcome.edit);
    expect(outcome.report.summary).toBe('Tapped “Moon_light”, into “amount” of “in”.');
    expect(effectiveWiring(doc, testKinds).source('in', 'amount')?.node).toBe('moon');
    await expect(act('tap', lit, [], { beacon, to: { node: 'a', port: 'amount' } })).rejects.toThrow(
      'has a wire already',
    );
    const replaced = await act('tap', lit, [], { beacon, to: { node: 'a', port: 'amount' }, replace: true });
    expect(replaced.report.findings[0]!.message).toContain('gave way');
    await expect(act('tap', lit, [], { beacon: 'moon' })).rejects.toThrow('no beacon moon');
    const free = await act('tap', lit, ['moon'], { beacon, x: 40, y: 50 });
    expect((await act('tap', lit, ['c'], { beacon, x: 40, y: 50 })).report.summary).toBe('Tapped “Moon_light”.');
    expect(free.fresh[0]).toMatchObject({ x: 40, y: 50, name: 'Moon_light_tap' });
  });

  it('a tap listens to another beacon where that fits what it feeds', async () => {
    const pad = fan().node('paint', 'tint', { name: 'Paint' });
    const { doc: once } = await act('to-links', pad.doc, ['moon.out>a.amount']);
    const { doc, fresh } = await act('beacon', once, ['paint'], { name: 'Colours' });
    const [tap] = indexOf(doc).nodesOfKind(builtin.tap);
    await expect(act('retune', doc, [tap!.id], { beacon: fresh[0]!.id })).rejects.toThrow('takes number');
    const { doc: two, fresh: sun } = await act('beacon', pad.node('sun', 'src').doc, ['sun'], { name: 'Sun' });
    const { doc: three } = await act('to-links', two, ['moon.out>a.amount']);
    const [one] = indexOf(three).nodesOfKind(builtin.tap);
    const { doc: tuned } = await act('retune', three, [one!.id], { beacon: sun[0]!.id });
    expect(effectiveWiring(tuned, testKinds).source('a', 'amount')?.node).toBe('sun');
    expect(tuned.nodes.get(one!.id)).toMatchObject({ name: 'Sun_tap', beacon: { name: 'Sun' } });
  });

  it('closes no loop through remote links and borders where the catalogue forbids loops', async () => {
    const ring = () =>
      sketchDoc()
        .node('a', 'add')
        .node('b', builtin.beacon)
        .node('t', builtin.tap, { beacon: { id: 'b', name: 'b' } })
        .node('c', 'add')
        .wire('t.out', 'c.a')
        .wire('a.out', 'b.in');
    const pad = ring();
    const wire = { from: { node: 'c', port: 'out' }, to: { node: 'a', port: 'a' } };
    await expect(act('connect', pad.doc, [], wire, strictKinds)).rejects.toThrow('would close a loop');
    expect(into((await act('connect', pad.doc, [], wire)).doc, 'a.a')).toBe('c.out');
    await expect(act('tap', pad.doc, [], { beacon: 'b', to: { node: 'a', port: 'b' } }, strictKinds)).rejects.toThrow(
      'would close a loop',
    );
    const two = ring()
      .node('u', builtin.tap, { beacon: { name: 'b2' } })
      .node('b2', builtin.beacon)
      .wire('u.out', 'a.b');
    await expect(act('retune', two.doc, ['u'], { beacon: 'b' }, strictKinds)).rejects.toThrow('would close a loop');
  });

  it('renaming a beacon renames what its taps listen for, by name too', async () => {
    const pad = sketchDoc()
      .node('b', builtin.beacon, { name: 'Moon' })
      .node('t', builtin.tap, { beacon: { id: 'b', name: 'Moon' } })
      .node('u', builtin.tap, { beacon: { name: 'Moon' } });
    const { doc } = await act('rename', pad.doc, ['b'], { name: 'Night' });
    expect(['t', 'u'].map((id) => doc.nodes.get(id)!.beacon)).toEqual([{ id: 'b', name: 'Night' }, { name: 'Night' }]);
  });

  it('deleting a beacon says which taps it silences, and which hear another of its name now', async () => {
    const pad = sketchDoc()
      .graph('g', { name: 'Inner' })
      .node('host', builtin.nested, { inner: 'g' })
      .node('far', builtin.beacon, { name: 'Moon' })
      .node('near', builtin.beacon, { name: 'Moon', graph: 'g' })
      .node('t', builtin.tap, { graph: 'g', beacon: { id: 'near', name: 'Moon' } });
    const outcome = await runOperation('delete', createContext(testKinds, 1), pad.doc, { graph: 'g', items: ['near'] });
    expect(outcome.report.findings.map((item) => item.message)).toEqual([
      'Tap “t” listened for “Moon” and hears the one of that name in “Main” now.',
    ]);
  });
});

describe('a beacon that is called otherwise on the way', () => {
  const moon = (more = {}) => ({ name: 'Moon', ...more });
  const heardNames = (doc: Doc): (string | undefined)[] =>
    indexOf(doc)
      .nodesOfKind(builtin.tap)
      .map((tap) => tap.beacon?.name);

  it('to another graph, where its name is taken: its taps know the new one', async () => {
    const pad = sketchDoc()
      .graph('g', { name: 'Inner' })
      .node('host', builtin.nested, { inner: 'g' })
      .node('there', builtin.beacon, moon({ graph: 'g' }))
      .node('b', builtin.beacon, moon())
      .node('t', builtin.tap, { beacon: { id: 'b', name: 'Moon' } });
    const { doc } = await act('to-graph', pad.doc, ['b'], { graph: 'g' });
    expect([doc.nodes.get('b')!.name, ...heardNames(doc)]).toEqual(['Moon2', 'Moon2']);
    expect(beaconOf(doc, doc.nodes.get('t')!)?.id).toBe('b');
  });

  it('over what somebody else saved, who took the name: made or renamed here, its taps know the new one', async () => {
    const { doc } = sketchDoc()
      .node('moon', 'src')
      .node('old', builtin.beacon, { name: 'Old' })
      .node('u', builtin.tap, { beacon: { id: 'old', name: 'Old' } })
      .node('a', 'tint')
      .wire('moon.out', 'a.amount');
    const add = (id: string, name: string): Step => ({
      type: 'add',
      table: 'nodes',
      id,
      value: { ...doc.nodes.get('moon')!, id, name } as never,
    });
    const theirs: Edit = { steps: [add('x', 'Moon'), add('y', 'New')] };
    const head = apply(doc, theirs);
    const linked = await act('to-links', doc, ['moon'], { name: 'Moon' });
    const named = await act('rename', linked.doc, ['old'], { name: 'New' });
    const { edit, conflicts } = rebase({ steps: [...linked.edit.steps, ...named.edit.steps] }, theirs, head, testKinds);
    expect(conflicts).toEqual([]);
    const after = apply(head, edit);
    expect(problems(after)).toEqual([]);
    expect(heardNames(after).sort()).toEqual(['Moon2', 'New2']);
    for (const tap of indexOf(after).nodesOfKind(builtin.tap))
      expect(beaconOf(after, tap)?.name).toBe(tap.beacon!.name);
  });

  it('by somebody else, while it was tapped here: the new tap knows the new name', async () => {
    const { doc } = sketchDoc().node('b', builtin.beacon, moon());
    const theirs = (await act('rename', doc, ['b'], { name: 'Night' })).edit;
    const mine = (await act('tap', doc, [], { beacon: 'b' })).edit;
    const { edit, conflicts } = rebase(mine, theirs, apply(doc, theirs), testKinds);
    expect([conflicts, heardNames(apply(apply(doc, theirs), edit))]).toEqual([[], ['Night']]);
  });

  it('in a file with a doubled name: what is repaired is known to its taps', () => {
    const { doc } = sketchDoc()
      .node('a', builtin.beacon, moon())
      .node('b', builtin.beacon, moon())
      .node('t', builtin.tap, { beacon: { id: 'b', name: 'Moon' } });
    const mended = repair(doc).doc;
    expect([mended.nodes.get('b')!.name, ...heardNames(mended)]).toEqual(['Moon2', 'Moon2']);
  });
});

describe('copies', () => {
  const other = () => sketchDoc(emptyDoc('another', 'Another file', { id: 'test', version: 1 }));
  const linked = async () => (await act('to-links', fan().doc, ['moon'], { taps: 'node' })).doc;

  it('a tap goes on hearing its beacon in its file; in another it listens for the name, and says where that is not there', async () => {
    const doc = await linked();
    const tap = indexOf(doc).nodesOfKind(builtin.tap)[0]!;
    const text = copyText(doc, testKinds, { graph: 'root', items: [tap.id] });
    const here = await act('paste', doc, [], { text });
    expect(beaconOf(here.doc, here.fresh[0]!)?.name).toBe('Moon_light');
    expect(here.report.findings).toEqual([]);
    const elsewhere = await act('paste', other().doc, [], { text });
    expect(elsewhere.report.findings).toMatchObject([
      {
        rule: 'lost-tap',
        severity: 'warning',
        message: 'Tap “Moon_light_tap” listens for the beacon “Moon_light”, which is not here.',
      },
    ]);
    const known = await act('paste', other().node('other', builtin.beacon, { name: 'Moon_light' }).doc, [], { text });
    expect(known.report.findings).toMatchObject([{ rule: 'tap-by-name', severity: 'info' }]);
    expect(beaconOf(known.doc, known.fresh[0]!)?.id).toBe('other');
  });

  it('taps that come with their beacon hear the copy, by the name that it got', async () => {
    const doc = await linked();
    const items = [...indexOf(doc).nodesOfKind(builtin.tap), ...indexOf(doc).nodesOfKind(builtin.beacon)].map(
      (node) => node.id,
    );
    const { doc: after, fresh } = await act('paste', doc, [], {
      text: copyText(doc, testKinds, { graph: 'root', items }),
    });
    const copy = fresh.find((node) => node.kind === builtin.beacon)!;
    expect(copy.name).toBe('Moon_light2');
    for (const tap of fresh.filter((node) => node.kind === builtin.tap))
      expect([beaconOf(after, tap)?.id, tap.beacon?.name]).toEqual([copy.id, 'Moon_light2']);
  });

  it('a nested graph goes to another file with the names that it listens for', async () => {
    const pad = fan()
      .graph('g', { name: 'Inner' })
      .node('host', builtin.nested, { inner: 'g' })
      .node('b', builtin.beacon, { name: 'Moon_light' })
      .wire('moon.out', 'b.in');
    const inner = pad
      .node('t', builtin.tap, { graph: 'g', beacon: { id: 'b', name: 'Moon_light' } })
      .node('x', 'tint', { graph: 'g' })
      .wire('t.out', 'x.amount');
    const text = copyText(inner.doc, testKinds, { graph: 'root', items: ['host'] });
    const target = other()
      .node('sun', 'src')
      .node('own', builtin.beacon, { name: 'Moon_light' })
      .wire('sun.out', 'own.in');
    const { doc, fresh } = await act('paste', target.doc, [], { text });
    const x = fresh.find((node) => node.kind === 'tint')!;
    expect(effectiveWiring(doc, testKinds).source(x.id, 'amount')?.node).toBe('sun');
  });
});

describe('standing feeds', () => {
  it('supply what is open, and take the place of wires where that is wanted', async () => {
    const pad = fan().node('open', 'tint', { x: 500 });
    const { doc, report } = await act('standing-feed', pad.doc, ['moon']);
    expect(report.summary).toBe('“Moon_light_feed” supplies 1 open input.');
    expect(report.findings.map((item) => item.message)).toEqual([
      'Input “amount” of “open” is supplied by the feed “Moon_light_feed” now.',
    ]);
    expect(effectiveWiring(doc, testKinds).source('open', 'amount')?.node).toBe('moon');
    const instead = await act('standing-feed', pad.doc, ['moon'], { takeWires: true });
    expect(instead.report.summary).toBe(
      '“Moon_light_feed” supplies 3 open inputs. 2 wires were removed, since it does the same.',
    );
    // inputs that may not be fed keep their wires
    expect(['a.amount', 'b.amount', 'c.a', 'c.b'].map((input) => into(instead.doc, input))).toEqual([
      undefined,
      undefined,
      'moon.out',
      'moon.out',
    ]);
  });

  it('are for several types, in a frame or the graph, and say what does not go', async () => {
    const pad = fan()
      .node('inside', 'src', { frame: 'glow' })
      .node('open', 'tint', { frame: 'glow' })
      .node('out', 'tint');
    const { doc } = await act('standing-feed', pad.doc, ['inside'], { scope: 'frame', types: 'num, col' });
    const wiring = effectiveWiring(doc, testKinds);
    expect([wiring.source('open', 'amount')?.node, wiring.source('out', 'amount')?.node]).toEqual([
      'inside',
      undefined,
    ]);
    await expect(act('standing-feed', pad.doc, ['moon'], { scope: 'frame' })).rejects.toThrow('is in no frame');
    await expect(act('standing-feed', pad.doc, ['moon'], { types: 'fog' })).rejects.toThrow('no type “fog”');
    await expect(act('standing-feed', pad.doc, ['open'], { types: 'num' })).rejects.toThrow('do not take colour');
    await expect(act('standing-feed', pad.node('e', 'end').doc, ['e'])).rejects.toThrow('gives nothing');
    const second = await act('standing-feed', (await act('standing-feed', pad.doc, ['moon'])).doc, ['inside'], {});
    expect(second.report.findings.some((item) => item.rule === 'feeds-clash')).toBe(true);
  });
});
