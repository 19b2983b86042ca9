import { z } from 'zod';
import { caption, type Doc, indexOf, type Selection, selectedNodes } from '../document/doc.ts';
import type { PortRef, Wire } from '../document/schema.ts';
import { Transaction } from '../edit/transaction.ts';
import type { Finding } from '../finding.ts';
import { must } from '../must.ts';
import { type Context, type Outcome, operation } from '../operation.ts';
import { Refused } from '../said.ts';
import { Carrier } from '../wiring/across.ts';
import { closesLoop } from '../wiring/along.ts';
import { connectProblem, fittingPairs, loopProblem } from '../wiring/connect.ts';
import { portOf } from '../wiring/types.ts';
import { Wiring } from '../wiring/wiring.ts';
import { plural } from '../words.ts';
import { find, refuse } from './sentences.ts';

const id = z.string().min(1).max(200);
/** A port, or a node where the first port that fits will do. */
export const looseEnd = z.object({ node: id, port: id.optional() });
export const end = z.object({ node: id, port: id });
type LooseEnd = z.output<typeof looseEnd>;

const replace = z.boolean().default(false).meta({ title: 'Replace an existing wire' });
const across = z.boolean().default(false).meta({ title: 'Across nested graphs', hint: 'Ports are made for it' });

export const wiringOf = (context: Context, doc: Doc): Wiring =>
  new Wiring(new Transaction(doc), context.kinds, context.newId);

/** Both ends as ports. Throws Refused where a node is missing, or no two ports fit. */
function pairOf(
  context: Context,
  doc: Doc,
  from: LooseEnd,
  to: LooseEnd,
  taken: boolean,
): { from: PortRef; to: PortRef } {
  if (from.port !== undefined && to.port !== undefined)
    return { from: { node: from.node, port: from.port }, to: { node: to.node, port: to.port } };
  for (const { node } of [from, to]) if (!doc.nodes.has(node)) throw refuse('no-node', { node });
  const pairs = fittingPairs(doc, context.kinds, from.node, to.node, taken);
  const pair = pairs.find(
    (one) => (from.port ?? one.from.port) === one.from.port && (to.port ?? one.to.port) === one.to.port,
  );
  if (pair) return pair;
  const [source, target] = [must(doc.nodes.get(from.node)), must(doc.nodes.get(to.node))];
  throw refuse('no-input-takes-it', { taken, target: caption(target), source: caption(source), port: from.port });
}

/** What says that a wire gave way: by the source that it came from, and where several may, the input. */
const gaveWay = (doc: Doc, { from, to }: Wire, where = ''): Finding =>
  find('wire-replaced', 'info', [to.node], 'wire-gave-way', { node: caption(must(doc.nodes.get(from.node))), where });

/** What gives way where an input is wired. Throws Refused where nothing may. */
export function givesWay(wiring: Wiring, to: PortRef, replace: boolean): Finding[] {
  const doc = wiring.tx.before;
  const old = wiring.into(to);
  if (old && !replace) throw refuse('input-taken', { port: to.port, node: caption(must(doc.nodes.get(to.node))) });
  return old ? [gaveWay(doc, old)] : [];
}

/** Wires two ports, over borders where that is wanted. Throws Refused with the reason. Returns what gave way. */
export function wirePorts(
  context: Context,
  wiring: Wiring,
  from: PortRef,
  to: PortRef,
  options: { replace: boolean; across: boolean; off?: boolean; without?: string },
): Finding[] {
  const doc = wiring.tx.before;
  const problem = connectProblem(doc, context.kinds, from, to, options);
  if (problem) throw new Refused(problem);
  const found = givesWay(wiring, to, options.replace);
  if (must(doc.nodes.get(from.node)).graph === must(doc.nodes.get(to.node)).graph) {
    wiring.connect(from, to, { off: options.off === true });
    return found;
  }
  if (!new Carrier(wiring, context.newId).carry(from, to, options.off === true)) throw refuse('nothing-to-carry');
  if (context.kinds.catalogue.loops === 'forbidden') refuseLoops(doc, wiring);
  return found;
}

/** Ports that were made on the way could close a loop in one of the graphs between. */
function refuseLoops(before: Doc, wiring: Wiring): void {
  const { doc } = wiring.tx;
  for (const step of wiring.tx.edit.steps) {
    if (step.table !== 'wires' || step.type !== 'add') continue;
    const { from, to } = step.value as unknown as Wire;
    if (closesLoop(doc, from.node, to.node))
      throw new Refused(
        loopProblem(must(before.nodes.get(from.node) ?? doc.nodes.get(from.node)), must(doc.nodes.get(to.node))),
      );
  }
}

export const connect = operation({
  id: 'connect',
  title: 'Connect two ports',
  area: 'wire',
  about: 'Connects an output to an input that accepts its type, or the first pair of ports of two nodes that fits.',
  needs: { what: 'nothing', least: 0 },
  options: z.object({
    from: looseEnd.meta({ title: 'Output' }),
    to: looseEnd.meta({ title: 'Input' }),
    replace,
    across,
  }),
  changesFunction: true,
  preview: 'at-once',
  run(context, doc, _selection, options) {
    const { from, to } = pairOf(context, doc, options.from, options.to, options.replace);
    const wiring = wiringOf(context, doc);
    const findings = wirePorts(context, wiring, from, to, options);
    const [source, target] = [must(doc.nodes.get(from.node)), must(doc.nodes.get(to.node))];
    return {
      edit: wiring.tx.edit,
      report: { summary: `Wired “${caption(source)}” to “${caption(target)}”.`, findings },
    };
  },
});

export const carryEnd = operation({
  id: 'carry-wire',
  title: 'Carry the end of a wire',
  area: 'wire',
  about: 'Moves one end of a wire to another port, in this graph or in another one.',
  needs: { what: 'nothing', least: 0 },
  options: z.object({
    wire: id.meta({ title: 'Wire' }),
    end: z.enum(['from', 'to']).meta({ title: 'End' }),
    to: looseEnd.meta({ title: 'To' }),
    replace,
    across,
  }),
  changesFunction: true,
  preview: 'at-once',
  opensInputs: true,
  run(context, doc, _selection, options) {
    const wire = doc.wires.get(options.wire);
    if (!wire) throw refuse('no-wire', { wire: options.wire });
    const ends: [LooseEnd, LooseEnd] = options.end === 'to' ? [wire.from, options.to] : [options.to, wire.to];
    const { from, to } = pairOf(context, doc, ...ends, options.replace || options.end === 'from');
    const wiring = wiringOf(context, doc);
    if (
      from.node === wire.from.node &&
      from.port === wire.from.port &&
      to.node === wire.to.node &&
      to.port === wire.to.port
    )
      return { edit: wiring.tx.edit, report: { summary: 'The wire ends there already.', findings: [] } };
    let findings: Finding[];
    if (must(doc.nodes.get(from.node)).graph === must(doc.nodes.get(to.node)).graph) {
      const problem = connectProblem(doc, context.kinds, from, to, { without: wire.id });
      if (problem) throw new Refused(problem);
      findings = options.end === 'to' ? givesWay(wiring, to, options.replace) : [];
      wiring.carry(wire, options.end === 'to' ? { to } : { from });
    } else {
      wiring.remove(wire);
      findings = wirePorts(context, wiring, from, to, {
        replace: options.replace,
        across: options.across,
        off: wire.off === true,
        without: wire.id,
      });
      wiring.fitRow(wire.to);
    }
    const target = must(doc.nodes.get(to.node));
    return {
      edit: wiring.tx.edit,
      report: {
        summary: `The wire runs from “${caption(must(doc.nodes.get(from.node)))}” to “${caption(target)}” now.`,
        findings,
      },
    };
  },
});

export const connectSelected = operation({
  id: 'connect-selected',
  title: 'Connect the selected',
  area: 'wire',
  about: 'Connects each selected node to the one selected after it: the next pair of ports that fits, or all pairs.',
  needs: { what: 'nodes', least: 2 },
  options: z.object({
    pairs: z
      .enum(['next', 'each', 'all'])
      .default('next')
      .meta({ title: 'Pairs', hint: 'One more each time, one between each two nodes, or all at once' }),
    replace: replace.meta({ title: 'Also inputs that are wired' }),
  }),
  changesFunction: true,
  preview: 'at-once',
  run(context, doc, selection, options) {
    const nodes = selectedNodes(doc, selection);
    const wiring = wiringOf(context, doc);
    const findings: Finding[] = [];
    let made = 0;
    let last = '';
    for (let i = 0; i + 1 < nodes.length && (options.pairs !== 'next' || made === 0); i++) {
      for (const [a, b] of [
        [must(nodes[i]), must(nodes[i + 1])],
        [must(nodes[i + 1]), must(nodes[i])],
      ] as const) {
        const count = wirePairs(context, wiring, doc, a.id, b.id, options, findings);
        if (count === 0) continue;
        made += count;
        last = `“${caption(a)}” to “${caption(b)}”`;
        break;
      }
    }
    if (made === 0) throw refuse('no-pair-fits', { replace: options.replace });
    return {
      edit: wiring.tx.edit,
      report: { summary: made === 1 ? `Wired ${last}.` : `Made ${plural(made, 'wire')}.`, findings },
    };
  },
});

/**
 * The best pair, or one for each input, every output once as far as there are enough. Returns how many wires were made.
 */
function wirePairs(
  context: Context,
  wiring: Wiring,
  doc: Doc,
  source: string,
  target: string,
  options: { pairs: 'next' | 'each' | 'all'; replace: boolean },
  findings: Finding[],
): number {
  const forbidden = context.kinds.catalogue.loops === 'forbidden';
  if (forbidden && closesLoop(doc, source, target)) return 0;
  // a wire that an earlier pair of this act has made does not count as one that stands in the way
  const used = { from: new Set<string>(), to: new Set<string>() };
  let made = 0;
  for (const { from, to } of fittingPairs(doc, context.kinds, source, target, options.replace)) {
    if (used.from.has(from.port) || used.to.has(to.port)) continue;
    const old = wiring.into(to);
    if (old && (!options.replace || old.from.node === source)) continue;
    if (old) findings.push(gaveWay(doc, old, ` into “${to.port}”`));
    wiring.connect(from, to);
    used.from.add(from.port);
    used.to.add(to.port);
    made++;
    if (options.pairs !== 'all') break;
  }
  return made;
}

/**
 * The selected wires; where none is, the wires between selected nodes; where there are none, those that come into the
 * nodes.
 */
export function wiresOfSelection(doc: Doc, selection: Selection): Wire[] {
  const wires = selection.items.flatMap((item) => doc.wires.get(item) ?? []);
  if (wires.length > 0) return wires;
  const nodes = selectedNodes(doc, selection);
  const inside = new Set(nodes.map((node) => node.id));
  const incoming = nodes.flatMap((node) =>
    indexOf(doc)
      .wiresOf(node.id)
      .filter((wire) => wire.to.node === node.id),
  );
  const between = incoming.filter((wire) => inside.has(wire.from.node));
  return between.length > 0 ? between : incoming;
}

function needWires(doc: Doc, selection: Selection): Wire[] {
  const wires = wiresOfSelection(doc, selection);
  if (wires.length === 0) throw refuse('select-wires');
  return wires;
}

export const cutWires = operation({
  id: 'cut-wires',
  title: 'Cut wires',
  area: 'wire',
  about: 'Removes the selected wires, or the wires between the selected nodes, or else those that enter them.',
  needs: { what: 'items', least: 1 },
  options: z.object({}),
  changesFunction: true,
  preview: 'at-once',
  opensInputs: true,
  run(context, doc, selection) {
    const wiring = wiringOf(context, doc);
    const wires = needWires(doc, selection);
    for (const wire of wires) wiring.disconnect(wire);
    return { edit: wiring.tx.edit, report: { summary: `Cut ${plural(wires.length, 'wire')}.`, findings: [] } };
  },
});

export const switchWires = operation({
  id: 'switch-wires',
  title: 'Switch wires off or on',
  area: 'wire',
  about:
    'Switches wires off, so that their inputs are open, or on again if all are off: the selected ones, or those between or into the selected nodes.',
  needs: { what: 'items', least: 1 },
  options: z.object({ to: z.enum(['other', 'off', 'on']).default('other').meta({ title: 'To' }) }),
  changesFunction: true,
  preview: 'at-once',
  opensInputs: true,
  run(context, doc, selection, { to }) {
    const wiring = wiringOf(context, doc);
    const wires = needWires(doc, selection);
    const off = to === 'other' ? wires.some((wire) => !wire.off) : to === 'off';
    for (const wire of wires) wiring.switch(wire, off);
    return {
      edit: wiring.tx.edit,
      report: { summary: `Switched ${plural(wires.length, 'wire')} ${off ? 'off' : 'on'}.`, findings: [] },
    };
  },
});

export const components = operation({
  id: 'components',
  title: 'Open components',
  area: 'wire',
  about:
    'Splits compound ports of the selected nodes into their components, or joins them again if these are not wired.',
  needs: { what: 'nodes', least: 1 },
  options: z.object({
    to: z.enum(['other', 'open', 'closed']).default('other').meta({ title: 'To' }),
    port: z.string().max(200).default('').meta({ title: 'Port', hint: 'its name; all where empty' }),
  }),
  changesFunction: false,
  preview: 'at-once',
  run(context, doc, selection, options): Outcome {
    const wiring = wiringOf(context, doc);
    const nodes = selectedNodes(doc, selection);
    const wholes = nodes.flatMap((node) =>
      node.ports
        .filter(
          (port) =>
            (options.port === '' || port.name === options.port || port.id === options.port) &&
            context.kinds.parts(port).length > 0,
        )
        .map((port) => ({ node, port })),
    );
    if (wholes.length === 0) throw refuse('no-compound-port');
    const isShut = wholes.some(({ node, port }) =>
      context.kinds.parts(port).some((part) => !portOf(node, part.id, part.direction)),
    );
    const opens = options.to === 'other' ? isShut : options.to === 'open';
    if (opens)
      for (const { node, port } of wholes)
        for (const part of context.kinds.parts(port)) wiring.open({ node: node.id, port: part.id }, part.direction);
    else for (const node of new Set(wholes.map((one) => one.node.id))) wiring.close(node);
    const count = new Set(wiring.tx.edit.steps.map((step) => step.id)).size;
    return {
      edit: wiring.tx.edit,
      report: { summary: `${opens ? 'Opened' : 'Closed'} the components of ${plural(count, 'node')}.`, findings: [] },
    };
  },
});
