import { z } from 'zod';
import { ontoGrid } from '../arrange/align.ts';
import { arrangeByWiring } from '../arrange/by-wiring.ts';
import { makeRoom as roomFor } from '../arrange/room.ts';
import { settle as settledPlaces } from '../arrange/settle.ts';
import { exactStacks, unstack as unstacked } from '../arrange/unstack.ts';
import { caption, indexOf, placeOf, selectedNodes, selectedOrAll } from '../document/doc.ts';
import { flowOf } from '../document/geometry.ts';
import { compareIds } from '../document/ids.ts';
import { finding } from '../finding.ts';
import { Cancelled, operation, plural } from '../operation.ts';
import { alongWires } from '../wiring/along.ts';
import { gridStep, placed, rectsOf } from './places.ts';

export const arrange = operation({
  id: 'arrange',
  title: 'Arrange by wiring',
  area: 'arrange',
  about: 'Lays out the selection, or everything, along the flow of the wires; frames stay whole, pinned nodes stay put.',
  needs: { what: 'nodes', least: 0, all: true },
  options: z.object({
    keep: z.number().min(0).max(1).default(0.3).meta({ title: 'Keep order', unit: '0 … 1', step: 0.1 }),
    quality: z.enum(['quick', 'best']).default('quick').meta({ title: 'Quality' }),
    what: z.enum(['selected', 'upstream']).default('selected').meta({ title: 'What', hint: 'What is selected, or that and all that feeds it' }),
    along: z.number().min(16).max(1000).default(56).meta({ title: 'Gap along', unit: 'px', step: 4 }),
    across: z.number().min(8).max(1000).default(26).meta({ title: 'Gap across', unit: 'px', step: 2 }),
    shape: z.number().min(0.1).max(10).default(1.6).meta({ title: 'Shape of the page', unit: 'w ÷ h', step: 0.1 }),
  }),
  changesFunction: false,
  preview: 'first',
  run(context, doc, selection, options) {
    const chosen = selectedOrAll(doc, selection);
    const nodes =
      options.what === 'upstream' && selectedNodes(doc, selection).length > 0
        ? [
            ...alongWires(
              doc,
              chosen.map((node) => node.id),
              'up',
            ),
          ].map((id) => doc.nodes.get(id)!)
        : chosen;
    const tick = (fraction: number, what: string): void => {
      if (context.cancelled()) throw new Cancelled();
      context.progress(fraction, what);
    };
    const places = arrangeByWiring(doc, context.kinds, selection.graph, nodes, {
      keep: options.keep,
      quality: options.quality,
      proportion: options.shape,
      spacing: { along: options.along, across: options.across },
      tick,
    });
    return placed(
      doc,
      nodes,
      nodes.map((node) => places.get(node.id) ?? node),
      (moved) => (moved === 0 ? 'Everything is arranged already.' : `Arranged ${plural(moved, 'node')}.`),
    );
  },
});

export const settle = operation({
  id: 'settle',
  title: 'Settle',
  area: 'arrange',
  about: 'Lines up what nearly stands in columns and rows, and evens the gaps; nothing changes its order to the left or right, above or below.',
  needs: { what: 'nodes', least: 0, all: true },
  options: z.object({
    tolerance: z.number().min(4).max(400).default(60).meta({ title: 'One line within', unit: 'px', step: 4 }),
    even: z.boolean().default(true).meta({ title: 'Even the gaps' }),
  }),
  changesFunction: false,
  preview: 'first',
  run(context, doc, selection, options) {
    const nodes = selectedOrAll(doc, selection).filter((node) => !node.pinned);
    const { x, y, columns, rows } = settledPlaces(rectsOf(doc, context.kinds, nodes), options);
    return placed(
      doc,
      nodes,
      nodes.map((_, i) => ({ x: x[i]!, y: y[i]! })),
      (moved) => (moved === 0 ? 'Everything is settled already.' : `Settled ${plural(moved, 'node')} in ${plural(columns, 'column')} and ${plural(rows, 'row')}.`),
    );
  },
});

export const unstack = operation({
  id: 'unstack',
  title: 'Unstack',
  area: 'arrange',
  about: 'Parts nodes that overlap, with the least movement and in their order; says which lay exactly on one another.',
  needs: { what: 'nodes', least: 0, all: true },
  options: z.object({ gap: z.number().min(0).max(400).default(12).meta({ title: 'Gap', unit: 'px', step: 2 }) }),
  changesFunction: false,
  preview: 'first',
  run(context, doc, selection, options) {
    const nodes = [...selectedOrAll(doc, selection)].sort((a, b) => compareIds(a.id, b.id));
    const rects = rectsOf(doc, context.kinds, nodes);
    const places = unstacked(rects, options.gap, (i) => nodes[i]!.pinned === true);
    const outcome = placed(doc, nodes, places, (moved) => (moved === 0 ? 'Nothing overlaps.' : `Unstacked ${plural(moved, 'node')}.`));
    const stacks = exactStacks(rects).map((group) => {
      const names = group.map((i) => `“${caption(nodes[i]!)}”`);
      return finding(
        'stacked',
        'warning',
        placeOf(doc, selection.graph, nodes[group[0]!]!.id),
        `${names.slice(0, 4).join(', ')}${names.length > 4 ? ` and ${names.length - 4} more` : ''} lay exactly on one another.`,
      );
    });
    return { ...outcome, report: { ...outcome.report, findings: stacks } };
  },
});

export const makeRoom = operation({
  id: 'make-room',
  title: 'Make room',
  area: 'arrange',
  about: 'Pushes what is in the way of the selected nodes to one side, as far as it takes, and what is in the way of that in turn.',
  needs: { what: 'nodes', least: 1 },
  options: z.object({
    side: z.enum(['flow', 'right', 'down', 'left', 'up']).default('flow').meta({ title: 'To', hint: 'Along the flow, or one of four sides' }),
    gap: z.number().min(0).max(1000).default(40).meta({ title: 'Gap', unit: 'px', step: 4 }),
  }),
  changesFunction: false,
  preview: 'at-once',
  run(context, doc, selection, options) {
    const chosen = new Set(selectedNodes(doc, selection).map((node) => node.id));
    const nodes = indexOf(doc).nodesIn(selection.graph);
    const holding = new Set(nodes.flatMap((node, i) => (chosen.has(node.id) || node.pinned ? [i] : [])));
    const rects = rectsOf(doc, context.kinds, nodes);
    const moved = roomFor(rects, holding, options.side === 'flow' ? flowOf(doc, selection.graph) : options.side, options.gap);
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
    return placed(doc, nodes, places, (moved) => (moved === 0 ? 'Everything is on the grid already.' : `Put ${plural(moved, 'node')} on a grid of ${step} px.`));
  },
});
