import { indexOf } from '@basitax/core/document/doc';
import { rectOf, unite } from '@basitax/core/document/geometry';
import { Kinds } from '@basitax/core/document/kinds';
import type { GraphNode } from '@basitax/core/document/schema';
import { problems } from '@basitax/core/document/validate';
import { apply } from '@basitax/core/edit/step';
import { compareFingerprints, fingerprint } from '@basitax/core/inspect/fingerprint';
import { createContext } from '@basitax/core/operation';
import { checkRules, ruleById } from '@basitax/core/rules/rules';
import { withAssets } from '@basitax/core/script/assets';
import { checkerFor } from '@basitax/core/script/check/checker';
import type { ScriptValues } from '@basitax/core/script/options';
import { reportOf, reportText } from '@basitax/core/script/report';
import { describeScript, reached, reduceScript, runScript } from '@basitax/core/script/run';
import { usualLimits } from '@basitax/core/script/sandbox';
import { sketchDoc } from '@basitax/core/tests/arbitrary';
import { upstream as upstreamOf } from '@basitax/core/tests/naive';
import { csvParse } from 'd3-dsv';
import { describe, expect, it } from 'vitest';
import { catalogue } from './catalogue.ts';
import { demoFiles } from './files.ts';
import { demoScripts } from './scripts.ts';

const kinds = new Kinds(catalogue);
const fileOf = (slug: string) => demoFiles.find((file) => file.slug === slug)!.build();

/** Runs one of the worked examples on a demo file, over a query or a selection; what comes of it has to be whole. */
async function example(
  id: string,
  slug: string,
  over: string | readonly string[],
  values: ScriptValues = {},
  there: (path: string) => boolean = () => false,
) {
  const script = demoScripts.find((one) => one.id === id)!;
  const doc = fileOf(slug);
  const context = createContext(kinds, 1);
  const selection = reached(
    context,
    doc,
    doc.head.root,
    typeof over === 'string' ? { over: 'query', query: over } : { over: 'selection', items: over },
  );
  const outcome = await withAssets(
    (assets) => runScript(createContext(kinds, 1), doc, selection, script.source, values, { ...usualLimits, assets }),
    async (paths) =>
      Object.fromEntries(paths.map((path) => [path, { exists: there(path), elsewhere: there(path) ? [] : ['old/x'] }])),
  );
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

  it('replace the root of paths, and list what is not there', async () => {
    const { doc, after, outcome } = await example('replace-root', 'dome-blend', '', {}, (path) =>
      path.endsWith('1.map'),
    );
    const paths = (at: typeof doc) =>
      [...at.nodes.values()].flatMap((node) => kinds.pathsOf(node).map((one) => one.path));
    expect(paths(doc).filter((path) => path.startsWith('survey/')).length).toBeGreaterThan(2);
    expect(paths(after)).toEqual(paths(doc).map((path) => path.replace(/^survey\//, 'archive/survey/')));
    const rows = csvParse(outcome.outputs[0]!.text);
    expect(rows.length).toBe(
      paths(after).filter((path) => path.startsWith('archive/') && !path.endsWith('1.map')).length,
    );
    expect(rows.every((row) => row['same name at'] === 'old/x')).toBe(true);
  });

  it('set a value on all upstream of the selection', async () => {
    const doc = fileOf('reef-night');
    const end = [...doc.nodes.values()].find((node) => kinds.isEnd(node) && node.graph === doc.head.root)!;
    const { after } = await example('set-upstream', 'reef-night', [end.id], { value: 0.25 });
    const meant = [...upstreamOf(doc, kinds, end.id)].map((id) => after.nodes.get(id)!);
    const have = meant.filter((node) => node.id !== end.id && kinds.parameter(node.kind, 'exposure') && !node.locked);
    expect(have.length).toBeGreaterThan(2);
    for (const node of have) expect(kinds.value(node, 'exposure')).toBe(0.25);
  });

  it('wire one mask to all that take one', async () => {
    const doc = fileOf('dome-blend');
    const named = (name: string) => [...doc.nodes.values()].find((node) => node.name === name)!.id;
    const { after, outcome } = await example('one-mask-for-all', 'dome-blend', [
      named('BlendMask'),
      named('HouseGrade'),
      named('ReefTilt'),
    ]);
    expect(indexOf(after).wireInto(named('HouseGrade'), 'mask')?.from.node).toBe(named('BlendMask'));
    expect(outcome.report.findings.map((one) => one.message).join()).toContain('no open input for a mask');
  });

  it('insert a node after each of a kind', async () => {
    const { doc, after } = await example('insert-after', 'dome-blend', '');
    const fed = indexOf(doc)
      .nodesOfKind('pic.read')
      .filter((node) => indexOf(doc).wiresFrom(node.id).length > 0);
    expect(fed.length).toBeGreaterThan(0);
    for (const node of fed) {
      const [wire, ...more] = indexOf(after).wiresFrom(node.id);
      expect(more).toEqual([]);
      const made = after.nodes.get(wire!.to.node)!;
      expect(made.kind).toBe('pic.grade');
      expect(indexOf(after).wiresFrom(made.id)).toHaveLength(indexOf(doc).wiresFrom(node.id).length);
    }
  });

  it('put a column in the order of a number', async () => {
    const { after, items } = await example('column-by-number', 'dome-blend', 'kind:dome.warp or kind:dome.blend');
    const row = items
      .map((id) => after.nodes.get(id)!)
      .filter((node) => typeof kinds.value(node, 'projector') === 'number');
    expect(row.length).toBeGreaterThan(2);
    row.sort((a, b) => a.y - b.y);
    for (let i = 1; i < row.length; i++) {
      expect(row[i]!.x).toBe(row[0]!.x);
      expect(Number(kinds.value(row[i]!, 'projector'))).toBeGreaterThanOrEqual(
        Number(kinds.value(row[i - 1]!, 'projector')),
      );
    }
  });

  it('give a setting that is darker, and keep the one that was', async () => {
    const { doc, after, items } = await example('night-setting', 'reef-night', 'kind:grade', { stops: 2 });
    expect(items.length).toBeGreaterThan(0);
    for (const id of items) {
      const [before, now] = [doc.nodes.get(id)!, after.nodes.get(id)!];
      expect(now.setting).toBe('night');
      expect(kinds.value(now, 'exposure')).toBe(Number(kinds.value(before, 'exposure')) - 2);
      expect(Object.values(now.settings!)[0]?.exposure).toEqual(before.params?.exposure);
    }
  });

  it('do the fixes of findings', async () => {
    const overlapping = sketchDoc().node('a', 'pic.read', { x: 0 }).node('b', 'pic.read', { x: 10, y: 10 }).doc;
    expect(checkRules(overlapping, kinds, [ruleById('overlap')!])).not.toEqual([]);
    const context = createContext(kinds, 1);
    const { source } = demoScripts.find((one) => one.id === 'fix-findings')!;
    const outcome = await runScript(context, overlapping, { graph: 'root', items: [] }, source, {});
    expect(outcome.failure).toBeUndefined();
    expect(checkRules(apply(overlapping, outcome.edit), kinds, [ruleById('overlap')!])).toEqual([]);
  });

  it('count kinds, list what is missing, and draw a chart over all files', async () => {
    const slugs = ['dome-blend', 'title-cards', 'line-up'];
    const over = async (id: string, there?: (path: string) => boolean) => {
      const results = [];
      for (const slug of slugs) {
        const { outcome } = await example(id, slug, '', {}, there);
        expect(outcome.edit.steps).toEqual([]);
        results.push({ file: slug, result: outcome.result! });
      }
      const { source } = demoScripts.find((one) => one.id === id)!;
      const all = await reduceScript(createContext(kinds, 1), source, {}, results);
      expect(all.failure).toBeUndefined();
      return reportOf(all.result!);
    };
    const counts = csvParse(reportText(await over('count-kinds'), 'csv'));
    const nodes = slugs.map(fileOf).flatMap((doc) => [...doc.nodes.values()]);
    expect(counts.reduce((sum, row) => sum + Number(row.nodes), 0)).toBe(nodes.length);
    expect(counts).toHaveLength(new Set(nodes.map((node) => kinds.title(node.kind))).size);
    const missing = csvParse(reportText(await over('missing-files', (path) => path.endsWith('1.map')), 'csv'));
    expect(missing.length).toBeGreaterThan(3);
    expect(missing.every((row) => slugs.includes(row.file!) && !row.path!.endsWith('1.map'))).toBe(true);
    const chart = await over('readability-chart');
    expect(chart.is).toBe('picture');
    expect(reportText(chart, 'svg').match(/<rect /g)).toHaveLength(slugs.length);
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
      expect(Object.keys(options).length > 0).toBe(script.source.includes('options('));
    }
  });

  it('are right by the types of the API, of the catalogue and of the operations', async () => {
    const checker = await checkerFor(kinds, []);
    for (const script of demoScripts) expect([script.id, checker.check(script.source)]).toEqual([script.id, []]);
  });
});
