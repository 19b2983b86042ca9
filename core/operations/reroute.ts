import { z } from 'zod';
import { builtin } from '../document/builtin.ts';
import { type Doc, selectedNodes } from '../document/doc.ts';
import { rectOf } from '../document/geometry.ts';
import { namesIn } from '../document/names.ts';
import type { Wire } from '../document/schema.ts';
import { must } from '../must.ts';
import { operation } from '../operation.ts';
import { addReroute, aheadOf, leadThrough, middleOf, rerouteSize } from '../wiring/reroute.ts';
import { plural } from '../words.ts';
import { refuse } from './sentences.ts';
import { wiresOfSelection, wiringOf } from './wire.ts';

export const reroute = operation({
  id: 'reroute',
  title: 'Reroute points on wires',
  area: 'wire',
  about:
    'Adds a reroute point to each selected wire, or to the wires between the selected nodes, or those that enter them.',
  needs: { what: 'nothing', least: 0 },
  options: z.object({
    at: z
      .array(z.object({ wire: z.string().max(200), x: z.number(), y: z.number() }))
      .max(10_000)
      .optional()
      .meta({ title: 'Wires and places', hint: 'empty: the middle of each selected wire' }),
  }),
  changesFunction: true,
  preview: 'at-once',
  run(context, doc, selection, { at }) {
    const wiring = wiringOf(context, doc);
    const wires = at
      ? at.map((one) => ({ wire: doc.wires.get(one.wire), x: one.x, y: one.y }))
      : wiresOfSelection(doc, selection).map((wire) => ({ wire, ...middleOf(wiring, wire) }));
    if (wires.length === 0) throw refuse('select-wires');
    const taken = namesIn(doc, selection.graph);
    const made: string[] = [];
    for (const { wire, x, y } of wires) {
      if (!wire) throw refuse('wire-gone');
      if (must(doc.nodes.get(wire.to.node)).graph !== selection.graph) throw refuse('wire-in-other-graph');
      const point = addReroute(wiring, selection.graph, { x, y }, sharedFrame(doc, wire), context.newId('n'), taken);
      leadThrough(wiring, wire.from, [wire], point);
      made.push(point);
    }
    return {
      edit: wiring.tx.edit,
      report: { summary: `Put ${plural(made.length, 'reroute point')} on the wires.`, findings: [], select: made },
    };
  },
});

/** The frame that both ends of a wire are in. */
function sharedFrame(doc: Doc, wire: Wire): string | undefined {
  const [from, to] = [must(doc.nodes.get(wire.from.node)), must(doc.nodes.get(wire.to.node))];
  return from.frame === to.frame ? from.frame : undefined;
}

export const rerouteOutputs = operation({
  id: 'reroute-outputs',
  title: 'Reroute points on outputs',
  area: 'wire',
  about:
    'Adds a reroute point at outputs of the selected nodes: all, only wired or only open ones. Wires then leave from it.',
  needs: { what: 'nodes', least: 1 },
  asks: true,
  options: z.object({ which: z.enum(['all', 'wired', 'loose']).default('wired').meta({ title: 'Outputs' }) }),
  changesFunction: true,
  preview: 'at-once',
  run(context, doc, selection, { which }) {
    const wiring = wiringOf(context, doc);
    const taken = namesIn(doc, selection.graph);
    const made: string[] = [];
    for (const node of selectedNodes(doc, selection)) {
      if (node.kind === builtin.reroute || node.graph !== selection.graph) continue;
      for (const port of node.ports) {
        const from = { node: node.id, port: port.id };
        const wires = port.direction === 'out' ? wiring.outOf(from) : [];
        // one that leads straight to a reroute point has one already
        const has = wires.length === 1 && doc.nodes.get(must(wires[0]).to.node)?.kind === builtin.reroute;
        if (
          port.direction !== 'out' ||
          has ||
          (which === 'wired' && wires.length === 0) ||
          (which === 'loose' && wires.length > 0)
        )
          continue;
        const point = addReroute(
          wiring,
          node.graph,
          aheadOf(doc, wiring, node, port.id),
          node.frame,
          context.newId('n'),
          taken,
        );
        leadThrough(wiring, from, wires, point);
        made.push(point);
      }
    }
    if (made.length === 0) throw refuse('no-output-to-reroute', { which });
    return {
      edit: wiring.tx.edit,
      report: { summary: `Put ${plural(made.length, 'reroute point')} on outputs.`, findings: [], select: made },
    };
  },
});

export const rerouteSizes = operation({
  id: 'reroute-size',
  title: 'Size of reroute points',
  area: 'wire',
  about: 'Makes the selected reroute points larger or smaller, or all of the graph if none is selected.',
  needs: { what: 'nothing', least: 0 },
  options: z.object({
    size: z
      .number()
      .min(8)
      .max(96)
      .default(rerouteSize * 1.5)
      .meta({ title: 'Size', unit: 'px', step: 2, slider: [8, 64] }),
  }),
  changesFunction: false,
  preview: 'at-once',
  asks: true,
  run(context, doc, selection, { size }) {
    const wiring = wiringOf(context, doc);
    const chosen = selectedNodes(doc, selection).filter((node) => node.kind === builtin.reroute);
    const points =
      chosen.length > 0
        ? chosen
        : [...doc.nodes.values()].filter((node) => node.graph === selection.graph && node.kind === builtin.reroute);
    if (points.length === 0) throw refuse('no-reroute-point');
    for (const node of points) {
      const rect = rectOf(doc, context.kinds, node);
      wiring.tx.set('nodes', node.id, 'size', size === rerouteSize ? undefined : { width: size, height: size });
      wiring.tx.move(node.id, rect.x + (rect.width - size) / 2, rect.y + (rect.height - size) / 2);
    }
    return {
      edit: wiring.tx.edit,
      report: {
        summary: `${plural(points.length, 'reroute point')} ${points.length === 1 ? 'has' : 'have'} ${size} px now.`,
        findings: [],
      },
    };
  },
});
