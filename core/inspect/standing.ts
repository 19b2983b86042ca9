import type { Doc } from '../document/doc.ts';
import type { Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import { Transaction } from '../edit/transaction.ts';
import { must } from '../must.ts';
import { isInOff } from '../wiring/effective.ts';
import { endsOf } from './fingerprint.ts';
import { type DependencyGraph, dependencyGraph, reachable } from './graph/dependency-graph.ts';

// What is switched off is neither used nor left over. One rule tells them apart, wherever it is asked.

/**
 * How a node that computes stands.
 * - `used`: an end needs what it gives now.
 * - `waits`: no end needs it now, and one would if all that is switched off were on.
 * - `unused`: no end needs it either way.
 * - `bypassed`: it is switched off itself.
 * - `inside-bypassed`: it lies in a nested graph that is bypassed, and nothing outside reads it.
 */
export type Standing = 'used' | 'waits' | 'unused' | 'bypassed' | 'inside-bypassed';

const switchedOn = new WeakMap<Doc, Doc>();

/**
 * The document with everything on that is switched off, bypassed nodes and wires; the same one where nothing is.
 * O(nodes + wires), once for a version.
 */
export function allOn(doc: Doc): Doc {
  let on = switchedOn.get(doc);
  if (!on) {
    const tx = new Transaction(doc);
    for (const node of doc.nodes.values()) if (node.bypassed) tx.set('nodes', node.id, 'bypassed', undefined);
    for (const wire of doc.wires.values()) if (wire.off) tx.set('wires', wire.id, 'off', undefined);
    on = tx.edit.steps.length === 0 ? doc : tx.doc;
    switchedOn.set(doc, on);
  }
  return on;
}

const counting = new WeakMap<DependencyGraph, ReadonlySet<number>>();

/**
 * The nodes, by their place in the dependency graph, that count now: those that are not bypassed and lie in nothing
 * that is, and what these read, over expressions and beacons too. The others compute nothing that anything takes.
 * O(nodes + edges), once for a version.
 */
export function countingNow(doc: Doc, kinds: Kinds): ReadonlySet<number> {
  const graph = dependencyGraph(doc, kinds);
  let found = counting.get(graph);
  if (!found) {
    const on = graph.nodes.flatMap((node, i) => (node.bypassed || isInOff(doc, node) ? [] : [i]));
    found = reachable(graph.before, on);
    counting.set(graph, found);
  }
  return found;
}

/** The ends of a document, by id: what the file is for now. O(nodes). */
export function endIds(doc: Doc, kinds: Kinds): ReadonlySet<Id> {
  const graph = dependencyGraph(doc, kinds);
  return new Set(endsOf(doc, kinds, graph).map((i) => must(graph.nodes[i]).id));
}

/** What ends need now, themselves included. O(nodes + edges). */
export function neededNow(doc: Doc, kinds: Kinds): ReadonlySet<Id> {
  const graph = dependencyGraph(doc, kinds);
  return new Set([...reachable(graph.before, endsOf(doc, kinds, graph))].map((i) => must(graph.nodes[i]).id));
}

/** How each node that computes stands. O(nodes + edges). */
export function standings(doc: Doc, kinds: Kinds): ReadonlyMap<Id, Standing> {
  const graph = dependencyGraph(doc, kinds);
  const counts = countingNow(doc, kinds);
  const needed = neededNow(doc, kinds);
  const on = allOn(doc);
  const neededOn = on === doc ? needed : neededNow(on, kinds);
  return new Map(
    graph.nodes.map((node, i): [Id, Standing] => {
      if (!counts.has(i)) return [node.id, node.bypassed ? 'bypassed' : 'inside-bypassed'];
      if (node.bypassed) return [node.id, 'bypassed'];
      if (needed.has(node.id)) return [node.id, 'used'];
      return [node.id, neededOn.has(node.id) ? 'waits' : 'unused'];
    }),
  );
}
