import { z } from 'zod';
import { aligned, equalGap, gapped, type SideName, sides } from '../arrange/align.ts';
import { level as levelled } from '../arrange/level.ts';
import { snapPlace, snapTargets } from '../arrange/snap.ts';
import { caption, selectedNodes } from '../document/doc.ts';
import { compareIds } from '../document/ids.ts';
import { must } from '../must.ts';
import { operation } from '../operation.ts';
import { plural } from '../words.ts';
import { placed, rectsOf } from './places.ts';
import { find, refuse } from './sentences.ts';

const alignTitles: Record<SideName, string> = {
  left: 'Align left edges',
  centre: 'Align centres, one column',
  right: 'Align right edges',
  top: 'Align top edges',
  middle: 'Align centres, one row',
  bottom: 'Align bottom edges',
};

/**
 * One operation for each side, so that each has a key of its own. All align to the outer edge, or the centre, of the
 * selection's bounds.
 */
export const aligns = sides.map((side) =>
  operation({
    id: `align-${side}`,
    title: alignTitles[side],
    area: 'arrange',
    about:
      side === 'centre' || side === 'middle'
        ? 'Puts the centres of the selected nodes on the centre of their bounds.'
        : `Moves the selected nodes to the ${side}most edge among them.`,
    needs: { what: 'nodes', least: 2 },
    options: z.object({}),
    changesFunction: false,
    preview: 'at-once',
    run(context, doc, selection) {
      const nodes = selectedNodes(doc, selection);
      return placed(
        doc,
        nodes,
        aligned(rectsOf(doc, context.kinds, nodes), side),
        () => `Aligned ${plural(nodes.length, 'node')}.`,
      );
    },
  }),
);

/**
 * First and last stay where they are; the gaps between edges become equal, so that a shorter span gives a tighter row.
 */
export const distributes = (['x', 'y'] as const).map((axis) =>
  operation({
    id: `distribute-${axis}`,
    title: axis === 'x' ? 'Distribute along x' : 'Distribute along y',
    area: 'arrange',
    about: 'Makes the gaps between the edges of the selected nodes equal; the first and the last stay.',
    needs: { what: 'nodes', least: 3 },
    options: z.object({}),
    changesFunction: false,
    preview: 'at-once',
    run(context, doc, selection) {
      const nodes = [...selectedNodes(doc, selection)].sort((a, b) => compareIds(a.id, b.id));
      const rects = rectsOf(doc, context.kinds, nodes);
      const gap = equalGap(rects, axis);
      return placed(
        doc,
        nodes,
        gapped(rects, axis, gap),
        () => `Distributed ${plural(nodes.length, 'node')} with gaps of ${Math.round(gap)} px.`,
      );
    },
  }),
);

const gap = z.number().min(0).max(2000).default(40).meta({ title: 'Gap', unit: 'px', step: 2 });

/** The first stays; each of the others follows with the same gap between edges. */
export const gaps = (['x', 'y'] as const).map((axis) =>
  operation({
    id: `gaps-${axis}`,
    title: axis === 'x' ? 'Set gaps along x' : 'Set gaps along y',
    area: 'arrange',
    about: `Puts the selected nodes one ${axis === 'x' ? 'beside' : 'below'} the other with the gap that is asked for; the first stays.`,
    asks: true,
    needs: { what: 'nodes', least: 2 },
    options: z.object({ gap }),
    changesFunction: false,
    preview: 'at-once',
    run(context, doc, selection, options) {
      const nodes = [...selectedNodes(doc, selection)].sort((a, b) => compareIds(a.id, b.id));
      const places = gapped(rectsOf(doc, context.kinds, nodes), axis, options.gap);
      return placed(doc, nodes, places, () => `Set gaps of ${options.gap} px between ${plural(nodes.length, 'node')}.`);
    },
  }),
);

export const level = operation({
  id: 'level',
  title: 'Level',
  area: 'arrange',
  about:
    'Moves the selected nodes across the flow so that their wires to the last selected one, and to one another, run straight.',
  needs: { what: 'nodes', least: 2 },
  options: z.object({}),
  changesFunction: false,
  preview: 'at-once',
  run(context, doc, selection) {
    const nodes = selectedNodes(doc, selection);
    const parent = must(nodes[nodes.length - 1]);
    const { places, loose } = levelled(doc, context.kinds, nodes, parent);
    if (places.size === 0) throw refuse('no-wire-to-parent', { parent: caption(parent) });
    const outcome = placed(
      doc,
      [...places.keys()].map((id) => must(doc.nodes.get(id))),
      [...places.values()],
      (moved) =>
        moved === 0
          ? 'All of these wires run straight already.'
          : `Levelled ${plural(moved, 'node')} on “${caption(parent)}”.`,
    );
    const left = loose.map((node) =>
      find('not-levelled', 'info', [node.id], 'stays-without-wire', { node: caption(node) }),
    );
    return { ...outcome, report: { ...outcome.report, findings: left } };
  },
});

const snapDistance = 24;

/** To where a wire runs straight, else to an edge of a neighbour, else to the grid. */
export const snap = operation({
  id: 'snap',
  title: 'Snap to neighbours',
  area: 'arrange',
  about:
    'Moves each selected node a little, so that one of its wires runs straight or its edge lines up with a neighbour.',
  needs: { what: 'nodes', least: 1 },
  options: z.object({
    within: z.number().min(2).max(200).default(snapDistance).meta({ title: 'No farther than', unit: 'px', step: 2 }),
  }),
  changesFunction: false,
  preview: 'at-once',
  run(context, doc, selection, options) {
    const chosen = selectedNodes(doc, selection);
    const nodes = chosen.filter((node) => !node.pinned);
    const targets = snapTargets(doc, context.kinds, selection.graph, new Set(nodes.map((node) => node.id)));
    const places = nodes.map((node) => snapPlace(doc, context.kinds, node, node, targets, options.within));
    return placed(doc, nodes, places, (moved) =>
      moved === 0 ? `Nothing to snap to within ${options.within} px.` : `Snapped ${plural(moved, 'node')}.`,
    );
  },
});
