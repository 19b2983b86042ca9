import { indexOf } from '@basitax/core/document/doc';
import { rectOf, unite } from '@basitax/core/document/geometry';
import { Kinds } from '@basitax/core/document/kinds';
import type { GraphNode } from '@basitax/core/document/schema';
import { problems } from '@basitax/core/document/validate';
import { apply } from '@basitax/core/edit/step';
import { compareFingerprints, fingerprint } from '@basitax/core/inspect/fingerprint';
import { createContext } from '@basitax/core/operation';
import { checkerFor } from '@basitax/core/script/check/checker';
import type { ScriptValues } from '@basitax/core/script/options';
import { describeScript, reached, runScript } from '@basitax/core/script/run';
import { csvParse } from 'd3-dsv';
import { describe, expect, it } from 'vitest';
import { catalogue } from './catalogue.ts';
import { demoFiles } from './files.ts';
import { demoScripts } from './scripts.ts';

const kinds = new Kinds(catalogue);
const fileOf = (slug: string) => demoFiles.find((file) => file.slug === slug)!.build();

/** Runs one of the worked examples on a demo file, over a query or a selection; what comes of it has to be whole. */
async function example(id: string, slug: string, over: string | readonly string[], values: ScriptValues = {}) {
  const script = demoScripts.find((one) => one.id === id)!;
  const doc = fileOf(slug);
  const context = createContext(kinds, 1);
  const selection = reached(
    context,
    doc,
    doc.head.root,
    typeof over === 'string' ? { over: 'query', query: over } : { over: 'selection', items: over },
  );
  const outcome = await runScript(context, doc, selection, script.source, values);
  expect(outcome.failure).toBeUndefined();
  const after = apply(doc, outcome.edit);
  expect(problems(after)).toEqual([]);
  return {
    doc,
    after,
    outcome,
    items: selection.items,
    named: (name: string) =>
      [...after.nodes.values()].find((node) => node.name === name && node.graph === doc.head.root),
  };
}

describe('the worked examples', () => {
  it('switch something on for all that have it, and say who has not', async () => {
    const { after, items, outcome } = await example('switch-on', 'dome-master', '');
    const writers = items.filter((id) => after.nodes.get(id)!.kind === 'pic.write');
    expect(writers.length).toBeGreaterThan(0);
    for (const id of writers) expect(after.nodes.get(id)!.params?.overwrite).toBe(true);
    expect(outcome.edit.steps).toHaveLength(writers.length);
    expect(outcome.report.findings).toHaveLength(items.length - writers.length);
    expect(outcome.log.at(-1)?.text).toBe(`overwrite is on for ${writers.length} of ${items.length} nodes`);
  });

  it('scale from the common centre, and leave that where it is', async () => {
    const { doc, after, items } = await example('scale-places', 'title-cards', '', { factor: 2 });
    const box = (at: typeof doc) => unite(items.map((id) => rectOf(at, kinds, at.nodes.get(id)!)))!;
    const [before, now] = [box(doc), box(after)];
    const spread = (at: typeof doc) => {
      const middles = items.map((id) => at.nodes.get(id)!.x + rectOf(at, kinds, at.nodes.get(id)!).width / 2);
      return Math.max(...middles) - Math.min(...middles);
    };
    expect(spread(after)).toBeCloseTo(2 * spread(doc), 0);
    expect(now.width).toBeGreaterThan(1.5 * before.width);
    expect(compareFingerprints(fingerprint(doc, kinds), fingerprint(after, kinds))).toBe('same');
  });

  it('place beside, in the order of selection', async () => {
    const row = [...fileOf('line-up').nodes.keys()].slice(0, 4).reverse();
    const { after } = await example('place-beside', 'line-up', row, { gap: 30 });
    const rects = row.map((id) => rectOf(after, kinds, after.nodes.get(id)!));
    for (let i = 1; i < rects.length; i++) {
      expect(rects[i]!.x).toBeCloseTo(rects[i - 1]!.x + rects[i - 1]!.width + 30, 1);
      expect(rects[i]!.y + rects[i]!.height / 2).toBeCloseTo(rects[i - 1]!.y + rects[i - 1]!.height / 2, 1);
    }
  });

  it('label from a parameter', async () => {
    const { after, items, outcome } = await example('label-from-parameter', 'reef-night', 'kind:blur or kind:grade');
    const blurs = items.filter((id) => after.nodes.get(id)!.kind === 'pic.blur');
    expect(blurs.length).toBeGreaterThan(0);
    for (const id of blurs)
      expect(after.nodes.get(id)!.label).toBe(`blur ${kinds.value(after.nodes.get(id)!, 'radius')} px`);
    expect(outcome.report.findings.every((one) => one.message.includes('has no value radius'))).toBe(true);
    expect(outcome.report.findings).toHaveLength(items.length - blurs.length);
  });

  it('find and replace in paths', async () => {
    const { doc, after } = await example('replace-in-paths', 'title-cards', '');
    const paths = (at: typeof doc) =>
      [...at.nodes.values()].flatMap((node) => (typeof node.params?.file === 'string' ? [node.params.file] : []));
    expect(paths(doc).filter((path) => path.includes('out/')).length).toBeGreaterThan(0);
    expect(paths(after)).toEqual(paths(doc).map((path) => path.replaceAll('out/', 'delivery/')));
  });

  it('re-source by name', async () => {
    const doc = fileOf('title-cards');
    const index = indexOf(doc);
    const [fed, other] = index.nodesOfKind('pic.tint').filter((node) => index.wiresFrom(node.id).length > 0) as [
      GraphNode,
      GraphNode,
    ];
    const { after } = await example('re-source', 'title-cards', [], { from: fed.name, to: other.name });
    expect(indexOf(after).wiresFrom(fed.id)).toHaveLength(0);
    expect(indexOf(after).wiresFrom(other.id)).toHaveLength(
      index.wiresFrom(other.id).length + index.wiresFrom(fed.id).length,
    );
  });

  it('frame by prefix', async () => {
    const { doc, after } = await example('frame-by-prefix', 'title-cards', '', { least: 4 });
    const made = [...after.frames.values()].filter((frame) => !doc.frames.has(frame.id));
    expect(made.length).toBeGreaterThan(1);
    for (const frame of made) {
      const members = indexOf(after).membersOf(frame.id);
      expect(members.length).toBeGreaterThanOrEqual(4);
      expect(members.every((node) => node.name.startsWith(frame.title))).toBe(true);
    }
  });

  it('number in flow order', async () => {
    const { doc, after } = await example('number-in-flow-order', 'survey-map', '');
    const numbered = [...after.nodes.values()].filter((node) => node.graph === after.head.root);
    expect(new Set(numbered.map((node) => node.name)).size).toBe(numbered.length);
    // along each wire between two of a kind the number grows, where no loop forbids it
    const numberOf = (id: string): [string, number] => [
      after.nodes.get(id)!.name.split('_')[0]!,
      Number(after.nodes.get(id)!.name.split('_')[1]),
    ];
    let compared = 0;
    for (const wire of doc.wires.values()) {
      const [[stem, from], [other, to]] = [numberOf(wire.from.node), numberOf(wire.to.node)];
      if (stem !== other || wire.off) continue;
      compared++;
      expect(to).toBeGreaterThan(from);
    }
    expect(compared).toBeGreaterThan(0);
  });

  it('replace a kind', async () => {
    const { doc, after, outcome } = await example('replace-kind', 'title-cards', '', {
      from: 'pic.tint',
      to: 'pic.grade',
    });
    const tints = indexOf(doc).nodesOfKind('pic.tint');
    expect(tints.length).toBeGreaterThan(0);
    for (const node of tints) expect(after.nodes.get(node.id)!.kind).toBe('pic.grade');
    // a grade has no strength, and nothing that takes a depth
    expect(outcome.log.filter((line) => line.level === 'warn').length).toBeGreaterThan(0);
    expect(outcome.log.at(-1)?.text).toBe(`${tints.length} nodes are pic.grade now`);
  });

  it('report as CSV, which a library reads back', async () => {
    const { after, outcome, items } = await example('report-csv', 'tide-cues', '');
    expect(outcome.edit.steps).toEqual([]);
    const rows = csvParse(outcome.outputs[0]!.text);
    expect(rows).toHaveLength(items.length);
    expect(rows.map((row) => row.path)).toEqual(items.map((id) => after.nodes.get(id)!.name));
  });

  it('declare their options, whose defaults do', async () => {
    for (const script of demoScripts) {
      const { options, failure } = await describeScript(createContext(kinds, 1), script.source);
      expect(failure).toBeUndefined();
      expect(Object.keys(options).length).toBe(script.id === 'report-csv' ? 0 : Object.keys(options).length);
      if (script.id !== 'report-csv') expect(Object.keys(options).length).toBeGreaterThan(0);
    }
  });

  it('are right by the types of the API, of the catalogue and of the operations', async () => {
    const checker = await checkerFor(kinds, []);
    for (const script of demoScripts) expect([script.id, checker.check(script.source)]).toEqual([script.id, []]);
  });
});
