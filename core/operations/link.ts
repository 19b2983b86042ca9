import { z } from 'zod';
import { builtin } from '../document/builtin.ts';
import { caption, type Doc, indexOf, type Selection, selectedNodes } from '../document/doc.ts';
import { nameProblem } from '../document/names.ts';
import type { GraphNode, Wire } from '../document/schema.ts';
import { lengthOf } from '../inspect/lines.ts';
import { must } from '../must.ts';
import { type Context, operation, type Report } from '../operation.ts';
import { advise, plainLines, usualShare } from '../remote/advice.ts';
import { toWires as drawAgain, linkedWires } from '../remote/back.ts';
import { byOutput, type Linked, Linker, type LinkRequest, leadsToBeacon, sharings } from '../remote/links.ts';
import { Refused } from '../said.ts';
import { mainOutput } from '../wiring/add.ts';
import { portOf } from '../wiring/types.ts';
import type { Wiring } from '../wiring/wiring.ts';
import { plural } from '../words.ts';
import { refuse } from './sentences.ts';
import { end, wiringOf } from './wire.ts';

const id = z.string().min(1).max(200);
export const share = z
  .number()
  .min(0)
  .max(1)
  .default(usualShare)
  .meta({ title: 'At most', hint: 'part of the wires', slider: [0, 0.5], step: 0.01 });
const taps = z.enum(sharings).default('node').meta({ title: 'One tap for each' });

/** The wires that a selection means: wires themselves; of nodes those that go out, come in, or run between them. */
function meantWires(doc: Doc, selection: Selection, which: 'out' | 'in' | 'between'): Wire[] {
  const wires = selection.items.flatMap((item) => doc.wires.get(item) ?? []);
  if (wires.length > 0) return wires;
  const nodes = selectedNodes(doc, selection);
  const inside = new Set(nodes.map((node) => node.id));
  const index = indexOf(doc);
  return nodes.flatMap((node) =>
    which === 'in'
      ? index.wiresInto(node.id).filter((wire) => !inside.has(wire.from.node))
      : index.wiresFrom(node.id).filter((wire) => which === 'out' || inside.has(wire.to.node)),
  );
}

function longerThan(context: Context, doc: Doc, graph: string, wires: readonly Wire[], least: number): Wire[] {
  if (least <= 0) return [...wires];
  const plain = plainLines(doc, context.kinds, graph);
  const long = new Set(
    plain.wires.flatMap((wire, i) => (lengthOf(must(plain.lines[i]).route) >= least ? [wire.id] : [])),
  );
  return wires.filter((wire) => long.has(wire.id));
}

/** Links several outputs in one act, and says what came of it. */
export function linkAll(
  wiring: Wiring,
  newId: Context['newId'],
  requests: readonly LinkRequest[],
  sharing: (typeof sharings)[number],
): Report {
  const linker = new Linker(wiring, newId);
  const done = requests.map((request) => linker.link(request, sharing));
  const all = <K extends 'beacons' | 'taps'>(what: K): string[] => done.flatMap((one: Linked) => one[what]);
  const wires = done.reduce((sum, one) => sum + one.wires, 0);
  const names = all('beacons').map((beacon) => `“${must(wiring.tx.get('nodes', beacon)).name}”`);
  const known = requests.length - names.length;
  const there = known > 0 ? `${plural(known, 'beacon')} that ${known === 1 ? 'was' : 'were'} there` : '';
  const made = [names.length <= 3 ? names.join(', ') : plural(names.length, 'new beacon'), there]
    .filter(Boolean)
    .join(' and ');
  return {
    summary: `Turned ${plural(wires, 'wire')} into ${plural(all('taps').length, 'tap')} of ${made}.`,
    findings: [],
    select: [...all('beacons'), ...all('taps')],
  };
}

export const toLinks = operation({
  id: 'to-links',
  title: 'Turn into remote links',
  area: 'link',
  about:
    'Turns the selected wires, or those of the selected nodes, into remote links: a named beacon for each output, and taps where it is used. The connections stay the same.',
  needs: { what: 'nothing', least: 0 },
  options: z.object({
    which: z
      .enum(['out', 'in', 'between'])
      .default('out')
      .meta({ title: 'Wires of nodes', hint: 'that leave them, enter them, or run between them' }),
    least: z
      .number()
      .min(0)
      .max(100_000)
      .default(0)
      .meta({ title: 'Longer than', unit: 'px', slider: [0, 4000], step: 20 }),
    taps,
    name: z.string().max(200).default('').meta({ title: 'Name', hint: 'proposed where empty' }),
    links: z
      .array(z.object({ from: end, wires: z.array(id).min(1).max(100_000), name: z.string().max(200).optional() }))
      .max(10_000)
      .optional()
      .meta({ title: 'Outputs and wires', hint: 'empty: those of the selection' }),
  }),
  changesFunction: false,
  preview: 'first',
  live: true,
  run(context, doc, selection, options) {
    const wiring = wiringOf(context, doc);
    const requests = options.links
      ? given(doc, options.links)
      : byOutput(
          doc,
          longerThan(context, doc, selection.graph, meantWires(doc, selection, options.which), options.least),
        );
    if (requests.length === 0) throw refuse('no-wire-to-link');
    if (options.name !== '') {
      if (requests.length > 1) throw refuse('one-name-for-many', { requests: requests.length });
      const problem = nameProblem(doc, selection.graph, options.name);
      if (problem) throw new Refused(problem);
    }
    const named = requests.map((request) => (options.name !== '' ? { ...request, name: options.name } : request));
    return { report: linkAll(wiring, context.newId, named, options.taps), edit: wiring.tx.edit };
  },
});

/** Links as options say them. Throws Refused where a wire is gone, or a name cannot be given. */
function given(
  doc: Doc,
  links: readonly { from: { node: string; port: string }; wires: readonly string[]; name?: string | undefined }[],
): LinkRequest[] {
  return links.map(({ from, wires: ids, name }) => {
    const source = doc.nodes.get(from.node);
    if (!source) throw refuse('node-gone', { node: from.node });
    const problem = name ? nameProblem(doc, source.graph, name) : undefined;
    if (problem) throw new Refused(problem);
    const wires = ids.map((one) => {
      const wire = doc.wires.get(one);
      if (wire?.from.node !== from.node || wire.from.port !== from.port)
        throw refuse('advised-wire-gone', { source: caption(source) });
      return wire;
    });
    return { from, wires, ...(name && { name }) };
  });
}

export const linkAdvised = operation({
  id: 'link-advised',
  title: 'Do what the advice says',
  area: 'link',
  about: 'Turns the worst wires into remote links, in the whole graph or at the selected nodes.',
  needs: { what: 'nodes', least: 0, all: true },
  options: z.object({ share, taps }),
  changesFunction: false,
  preview: 'first',
  heavy: true,
  run(context, doc, selection, options) {
    const chosen = new Set(selection.items);
    const advice = advise(context, doc, selection.graph, {
      share: options.share,
      ...(chosen.size > 0 && { at: chosen }),
    });
    const requests = advice.candidates
      .filter((one) => one.isAdvised)
      .map(({ from, wires, name }) => ({ from, wires: wires.map((wire) => must(doc.wires.get(wire))), name }));
    const wiring = wiringOf(context, doc);
    if (requests.length === 0)
      return {
        edit: wiring.tx.edit,
        report: { summary: 'No wire here is bad enough to be worth a remote link.', findings: [] },
      };
    return { report: linkAll(wiring, context.newId, requests, options.taps), edit: wiring.tx.edit };
  },
});

export const toWires = operation({
  id: 'to-wires',
  title: 'Draw as wires again',
  area: 'link',
  about:
    'Turns remote links back into wires: the selected taps, all taps of the selected beacons, or the selected wires of taps. The connections stay the same.',
  needs: { what: 'items', least: 1 },
  options: z.object({}),
  changesFunction: false,
  preview: 'first',
  live: true,
  run(context, doc, selection) {
    const { wires, taps: found } = linkedWires(doc, [
      ...selection.items,
      ...selectedNodes(doc, selection).map((node) => node.id),
    ]);
    const idle = selectedNodes(doc, selection).filter((node) => node.kind === builtin.beacon);
    if (found.length === 0 && wires.length === 0) throw refuse('nothing-to-draw', { idle: idle[0]?.name });
    const wiring = wiringOf(context, doc);
    const { wires: count, taps: gone, beacons, findings } = drawAgain(wiring, context.newId, wires, found);
    const rest = [gone > 0 ? plural(gone, 'tap') : '', beacons > 0 ? plural(beacons, 'beacon') : '']
      .filter(Boolean)
      .join(' and ');
    return {
      edit: wiring.tx.edit,
      report: { summary: `Drew ${plural(count, 'wire')} again${rest ? `; ${rest} went` : ''}.`, findings },
    };
  },
});

export const beacon = operation({
  id: 'beacon',
  title: 'Make a beacon',
  area: 'link',
  about:
    'Adds a named beacon to the output of the selected node, so that it can be tapped anywhere. A reroute point becomes a beacon itself.',
  needs: { what: 'nodes', least: 1, most: 1 },
  asks: true,
  options: z.object({
    name: z.string().max(200).default('').meta({ title: 'Name', hint: 'proposed where empty' }),
    output: z
      .string()
      .max(200)
      .optional()
      .meta({ title: 'Output', hint: 'empty: the first main one', choose: 'output' }),
  }),
  changesFunction: false,
  preview: 'at-once',
  run(context, doc, selection, { name, output }) {
    const node = must(selectedNodes(doc, selection)[0]);
    const problem =
      name === '' ? undefined : nameProblem(doc, node.graph, name, node.kind === builtin.reroute ? node.id : undefined);
    if (problem) throw new Refused(problem);
    const wiring = wiringOf(context, doc);
    const made = makeBeacon(context, wiring, node, name, output);
    return {
      edit: wiring.tx.edit,
      report: { summary: `“${made.name}” is a beacon now.`, findings: [], select: [made.id] },
    };
  },
});

function makeBeacon(
  context: Context,
  wiring: Wiring,
  node: GraphNode,
  name: string,
  output: string | undefined,
): GraphNode {
  const linker = new Linker(wiring, context.newId);
  if (node.kind === builtin.reroute) return linker.ofPoint(node, name);
  if (node.kind === builtin.beacon) throw refuse('is-beacon', { node: node.name });
  if (node.kind === builtin.tap) throw refuse('is-tap', { node: node.name });
  const port = output ?? mainOutput(context.kinds, node);
  if (port === undefined) throw refuse('no-output-for-beacon', { node: caption(node) });
  if (!portOf(node, port, 'out')) throw refuse('no-output', { node: caption(node), port });
  const from = { node: node.id, port };
  const uses = indexOf(wiring.tx.before)
    .wiresOutOf(node.id, port)
    .filter((wire) => !leadsToBeacon(wiring.tx.before, wire))
    .map((wire) => wire.to);
  const { beacon: made, made: isNew } = linker.beaconFor(from, uses, name || undefined);
  if (!isNew) throw refuse('has-beacon', { node: caption(node), made: made.name });
  return made;
}
