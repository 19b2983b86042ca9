import { z } from 'zod';
import { aligned, gapped, ontoGrid, sides } from '../arrange/align.ts';
import { carried, spread as spreadOut } from '../arrange/transform.ts';
import { type Doc, indexOf, type Selection, selectedOrAll } from '../document/doc.ts';
import type { Point, Rect } from '../document/geometry.ts';
import { compareIds } from '../document/ids.ts';
import type { GraphNode } from '../document/schema.ts';
import { must } from '../must.ts';
import { type Outcome, operation } from '../operation.ts';
import { plural } from '../words.ts';
import { placed, rectsOf } from './places.ts';

const factor = z.number().min(0).max(10).default(1);
const carry = z.boolean().default(false).meta({ title: 'Carry the rest along' });
const scale = { unit: '×', step: 0.05, slider: [0, 3] };

export const spread = operation({
  id: 'spread',
  title: 'Spread',
  area: 'arrange',
  about: 'Scales the distances between the selected nodes: 1.2 means 120 %, 0 lines them up.',
  needs: { what: 'nodes', least: 0, all: true },
  options: z.object({
    x: factor.meta({ title: 'Along x', ...scale }),
    y: factor.meta({ title: 'Along y', ...scale }),
    carry,
  }),
  changesFunction: false,
  preview: 'first',
  live: true,
  run(_context, doc, selection, options) {
    const nodes = movable(doc, selection);
    return withRest(doc, selection, nodes, spreadOut(nodes, options.x, options.y), options.carry, 'Spread');
  },
});

const gap = z.number().min(0).max(2000).optional();
const apart = { unit: 'px', step: 2, slider: [0, 300] };

/** Everything that sets the room between nodes, in one place: spread, then gaps, then alignment, then the grid. */
export const spacing = operation({
  id: 'spacing',
  title: 'Spacing',
  area: 'arrange',
  about: 'Sets spread, gaps, alignment and grid of the selected nodes in one place, with a live view.',
  needs: { what: 'nodes', least: 0, all: true },
  options: z.object({
    x: factor.meta({ title: 'Spread x', ...scale }),
    y: factor.meta({ title: 'Spread y', ...scale }),
    gapX: gap.meta({ title: 'Gap x', ...apart }),
    gapY: gap.meta({ title: 'Gap y', ...apart }),
    align: z
      .enum(['as it is', ...sides])
      .default('as it is')
      .meta({ title: 'Align' }),
    grid: z
      .number()
      .min(0)
      .max(500)
      .default(0)
      .meta({ title: 'Grid', unit: 'px', step: 2, slider: [0, 100] }),
    carry,
  }),
  changesFunction: false,
  preview: 'first',
  live: true,
  run(context, doc, selection, options) {
    const nodes = movable(doc, selection);
    let rects: Rect[] = rectsOf(doc, context.kinds, nodes);
    const put = (places: readonly Point[]): void => {
      rects = rects.map((rect, i) => ({ ...rect, ...must(places[i]) }));
    };
    put(spreadOut(rects, options.x, options.y));
    if (options.gapX !== undefined) put(gapped(rects, 'x', options.gapX));
    if (options.gapY !== undefined) put(gapped(rects, 'y', options.gapY));
    if (options.align !== 'as it is') put(aligned(rects, options.align));
    if (options.grid >= 2) put(ontoGrid(rects, options.grid));
    return withRest(doc, selection, nodes, rects, options.carry, 'Spaced');
  },
});

const movable = (doc: Doc, selection: Selection): GraphNode[] =>
  selectedOrAll(doc, selection)
    .filter((node) => !node.pinned)
    .sort((a, b) => compareIds(a.id, b.id));

/** The nodes at their places, and the rest of the graph carried along where that is wanted. */
function withRest(
  doc: Doc,
  selection: Selection,
  nodes: readonly GraphNode[],
  places: readonly Point[],
  isCarried: boolean,
  verb: string,
): Outcome {
  if (!isCarried) return placed(doc, nodes, places, (moved) => `${verb} ${plural(moved, 'node')}.`);
  const chosen = new Set(nodes.map((node) => node.id));
  const rest = indexOf(doc)
    .nodesIn(selection.graph)
    .filter((node) => !chosen.has(node.id) && !node.pinned);
  const along = (axis: 'x' | 'y'): ((at: number) => number) =>
    carried(
      nodes.map((node) => node[axis]),
      places.map((place) => place[axis]),
    );
  const [toX, toY] = [along('x'), along('y')];
  const others = rest.map((node) => ({ x: toX(node.x), y: toY(node.y) }));
  return placed(
    doc,
    [...nodes, ...rest],
    [...places, ...others],
    (moved) => `${verb} ${plural(nodes.length, 'node')}; ${plural(moved, 'node')} moved in all.`,
  );
}
