import { z } from 'zod';
import { selectedOrAll } from '../document/doc.ts';
import { framedRect, rectOf } from '../document/geometry.ts';
import type { Frame } from '../document/schema.ts';
import { Transaction } from '../edit/transaction.ts';
import { must } from '../must.ts';
import { operation } from '../operation.ts';
import { proposeRegions } from '../structure/propose.ts';
import { supplyOption } from '../wiring/keep-supplied.ts';
import { plural } from '../words.ts';
import { find, refuse } from './sentences.ts';

export const regionOptions = z.object({
  least: z.int().min(2).max(1000).default(3).meta({ title: 'At least', unit: 'nodes' }),
  grain: z
    .number()
    .min(0.1)
    .max(5)
    .default(1)
    .meta({ title: 'Grain', hint: 'more: smaller regions', step: 0.1, slider: [0.2, 3] }),
});

const region = z.object({ title: z.string().max(500), nodes: z.array(z.string().min(1)).min(1).max(100_000) });

export const proposeFrames = operation({
  id: 'propose-frames',
  title: 'Frame what belongs together',
  area: 'frame',
  about:
    'Adds frames around groups of nodes that are found from wires and names, among the selected nodes without a frame or all. Nothing moves.',
  needs: { what: 'nothing', least: 0 },
  heavy: true,
  asks: true,
  options: regionOptions.extend({
    regions: z.array(region).max(1000).optional().meta({ title: 'Regions', hint: 'those found where left out' }),
    supply: supplyOption('keep'),
  }),
  changesFunction: true,
  preview: 'first',
  run({ kinds, newId, seed }, doc, selection, { least, grain, regions }) {
    const nodes = selectedOrAll(doc, selection);
    const found = regions ?? proposeRegions(doc, kinds, nodes, { least, grain, seed });
    if (found.length === 0) throw refuse('no-region');
    const tx = new Transaction(doc);
    const findings = [];
    for (const { title, nodes: members } of found) {
      const here = members
        .flatMap((id) => doc.nodes.get(id) ?? [])
        .filter((node) => node.graph === selection.graph && must(tx.get('nodes', node.id)).frame === undefined);
      if (here.length < members.length)
        findings.push(
          find('region-smaller', 'info', [], 'region-members-gone', {
            members: members.length,
            here: here.length,
            title,
          }),
        );
      if (here.length === 0) continue;
      const frame: Frame = {
        id: newId('f'),
        graph: selection.graph,
        title: title.trim(),
        ...framedRect(here.map((node) => rectOf(doc, kinds, node))),
      };
      tx.add('frames', frame);
      for (const node of here) tx.set('nodes', node.id, 'frame', frame.id);
    }
    const made = tx.edit.steps.filter((step) => step.type === 'add').map((step) => step.id);
    return { edit: tx.edit, report: { summary: `Framed ${plural(made.length, 'region')}.`, findings, select: made } };
  },
});
