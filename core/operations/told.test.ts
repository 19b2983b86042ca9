import fc from 'fast-check';
import { expect, it } from 'vitest';
import { builtin } from '../document/builtin.ts';
import { type Doc, emptyDoc, indexOf } from '../document/doc.ts';
import { lostReadings } from '../document/expressions.ts';
import { writeDoc } from '../document/file.ts';
import { type Id, seededRandom } from '../document/ids.ts';
import { apply, type Edit } from '../edit/step.ts';
import { compareFingerprints, fingerprint } from '../inspect/fingerprint.ts';
import { createContext, type Outcome } from '../operation.ts';
import { operate, operations } from '../operations.ts';
import { Refused } from '../said.ts';
import { copyText } from '../structure/clipboard.ts';
import { smallPicture, wideKinds } from '../tests/arbitrary.ts';
import { denseDoc } from '../tests/dense.ts';
import { computes, sourceOf } from '../tests/naive.ts';

// Nothing may change in silence: every operation of the registry on documents in which data goes by feeds, beacons,
// expressions, bypassed and nested graphs, held against what inputs take as worked out naively.

const body = writeDoc(emptyDoc('own', 'Own', { id: 'test', version: 1 }));

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
    'set-parameter': () => ({
      parameter: 'value',
      value: random() < 0.5 ? 7 : { expression: [{ node: pick(nodes)?.id ?? '', parameter: 'value' }] },
    }),
    'setting-add': () => ({ name: 'Dusk' }),
    'setting-choose': () => ({ name: 'Storm' }),
    'setting-rename': () => ({ name: 'Dusk' }),
    'setting-remove': () => ({ name: 'Storm' }),
    paste: () => ({
      text: copyText(doc, wideKinds, { graph: 'root', items: items.length > 0 ? items : [nodes[0]!.id] }),
    }),
    'to-graph': () => ({ graph: 'g1' }),
    'to-frame': () => ({ frame: pick([...doc.frames.keys()]) ?? '' }),
    'frame-title': () => ({ title: 'Bay' }),
    'frame-size': () => ({ x: 0, y: 0, width: 900, height: 900 }),
    'port-place': () => ({ by: 1 }),
    'use-shared': () => ({ name: 'glow' }),
    'make-own': () => ({ body }),
    'read-with': () => ({ id: 'test', version: 1 }),
    'set-make': () => ({ name: 'Night' }),
    'set-add': () => ({ set: 's1' }),
    'set-remove': () => ({ set: 's1' }),
    'set-rename': () => ({ set: 's1', name: 'Dawn' }),
    'select-set': () => ({ set: 's1' }),
    'set-switch': () => ({ set: 's1', to: 'bypassed' }),
    connect: () => ({ from: port('out'), to: port('in'), replace: true }),
    'connect-converted': () => ({ from: ofKind('src', 'out'), to: ofKind('shade', 'in'), replace: true }),
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
  if (id.startsWith('frame-') || id === 'fold' || id === 'unfold') return [...doc.frames.keys()].slice(0, 1);
  if (id === 'unnest' || id === 'use-shared' || id === 'port-place') return ofKind(builtin.nested);
  if (id === 'feed-scope') return ofKind(builtin.feed);
  if (id === 'retune') return ofKind(builtin.tap);
  if (id === 'note-change') return [...doc.notes.keys()].slice(0, 1);
  if (id === 'swap-inputs') return ofKind('add');
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
  const verdict = compareFingerprints(fingerprint(doc, wideKinds), fingerprint(after, wideKinds));
  if (!one.changesFunction) expect(verdict).toBe('same');
  // what changes what is computed says so with a number or a name
  if (verdict !== 'same') expect(report.summary).toMatch(/\d|“/);
}

/** What the documents of these tests have nothing for. */
const absent = new Set<string>([
  'use-shared',
  'update-shared',
  'make-own',
  'read-with',
  'link-advised',
  'components',
  'port-place',
]);

const acts = operations.filter((one) => !one.selects);

it.each(acts.map((one) => [one.id, one] as const))('%s says what it did to what is computed', (id, one) => {
  let done = 0;
  const why = new Set<string>();
  fc.assert(
    fc.property(fc.integer({ min: 0, max: 1_000_000 }), (seed) => {
      const random = seededRandom(seed);
      const dense = denseDoc(seed, 2 + (seed % 9));
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
      done++;
      expectTold(one, doc, outcome);
    }),
    { numRuns: 40 },
  );
  // those that need what these documents do not have are refused each time
  if (!absent.has(id)) expect(done, [...why].join(' | ')).toBeGreaterThan(0);
});
