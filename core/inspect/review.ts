import type { Doc } from '../document/doc.ts';
import type { Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import { apply, type Edit } from '../edit/step.ts';
import { foldedView } from '../structure/fold.ts';
import { compareFingerprints, type Fingerprint, fingerprint, type Verdict } from './fingerprint.ts';
import { type Measures, measureGraph } from './measure.ts';

/** What a preview says of an edit before it is done. */
export interface Review {
  readonly before: Measures;
  readonly after: Measures;
  readonly fingerprint: { readonly before: Fingerprint; readonly after: Fingerprint; readonly verdict: Verdict };
  /** How far the nodes move that move, in pixels: how many, the mean, the farthest. */
  readonly moves: { readonly count: number; readonly mean: number; readonly most: number };
}

/** Does the edit on a copy and measures both. Cost: twice that of measuring and of the fingerprint. */
export function review(doc: Doc, kinds: Kinds, graph: Id, edit: Edit): Review {
  const after = apply(doc, edit);
  const [one, two] = [fingerprint(doc, kinds), fingerprint(after, kinds)];
  const distances: number[] = [];
  for (const [id, node] of after.nodes) {
    const old = doc.nodes.get(id);
    if (old && old !== node && (old.x !== node.x || old.y !== node.y))
      distances.push(Math.hypot(old.x - node.x, old.y - node.y));
  }
  return {
    before: measureGraph(foldedView(doc, kinds), kinds, graph),
    after: measureGraph(foldedView(after, kinds), kinds, after.graphs.has(graph) ? graph : after.head.root),
    fingerprint: { before: one, after: two, verdict: compareFingerprints(one, two) },
    moves: {
      count: distances.length,
      mean: Math.round(distances.reduce((sum, d) => sum + d, 0) / Math.max(1, distances.length)),
      most: Math.round(distances.reduce((most, d) => Math.max(most, d), 0)),
    },
  };
}
