import MiniSearch from 'minisearch';
import type { Doc } from '../document/doc.ts';
import { indexOf } from '../document/doc.ts';
import type { Id } from '../document/ids.ts';
import { isExpression, type Kinds } from '../document/kinds.ts';
import type { Frame, Graph, GraphNode } from '../document/schema.ts';
import { must } from '../must.ts';

/** One place that was found: a node, a frame, or a nested graph (by the node that holds it). */
export interface Found {
  readonly type: 'node' | 'frame';
  readonly id: Id;
  /** The graph that it lies in. */
  readonly graph: Id;
  readonly score: number;
}

interface Entry {
  readonly id: Id;
  readonly type: 'node' | 'frame';
  readonly graph: Id;
  readonly record: GraphNode | Frame;
  readonly inner: Graph | undefined;
  /** What it is called, in small letters: name, label or title. */
  readonly called: readonly string[];
  /** All that can be found of it, in small letters. */
  readonly all: string;
  /** Name and graph, with numbers in them sorted by their value. */
  readonly natural: string;
}

/** Words of a text: cut at signs, between small and large letters, and around numbers. */
function words(text: string): string[] {
  return text
    .replace(/(\p{Ll})(\p{Lu})/gu, '$1 $2')
    .replace(/(\p{L})(\p{N})/gu, '$1 $2')
    .replace(/(\p{N})(\p{L})/gu, '$1 $2')
    .toLowerCase()
    .split(/[^\p{L}\p{N}]+/u)
    .filter(Boolean);
}

/** Mistakes forgiven in a word: one from four letters on, two from eight on; none in numbers (common practice). */
const mistakesForgiven = (word: string): number =>
  word.length < 4 || /^\d+$/.test(word) ? 0 : word.length < 8 ? 1 : 2;

/**
 * How well a word of the file stands for one that was typed: 1 for itself or its beginning, less with each mistake, 0
 * for too many.
 */
function nearness(typed: string, word: string): number {
  if (word.startsWith(typed)) return 1;
  const forgiven = mistakesForgiven(typed);
  const mistakes =
    forgiven === 0 || Math.abs(typed.length - word.length) > forgiven
      ? Number.POSITIVE_INFINITY
      : editDistance(typed, word);
  return mistakes > forgiven ? 0 : 0.5 ** mistakes;
}

/**
 * Letters added, dropped, exchanged, or swapped with their neighbour (optimal string alignment; Boytsov 2011, from
 * memory). O(n·m).
 */
export function editDistance(a: string, b: string): number {
  let older: number[] = [];
  let old = Array.from({ length: b.length + 1 }, (_, j) => j);
  for (let i = 1; i <= a.length; i++) {
    const row = [i];
    for (let j = 1; j <= b.length; j++) {
      const same = a[i - 1] === b[j - 1];
      let best = Math.min(must(old[j]) + 1, must(row[j - 1]) + 1, must(old[j - 1]) + (same ? 0 : 1));
      if (i > 1 && j > 1 && a[i - 1] === b[j - 2] && a[i - 2] === b[j - 1])
        best = Math.min(best, must(older[j - 2]) + 1);
      row.push(best);
    }
    older = old;
    old = row;
  }
  return must(old[b.length]);
}

const fields = ['called', 'kind', 'values'] as const;
const sliceSize = 250;

/**
 * Finds nodes and frames of a whole document by parts of what they are called, their kinds and their parameters, over
 * all nested graphs, with typing mistakes forgiven, best first. Keeps an index that follows the document from version
 * to version.
 * Full-text ranking (BM25+) is MiniSearch's; parts in the middle of words and exact names are weighed on top.
 */
export class Finder {
  private readonly kinds: Kinds;
  private readonly entries = new Map<Id, Entry>();
  private readonly search = new MiniSearch<{ id: Id; called: string; kind: string; values: string }>({
    fields: [...fields],
    tokenize: words,
    processTerm: (term) => term,
  });

  constructor(kinds: Kinds) {
    this.kinds = kinds;
  }

  /**
   * Brings the index up to a document, a slice of some milliseconds at a time: run it to its end. O(records), and
   * O(words) for what changed.
   */
  *follow(doc: Doc): Generator<number, void> {
    const before = this.entries.size;
    let done = 0;
    for (const table of [doc.nodes, doc.frames] as const) {
      for (const record of table.values()) {
        if (!this.take(doc, record)) continue;
        if (++done % sliceSize === 0) yield done / (doc.nodes.size + doc.frames.size);
      }
    }
    if (before === 0) return;
    for (const id of [...this.entries.keys()]) {
      if (doc.nodes.has(id) || doc.frames.has(id)) continue;
      this.entries.delete(id);
      this.search.discard(id);
    }
  }

  private take(doc: Doc, record: GraphNode | Frame): boolean {
    const known = this.entries.get(record.id);
    const inner = 'inner' in record && record.inner !== undefined ? doc.graphs.get(record.inner) : undefined;
    if (known && known.record === record && known.inner === inner) return false;
    const isNode = 'kind' in record;
    const called = isNode
      ? [record.name, record.label ?? '', inner?.name ?? ''].filter(Boolean)
      : [record.title, record.note ?? ''].filter(Boolean);
    const kind = isNode ? this.kinds.title(record.kind) : 'frame';
    const values = isNode ? this.values(record) : '';
    const entry: Entry = {
      id: record.id,
      type: isNode ? 'node' : 'frame',
      graph: record.graph,
      record,
      inner,
      called: called.map((text) => text.toLowerCase()),
      all: `${called.join('\n')}\n${kind}\n${values}`.toLowerCase(),
      natural: `${called[0] ?? ''}\n${doc.graphs.get(record.graph)?.name ?? ''}`
        .toLowerCase()
        .replace(/\d+/g, (digits) => digits.padStart(8, '0')),
    };
    this.entries.set(record.id, entry);
    const row = { id: record.id, called: called.join(' '), kind, values };
    if (known) this.search.replace(row);
    else this.search.add(row);
    return true;
  }

  /** The values that were set and can be typed: texts, choices, paths, numbers. */
  private values(node: GraphNode): string {
    const said: string[] = [];
    for (const [id, value] of Object.entries(node.params ?? {})) {
      if (typeof value === 'string' || typeof value === 'number') said.push(String(value));
      else if (isExpression(value)) said.push(value.expression.filter((part) => typeof part === 'string').join(' '));
      else if (value === true) said.push(this.kinds.parameter(node.kind, id)?.title ?? id);
    }
    return said.join(' ');
  }

  /** Best first, at most `most`. Nothing for an empty text. O(hits log hits + entries). */
  find(text: string, most = 100): Found[] {
    const wanted = text.trim().toLowerCase();
    if (wanted === '') return [];
    const scores = new Map<Id, number>();
    const asked = words(wanted);
    const near = new Map<string, number>();
    // a single letter stands in nearly everything: only what begins with it or holds it counts
    const ranked =
      wanted.length < 2 || asked.length === 0
        ? []
        : this.search.search(wanted, {
            fields: [...fields],
            boost: { called: 3, kind: 1.5 },
            combineWith: 'AND',
            prefix: true,
            // two letters that changed places are two edits to the index; what is then really too far off is sorted out
            // below
            fuzzy: (term) => (mistakesForgiven(term) > 0 ? 2 : false),
            maxFuzzy: 2,
            weights: { prefix: 0.6, fuzzy: 0.25 },
            boostDocument: (_id, term) => {
              const known = near.get(term) ?? Math.max(...asked.map((word) => nearness(word, term)));
              near.set(term, known);
              return known;
            },
            // a node with a label is no worse for its longer text
            bm25: { k: 1.2, b: 0, d: 0.5 },
          });
    for (const hit of ranked) scores.set(hit.id as Id, hit.score);
    for (const entry of this.entries.values()) {
      const extra = this.extra(entry, wanted);
      if (extra > 0) scores.set(entry.id, (scores.get(entry.id) ?? 0) + extra);
    }
    const order = [...scores].map(([id, score]) => ({ entry: must(this.entries.get(id)), score }));
    order.sort(
      (a, b) =>
        b.score - a.score ||
        (a.entry.natural < b.entry.natural
          ? -1
          : a.entry.natural > b.entry.natural
            ? 1
            : a.entry.id < b.entry.id
              ? -1
              : 1),
    );
    return order
      .slice(0, most)
      .map(({ entry, score }) => ({ type: entry.type, id: entry.id, graph: entry.graph, score }));
  }

  /** The whole name counts most, then its beginning, then any part of it, then a part of anything else. */
  private extra(entry: Entry, wanted: string): number {
    if (!entry.all.includes(wanted)) return 0;
    if (entry.called.includes(wanted)) return 1000;
    if (entry.called.some((text) => text.startsWith(wanted))) return 200;
    if (entry.called.some((text) => text.includes(wanted))) return 100;
    return 20;
  }
}

/** What is wired to a node, so that a hundred nodes of one name can be told apart: at most `most` of each side. */
export function neighboursOf(doc: Doc, node: Id, most = 2): { before: GraphNode[]; after: GraphNode[]; more: number } {
  const wires = indexOf(doc).wiresOf(node);
  const before = [...new Set(wires.filter((wire) => wire.to.node === node).map((wire) => wire.from.node))];
  const after = [...new Set(wires.filter((wire) => wire.from.node === node).map((wire) => wire.to.node))];
  const take = (ids: readonly Id[]): GraphNode[] => ids.slice(0, most).map((id) => must(doc.nodes.get(id)));
  return {
    before: take(before),
    after: take(after),
    more: Math.max(0, before.length - most) + Math.max(0, after.length - most),
  };
}
