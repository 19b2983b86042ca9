import { caption, type Doc, indexOf } from '../document/doc.ts';
import type { Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import type { GraphNode, Port, PortRef } from '../document/schema.ts';
import type { Finding } from '../finding.ts';
import { must } from '../must.ts';
import { find } from './sentences.ts';
import { carriedType, opens, portOf, portOrPart } from './types.ts';
import type { Wiring } from './wiring.ts';

/** One way to make an output fit an input that does not take it as it is. */
export interface Bridge {
  /** Names it in options: `part:` and the component, `into:` and the component, or `kind:` and the kind. */
  readonly id: string;
  readonly title: string;
  /** The component of the output that is taken, or of the input that is wired. */
  readonly from: PortRef;
  readonly to: PortRef;
  /** The kind of node that stands between. */
  readonly kind?: string;
}

/**
 * Every way there is, the simplest first: one component of a compound output, one component of a compound input, then
 * the conversion kinds of the catalogue. O(conversions + components).
 */
export function bridges(doc: Doc, kinds: Kinds, from: PortRef, to: PortRef): Bridge[] {
  const [source, target] = [doc.nodes.get(from.node), doc.nodes.get(to.node)];
  const [output, input] = [portOrPart(kinds, source, from.port, 'out'), portOrPart(kinds, target, to.port, 'in')];
  if (!source || !target || !output || !input) return [];
  const given = carriedType(doc, kinds, from);
  if (kinds.accepts(input.type, given)) return [];
  const found: Bridge[] = [];
  const name = (part: Port): string => part.id.slice(must(part.of).length + 1);
  for (const part of opens(source, output) ? kinds.parts(output) : [])
    if (kinds.accepts(input.type, part.type))
      found.push({
        id: `part:${name(part)}`,
        title: `Take ${name(part)} of “${output.name}”`,
        from: { ...from, port: part.id },
        to,
      });
  for (const part of opens(target, input) ? kinds.parts(input) : [])
    if (kinds.accepts(part.type, given))
      found.push({
        id: `into:${name(part)}`,
        title: `Into ${name(part)} of “${input.name}”`,
        from,
        to: { ...to, port: part.id },
      });
  for (const conversion of kinds.type(given).conversions) {
    if (
      !kinds.accepts(input.type, conversion.to) ||
      !kinds.kind(conversion.kind) ||
      found.some((one) => one.kind === conversion.kind)
    )
      continue;
    if (wayThrough(kinds, conversion.kind, given, input.type))
      found.push({
        id: `kind:${conversion.kind}`,
        title: `Through “${kinds.title(conversion.kind)}”`,
        from,
        to,
        kind: conversion.kind,
      });
  }
  return found;
}

/** The ports by which a kind of node turns one type into another. */
export function wayThrough(
  kinds: Kinds,
  kind: string,
  given: string,
  wanted: string,
): { input: string; output: string } | undefined {
  const ports = kinds.startPorts(kind);
  const input =
    ports.find((port) => port.direction === 'in' && port.type === given) ??
    ports.find((port) => port.direction === 'in' && kinds.accepts(port.type, given));
  const output =
    ports.find((port) => port.direction === 'out' && port.type === wanted) ??
    ports.find((port) => port.direction === 'out' && kinds.accepts(wanted, port.type));
  return input && output && { input: input.id, output: output.id };
}

/** How many nodes upstream are looked at for what a helper needs beside its main input. */
const mostSearched = 200;

/**
 * Wires what a helper node needs beside its main input from what stands around: what feeds the node that it helps, then
 * what feeds the source, then what lies further up; of the same type and name first, else of the same type. Says what
 * was found and what stays open.
 */
export function bringAlong(
  wiring: Wiring,
  doc: Doc,
  kinds: Kinds,
  helper: Id,
  nextTo: { readonly source: Id; readonly target: Id },
): Finding[] {
  const node = wiring.tx.get('nodes', helper) as GraphNode;
  const found: Finding[] = [];
  for (const input of node.ports) {
    if (input.direction !== 'in' || input.of !== undefined || wiring.into({ node: helper, port: input.id })) continue;
    const source = nearestSource(doc, kinds, input, nextTo);
    if (source) wiring.connect(source, { node: helper, port: input.id });
    found.push(
      source
        ? find('brought-along', 'info', [helper], 'takes-now', {
            input: input.name,
            node: caption(node),
            port: source.port,
            source: caption(must(doc.nodes.get(source.node))),
          })
        : find('stays-open', 'info', [helper], 'stays-open', {
            input: input.name,
            node: caption(node),
            type: kinds.type(input.type).title,
          }),
    );
  }
  return found;
}

function nearestSource(
  doc: Doc,
  kinds: Kinds,
  input: Port,
  { source, target }: { readonly source: Id; readonly target: Id },
): PortRef | undefined {
  const index = indexOf(doc);
  const seen = new Set<Id>([target, source]);
  const row = [target, source];
  let typed: PortRef | undefined;
  for (let i = 0; i < row.length && i < mostSearched; i++) {
    for (const wire of index.wiresOf(must(row[i]))) {
      if (wire.to.node !== row[i]) continue;
      const type = carriedType(doc, kinds, wire.from);
      const name = portOf(doc.nodes.get(wire.to.node), wire.to.port, 'in')?.name;
      if (!wire.off && type === input.type) {
        if (name?.toLowerCase() === input.name.toLowerCase()) return wire.from;
        typed ??= wire.from;
      }
      if (!seen.has(wire.from.node)) {
        seen.add(wire.from.node);
        row.push(wire.from.node);
      }
    }
  }
  return typed;
}
