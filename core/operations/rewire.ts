import { z } from 'zod';
import { builtin, isBoundary } from '../document/builtin.ts';
import { caption, type Doc, indexOf, selectedNodes } from '../document/doc.ts';
import type { Kinds } from '../document/kinds.ts';
import type { GraphNode, PortRef } from '../document/schema.ts';
import type { Finding } from '../finding.ts';
import { must } from '../must.ts';
import { operation } from '../operation.ts';
import { Refused } from '../said.ts';
import { removeNodes } from '../structure/remove.ts';
import { isCarrier } from '../wiring/carriers.ts';
import { typeProblem } from '../wiring/connect.ts';
import { neededNodes } from '../wiring/needed.ts';
import { inputKey, reSource as moveConsumers, reSourceProblem } from '../wiring/re-source.ts';
import { replaceKind as becomeKind, replaceProblem } from '../wiring/replace.ts';
import { shareValue as share } from '../wiring/share.ts';
import { swapInputs as exchange } from '../wiring/swap.ts';
import { portOf } from '../wiring/types.ts';
import { plural } from '../words.ts';
import { find, refuse } from './sentences.ts';
import { end, wiringOf } from './wire.ts';

const port = (title: string, hint: string) => z.string().max(200).optional().meta({ title, hint, choose: 'input' });

export const swapInputs = operation({
  id: 'swap-inputs',
  title: 'Swap inputs',
  area: 'wire',
  about: 'Swaps the wires of two inputs of each selected node: the first two with types that fit, or any two.',
  needs: { what: 'nodes', least: 1 },
  options: z.object({
    a: port('Input', 'empty: the first that fits'),
    b: port('With', 'empty: the next that fits'),
  }),
  changesFunction: true,
  preview: 'at-once',
  opensInputs: true,
  run(context, doc, selection, { a, b }) {
    const wiring = wiringOf(context, doc);
    const nodes = selectedNodes(doc, selection);
    const done = nodes.map((node) => [node, exchange(wiring, node, a, b)] as const);
    const [node, pair] = must(done[0]);
    const summary =
      done.length === 1
        ? `Swapped “${pair[0].name}” and “${pair[1].name}” of “${caption(node)}”.`
        : `Swapped two inputs of each of ${plural(done.length, 'node')}.`;
    return { edit: wiring.tx.edit, report: { summary, findings: [] } };
  },
});

export const replaceKind = operation({
  id: 'replace-kind',
  title: 'Replace the kind',
  area: 'wire',
  about:
    'Changes the kind of the selected nodes, and keeps every wire and parameter that still fits. Lists what could not be kept.',
  needs: { what: 'nodes', least: 1 },
  options: z.object({ kind: z.string().min(1).max(200).meta({ title: 'Kind', choose: 'kind' }) }),
  changesFunction: true,
  preview: 'first',
  room: 'all',
  live: true,
  run(context, doc, selection, { kind }) {
    const wiring = wiringOf(context, doc);
    const nodes = selectedNodes(doc, selection);
    const changed = nodes.filter((node) => node.kind !== kind);
    const findings: Finding[] = [];
    for (const node of changed) {
      const problem = replaceProblem(context.kinds, node, kind);
      if (problem) throw new Refused(problem);
      findings.push(...becomeKind(wiring, must(wiring.tx.get('nodes', node.id)), kind));
    }
    const title = context.kinds.title(kind);
    const lost = findings.filter((item) => item.severity === 'warning').length;
    const rest = lost === 0 ? ', with all wires and parameters' : `; ${plural(lost, 'thing')} could not be kept`;
    return {
      edit: wiring.tx.edit,
      report: {
        summary:
          changed.length === 0
            ? `That is ${title} already.`
            : `Made ${plural(changed.length, 'node')} ${title}${rest}.`,
        findings,
      },
    };
  },
});

export const reSource = operation({
  id: 're-source',
  title: 'Re-source',
  area: 'wire',
  about:
    'Reconnects the consumers of the first selected node to the last one: all, or only those selected between them.',
  needs: { what: 'nothing', least: 0 },
  options: z.object({
    from: end.optional().meta({ title: 'Output', hint: 'empty: that of the first selected node' }),
    to: end.optional().meta({ title: 'To the output', hint: 'empty: that of the last selected node' }),
    only: z.array(end).max(100_000).optional().meta({ title: 'Only these inputs', hint: 'all where empty' }),
  }),
  changesFunction: true,
  preview: 'first',
  live: true,
  run(context, doc, selection, options) {
    const nodes = selectedNodes(doc, selection);
    const [first, last] = [nodes[0], nodes.at(-1)];
    if ((!options.from || !options.to) && (!first || !last || first === last)) throw refuse('select-sources');
    const wiring = wiringOf(context, doc);
    const from = options.from ?? takenOutput(doc, must(first));
    const to = options.to ?? likeOutput(context.kinds, doc, must(last), from);
    for (const ref of [from, to]) {
      const node = doc.nodes.get(ref.node);
      if (!node) throw refuse('no-node', { node: ref.node });
      if (!portOf(node, ref.port, 'out')) throw refuse('no-output', { node: caption(node), port: ref.port });
    }
    const problem = reSourceProblem(wiring, from, to);
    if (problem) throw new Refused(problem);
    const between = options.from ? [] : nodes.slice(1, -1);
    const chosen = between.length > 0 ? new Set(between.map((node) => node.id)) : undefined;
    const only =
      options.only?.map(inputKey) ??
      (chosen && wiring.outOf(from).flatMap((wire) => (chosen.has(wire.to.node) ? [inputKey(wire.to)] : [])));
    const { moved, findings } = moveConsumers(wiring, from, to, only && new Set(only));
    const [old, now] = [must(doc.nodes.get(from.node)), must(doc.nodes.get(to.node))];
    return {
      edit: wiring.tx.edit,
      report: { summary: `Moved ${plural(moved, 'wire')} from “${caption(old)}” to “${caption(now)}”.`, findings },
    };
  },
});

/** The output of a node that most is taken from. */
function takenOutput(doc: Doc, node: GraphNode): PortRef {
  const counts = node.ports
    .filter((one) => one.direction === 'out')
    .map((one) => ({ port: one.id, count: indexOf(doc).wiresOutOf(node.id, one.id).length }));
  const most = counts.reduce((best, one) => (one.count > best.count ? one : best), counts[0] ?? { port: '', count: 0 });
  if (most.count === 0) throw refuse('no-consumers', { node: caption(node) });
  return { node: node.id, port: most.port };
}

/** The output of a node that fits most of what takes from another one. */
function likeOutput(kinds: Kinds, doc: Doc, node: GraphNode, from: PortRef): PortRef {
  const wires = indexOf(doc).wiresOutOf(from.node, from.port);
  const outputs = node.ports.filter((one) => one.direction === 'out');
  const fits = outputs.map(
    (one) =>
      wires.filter((wire) => typeProblem(doc, kinds, { node: node.id, port: one.id }, wire.to) === undefined).length,
  );
  const best = outputs[fits.indexOf(Math.max(...fits))];
  if (!best) throw refuse('gives-nothing', { node: caption(node) });
  return { node: node.id, port: best.id };
}

export const bypass = operation({
  id: 'bypass',
  title: 'Bypass',
  area: 'wire',
  about:
    'Bypasses the selected nodes, so that each passes on one input, or turns them on again if all are bypassed. Says which input passes.',
  needs: { what: 'nodes', least: 1 },
  options: z.object({ to: z.enum(['other', 'bypassed', 'active']).default('other').meta({ title: 'To' }) }),
  changesFunction: true,
  preview: 'at-once',
  opensInputs: true,
  run(context, doc, selection, { to }) {
    const wiring = wiringOf(context, doc);
    const nodes = selectedNodes(doc, selection).filter((node) => !isCarrier(node.kind) && !isBoundary(node.kind));
    if (nodes.length === 0) throw refuse('nothing-to-bypass');
    const off = to === 'other' ? nodes.some((node) => !node.bypassed) : to === 'bypassed';
    for (const node of nodes) wiring.tx.set('nodes', node.id, 'bypassed', off || undefined);
    // a feed has nothing that it could pass on
    const findings = off
      ? nodes.flatMap((node) => (node.kind === builtin.feed ? [] : passedBy(context.kinds, node)))
      : [];
    return {
      edit: wiring.tx.edit,
      report: { summary: `${off ? 'Bypassed' : 'Brought back'} ${plural(nodes.length, 'node')}.`, findings },
    };
  },
});

/** What a bypassed node passes, in words. */
function passedBy(kinds: Kinds, node: GraphNode): Finding[] {
  const outputs = node.ports.filter((one) => one.direction === 'out' && one.of === undefined);
  return outputs.map((output) => {
    const input = kinds.passInput(node, output.id);
    return find('passes', 'info', [node.id], 'passes', {
      node: caption(node),
      input: input?.name,
      output: output.name,
    });
  });
}

export const clearOut = operation({
  id: 'clear-out',
  title: 'Clear out',
  area: 'wire',
  about: 'Deletes everything that no output of the file depends on, in all its graphs. The results stay the same.',
  needs: { what: 'nothing', least: 0 },
  options: z.object({
    keepOff: z
      .boolean()
      .default(true)
      .meta({ title: 'Keep what is switched off', hint: 'Bypassed ends, wires that are off, and what they depend on' }),
  }),
  changesFunction: true,
  preview: 'first',
  live: true,
  run(context, doc, _selection, { keepOff }) {
    const needed = neededNodes(doc, context.kinds, keepOff);
    if (!needed) throw refuse('no-end');
    const idle = [...doc.nodes.values()].filter((node) => !needed.has(node.id));
    const gone = new Set(idle.map((node) => node.id));
    // what lies in a nested graph that goes, goes with it
    const outer = idle.filter((node) => {
      const host = indexOf(doc).hostOf(node.graph);
      return !host || !gone.has(host.id);
    });
    const wiring = wiringOf(context, doc);
    const findings = removeNodes(wiring, outer, false);
    const names = outer
      .slice(0, 200)
      .map((node) =>
        find('cleared', 'info', [node.id], 'node-goes', { node: caption(node), kind: context.kinds.title(node.kind) }),
      );
    return {
      edit: wiring.tx.edit,
      report: {
        summary:
          outer.length === 0
            ? 'Everything is needed.'
            : `Deleted ${plural(outer.length, 'node')} that nothing depends on.`,
        findings: [...findings, ...names],
        select: [],
      },
    };
  },
});

export const shareValue = operation({
  id: 'share-value',
  title: 'Share a value',
  area: 'wire',
  about:
    'Moves a parameter of the selected nodes into one new node that feeds them all, and if you want an output of the graph.',
  needs: { what: 'nodes', least: 1 },
  options: z.object({
    parameter: z.string().min(1).max(100).meta({ title: 'Parameter', choose: 'shared' }),
    expose: z.boolean().default(false).meta({ title: 'Also an output of the graph' }),
    others: z
      .enum(['take the first', 'keep their own'])
      .default('take the first')
      .meta({ title: 'Nodes with another value' }),
  }),
  changesFunction: true,
  preview: 'at-once',
  run(context, doc, selection, { parameter, expose, others }) {
    const wiring = wiringOf(context, doc);
    const nodes = selectedNodes(doc, selection);
    const { value, findings } = share(wiring, nodes, parameter, {
      expose,
      keepOthers: others === 'keep their own',
      newId: context.newId,
    });
    const sharing = nodes.length - findings.filter(({ rule }) => rule === 'value-kept').length;
    return {
      edit: wiring.tx.edit,
      report: {
        summary: `${plural(sharing, 'node')} ${sharing === 1 ? 'takes' : 'take'} the value from a separate node now.`,
        findings,
        select: [value],
      },
    };
  },
});
