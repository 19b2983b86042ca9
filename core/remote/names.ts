import type { Doc } from '../document/doc.ts';
import type { Kinds } from '../document/kinds.ts';
import { freeName, isDefaultName, legalName, type Taken } from '../document/names.ts';
import type { PortRef } from '../document/schema.ts';
import { must } from '../must.ts';
import { portOf } from '../wiring/types.ts';

/**
 * A name for a beacon: what its source is called and what it is used as. The source's label, else its name where that
 * says something, else its kind; then the output where the node has several, else the input that all wires go to, where
 * they agree. Legal, free in the graph, and taken from then on.
 */
export function proposeName(doc: Doc, kinds: Kinds, from: PortRef, uses: readonly PortRef[], taken: Taken): string {
  const node = must(doc.nodes.get(from.node));
  const source = node.label || (isDefaultName(node.name, node.kind, kinds) ? kinds.title(node.kind) : node.name);
  const inputs = new Set(uses.map((to) => portOf(doc.nodes.get(to.node), to.port, 'in')?.name ?? to.port));
  const output = portOf(node, from.port, 'out')?.name ?? from.port;
  const isOnly = node.ports.filter((port) => port.direction === 'out' && port.of === undefined).length === 1;
  const agreed = isOnly && inputs.size === 1 ? must([...inputs][0]) : output;
  const words = (text: string): string => legalName(text).toLowerCase();
  // “in” and “out” say nothing, nor does a word that the source says already
  const use = [agreed, output].find(
    (word) => !/^(in|out|input|output)?\d*$/i.test(word) && !words(source).includes(words(word)),
  );
  return freeName(legalName(use ? `${source} ${use}` : source), taken);
}
