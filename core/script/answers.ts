import { builtin } from '../document/builtin.ts';
import type { Doc } from '../document/doc.ts';
import type { Id } from '../document/ids.ts';
import type { Json } from '../document/json.ts';
import { isExpression, type Kinds } from '../document/kinds.ts';
import type { Step } from '../edit/step.ts';
import { dependencyGraph } from '../inspect/graph/dependency-graph.ts';
import { measureGraph } from '../inspect/measure.ts';
import { scoreOfGraph } from '../inspect/readability.ts';
import { must } from '../must.ts';
import { checkRules, ruleById, rules, usualRules } from '../rules/rules.ts';
import { foldedView } from '../structure/fold.ts';
import { beaconOf, tapsOf } from '../wiring/carriers.ts';
import { effectiveWiring } from '../wiring/effective.ts';
import { readingOrder } from './reading-order.ts';
import type { Request } from './requests.ts';
import type { Rows } from './rows.ts';
import { refuse } from './sentences.ts';

/** What hangs on the wiring alone. */
type WiringQuestion = Extract<Request, { do: 'order' | 'ends' | 'reach' }>;
type Question = Extract<Request, { do: 'links' | 'kinds' | 'kind' | 'findings' | 'measures' }>;

/** What a script asks about a document, and what changes nothing. */
export class Answers {
  private readonly kinds: Kinds;
  private readonly rows: Rows;
  private order:
    | { readonly doc: Doc; readonly ids: readonly Id[]; readonly place: ReadonlyMap<Id, number> }
    | undefined;

  constructor(kinds: Kinds, rows: Rows) {
    this.kinds = kinds;
    this.rows = rows;
  }

  /** `wired`: a document that is wired as the present one. */
  ofWiring(question: WiringQuestion, wired: Doc): Json {
    switch (question.do) {
      case 'order':
        return [...this.reading(wired).ids];
      case 'ends':
        return this.ends(question.node, wired);
      case 'reach':
        return this.reach(question, wired);
    }
  }

  to(question: Question, doc: Doc): Json {
    switch (question.do) {
      case 'links':
        return this.links(question.node, doc);
      case 'kinds':
        return this.kinds.all().map((kind) => kind.id);
      case 'kind':
        return this.kinds.kind(question.id) ? (this.rows.kind(question.id) as unknown as Json) : null;
      case 'findings':
        return this.findings(question.rules, doc);
      case 'measures': {
        const {
          defaultNames: _names,
          windows: _windows,
          ...rest
        } = measureGraph(foldedView(doc, this.kinds), this.kinds, question.graph);
        return { readability: scoreOfGraph(doc, this.kinds, question.graph), ...rest };
      }
    }
  }

  /** The order of reading, made anew where the wiring is another. */
  private reading(doc: Doc): NonNullable<Answers['order']> {
    if (this.order?.doc !== doc) {
      const ids = readingOrder(doc);
      this.order = { doc, ids, place: new Map(ids.map((id, i) => [id, i])) };
    }
    return this.order;
  }

  private inOrder(ids: Iterable<Id>, doc: Doc): Id[] {
    const { place } = this.reading(doc);
    return [...new Set(ids)].sort((a, b) => (place.get(a) ?? 0) - (place.get(b) ?? 0));
  }

  /** What feeds a node and what it feeds, over all that only carries data. */
  private ends(id: Id, doc: Doc): { sources: Id[]; consumers: Id[] } {
    const node = must(doc.nodes.get(id));
    const graph = dependencyGraph(doc, this.kinds);
    const at = graph.at.get(id);
    if (at !== undefined)
      return {
        sources: must(graph.before[at]).map((i) => must(graph.nodes[i]).id),
        consumers: this.inOrder(
          must(graph.after[at]).map((i) => must(graph.nodes[i]).id),
          doc,
        ),
      };
    const wiring = effectiveWiring(doc, this.kinds);
    const sources = node.ports.flatMap((port) =>
      port.direction === 'in' ? (wiring.source(id, port.id)?.node ?? []) : [],
    );
    // what only carries data, or holds a graph, feeds all that is fed through it
    const consumers = graph.nodes.filter((_node, i) =>
      must(graph.inputs[i]).some(({ source }) => source.feed === id || source.through.includes(id)),
    );
    return {
      sources: [...new Set(sources)],
      consumers: this.inOrder(
        consumers.map((one) => one.id),
        doc,
      ),
    };
  }

  /** All that feeds some nodes, or that they feed, without these. O(nodes + references). */
  private reach({ nodes, down, steps }: WiringQuestion & { do: 'reach' }, doc: Doc): Id[] {
    const graph = dependencyGraph(doc, this.kinds);
    const edges = down ? graph.after : graph.before;
    const started = new Set(nodes);
    const seen = new Set<Id>();
    // what only carries data is no node of the graph: it begins at its ends
    let front: Id[] = nodes;
    for (let step = 0; front.length > 0 && step < (steps ?? Infinity); step++) {
      const next = new Set<Id>();
      for (const id of front) {
        const at = graph.at.get(id);
        const found =
          at === undefined
            ? this.ends(id, doc)[down ? 'consumers' : 'sources']
            : must(edges[at]).map((i) => must(graph.nodes[i]).id);
        for (const one of found) if (!seen.has(one)) next.add(one);
      }
      for (const id of next) seen.add(id);
      front = [...next];
    }
    return this.inOrder(
      [...seen].filter((id) => !started.has(id)),
      doc,
    );
  }

  /** Taps of a beacon, and the beacon of a tap. */
  private links(id: Id, doc: Doc): { beacon: Id | null; taps: Id[] } {
    const node = must(doc.nodes.get(id));
    return {
      beacon: beaconOf(doc, node)?.id ?? null,
      taps:
        node.kind === builtin.beacon
          ? this.inOrder(
              tapsOf(doc, id).map((tap) => tap.id),
              doc,
            )
          : [],
    };
  }

  private findings(wanted: readonly string[], doc: Doc): Json {
    const some = wanted.map((id) => {
      const found = ruleById(id);
      if (!found) throw refuse('no-rule', { id, known: rules.map((rule) => rule.id) });
      return found;
    });
    return checkRules(doc, this.kinds, wanted.length > 0 ? some : usualRules).map((one) => {
      const id = one.place.at(-1);
      return {
        rule: one.rule,
        severity: one.severity,
        message: one.message,
        node: id !== undefined && doc.nodes.has(id) ? id : null,
        fix: (one.fix ?? null) as unknown as Json,
      };
    });
  }
}

/** What is set on a node without any wire, link or feed being another. */
const quiet: ReadonlySet<string> = new Set(['x', 'y', 'label', 'color', 'pinned', 'sets', 'locked', 'closed', 'show']);

/** May what feeds what be another after a step? */
export function mayRewire(doc: Doc, step: Step): boolean {
  if (step.table === 'notes' || step.table === 'head') return false;
  if (step.type !== 'set' || step.table !== 'nodes') return true;
  if (step.path[0] !== 'params') return !quiet.has(must(step.path[0]));
  const isCarried = doc.nodes.get(step.id)?.kind.startsWith('std.') === true;
  return isCarried || isExpression(step.from) || isExpression(step.to);
}
