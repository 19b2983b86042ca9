import type { Doc, Selection } from '../document/doc.ts';
import { indexOf } from '../document/doc.ts';
import { frameRects, rectOf, unite } from '../document/geometry.ts';
import { apply } from '../edit/step.ts';
import type { Context } from '../operation.ts';
import { operate } from '../operations.ts';
import { foldedView } from '../structure/fold.ts';
import { measureGraph } from './measure.ts';
import { readability } from './readability.ts';
import { type Sketch, sketch } from './sketch.ts';

/** Ways to arrange that are put side by side, with the options that each stands for. */
export const proposals = {
  page: { title: 'Page', about: 'Parts in rows and columns, near where they were', options: {} },
  places: { title: 'Places kept', about: 'Parts stay where they stand, tidied and apart', options: { keep: 0.6 } },
  crossings: {
    title: 'Fewest crossings',
    about: 'Ordered afresh, as long as it takes',
    options: { keep: 0, quality: 'best' },
  },
} as const;

export type ProposalName = keyof typeof proposals;

/** What a way to arrange comes to. */
export interface Proposed {
  /** 0 to 100. */
  readonly score: number;
  readonly crossings: number;
  /** At which the whole fits a window, 1 at the most. */
  readonly zoom: number;
  /** How far nodes move on average, in pixels. */
  readonly moved: number;
  readonly sketch: Sketch;
  /** What arranging takes to come to it. */
  readonly options: Readonly<Record<string, unknown>>;
}

/** For the fewest crossings several ways are tried, since which is best cannot be told beforehand. */
const tries: Readonly<Record<ProposalName, readonly Readonly<Record<string, unknown>>[]>> = {
  page: [proposals.page.options],
  places: [proposals.places.options, { keep: 0.8 }, { keep: 1 }],
  crossings: [proposals.crossings.options, { keep: 0 }, {}, { keep: 0.5 }, { keep: 0, layout: 'one flow' }],
};

/**
 * Arranges a copy in one of the ways, and measures it. Cost: that of arranging and routing, for each that is tried, and
 * of the report of one.
 */
export function propose(
  context: Context,
  doc: Doc,
  selection: Selection,
  which: ProposalName,
  window: { readonly width: number; readonly height: number },
): Proposed {
  const { kinds } = context;
  const { graph } = selection;
  const found = tries[which].map((options) => {
    const after = apply(doc, operate('arrange', context, doc, selection, options).edit);
    return { options, after, crossings: measureGraph(foldedView(after, kinds), kinds, graph).crossings };
  });
  const { options, after, crossings } = found.reduce((best, one) => (one.crossings < best.crossings ? one : best));
  const view = foldedView(after, kinds);
  const nodes = indexOf(after).nodesIn(graph);
  const around = unite([
    ...indexOf(view)
      .nodesIn(graph)
      .map((node) => rectOf(view, kinds, node)),
    ...frameRects(view, kinds, graph).values(),
  ]);
  const far = nodes.reduce((sum, node) => {
    const old = doc.nodes.get(node.id);
    return sum + (old ? Math.hypot(old.x - node.x, old.y - node.y) : 0);
  }, 0);
  return {
    score: readability(after, kinds, graph).score,
    crossings,
    zoom: around ? Math.min(1, window.width / around.width, window.height / around.height) : 1,
    moved: Math.round(far / Math.max(1, nodes.length)),
    options,
    sketch: sketch(after, kinds, { width: 176, height: 84, graph }),
  };
}
