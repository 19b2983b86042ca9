import { builtin, isBoundary } from '../document/builtin.ts';
import { caption, type Doc } from '../document/doc.ts';
import { readersOf } from '../document/expressions.ts';
import type { Json } from '../document/json.ts';
import type { Kinds } from '../document/kinds.ts';
import { portAt } from '../document/port-at.ts';
import type { GraphNode, Port, PortRef, Wire } from '../document/schema.ts';
import type { Finding } from '../finding.ts';
import { must } from '../must.ts';
import { Refused, type Saying } from '../said.ts';
import { partId } from './pass.ts';
import { find, say } from './sentences.ts';
import { inputsReached, portOrPart } from './types.ts';
import type { Wiring } from './wiring.ts';

/** Why a node cannot become one of another kind, as a sentence; undefined where it can. */
export function replaceProblem(kinds: Kinds, node: GraphNode, kind: string): Saying | undefined {
  if (!kinds.kind(kind)) return say('no-kind', { catalogue: kinds.catalogue.title, kind });
  const isFixed = (id: string): boolean =>
    isBoundary(id) || id === builtin.nested || id === builtin.tap || id === builtin.beacon || id === builtin.feed;
  if (node.inner !== undefined || isFixed(node.kind))
    return say('node-is-fixed', { node: caption(node), kind: kinds.title(node.kind) });
  if (isFixed(kind)) return say('kind-is-fixed', { kind: kinds.title(kind) });
  return undefined;
}

/**
 * Makes a node one of another kind. Every wire and parameter that fits is kept: ports by id, then by name, then by
 * type, then in their order; parameters by id, then by title, then in their order among those of the same type and
 * unit. What could not be kept is listed by name. Throws Refused. O(ports² + wires).
 */
export function replaceKind(wiring: Wiring, node: GraphNode, kind: string): Finding[] {
  const { tx, kinds } = wiring;
  const problem = replaceProblem(kinds, node, kind);
  if (problem) throw new Refused(problem);
  const wires = wiring.of(node.id);
  const mapping = new PortMapping(wiring, node, kind, wires);
  const found: Finding[] = [];
  tx.set('nodes', node.id, 'kind', kind);
  tx.set('nodes', node.id, 'ports', mapping.ports());
  if (kind !== node.kind) tx.set('nodes', node.id, 'size', undefined);
  const moves: { wire: Wire; from?: PortRef; to?: PortRef }[] = [];
  for (const wire of wires) {
    const [from, to] = [
      wire.from.node === node.id ? mapping.newPort(wire, 'out') : undefined,
      wire.to.node === node.id ? mapping.newPort(wire, 'in') : undefined,
    ];
    const isLost = (wire.from.node === node.id && from === undefined) || (wire.to.node === node.id && to === undefined);
    if (isLost) {
      wiring.disconnect(wire);
      found.push(lostWire(wiring, node, wire));
    } else
      moves.push({
        wire,
        ...(from !== undefined && { from: { node: node.id, port: from } }),
        ...(to !== undefined && { to: { node: node.id, port: to } }),
      });
  }
  wiring.carryAll(moves);
  found.push(...keepParameters(wiring, node, kind));
  return found;
}

function lostWire(wiring: Wiring, node: GraphNode, wire: Wire): Finding {
  const isIn = wire.to.node === node.id;
  const other = must(wiring.tx.get('nodes', isIn ? wire.from.node : wire.to.node));
  return find('wire-lost', 'warning', [node.id], 'wire-not-kept', {
    isIn,
    other: caption(other),
    port: wire.to.port,
    node: caption(node),
    output: wire.from.port,
  });
}

/** Which port of the new kind each wired port of a node becomes. */
class PortMapping {
  private readonly wiring: Wiring;
  private readonly kinds: Kinds;
  private readonly node: GraphNode;
  private readonly kind: string;
  private readonly wires: readonly Wire[];
  private all: Port[];
  private readonly chosen = new Map<string, Port>();
  private readonly parts = new Set<string>();

  constructor(wiring: Wiring, node: GraphNode, kind: string, wires: readonly Wire[]) {
    this.wiring = wiring;
    this.kinds = wiring.kinds;
    this.node = node;
    this.kind = kind;
    this.wires = wires;
    this.all = this.kinds.startPorts(kind);
    for (const direction of ['in', 'out'] as const) this.choose(direction);
  }

  /**
   * The ports of the new node: those that its kind starts with, what its rows have grown, and the components that are
   * wired.
   */
  ports(): Port[] {
    return this.all.flatMap((port) => [
      port,
      ...this.kinds.parts(port).filter((part) => this.parts.has(`${part.direction} ${part.id}`)),
    ]);
  }

  /** The port that a wire ends at afterwards; undefined where it fits nothing. */
  newPort(wire: Wire, direction: 'in' | 'out'): string | undefined {
    const id = direction === 'in' ? wire.to.port : wire.from.port;
    const old = portAt(this.node.ports, id, direction);
    const whole = this.chosen.get(`${direction} ${old?.of ?? id}`);
    if (!whole || !old) return undefined;
    const port =
      old.of === undefined
        ? whole
        : this.kinds.parts(whole).find((part) => part.id === partId(whole.id, old.id.slice(must(old.of).length + 1)));
    return port && this.fits(wire, direction, port) ? port.id : undefined;
  }

  private choose(direction: 'in' | 'out'): void {
    const isWired = (port: Port): boolean =>
      this.wiresAt(port).length > 0 ||
      this.node.ports.some((part) => part.of === port.id && this.wiresAt(part).length > 0);
    const waiting = new Set(
      this.node.ports.filter((port) => port.direction === direction && port.of === undefined && isWired(port)),
    );
    const free = (): Port[] =>
      this.all.filter((port) => port.direction === direction && ![...this.chosen.values()].includes(port));
    const lower = (text: string): string => text.toLowerCase();
    const rules: ((old: Port, port: Port) => boolean)[] = [
      (old, port) => old.id === port.id,
      (old, port) => lower(old.name) === lower(port.name),
      (old, port) => old.type === port.type,
      () => true,
    ];
    for (const rule of rules) {
      for (const old of waiting) {
        const port = free().find((one) => rule(old, one) && this.suits(old, one)) ?? this.grown(old, direction, rule);
        if (!port) continue;
        this.chosen.set(`${direction} ${old.id}`, port);
        waiting.delete(old);
      }
    }
    for (const wire of this.wires) {
      const own = direction === 'in' ? wire.to : wire.from;
      if (own.node !== this.node.id) continue;
      const old = portAt(this.node.ports, own.port, direction);
      const whole = old?.of === undefined ? undefined : this.chosen.get(`${direction} ${old.of}`);
      if (whole) this.parts.add(`${direction} ${partId(whole.id, must(old).id.slice(must(must(old).of).length + 1))}`);
    }
  }

  /** One more port of a row that grows, where it suits. */
  private grown(old: Port, direction: 'in' | 'out', rule: (old: Port, port: Port) => boolean): Port | undefined {
    if (direction === 'out') return undefined;
    const sample: GraphNode = { ...this.node, kind: this.kind, ports: this.all };
    for (const port of this.all) {
      const next = port.direction === 'in' ? this.kinds.grownPort(sample, port.id) : undefined;
      if (!next || !rule(old, next) || !this.suits(old, next)) continue;
      const { row } = must(this.kinds.growingRow(sample, port.id));
      const last = this.all.indexOf(must(row.at(-1)));
      this.all = [...this.all.slice(0, last + 1), next, ...this.all.slice(last + 1)];
      return next;
    }
    return undefined;
  }

  private wiresAt(port: Port): Wire[] {
    return this.wires.filter(({ from, to }) =>
      port.direction === 'in'
        ? to.node === this.node.id && to.port === port.id
        : from.node === this.node.id && from.port === port.id,
    );
  }

  /** Does any wire at the old port fit the new one? Where only components are wired, the types have to be the same. */
  private suits(old: Port, port: Port): boolean {
    const wires = this.wiresAt(old);
    return wires.length > 0 ? wires.some((wire) => this.fits(wire, port.direction, port)) : old.type === port.type;
  }

  private fits(wire: Wire, direction: 'in' | 'out', port: Port): boolean {
    const { tx } = this.wiring;
    const doc = tx.before;
    // where the type is the same, a wire fits as well as it did
    const own = direction === 'in' ? wire.to.port : wire.from.port;
    if (portAt(this.node.ports, own, direction)?.type === port.type) return true;
    if (direction === 'in') {
      // a wire from the node to itself has its other end mapped apart
      if (wire.from.node === this.node.id) return true;
      return this.kinds.accepts(port.type, this.wiring.typeOf(wire.from));
    }
    if (wire.to.node === this.node.id) return true;
    return inputsReached(doc, wire.to).every((ref) =>
      this.kinds.accepts(portOrPart(this.kinds, tx.get('nodes', ref.node), ref.port, 'in')?.type ?? 'any', port.type),
    );
  }
}

/** Keeps the parameters that fit; says what went, what has another name now, and whose expressions hang in the air. */
function keepParameters(wiring: Wiring, node: GraphNode, kind: string): Finding[] {
  const { tx, kinds } = wiring;
  const old = Object.entries(node.params ?? {});
  if (old.length === 0 || kind === node.kind) return [];
  const found: Finding[] = [];
  const taken = new Set<string>();
  const fresh: Record<string, Json> = {};
  const waiting = new Map(old);
  const fits = (id: string, value: Json): boolean =>
    !taken.has(id) && kinds.valueProblem(kind, id, value) === undefined;
  const keep = (from: string, to: string, value: Json): void => {
    fresh[to] = value;
    taken.add(to);
    waiting.delete(from);
  };
  for (const [id, value] of old) if (kinds.parameter(kind, id) && fits(id, value)) keep(id, id, value);
  const specOf = (id: string) => kinds.parameter(node.kind, id);
  for (const rule of ['title', 'type'] as const) {
    for (const [id, value] of [...waiting]) {
      const spec = specOf(id);
      const match =
        spec &&
        kinds
          .parameters(kind)
          .find(
            (one) =>
              (rule === 'title' ? one.title === spec.title : one.type === spec.type && one.unit === spec.unit) &&
              !one.cosmetic &&
              fits(one.id, value),
          );
      if (!match) continue;
      keep(id, match.id, value);
      found.push(
        find('parameter-renamed', 'info', [node.id], 'parameter-kept', {
          spec: spec.title,
          node: caption(node),
          match: match.title,
        }),
      );
    }
  }
  for (const [id, value] of waiting)
    found.push(
      find('parameter-lost', 'warning', [node.id], 'parameter-not-kept', {
        parameter: specOf(id)?.title ?? id,
        node: caption(node),
        value: short(value),
      }),
    );
  tx.set('nodes', node.id, 'params', Object.keys(fresh).length > 0 ? fresh : undefined);
  found.push(...lostReferences(tx.before, kinds, node, kind));
  return found;
}

const short = (value: Json): string => {
  const text = JSON.stringify(value);
  return text.length > 40 ? `${text.slice(0, 38)}…` : text;
};

/** Expressions that read parameters which the node has no more. As `readersOf`. */
const lostReferences = (doc: Doc, kinds: Kinds, node: GraphNode, kind: string): Finding[] =>
  readersOf(doc, node.id)
    .filter(({ of }) => !kinds.parameter(kind, of))
    .map((one) =>
      find('reference-lost', 'warning', [one.node], 'expression-lost', {
        node: caption(must(doc.nodes.get(one.node))),
        parameter: one.of,
        of: caption(node),
      }),
    );
