import { z } from 'zod';
import { isBoundary } from '../document/builtin.ts';
import { caption, indexOf, selectedNodes } from '../document/doc.ts';
import { nameShape } from '../document/names.ts';
import { Transaction } from '../edit/transaction.ts';
import { must } from '../must.ts';
import { operation } from '../operation.ts';
import { chosenIn, heldBy, proposeTitle } from '../structure/frames.ts';
import { nest, unnest } from '../structure/nest.ts';
import { supplyOption } from '../wiring/keep-supplied.ts';
import { plural } from '../words.ts';
import { refuse } from './sentences.ts';

/** A name as nodes and ports have it. */
const portNameSchema = z
  .string()
  .max(200)
  .refine((name) => nameShape(name) === undefined, { error: 'has letters, digits and _, and starts with a letter' });

export const nestSelection = operation({
  id: 'nest',
  title: 'Nest the selection',
  area: 'frame',
  about:
    'Moves the selected nodes and frames into a nested graph. Its ports are made from the wires that cross its border, in their order.',
  needs: { what: 'items', least: 1 },
  options: z.object({
    name: z.string().max(200).default('').meta({ title: 'Name', hint: 'proposed where empty' }),
    ports: z
      .array(z.object({ direction: z.enum(['in', 'out']), row: z.int().min(0).max(10_000), name: portNameSchema }))
      .max(10_000)
      .default([])
      .meta({ title: 'Names of ports', hint: 'by side and place from 0; empty: named after what they carry' }),
    supply: supplyOption('keep'),
  }),
  changesFunction: true,
  preview: 'first',
  room: 'none',
  run(context, doc, selection, { name, ports: called }) {
    const chosen = chosenIn(doc, selection);
    const held = heldBy(doc, chosen);
    const tx = new Transaction(doc);
    const [only] = chosen.frames;
    const proposed =
      chosen.nodes.length === 0 && chosen.frames.length === 1 && only?.title
        ? only.title
        : proposeTitle(context.kinds, held);
    const title = name.trim() || proposed;
    const { host, findings } = nest(tx, context.kinds, chosen, title, context.newId, called);
    const { ports } = must(tx.get('nodes', host));
    const count = (direction: 'in' | 'out'): number => ports.filter((port) => port.direction === direction).length;
    return {
      edit: tx.edit,
      report: {
        summary: `Nested ${plural(held.length, 'node')} as “${title}”, with ${plural(count('in'), 'input')} and ${plural(count('out'), 'output')}.`,
        findings,
        select: [host],
      },
    };
  },
});

export const unnestSelection = operation({
  id: 'unnest',
  title: 'Unnest',
  area: 'frame',
  about: 'Moves the contents of the selected nested graphs back to their old places, and removes the nested graphs.',
  needs: { what: 'nodes', least: 1 },
  options: z.object({ supply: supplyOption('keep') }),
  changesFunction: true,
  preview: 'first',
  room: 'none',
  run(context, doc, selection) {
    const hosts = selectedNodes(doc, selection).filter((node) => node.inner !== undefined);
    const [host] = hosts;
    if (!host || hosts.length > 1) throw refuse('select-one-nested-graph');
    const tx = new Transaction(doc);
    const { select, findings } = unnest(tx, context.kinds, host);
    return {
      edit: tx.edit,
      report: { summary: `Unnested “${caption(host)}”: ${plural(select.length, 'node')} came back.`, findings, select },
    };
  },
});

export const portPlace = operation({
  id: 'port-place',
  title: 'Place of a port',
  area: 'frame',
  about: 'Moves a port of a nested graph up or down, with its wires. Select the nested graph, or the port inside.',
  needs: { what: 'nodes', least: 1, most: 1 },
  options: z.object({
    port: z
      .string()
      .max(200)
      .default('')
      .meta({ title: 'Port', hint: 'the id of the port inside; empty: the selected one' }),
    by: z.int().min(-200).max(200).meta({ title: 'Places', hint: 'down; with minus up' }),
  }),
  changesFunction: false,
  preview: 'at-once',
  run(_context, doc, selection, { port, by }) {
    const [node] = selectedNodes(doc, selection);
    const host = node && isBoundary(node.kind) ? indexOf(doc).hostOf(node.graph) : node;
    const id = node && isBoundary(node.kind) ? node.id : port;
    if (!host || host.inner === undefined) throw refuse('select-nested-graph');
    const moved = host.ports.find((one) => one.id === id);
    if (!moved) throw refuse('no-port', { host: caption(host), id });
    const tx = new Transaction(doc);
    // components of a port go with it
    const whole = (one: (typeof host.ports)[number]): string => one.of ?? one.id;
    const row = [...new Set(host.ports.filter((one) => one.direction === moved.direction).map(whole))];
    const from = row.indexOf(id);
    const to = Math.max(0, Math.min(row.length - 1, from + by));
    row.splice(to, 0, ...row.splice(from, 1));
    const rank = new Map(row.map((one, i) => [one, i]));
    const own = host.ports
      .filter((one) => one.direction === moved.direction)
      .sort((a, b) => must(rank.get(whole(a))) - must(rank.get(whole(b))));
    let next = 0;
    tx.set(
      'nodes',
      host.id,
      'ports',
      host.ports.map((one) => (one.direction === moved.direction ? must(own[next++]) : one)),
    );
    return {
      edit: tx.edit,
      report: {
        summary: `“${moved.name}” is ${moved.direction === 'in' ? 'input' : 'output'} ${to + 1} of ${row.length} now.`,
        findings: [],
      },
    };
  },
});
