import { must } from '../must.ts';
import type { Doc } from './doc.ts';
import type { Id } from './ids.ts';
import type { Kinds } from './kinds.ts';

/**
 * The same answer, made once for each graph of each version of a document, and forgotten with it. O(1) where it is
 * known.
 */
export function perGraph<T>(make: (doc: Doc, kinds: Kinds, graph: Id) => T): (doc: Doc, kinds: Kinds, graph: Id) => T {
  const made = new WeakMap<Doc, { kinds: Kinds; byGraph: Map<Id, T> }>();
  return (doc, kinds, graph) => {
    let known = made.get(doc);
    if (known?.kinds !== kinds) {
      known = { kinds, byGraph: new Map() };
      made.set(doc, known);
    }
    if (known.byGraph.has(graph)) return must(known.byGraph.get(graph));
    const answer = make(doc, kinds, graph);
    known.byGraph.set(graph, answer);
    return answer;
  };
}
