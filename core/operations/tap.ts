import { z } from 'zod';
import { builtin } from '../document/builtin.ts';
import { caption, type Doc, indexOf, selectedNodes } from '../document/doc.ts';
import { portPoint } from '../document/geometry.ts';
import { freeName, namesIn } from '../document/names.ts';
import type { GraphNode, PortRef } from '../document/schema.ts';
import { must } from '../must.ts';
import { type Context, operation } from '../operation.ts';
import { endState } from '../remote/ends.ts';
import { addFeed } from '../remote/feed.ts';
import { Linker } from '../remote/links.ts';
import { Refused, type Saying } from '../said.ts';
import { bestInput, mainOutput } from '../wiring/add.ts';
import { alongData } from '../wiring/along.ts';
import { connectProblem, loopProblem, typeProblem } from '../wiring/connect.ts';
import { effectiveWiring } from '../wiring/effective.ts';
import { scopesAround, scopeTitle, standsIn } from '../wiring/feeds.ts';
import { portOf } from '../wiring/types.ts';
import { plural } from '../words.ts';
import { refuse } from './sentences.ts';
import { end, givesWay, wiringOf } from './wire.ts';

const beaconOption = z.string().min(1).max(200).meta({ title: 'Beacon', choose: 'beacon' });
const px = (title: string) =>
  z.number().optional().meta({ title, unit: 'px', hint: 'of the top left corner, if it feeds nothing' });

function beaconCalled(doc: Doc, id: string): GraphNode {
  const found = doc.nodes.get(id);
  if (found?.kind !== builtin.beacon) throw refuse('no-beacon', { id });
  return found;
}

/** The first open input of a node that takes what a beacon carries. */
function openInput(context: Context, doc: Doc, beacon: GraphNode, node: GraphNode): PortRef | undefined {
  const from = { node: beacon.id, port: 'out' };
  const port = bestInput(context.kinds, node, ({ id }) => {
    const to = { node: node.id, port: id };
    return (
      !indexOf(doc).wireInto(to.node, to.port) &&
      connectProblem(doc, context.kinds, from, to, { across: true }) === undefined
    );
  });
  return port === undefined ? undefined : { node: node.id, port };
}

export const tap = operation({
  id: 'tap',
  title: 'Tap a beacon',
  area: 'link',
  about:
    'Adds a tap of a beacon to this graph, wherever the beacon is. It feeds the chosen input, or the first open input that fits of the selected node.',
  needs: { what: 'nothing', least: 0 },
  options: z.object({
    beacon: beaconOption,
    x: px('X'),
    y: px('Y'),
    to: end.optional().meta({ title: 'Input', hint: 'empty: none, if nothing fits' }),
    replace: z.boolean().default(false).meta({ title: 'Replace an existing wire' }),
  }),
  changesFunction: true,
  preview: 'at-once',
  run(context, doc, selection, options) {
    const beacon = beaconCalled(doc, options.beacon);
    const nodes = selectedNodes(doc, selection);
    const to = options.to ?? (nodes.length === 1 ? openInput(context, doc, beacon, must(nodes[0])) : undefined);
    const target = to && doc.nodes.get(to.node);
    if (to && !target) throw refuse('no-node', { node: to.node });
    if (target && target.graph !== selection.graph) throw refuse('tap-in-other-graph', { target: caption(target) });
    const problem = to && connectProblem(doc, context.kinds, { node: beacon.id, port: 'out' }, to, { across: true });
    if (problem) throw new Refused(problem);
    const wiring = wiringOf(context, doc);
    const findings = to ? givesWay(wiring, to, options.replace) : [];
    const linker = new Linker(wiring, context.newId);
    const at = to ? portPoint(doc, context.kinds, must(target), to.port, 'in') : undefined;
    const made = linker.newTap(beacon, selection.graph, target?.frame, (size) =>
      at ? linker.placesIn(selection.graph).beside(at, 'before', size) : { x: options.x ?? 0, y: options.y ?? 0 },
    );
    if (to) wiring.connect({ node: made, port: 'out' }, to);
    const where = to ? `, into “${portOf(target, to.port, 'in')?.name ?? to.port}” of “${caption(must(target))}”` : '';
    return { edit: wiring.tx.edit, report: { summary: `Tapped “${beacon.name}”${where}.`, findings, select: [made] } };
  },
});

export const retune = operation({
  id: 'retune',
  title: 'Listen to another beacon',
  area: 'link',
  about: 'Connects the selected taps to another beacon. The inputs that they feed must accept its type.',
  needs: { what: 'nodes', least: 1 },
  options: z.object({ beacon: beaconOption }),
  changesFunction: true,
  preview: 'at-once',
  run(context, doc, selection, options) {
    const beacon = beaconCalled(doc, options.beacon);
    const taps = selectedNodes(doc, selection).filter((node) => node.kind === builtin.tap);
    if (taps.length === 0) throw refuse('select-tap');
    const wiring = wiringOf(context, doc);
    for (const one of taps) {
      const problem = retuneProblem(context, doc, one, beacon);
      if (problem) throw new Refused(problem);
      const isNamedAfter = one.beacon !== undefined && one.name.startsWith(`${one.beacon.name}_tap`);
      wiring.tx.set('nodes', one.id, 'beacon', { id: beacon.id, name: beacon.name });
      if (isNamedAfter && one.beacon?.name !== beacon.name)
        wiring.tx.set('nodes', one.id, 'name', freeName(`${beacon.name}_tap`, namesIn(wiring.tx.doc, one.graph)));
    }
    return {
      edit: wiring.tx.edit,
      report: {
        summary: `${taps.length === 1 ? `Tap “${must(taps[0]).name}” listens` : `${plural(taps.length, 'tap')} listen`} to “${beacon.name}” now.`,
        findings: [],
      },
    };
  },
});

function retuneProblem({ kinds }: Context, doc: Doc, one: GraphNode, beacon: GraphNode): Saying | undefined {
  for (const wire of indexOf(doc).wiresFrom(one.id)) {
    const problem = typeProblem(doc, kinds, { node: beacon.id, port: 'out' }, wire.to);
    if (problem) return problem;
  }
  return kinds.catalogue.loops === 'forbidden' && alongData(doc, [one.id], 'down').has(beacon.id)
    ? loopProblem(beacon, one)
    : undefined;
}

export const feedScopeChoice = operation({
  id: 'feed-scope',
  title: 'What a feed supplies',
  area: 'link',
  about: 'Chooses the frame or graph around the selected standing feed that it supplies.',
  needs: { what: 'nodes', least: 1, most: 1 },
  asks: true,
  options: z.object({
    scope: z.string().max(200).default('').meta({ title: 'Supplies', choose: 'scope' }),
  }),
  changesFunction: true,
  preview: 'on-loss',
  run(context, doc, selection, { scope }) {
    const [feed] = selectedNodes(doc, selection);
    if (feed?.kind !== builtin.feed) throw refuse('select-feed');
    const wanted = scope === '' ? standsIn(feed) : scope;
    if (![...scopesAround(doc, feed)].includes(wanted)) throw refuse('scope-not-around', { feed: caption(feed) });
    const { tx } = wiringOf(context, doc);
    tx.set('nodes', feed.id, 'covers', wanted === standsIn(feed) ? undefined : wanted);
    const count = effectiveWiring(tx.doc, context.kinds).suppliedBy(feed.id).length;
    return {
      edit: tx.edit,
      report: {
        summary: `“${caption(feed)}” supplies “${scopeTitle(doc, wanted)}”: ${plural(count, 'input')}.`,
        findings: [],
      },
    };
  },
});

export const standingFeed = operation({
  id: 'standing-feed',
  title: 'Make a standing feed',
  area: 'link',
  about:
    'Makes the selected node supply every open input of a data type in its frame or graph, and in everything inside. The nearest feed wins; a wire always does.',
  needs: { what: 'nodes', least: 1, most: 1 },
  asks: true,
  options: z.object({
    scope: z
      .enum(['graph', 'frame'])
      .default('graph')
      .meta({ title: 'Covers', hint: 'the graph, or the frame that the node is in' }),
    types: z
      .string()
      .max(500)
      .default('')
      .meta({ title: 'Types', hint: 'empty: that of the output; separate several by commas' }),
    output: z
      .string()
      .max(200)
      .optional()
      .meta({ title: 'Output', hint: 'empty: the first main one', choose: 'output' }),
    takeWires: z.boolean().default(false).meta({ title: 'Remove wires that it makes unnecessary' }),
  }),
  changesFunction: true,
  preview: 'first',
  live: true,
  run(context, doc, selection, options) {
    const node = must(selectedNodes(doc, selection)[0]);
    const port = options.output ?? mainOutput(context.kinds, node);
    if (port === undefined || !portOf(node, port, 'out'))
      throw refuse('supplies-nothing', { node: caption(node), port });
    const wiring = wiringOf(context, doc);
    const { feed, taken } = addFeed(context, wiring, { node: node.id, port }, options);
    const after = wiring.tx.doc;
    const wired = effectiveWiring(after, context.kinds);
    const supplied = wired.suppliedBy(feed.id).length;
    const findings = wired.linkFindings.filter(
      (item) => (item.rule === 'feeds-clash' || item.rule === 'feed-loop') && item.message.includes(`“${feed.name}”`),
    );
    const state = endState(after, wired, feed) === 'open' ? ' Nothing comes to it yet.' : '';
    const without = taken > 0 ? ` ${plural(taken, 'wire was', 'wires were')} removed, since it does the same.` : '';
    return {
      edit: wiring.tx.edit,
      report: {
        summary: `“${feed.name}” supplies ${plural(supplied, 'open input')}.${without}${state}`,
        findings,
        select: [feed.id],
      },
    };
  },
});
