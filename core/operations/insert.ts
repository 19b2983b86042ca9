import { z } from 'zod';
import { caption, type Doc, type Selection, selectedNodes } from '../document/doc.ts';
import type { Json } from '../document/json.ts';
import type { PortRef, Wire } from '../document/schema.ts';
import type { Finding } from '../finding.ts';
import { must } from '../must.ts';
import { type Context, operation } from '../operation.ts';
import { Refused } from '../said.ts';
import { takeOut } from '../structure/remove.ts';
import { addBehind, freshNode, mainOutput, roomAround, withNode } from '../wiring/add.ts';
import { closesLoop } from '../wiring/along.ts';
import { connectProblem, fittingPairs, loopProblem } from '../wiring/connect.ts';
import { bridges, bringAlong, wayThrough } from '../wiring/convert.ts';
import { insertInto, insertWay } from '../wiring/insert.ts';
import { carriedType, portOrPart } from '../wiring/types.ts';
import type { Wiring } from '../wiring/wiring.ts';
import { plural } from '../words.ts';
import { refuse } from './sentences.ts';
import { end, wirePorts, wiringOf } from './wire.ts';

const kind = z.string().min(1).max(200).meta({ title: 'Kind', choose: 'kind' });
const room = z.boolean().default(true).meta({ title: 'Make room' });
const px = (title: string) => z.number().min(-1e7).max(1e7).optional().meta({ title, unit: 'px' });

export const addNode = operation({
  id: 'add-node',
  title: 'Add a node',
  area: 'wire',
  about:
    'Adds a node of a kind: in line behind the selected node or into the selected wire, alongside as a new branch, at an open end, or without a wire.',
  needs: { what: 'nothing', least: 0 },
  options: z.object({
    kind,
    where: z.enum(['in line', 'alongside', 'by itself']).default('in line').meta({ title: 'Where' }),
    output: z
      .string()
      .max(200)
      .optional()
      .meta({ title: 'Output', hint: 'of the selected node; empty: its first main one' }),
    from: end.optional().meta({ title: 'Takes from' }),
    to: end.optional().meta({ title: 'Feeds' }),
    x: px('Left edge'),
    y: px('Top edge'),
    params: z.record(z.string().max(100), z.json()).optional().meta({ title: 'Parameters' }),
    room,
  }),
  changesFunction: true,
  preview: 'at-once',
  room: 'all',
  run(context, doc, selection, options) {
    const { kinds } = context;
    if (!kinds.kind(options.kind)) throw refuse('no-kind', { catalogue: kinds.catalogue.title, kind: options.kind });
    for (const [name, value] of Object.entries(options.params ?? {})) {
      const known = kinds.parameters(options.kind).map((spec) => spec.id);
      if (!known.includes(name))
        throw refuse('kind-without-parameter', { kind: kinds.title(options.kind), parameter: name, known });
      const problem = kinds.valueProblem(options.kind, name, value as Json);
      if (problem) throw new Refused(problem);
    }
    const wiring = wiringOf(context, doc);
    const bare = freshNode(doc, kinds, selection.graph, options.kind, context.newId('n'));
    const fresh = { ...bare, ...(options.params && { params: options.params as Record<string, Json> }) };
    const title = kinds.title(options.kind);
    const at =
      options.where === 'by itself' || options.from || options.to
        ? undefined
        : behind(context, doc, selection, options.output);
    if (at) {
      const node = addBehind(wiring, fresh, at.from, at.wires, options.where === 'in line');
      if (options.room) roomAround(wiring, node, new Set([at.from.node]));
      const where = options.where === 'in line' && at.wires.length > 0 ? 'into the wiring of' : 'behind';
      return {
        edit: wiring.tx.edit,
        report: {
          summary: `Added ${title} ${where} “${caption(must(doc.nodes.get(at.from.node)))}”.`,
          findings: [],
          select: [node.id],
        },
      };
    }
    const node = { ...fresh, x: Math.round(options.x ?? 0), y: Math.round(options.y ?? 0) };
    wiring.tx.add('nodes', node);
    const { from, to } = options;
    const [source, target] = [from && doc.nodes.get(from.node), to && doc.nodes.get(to.node)];
    if (source && target && kinds.catalogue.loops === 'forbidden' && closesLoop(doc, source.id, target.id))
      throw new Refused(loopProblem(source, target));
    const findings = wireFresh(context, wiring, doc, node.id, options);
    return { edit: wiring.tx.edit, report: { summary: `Added ${title}.`, findings, select: [node.id] } };
  },
});

/** What a new node is put behind: an output, with the wires that would be led through the node. */
function behind(
  context: Context,
  doc: Doc,
  selection: Selection,
  output: string | undefined,
): { from: PortRef; wires: readonly Wire[] } | undefined {
  const wire = selection.items.map((item) => doc.wires.get(item)).find((one) => one !== undefined);
  if (wire) return { from: wire.from, wires: [wire] };
  const [node] = selectedNodes(doc, selection);
  if (!node) return undefined;
  const port = output ?? mainOutput(context.kinds, node);
  if (port === undefined) throw refuse('gives-nothing-to-take', { node: caption(node) });
  const from = { node: node.id, port };
  return { from, wires: wiringOf(context, doc).outOf(from) };
}

/** Wires a node that was just added to the open ends that were named. */
function wireFresh(
  context: Context,
  wiring: Wiring,
  doc: Doc,
  id: string,
  { from, to }: { from?: PortRef | undefined; to?: PortRef | undefined },
): Finding[] {
  const there = withNode(doc, must(wiring.tx.get('nodes', id)));
  const findings: Finding[] = [];
  for (const [ref, isFrom] of [
    [from, true],
    [to, false],
  ] as const) {
    if (!ref) continue;
    const pair = (
      isFrom
        ? fittingPairs(there, context.kinds, ref.node, id, false)
        : fittingPairs(there, context.kinds, id, ref.node, true)
    ).find((one) => (isFrom ? one.from.port === ref.port : one.to.port === ref.port));
    const own = must(wiring.tx.get('nodes', id));
    if (!doc.nodes.has(ref.node)) throw refuse('no-node', { node: ref.node });
    if (!pair)
      throw refuse('no-port-fits', { own: caption(own), port: ref.port, node: caption(must(doc.nodes.get(ref.node))) });
    const problem = connectProblem(there, context.kinds, pair.from, pair.to);
    if (problem) throw new Refused(problem);
    wiring.connect(pair.from, pair.to);
  }
  return findings;
}

export const insert = operation({
  id: 'insert',
  title: 'Insert into a wire',
  area: 'wire',
  about:
    'Inserts the selected node into the selected wire, by the input that it passes on when bypassed. Pulling it out again changes nothing.',
  needs: { what: 'nodes', least: 1, most: 1 },
  options: z.object({
    wire: z.string().max(200).optional().meta({ title: 'Wire', hint: 'the selected one where empty' }),
    dx: px('Moved by x'),
    dy: px('Moved by y'),
    room: room.default(false),
  }),
  changesFunction: true,
  preview: 'at-once',
  room: 'all',
  run(context, doc, selection, options) {
    const [node] = selectedNodes(doc, selection);
    const id = options.wire ?? selection.items.find((item) => doc.wires.has(item));
    const wire = id === undefined ? undefined : doc.wires.get(id);
    if (!node || !wire) throw refuse('select-node-and-wire');
    const wiring = wiringOf(context, doc);
    const way = insertWay(doc, context.kinds, wiring, node, [wire]);
    if (!('input' in way)) throw new Refused(way);
    if (options.dx || options.dy) wiring.tx.move(node.id, node.x + (options.dx ?? 0), node.y + (options.dy ?? 0));
    insertInto(wiring, node, [wire], way);
    if (options.room) roomAround(wiring, must(wiring.tx.get('nodes', node.id)), new Set([wire.from.node]));
    return {
      edit: wiring.tx.edit,
      report: {
        summary: `Put “${caption(node)}” into the wire of “${caption(must(doc.nodes.get(wire.from.node)))}”.`,
        findings: [],
        select: [node.id],
      },
    };
  },
});

export const pullOut = operation({
  id: 'pull-out',
  title: 'Pull out of the wires',
  area: 'wire',
  about:
    'Pulls the selected nodes out of their wires, which are reconnected. The nodes stay, with the wires among them.',
  needs: { what: 'nodes', least: 1 },
  options: z.object({ dx: px('Moved by x'), dy: px('Moved by y') }),
  changesFunction: true,
  preview: 'on-loss',
  opensInputs: 'own',
  run(context, doc, selection, options) {
    const wiring = wiringOf(context, doc);
    const nodes = selectedNodes(doc, selection);
    takeOut(wiring, nodes, true, 'keep');
    if (wiring.tx.edit.steps.length === 0) throw refuse('no-wires-to-others');
    for (const node of nodes) wiring.tx.move(node.id, node.x + (options.dx ?? 0), node.y + (options.dy ?? 0));
    return {
      edit: wiring.tx.edit,
      report: { summary: `Pulled ${plural(nodes.length, 'node')} out of the wires.`, findings: [] },
    };
  },
});

/** Which component a bridge takes, or wires, in words. */
const componentOf = (way: string): string =>
  way.startsWith('part:') ? `by its component ${way.slice(5)}` : `into its component ${way.slice(5)}`;

export const convert = operation({
  id: 'connect-converted',
  title: 'Connect with a conversion',
  area: 'wire',
  about:
    'Connects two ports of different types: by a component, or through a node that converts one type into the other.',
  needs: { what: 'nothing', least: 0 },
  options: z.object({
    from: end.meta({ title: 'Output' }),
    to: end.meta({ title: 'Input' }),
    way: z
      .string()
      .max(200)
      .optional()
      .meta({ title: 'Way', hint: 'part:NAME, into:NAME or kind:KIND; the first where empty' }),
    room,
  }),
  changesFunction: true,
  preview: 'at-once',
  room: 'all',
  run(context, doc, _selection, options) {
    const { kinds } = context;
    const { from, to } = options;
    const problem = connectProblem(doc, kinds, from, to);
    const ways = problem === undefined ? [] : bridges(doc, kinds, from, to);
    if (problem === undefined) throw refuse('ports-fit');
    const way = options.way === undefined ? ways[0] : ways.find((one) => one.id === options.way);
    if (!way)
      throw refuse('no-conversion', {
        ways: ways.length,
        problem: problem.message,
        way: options.way,
        id: ways.map((one) => one.id),
      });
    const wiring = wiringOf(context, doc);
    if (way.kind === undefined) {
      const findings = wirePorts(context, wiring, way.from, way.to, { replace: true, across: false });
      return {
        edit: wiring.tx.edit,
        report: {
          summary: `Wired “${caption(must(doc.nodes.get(from.node)))}” to “${caption(must(doc.nodes.get(to.node)))}”, ${componentOf(way.id)}.`,
          findings,
        },
      };
    }
    const [source, target] = [must(doc.nodes.get(from.node)), must(doc.nodes.get(to.node))];
    const ports = must(
      wayThrough(kinds, way.kind, carriedType(doc, kinds, from), must(portOrPart(kinds, target, to.port, 'in')).type),
    );
    const node = addBehind(wiring, freshNode(doc, kinds, source.graph, way.kind, context.newId('n')), from, [], false);
    if (kinds.catalogue.loops === 'forbidden' && closesLoop(doc, source.id, target.id))
      throw new Refused(loopProblem(source, target));
    const leaves = connectProblem(withNode(doc, node), kinds, { node: node.id, port: ports.output }, to);
    if (leaves) throw new Refused(leaves);
    wiring.connect({ node: node.id, port: ports.output }, to);
    const findings = bringAlong(wiring, doc, kinds, node.id, { source: source.id, target: target.id });
    if (options.room) roomAround(wiring, must(wiring.tx.get('nodes', node.id)), new Set([source.id]));
    return {
      edit: wiring.tx.edit,
      report: {
        summary: `Wired “${caption(source)}” to “${caption(target)}” through ${kinds.title(way.kind)}.`,
        findings,
        select: [node.id],
      },
    };
  },
});
