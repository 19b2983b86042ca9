import { sha256 } from '@noble/hashes/sha2.js';
import { bytesToHex, utf8ToBytes } from '@noble/hashes/utils.js';
import { isBoundary } from '../document/builtin.ts';
import type { Doc } from '../document/doc.ts';
import type { Id } from '../document/ids.ts';
import { canonicalJson, type Json } from '../document/json.ts';
import { isExpression, type Kinds } from '../document/kinds.ts';
import type { GraphNode } from '../document/schema.ts';
import { must } from '../must.ts';
import { isFileEnd } from '../wiring/effective.ts';
import { stronglyConnected } from './graph/components.ts';
import { type DependencyGraph, dependencyGraph } from './graph/dependency-graph.ts';

/**
 * Two hashes of what a document computes, each 64 hexadecimal digits. Tidying keeps both; clearing out keeps `ends`.
 */
export interface Fingerprint {
  readonly ends: string;
  readonly everything: string;
}

const hash = (value: Json): string => bytesToHex(sha256(utf8ToBytes(canonicalJson(value))));

/**
 * The hash of each node that computes, by its place in `dependencyGraph(doc, kinds).nodes`: two that are equal compute
 * the same. Cost as `fingerprint`.
 */
export function nodeHashes(doc: Doc, kinds: Kinds): readonly string[] {
  const known = made.get(doc);
  if (known?.kinds === kinds) return known.hashes;
  const { nodes, at, inputs, before } = dependencyGraph(doc, kinds);
  const hashes: string[] = nodes.map(() => '');
  const hashOf = (i: number): string => {
    const node = nodes[i] as GraphNode;
    const values = kinds.functionValues(node);
    const resolved = Object.fromEntries(
      Object.entries(values).map(([id, value]) => [
        id,
        isExpression(value) ? expressionValue(value, at, hashes) : value,
      ]),
    );
    const wired = must(inputs[i]).map(({ port, source }) => [
      port,
      source.port,
      hashes[must(at.get(source.node))] as string,
    ]);
    wired.sort((a, b) => (must(a[0]) < must(b[0]) ? -1 : 1));
    const named = kinds.kind(node.kind)?.nameMatters || isBoundary(node.kind);
    return hash({ kind: node.kind, values: resolved, inputs: wired, ...(named && { name: node.name }) });
  };
  // sources come first in the list of components, so that each hash finds those that it needs
  for (const component of stronglyConnected(before)) {
    const rounds =
      component.length === 1 && !must(before[must(component[0])]).includes(must(component[0])) ? 1 : component.length;
    for (let round = 0; round < rounds; round++) {
      const next = component.map(hashOf);
      component.forEach((i, k) => {
        hashes[i] = next[k] as string;
      });
    }
  }
  made.set(doc, { kinds, hashes });
  return hashes;
}

const made = new WeakMap<Doc, { kinds: Kinds; hashes: readonly string[] }>();

/**
 * The places, in the dependency graph, of what the file is for: nodes of end kinds and outputs of the file; where there
 * are none, all that nobody reads.
 */
export function endsOf(doc: Doc, kinds: Kinds, { nodes, inputs }: DependencyGraph): number[] {
  const isEnd = (node: GraphNode): boolean => isFileEnd(doc, kinds, node);
  const anyEnd = nodes.some(isEnd);
  const hasConsumer = new Set(inputs.flatMap((list) => list.map((input) => input.source.node)));
  return nodes.flatMap((node, i) => ((anyEnd ? isEnd(node) : !hasConsumer.has(node.id)) ? [i] : []));
}

/**
 * The function fingerprint as docs/fingerprint.md defines it: SHA-256 over effective wiring with nested graphs
 * expanded.
 * The same on every machine. O(ports) hashes, and |component|² within strongly connected components.
 */
export function fingerprint(doc: Doc, kinds: Kinds): Fingerprint {
  const graph = dependencyGraph(doc, kinds);
  const hashes = nodeHashes(doc, kinds);
  return {
    ends: hash(
      endsOf(doc, kinds, graph)
        .map((i) => must(hashes[i]))
        .sort(),
    ),
    everything: hash(graph.nodes.map((node, i) => `${hashes[i]}${node.bypassed ? ' bypassed' : ''}`).sort()),
  };
}

/**
 * An expression enters as its text, with each reference replaced by the parameter and the hash of the node it refers
 * to.
 */
function expressionValue(
  value: { expression: readonly unknown[] },
  at: ReadonlyMap<Id, number>,
  hashes: readonly string[],
): Json {
  return {
    expression: value.expression.map((segment) => {
      if (typeof segment === 'string') return segment;
      const { node, parameter } = segment as { node: Id; parameter: string };
      const i = at.get(node);
      return { parameter, node: i === undefined ? 'lost' : (hashes[i] as string) };
    }),
  };
}

/** What two fingerprints say of two documents. */
export type Verdict = 'same' | 'ends-same' | 'changed';

/** The same in words, wherever it is said. */
export const verdictWords: Readonly<Record<Verdict, string>> = {
  same: 'same',
  'ends-same': 'same at the ends, changed elsewhere',
  changed: 'changed',
};

/** Did an edit change what is computed? Said in every preview, revision and batch result. */
export function compareFingerprints(before: Fingerprint, after: Fingerprint): Verdict {
  if (before.everything === after.everything && before.ends === after.ends) return 'same';
  return before.ends === after.ends ? 'ends-same' : 'changed';
}
