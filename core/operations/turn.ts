import { z } from 'zod';
import { mirror as mirrored, rotate as rotated } from '../arrange/transform.ts';
import { unstack } from '../arrange/unstack.ts';
import { Axes } from '../document/axes.ts';
import { indexOf, selectedNodes } from '../document/doc.ts';
import { flowOf, type Rect, rectOf } from '../document/geometry.ts';
import { compareIds } from '../document/ids.ts';
import { flowSchema, wireStyles } from '../document/schema.ts';
import { Transaction } from '../edit/transaction.ts';
import { must } from '../must.ts';
import { operation } from '../operation.ts';
import { plural } from '../words.ts';
import { placed, rectsOf } from './places.ts';

export const mirrors = (['x', 'y'] as const).map((axis) =>
  operation({
    id: `mirror-${axis}`,
    title: axis === 'x' ? 'Mirror left to right' : 'Mirror top to bottom',
    area: 'arrange',
    about: `Mirrors the arrangement of the selected nodes, ${axis === 'x' ? 'left to right' : 'top to bottom'}; their sizes stay.`,
    needs: { what: 'nodes', least: 2 },
    options: z.object({}),
    changesFunction: false,
    preview: 'at-once',
    run(context, doc, selection) {
      const nodes = selectedNodes(doc, selection);
      return placed(
        doc,
        nodes,
        mirrored(rectsOf(doc, context.kinds, nodes), axis),
        (moved) => `Mirrored ${plural(moved, 'node')}.`,
      );
    },
  }),
);

export const rotate = operation({
  id: 'rotate',
  title: 'Rotate',
  area: 'arrange',
  about: 'Rotates the arrangement of the selected nodes clockwise. The nodes themselves stay upright.',
  asks: true,
  needs: { what: 'nodes', least: 2 },
  options: z.object({ angle: z.number().min(-360).max(360).default(90).meta({ title: 'Angle', unit: '°', step: 15 }) }),
  changesFunction: false,
  preview: 'at-once',
  run(context, doc, selection, { angle }) {
    const nodes = selectedNodes(doc, selection);
    return placed(
      doc,
      nodes,
      rotated(rectsOf(doc, context.kinds, nodes), angle),
      (moved) => `Rotated ${plural(moved, 'node')} by ${angle}°.`,
    );
  },
});

export const flow = operation({
  id: 'flow',
  title: 'Flow direction',
  area: 'arrange',
  about: 'Sets the direction in which data flows in this graph, and turns the whole arrangement.',
  needs: { what: 'nothing', least: 0 },
  options: z.object({ to: flowSchema.default('down').meta({ title: 'Data flows' }) }),
  changesFunction: false,
  preview: 'first',
  run(context, doc, selection, { to }) {
    const { graph } = selection;
    const from = flowOf(doc, graph);
    if (from === to) return { edit: { steps: [] }, report: { summary: `Data flows ${to} already.`, findings: [] } };
    const tx = new Transaction(doc);
    tx.set('graphs', graph, 'flow', to === 'right' ? undefined : to);
    const turned = tx.doc;
    const nodes = [...indexOf(doc).nodesIn(graph)].sort((a, b) => compareIds(a.id, b.id));
    const [before, after] = [Axes.of(from), Axes.of(to)];
    const old = nodes.map((node) => before.rectIn(rectOf(doc, context.kinds, node)));
    const sizes = nodes.map((node) => after.rectIn({ ...rectOf(turned, context.kinds, node), x: 0, y: 0 }));
    // the same picture in flow coordinates, stretched as the nodes' own lengths and breadths changed, then parted where
    // they still meet
    const [kx, ky] = [ratio(old, sizes, 'width', 72), ratio(old, sizes, 'height', 26)];
    const rects = old.map((rect, i) => ({
      x: (rect.x + rect.width / 2) * kx - must(sizes[i]).width / 2,
      y: (rect.y + rect.height / 2) * ky - must(sizes[i]).height / 2,
      width: must(sizes[i]).width,
      height: must(sizes[i]).height,
    }));
    unstack(rects, 12).forEach((rect, i) => {
      const place = after.rectOut(rect);
      tx.move(must(nodes[i]).id, Math.round(place.x), Math.round(place.y));
    });
    for (const note of indexOf(doc).notesIn(graph)) {
      const at = before.rectIn(note);
      const size = after.rectIn(note);
      const place = after.rectOut({ x: at.x * kx, y: at.y * ky, width: size.width, height: size.height });
      tx.set('notes', note.id, 'x', Math.round(place.x));
      tx.set('notes', note.id, 'y', Math.round(place.y));
    }
    return {
      edit: tx.edit,
      report: { summary: `Data flows ${to} now; ${plural(nodes.length, 'node')} turned.`, findings: [] },
    };
  },
});

/** How much longer nodes are on average after the turn, the gaps between them counted in. */
function ratio(before: readonly Rect[], after: readonly Rect[], extent: 'width' | 'height', gap: number): number {
  const sum = (rects: readonly Rect[]): number => rects.reduce((all, rect) => all + rect[extent] + gap, 0);
  return before.length === 0 ? 1 : sum(after) / sum(before);
}

export const wireStyle = operation({
  id: 'wire-style',
  title: 'Wire style',
  area: 'wire',
  about: 'Chooses how wires are drawn in this file: at right angles around the nodes, curved, or straight.',
  asks: true,
  needs: { what: 'nothing', least: 0 },
  options: z.object({ style: z.enum(wireStyles).default('right-angled').meta({ title: 'Wires' }) }),
  changesFunction: false,
  preview: 'at-once',
  run(_context, doc, _selection, { style }) {
    const tx = new Transaction(doc);
    tx.setHead('wireStyle', style === 'right-angled' ? undefined : style);
    return {
      edit: tx.edit,
      report: {
        summary: tx.edit.steps.length === 0 ? `Wires are ${style} already.` : `Wires are ${style} now.`,
        findings: [],
      },
    };
  },
});
