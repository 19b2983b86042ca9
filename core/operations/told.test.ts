import fc from 'fast-check';
import { expect, it } from 'vitest';
import { builtin, foreignKind } from '../document/builtin.ts';
import { type Doc, emptyDoc, indexOf } from '../document/doc.ts';
import { lostReadings } from '../document/expressions.ts';
import { writeDoc } from '../document/file.ts';
import { type Id, seededRandom } from '../document/ids.ts';
import type { Port } from '../document/schema.ts';
import { apply, type Edit } from '../edit/step.ts';
import { compareFingerprints, fingerprint } from '../inspect/fingerprint.ts';
import { createContext, type Outcome } from '../operation.ts';
import { operate, operations } from '../operations.ts';
import { Refused } from '../said.ts';
import { copyText } from '../structure/clipboard.ts';
import { sketchDoc, smallPicture, wideKinds } from '../tests/arbitrary.ts';
import { denseDoc } from '../tests/dense.ts';
import { computes, isOff, sourceOf } from '../tests/naive.ts';

// Nothing may change in silence: every operation of the registry on documents in which data goes by feeds, beacons,
// expressions, bypassed and nested graphs, held against what inputs take as worked out naively.

const body = writeDoc(
  sketchDoc(emptyDoc('own', 'Own', { id: 'test', version: 1 }))
    .node('s', 'src')
    .node('o', builtin.output, { name: 'out', ports: [{ id: 'in', name: 'in', type: 'num', direction: 'in' }] })
    .wire('s.out', 'o.in').doc,
);

const boundary = (direction: 'in' | 'out', id: string): Port => ({ id, name: id, type: 'num', direction });

/** The same with what some operations are for: compound ports, nodes of a shared kind, wires that run far. */
function fullDoc(seed: number, size: number): Doc {
  const pad = sketchDoc(denseDoc(seed, size))
    .node('wind', 'wind', { x: 40, y: 40 })
    .node('bend', 'bend', { x: 400, y: 40 })
    .node('glow', 'shared.glow.1', { x: 40, y: 4000, ports: wideKinds.startPorts('shared.glow.1') })
    .wire('wind.out', 'bend.dir')
    .graph('zg')
    .node('zhost', builtin.nested, { inner: 'zg', ports: [boundary('in', 'zp'), boundary('in', 'zq')] })
    .node('zp', builtin.input, { graph: 'zg', ports: [boundary('out', 'out')] })
    .node('zq', builtin.input, { graph: 'zg', ports: [boundary('out', 'out')] })
    .node('zset', 'src', { y: 5000, setting: 'Storm', settings: { Standard: { value: 3 } } })
    .frame('zbay', { pad: { left: 90, top: 90, right: 90, bottom: 90 }, x: 40, y: 5300 })
    .frame('zcove', { parent: 'zbay', order: 2, x: 60, y: 5340 })
    .node('zmade', foreignKind, { y: 5800, attributes: { kind: 'src' }, ports: [boundary('out', 'out')] })
    .node('zpin', 'src', {
      attributes: { weight: 3 },
      y: 5400,
      frame: 'zbay',
      pinned: true,
      locked: true,
      picture: smallPicture,
      pictureOff: true,
    });
  for (let i = 0; i < 6; i++) {
    pad.node(`zfar${i}`, 'tint', { x: 24_000, y: 400 * i }).node(`zend${i}`, 'end', { x: 24_400, y: 400 * i });
    pad.wire('glow.out', `zfar${i}.amount`).wire(`zfar${i}.out`, `zend${i}.in`);
  }
  return pad.doc;
}

/** Options by chance for those that have to be given some; all others are done with none. */
function optionsFor(id: string, doc: Doc, items: readonly Id[], random: () => number): Record<string, unknown> {
  const pick = <T>(list: readonly T[]): T | undefined => list[Math.floor(random() * list.length)];
  const nodes = indexOf(doc).nodesIn('root');
  const port = (direction: 'in' | 'out') => {
    const node = pick(nodes);
    return {
      node: node?.id ?? '',
      port: pick(node?.ports.filter((one) => one.direction === direction) ?? [])?.id ?? '-',
    };
  };
  const ofKind = (kind: string, direction: 'in' | 'out') => {
    const node = nodes.find((one) => one.kind === kind);
    return { node: node?.id ?? '', port: node?.ports.find((one) => one.direction === direction)?.id ?? '-' };
  };
  const wire = pick(indexOf(doc).wiresIn('root'));
  const of: Record<string, () => Record<string, unknown>> = {
    rename: () => ({ name: 'Depth' }),
    move: () => ({ dx: 40, dy: 8 }),
    spread: () => ({ x: 2, y: 1.5 }),
    spacing: () => ({ x: 2, y: 1.5 }),
    'wire-style': () => ({ style: 'curved' }),
    captions: () => ({ pattern: 'Kelp {n}' }),
    'frame-note': () => ({ note: 'Lit by the moon.' }),
    'note-change': () => ({ text: 'Lit by the moon.' }),
    'set-parameter': () => ({
      parameter: 'value',
      value: random() < 0.5 ? 7 : { expression: [{ node: pick(nodes)?.id ?? '', parameter: 'value' }] },
    }),
    'setting-add': () => ({ name: 'Dusk' }),
    attribute: () => ({ name: 'weight', value: '3' }),
    'attribute-remove': () => ({ name: 'weight' }),
    'setting-choose': () => ({ name: 'Standard' }),
    'setting-rename': () => ({ name: 'Dusk' }),
    'setting-remove': () => ({ name: 'Standard' }),
    paste: () => ({
      text: copyText(doc, wideKinds, { graph: 'root', items: items.length > 0 ? items : [nodes[0]!.id] }),
    }),
    'to-graph': () => ({ graph: 'g1' }),
    'to-frame': () => ({ frame: pick([...doc.frames.keys()]) ?? '' }),
    'frame-title': () => ({ title: 'Bay' }),
    'frame-size': () => ({ x: 0, y: 0, width: 900, height: 900 }),
    'port-place': () => ({
      port: nodes.find((one) => one.id === items[0])?.ports[0]?.id ?? '',
      by: 1,
    }),
    'use-shared': () => ({ name: 'glow' }),
    'make-own': () => ({ body }),
    'read-with': () => ({ id: 'test', version: 2 }),
    'set-make': () => ({ name: 'Night' }),
    'set-add': () => ({ set: 's1' }),
    'set-remove': () => ({ set: 's1' }),
    'set-rename': () => ({ set: 's1', name: 'Dawn' }),
    'select-set': () => ({ set: 's1' }),
    'set-switch': () => ({ set: 's1', what: 'bypassed' }),
    connect: () => ({ from: port('out'), to: port('in'), replace: true }),
    'connect-converted': () => ({ from: ofKind('src', 'out'), to: ofKind('shade', 'in') }),
    insert: () => ({ wire: wire?.id ?? '' }),
    'carry-wire': () => ({
      wire: wire?.id ?? '',
      end: random() < 0.5 ? 'from' : 'to',
      to: port(random() < 0.5 ? 'in' : 'out'),
    }),
    'add-node': () => ({ kind: pick(['src', 'add', 'tint', 'round']) }),
    'replace-kind': () => ({ kind: pick(['src', 'add', 'tint', 'shade']) }),
    'share-value': () => ({ parameter: 'value' }),
    tap: () => ({ beacon: 'beacon0', to: port('in'), replace: true }),
    retune: () => ({ beacon: 'beacon0' }),
    'standing-feed': () => ({ types: 'num' }),
    'feed-scope': () => ({ scope: 'root' }),
    'select-by-query': () => ({ query: 'kind:src' }),
    'set-picture': () => ({ picture: smallPicture }),
    'set-pictures': () => ({ pictures: [{ node: items[0] ?? '', picture: smallPicture }] }),
  };
  return of[id]?.() ?? {};
}

/** Whatever a person could have selected for it: nodes, frames or wires of the outermost graph. */
function itemsFor(id: string, doc: Doc, random: () => number): Id[] {
  const some = <T>(list: readonly T[], most: number): T[] =>
    list.filter(() => random() < most / Math.max(1, list.length));
  const nodes = indexOf(doc).nodesIn('root');
  const ofKind = (kind: string): Id[] => nodes.flatMap((node) => (node.kind === kind ? [node.id] : [])).slice(0, 1);
  if (id === 'cut-wires' || id === 'switch-wires') return some(indexOf(doc).wiresIn('root'), 2).map((one) => one.id);
  if ((id.startsWith('frame-') && id !== 'frame-by-size') || id === 'fold' || id === 'unfold')
    return [...doc.frames.keys()].slice(0, 1);
  if (id === 'unnest' || id === 'use-shared') return ofKind(builtin.nested);
  if (id === 'feed-scope') return ofKind(builtin.feed);
  if (id === 'retune') return ofKind(builtin.tap);
  if (id === 'note-change') return [...doc.notes.keys()].slice(0, 1);
  if (id === 'swap-inputs') return ofKind('add');
  if (id === 'unpin' || id === 'attribute-remove' || id === 'unlock' || id === 'show-pictures') return ['zpin'];
  if (id === 'frame-fit') return ['zbay'];
  if (id === 'setting-choose' || id === 'setting-remove') return ['zset'];
  if (id === 'port-place') return ['zhost'];
  if (id === 'make-own') return ofKind('shared.glow.1');
  if (id === 'components') return ofKind('bend');
  if (id === 'frame-by-size' || id === 'link-advised' || id === 'update-shared') return [];
  if (operations.find((one) => one.id === id)?.needs.most === 1)
    return nodes
      .filter((node) => ['src', 'add', 'tint'].includes(node.kind))
      .slice(0, 1)
      .map((one) => one.id);
  return some([...nodes.map((one) => one.id), ...doc.frames.keys()], 3);
}

interface Changed {
  readonly dark: string[];
  readonly elsewhere: string[];
}

/** Inputs of nodes that compute before and after, and take something else, by a look at every one of them. */
function changedInputs(doc: Doc, after: Doc, edit: Edit): Changed {
  const written = new Set(
    edit.steps.flatMap((step) => {
      if (step.table !== 'wires') return [];
      return [doc.wires.get(step.id), after.wires.get(step.id)].flatMap((one) =>
        one ? [`${one.to.node} ${one.to.port}`] : [],
      );
    }),
  );
  const changed: Changed = { dark: [], elsewhere: [] };
  for (const node of after.nodes.values()) {
    if (!doc.nodes.has(node.id) || node.bypassed || !computes(after, node)) continue;
    for (const port of node.ports) {
      if (port.direction !== 'in') continue;
      const at = { node: node.id, port: port.id };
      const [was, is] = [sourceOf(doc, wideKinds, at), sourceOf(after, wideKinds, at)];
      if (was && !is) changed.dark.push(`${node.id} ${port.id}`);
      else if (was && is && (was.node !== is.node || was.port !== is.port) && !written.has(`${node.id} ${port.id}`))
        changed.elsewhere.push(`${node.id} ${port.id}`);
    }
  }
  return changed;
}

/** What the file is for: nodes of end kinds that nothing switches off, and its own outputs. */
const endsNow = (doc: Doc): Id[] =>
  [...doc.nodes.values()].flatMap((node) =>
    (wideKinds.kind(node.kind)?.end && !isOff(doc, node)) ||
    (node.kind === builtin.output && node.graph === doc.head.root)
      ? [node.id]
      : [],
  );

/** What an operation has to have said of what it did, and what it may not have done. */
function expectTold(one: (typeof operations)[number], doc: Doc, { edit, report }: Outcome): void {
  const after = apply(doc, edit);
  const { dark, elsewhere } = changedInputs(doc, after, edit);
  const opened = report.findings.filter((item) => item.rule === 'input-opened');
  expect(opened.map((item) => item.place.at(-1)).sort()).toEqual(dark.map((key) => key.split(' ')[0]).sort());
  if (dark.length > 0)
    expect(report.summary).toMatch(
      new RegExp(`\\b${dark.length} inputs? (have|has) lost|${dark.length} inputs? (are|is) open`),
    );
  if (elsewhere.length > 0)
    expect(report.summary).toMatch(new RegExp(`\\b${elsewhere.length} (other )?inputs? takes? something else now`));
  for (const node of after.nodes.values()) {
    const old = doc.nodes.get(node.id);
    const gone = lostReadings(after, node).filter(({ reads }) => doc.nodes.has(reads));
    if (old && gone.length > 0) expect(report.summary).toContain('lost what');
  }
  const ends = endsNow(doc).filter((end) => !endsNow(after).includes(end));
  if (ends.length > 0) expect(report.summary).toMatch(new RegExp(`\\b${ends.length} ends? no longer`));
  expect(report.findings.filter((item) => item.rule === 'end-lost').length).toBe(ends.length);
  const verdict = compareFingerprints(fingerprint(doc, wideKinds), fingerprint(after, wideKinds));
  if (!one.changesFunction) expect(verdict).toBe('same');
  // what changes what is computed says so with a number or a name
  if (verdict !== 'same') expect(report.summary).toMatch(/\d|“/);
}

const acts = operations.filter((one) => !one.selects);

it.each(acts.map((one) => [one.id, one] as const))('%s says what it did to what is computed', (id, one) => {
  let done = 0;
  const why = new Set<string>();
  fc.assert(
    fc.property(fc.integer({ min: 0, max: 1_000_000 }), (seed) => {
      const random = seededRandom(seed);
      const dense = fullDoc(seed, 2 + (seed % 9));
      const frames = new Map([...dense.frames].map(([key, frame]) => [key, { ...frame, folded: true as const }]));
      const doc = id === 'unfold' ? { ...dense, frames } : dense;
      const items = itemsFor(id, doc, random);
      let outcome: Outcome;
      try {
        outcome = operate(
          id,
          createContext(wideKinds, 1),
          doc,
          { graph: 'root', items },
          optionsFor(id, doc, items, random),
        );
      } catch (error) {
        if (error instanceof Refused) {
          why.add(error.message);
          return;
        }
        throw error;
      }
      if (outcome.edit.steps.length > 0) done++;
      expectTold(one, doc, outcome);
    }),
    { numRuns: 40 },
  );
  expect(done, [...why].join(' | ')).toBeGreaterThan(0);
});
