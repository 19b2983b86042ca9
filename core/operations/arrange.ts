import { z } from 'zod';
import { ontoGrid } from '../arrange/align.ts';
import { arrangeByWiring } from '../arrange/by-wiring.ts';
import { notesAlong } from '../arrange/notes.ts';
import { layouts } from '../arrange/page/options.ts';
import { makeRoom as roomFor } from '../arrange/room.ts';
import { arrangeInPlace, hangersOf, moved } from '../arrange/selection.ts';
import { settle as settledPlaces } from '../arrange/settle.ts';
import { exactStacks, unstack as unstacked } from '../arrange/unstack.ts';
import { builtin } from '../document/builtin.ts';
import { caption, type Doc, indexOf, placeOf, type Selection, selectedNodes, selectedOrAll } from '../document/doc.ts';
import { flowOf, type Point } from '../document/geometry.ts';
import { compareIds, type Id } from '../document/ids.ts';
import type { GraphNode } from '../document/schema.ts';
import { diff } from '../edit/diff.ts';
import { apply, type Edit } from '../edit/step.ts';
import { Transaction } from '../edit/transaction.ts';
import type { Finding } from '../finding.ts';
import { measureGraph } from '../inspect/measure.ts';
import { must } from '../must.ts';
import { Cancelled, type Context, operation } from '../operation.ts';
import { advise, usualShare } from '../remote/advice.ts';
import { alongWires } from '../wiring/along.ts';
import { plural } from '../words.ts';
import { linkAll } from './link.ts';
import { gridStep, placed, rectsOf } from './places.ts';
import { find, refuse } from './sentences.ts';
import { wiringOf } from './wire.ts';

export const arrange = operation({
  id: 'arrange',
  title: 'Arrange by wiring',
  area: 'arrange',
  about:
    'Lays out the selection where it is, or everything as a page: parts in rows and columns, each along the flow of its wires. Frames stay whole, pinned nodes stay put.',
  needs: { what: 'nodes', least: 0, all: true },
  options: z.object({
    keep: z.number().min(0).max(1).default(0.3).meta({ title: 'Keep order', unit: '0 … 1', step: 0.1 }),
    quality: z.enum(['quick', 'best']).default('quick').meta({ title: 'Quality' }),
    layout: z
      .enum(layouts)
      .default('page')
      .meta({ title: 'As', hint: 'Parts in rows and columns, or all in common layers' }),
    what: z
      .enum(['selected', 'upstream'])
      .default('selected')
      .meta({ title: 'What', hint: 'The selection, or the selection and everything that feeds it' }),
    hangers: z.boolean().default(false).meta({ title: 'Include nodes that depend only on these' }),
    links: z.boolean().default(false).meta({ title: 'Turn the worst wires into remote links' }),
    along: z.number().min(16).max(1000).default(56).meta({ title: 'Gap along', unit: 'px', step: 4 }),
    across: z.number().min(8).max(1000).default(26).meta({ title: 'Gap across', unit: 'px', step: 2 }),
    shape: z.number().min(0.1).max(10).default(1.6).meta({ title: 'Shape of the page', unit: 'w ÷ h', step: 0.1 }),
  }),
  changesFunction: false,
  preview: 'first',
  run(context, doc, selection, options) {
    const { graph } = selection;
    const chosen = meant(doc, selection, options.what);
    const isWhole = chosen.length === indexOf(doc).nodesIn(graph).length;
    const hangers = isWhole ? [] : hangersOf(doc, graph, chosen);
    const nodes = options.hangers ? [...chosen, ...hangers] : chosen;
    const places = (of: Doc, which: readonly GraphNode[]): ReadonlyMap<Id, Point> => {
      const arrangeThem = isWhole ? arrangeByWiring : arrangeInPlace;
      return arrangeThem(of, context.kinds, graph, which, {
        keep: options.keep,
        quality: options.quality,
        layout: options.layout,
        proportion: options.shape,
        spacing: { along: options.along, across: options.across },
        tick: (fraction, what) => {
          if (context.cancelled()) throw new Cancelled();
          context.progress(fraction, what);
        },
      });
    };
    const first = places(doc, nodes);
    if (options.links) {
      const page = moved(doc, first);
      const tries = (nodes.length <= mostTriedTwice ? [true, false] : [true]).map((routed) => {
        const linked = linkedOnPage(context, doc, page, selection, { nodes: isWhole ? undefined : nodes, routed });
        const again = isWhole
          ? indexOf(linked.doc).nodesIn(graph)
          : [...nodes.map((node) => node.id), ...linked.made].flatMap((id) => linked.doc.nodes.get(id) ?? []);
        return { after: rounded(linked.doc, places(linked.doc, again)), count: again.length, summary: linked.summary };
      });
      const crossings = ({ after }: { after: Doc }): number =>
        tries.length === 1 ? 0 : measureGraph(after, context.kinds, graph).crossings;
      const { after, count, summary } = tries.reduce((best, one) => (crossings(one) < crossings(best) ? one : best));
      return {
        edit: withNotes(context, doc, graph, diff(doc, after)),
        report: { summary: `Arranged ${plural(count, 'node')}. ${summary}`, findings: [] },
      };
    }
    const all = [...new Set([...nodes.map((node) => node.id), ...first.keys()])].flatMap(
      (id) => doc.nodes.get(id) ?? [],
    );
    const outcome = placed(
      doc,
      all,
      all.map((node) => first.get(node.id) ?? node),
      (count) => (count === 0 ? 'Everything is arranged already.' : `Arranged ${plural(count, 'node')}.`),
    );
    const findings = options.hangers ? [] : leftBehind(doc, graph, hangers);
    return {
      edit: withNotes(context, doc, graph, outcome.edit),
      report: { ...outcome.report, findings: [...outcome.report.findings, ...findings] },
    };
  },
});

/** The edit with the notes that go along with what they stand by. */
function withNotes({ kinds }: Context, doc: Doc, graph: Id, edit: Edit): Edit {
  const after = apply(doc, edit);
  const tx = new Transaction(after);
  for (const [id, { x, y }] of notesAlong(doc, after, kinds, graph)) {
    tx.set('notes', id, 'x', x);
    tx.set('notes', id, 'y', y);
  }
  return tx.edit.steps.length === 0 ? edit : { ...edit, steps: [...edit.steps, ...tx.edit.steps] };
}

function meant(doc: Doc, selection: Selection, what: 'selected' | 'upstream'): readonly GraphNode[] {
  const chosen = selectedOrAll(doc, selection);
  if (what !== 'upstream' || selectedNodes(doc, selection).length === 0) return chosen;
  const ids = chosen.map((node) => node.id);
  return [...alongWires(doc, ids, 'up')].map((id) => must(doc.nodes.get(id)));
}

/**
 * Up to so many nodes the worst wires are looked for as they are routed, and as they would run by themselves; whichever
 * leaves fewer crossings is taken.
 */
const mostTriedTwice = 600;

/** The wires that hurt most once all is arranged, as remote links: what they cross before tells little of it. */
function linkedOnPage(
  context: Context,
  before: Doc,
  arranged: Doc,
  selection: Selection,
  { nodes, routed }: { readonly nodes: readonly GraphNode[] | undefined; readonly routed: boolean },
): { doc: Doc; made: readonly Id[]; summary: string } {
  if (indexOf(before).nodesOfKind(builtin.fold).length > 0) throw refuse('frames-folded');
  const { candidates } = advise(context, arranged, selection.graph, {
    share: usualShare,
    routed,
    ...(nodes && { at: new Set(nodes.map((node) => node.id)) }),
  });
  const requests = candidates
    .filter((one) => one.isAdvised)
    .map(({ from, wires, name }) => ({ from, wires: wires.map((wire) => must(arranged.wires.get(wire))), name }));
  if (requests.length === 0)
    return { doc: arranged, made: [], summary: 'No wire is bad enough to be worth a remote link.' };
  const wiring = wiringOf(context, arranged);
  const { summary, select = [] } = linkAll(wiring, context.newId, requests, 'node');
  return { doc: wiring.tx.doc, made: select, summary };
}

const rounded = (doc: Doc, places: ReadonlyMap<Id, Point>): Doc =>
  moved(doc, new Map([...places].map(([id, { x, y }]) => [id, { x: Math.round(x), y: Math.round(y) }])));

function leftBehind(doc: Doc, graph: Id, hangers: readonly GraphNode[]): Finding[] {
  if (hangers.length === 0) return [];
  const names = hangers.slice(0, 4).map((node) => `“${caption(node)}”`);
  const rest = hangers.length > names.length ? ` and ${hangers.length - names.length} more` : '';
  const [hang, them] = hangers.length === 1 ? ['hangs', 'it'] : ['hang', 'them'];
  return [
    find('left-behind', 'info', placeOf(doc, graph, must(hangers[0]).id), 'hangs-on-arranged', {
      names,
      rest,
      hang,
      them,
    }),
  ];
}

export const settle = operation({
  id: 'settle',
  title: 'Settle',
  area: 'arrange',
  about:
    'Lines up nodes that are almost in columns and rows, and makes the gaps even. The order of the nodes stays the same.',
  needs: { what: 'nodes', least: 0, all: true },
  options: z.object({
    tolerance: z.number().min(4).max(400).default(60).meta({ title: 'One line within', unit: 'px', step: 4 }),
    even: z.boolean().default(true).meta({ title: 'Even the gaps' }),
  }),
  changesFunction: false,
  preview: 'first',
  run(context, doc, selection, options) {
    const nodes = selectedOrAll(doc, selection).filter((node) => !node.pinned);
    const rects = rectsOf(doc, context.kinds, nodes);
    const before = measureGraph(doc, context.kinds, selection.graph);
    const stacked = before.overlaps > 0 ? [overlapping(doc, selection, nodes[0], before.overlaps)] : [];
    for (const one of gentler(options)) {
      const { x, y, columns, rows } = settledPlaces(rects, one);
      const outcome = placed(
        doc,
        nodes,
        nodes.map((_, i) => ({ x: must(x[i]), y: must(y[i]) })),
        (moved) =>
          moved === 0
            ? 'Everything is settled already.'
            : `Settled ${plural(moved, 'node')} in ${plural(columns, 'column')} and ${plural(rows, 'row')}.`,
      );
      const after = measureGraph(apply(doc, outcome.edit), context.kinds, selection.graph);
      if (
        after.crossings <= before.crossings &&
        after.overlaps <= before.overlaps &&
        after.throughNodes <= before.throughNodes
      )
        return { ...outcome, report: { ...outcome.report, findings: stacked } };
    }
    const nothing = placed(
      doc,
      nodes,
      nodes,
      () => 'Nothing moved: lining these nodes up would add crossings, overlaps or wires through nodes.',
    );
    return { ...nothing, report: { ...nothing.report, findings: stacked } };
  },
});

/** The same with less and less that is lined up, for where more would make the graph harder to read. */
function gentler({ tolerance, even }: { tolerance: number; even: boolean }): { tolerance: number; even: boolean }[] {
  const smaller = [tolerance, tolerance / 2, tolerance / 4, tolerance / 12];
  return [...(even ? [{ tolerance, even }] : []), ...smaller.map((one) => ({ tolerance: one, even: false }))];
}

function overlapping(doc: Doc, selection: Selection, node: GraphNode | undefined, count: number): Finding {
  return find('overlap', 'warning', placeOf(doc, selection.graph, node?.id ?? selection.graph), 'nodes-overlap', {
    count,
  });
}

export const unstack = operation({
  id: 'unstack',
  title: 'Unstack',
  area: 'arrange',
  about:
    'Moves overlapping nodes apart with the least movement and in the same order. Lists nodes that lay exactly on one another.',
  needs: { what: 'nodes', least: 0, all: true },
  options: z.object({ gap: z.number().min(0).max(400).default(12).meta({ title: 'Gap', unit: 'px', step: 2 }) }),
  changesFunction: false,
  preview: 'first',
  run(context, doc, selection, options) {
    const nodes = [...selectedOrAll(doc, selection)].sort((a, b) => compareIds(a.id, b.id));
    const rects = rectsOf(doc, context.kinds, nodes);
    const places = unstacked(rects, options.gap, (i) => must(nodes[i]).pinned === true);
    const outcome = placed(doc, nodes, places, (moved) =>
      moved === 0 ? 'Nothing overlaps.' : `Unstacked ${plural(moved, 'node')}.`,
    );
    const stacks = exactStacks(rects).map((group) => {
      const names = group.map((i) => `“${caption(must(nodes[i]))}”`);
      return find(
        'stacked',
        'warning',
        placeOf(doc, selection.graph, must(nodes[must(group[0])]).id),
        'lay-on-one-another',
        {
          names,
        },
      );
    });
    return { ...outcome, report: { ...outcome.report, findings: stacks } };
  },
});

export const makeRoom = operation({
  id: 'make-room',
  title: 'Make room',
  area: 'arrange',
  about: 'Pushes everything that is in the way of the selected nodes to one side, only as far as needed.',
  needs: { what: 'nodes', least: 1 },
  options: z.object({
    side: z
      .enum(['flow', 'right', 'down', 'left', 'up'])
      .default('flow')
      .meta({ title: 'To', hint: 'Along the flow, or one of four sides' }),
    gap: z.number().min(0).max(1000).default(40).meta({ title: 'Gap', unit: 'px', step: 4 }),
  }),
  changesFunction: false,
  preview: 'at-once',
  run(context, doc, selection, options) {
    const chosen = new Set(selectedNodes(doc, selection).map((node) => node.id));
    const nodes = indexOf(doc).nodesIn(selection.graph);
    const holding = new Set(nodes.flatMap((node, i) => (chosen.has(node.id) || node.pinned ? [i] : [])));
    const rects = rectsOf(doc, context.kinds, nodes);
    const moved = roomFor(
      rects,
      holding,
      options.side === 'flow' ? flowOf(doc, selection.graph) : options.side,
      options.gap,
    );
    return placed(
      doc,
      nodes,
      nodes.map((node, i) => moved.get(i) ?? node),
      (count) => (count === 0 ? 'Nothing is in the way.' : `Pushed ${plural(count, 'node')} away.`),
    );
  },
});

export const toGrid = operation({
  id: 'to-grid',
  title: 'Put on the grid',
  area: 'arrange',
  about: 'Moves each node so that its centre lies on lines of the grid.',
  needs: { what: 'nodes', least: 0, all: true },
  options: z.object({ step: gridStep }),
  changesFunction: false,
  preview: 'at-once',
  run(context, doc, selection, { step }) {
    const nodes = selectedOrAll(doc, selection).filter((node) => !node.pinned);
    const places = ontoGrid(rectsOf(doc, context.kinds, nodes), step);
    return placed(doc, nodes, places, (moved) =>
      moved === 0 ? 'Everything is on the grid already.' : `Put ${plural(moved, 'node')} on a grid of ${step} px.`,
    );
  },
});
