import { unstack } from '../arrange/unstack.ts';
import { builtin, isBoundary } from '../document/builtin.ts';
import { caption, type Doc, placeOf } from '../document/doc.ts';
import type { Id } from '../document/ids.ts';
import { type Json, sameJson } from '../document/json.ts';
import { type Expression, isExpression, type Kinds, stemOf } from '../document/kinds.ts';
import { portAt } from '../document/port-at.ts';
import type { GraphNode, Port, PortRef } from '../document/schema.ts';
import type { Edit } from '../edit/step.ts';
import { Transaction } from '../edit/transaction.ts';
import type { Finding, Severity } from '../finding.ts';
import { type Boxes, nodeBoxes } from '../inspect/boxes.ts';
import { must } from '../must.ts';
import type { Saying } from '../said.ts';
import { portOrPart } from '../wiring/types.ts';
import { plural } from '../words.ts';
import type { KindMapping, Mapping } from './mapping.ts';
import { say } from './sentences.ts';

/** What an upgrade does, and what it could not keep: nothing is lost without a finding. */
export interface Upgrade {
  readonly edit: Edit;
  /** The document after the mapping alone, before anything was moved: what a fingerprint is compared with. */
  readonly mapped: Doc;
  readonly findings: readonly Finding[];
  readonly summary: string;
}

/** How far nodes that grew into others are put apart, in pixels at 100 % zoom. */
const gap = 20;

/**
 * Reads a document with another version of its catalogue: kinds, ports and parameters become what the mapping says, or
 * stay what they are called;
 * what depended on a default that has changed keeps the old one; wires that fit nothing any more go, and are listed;
 * nodes that overlap only since they have grown are put apart. O(nodes + ports + wires), and putting apart where that
 * is needed.
 */
export function upgrade(doc: Doc, before: Kinds, after: Kinds, mapping: Mapping): Upgrade {
  const work = new Upgrading(doc, before, after, mapping);
  work.nodes();
  work.wires();
  work.tx.setHead('catalogue', { id: after.catalogue.id, version: after.catalogue.version });
  const mapped = work.tx.doc;
  const moved = putApart(work.tx, doc, mapped, before, after);
  const parts = [
    `${plural(work.changed, 'node')} read anew`,
    work.kept > 0 ? `${plural(work.kept, 'old default')} kept` : '',
    work.lost > 0 ? `${plural(work.lost, 'thing')} could not be kept` : '',
    moved > 0 ? `${plural(moved, 'node')} put apart` : '',
  ];
  return { edit: work.tx.edit, mapped, findings: work.findings, summary: `${parts.filter(Boolean).join(', ')}.` };
}

class Upgrading {
  readonly tx: Transaction;
  readonly findings: Finding[] = [];
  changed = 0;
  kept = 0;
  lost = 0;
  private readonly doc: Doc;
  private readonly before: Kinds;
  private readonly after: Kinds;
  private readonly mapping: Mapping;
  /** What the ports of a node are called now; undefined: gone. */
  private readonly ports = new Map<Id, (direction: Port['direction'], id: string) => string | undefined>();

  constructor(doc: Doc, before: Kinds, after: Kinds, mapping: Mapping) {
    this.doc = doc;
    this.before = before;
    this.after = after;
    this.mapping = mapping;
    this.tx = new Transaction(doc);
  }

  private tell(severity: Severity, node: GraphNode, said: Saying): void {
    if (severity !== 'info') this.lost++;
    this.findings.push({ rule: 'upgrade', severity, place: placeOf(this.doc, node.graph, node.id), ...said });
  }

  nodes(): void {
    for (const node of [...this.doc.nodes.values()]) {
      if (isFixed(node)) {
        this.parameters(node, node.kind, undefined);
        continue;
      }
      const own = this.mapping.kinds[node.kind];
      const kind = own?.to ?? node.kind;
      if (!this.after.kind(kind)) {
        const isNew = this.before.kind(node.kind) !== undefined;
        if (isNew) this.tell('warning', node, say('upgrade-no-kind', { node: caption(node), kind }));
        continue;
      }
      const steps = this.tx.edit.steps.length;
      this.tx.set('nodes', node.id, 'kind', kind);
      this.tx.set('nodes', node.id, 'ports', this.portsOf(node, kind, own));
      this.parameters(node, kind, own);
      if (this.tx.edit.steps.length > steps) this.changed++;
    }
  }

  /**
   * The ports that a node has now: those of its new kind, with what its rows had grown and the components that were
   * open.
   */
  private portsOf(node: GraphNode, kind: string, own: KindMapping | undefined): Port[] {
    const named = (direction: Port['direction'], id: string): string | undefined => {
      const table = direction === 'in' ? own?.inputs : own?.outputs;
      const entry = table && Object.hasOwn(table, id) ? table[id] : id;
      return entry ?? undefined;
    };
    const rename = (direction: Port['direction'], id: string): string | undefined => {
      const port = portAt(node.ports, id, direction);
      if (port?.of === undefined) return named(direction, id);
      const whole = named(direction, port.of);
      return whole === undefined ? undefined : `${whole}${id.slice(port.of.length)}`;
    };
    const ports = this.after.startPorts(kind);
    const has = (direction: Port['direction'], id: string): boolean =>
      ports.some((port) => port.direction === direction && port.id === id);
    for (const old of node.ports) {
      const id = rename(old.direction, old.id);
      if (id === undefined || has(old.direction, id)) continue;
      const whole =
        old.of === undefined
          ? undefined
          : ports.find((port) => port.direction === old.direction && port.id === named(old.direction, must(old.of)));
      const part = whole && this.after.parts(whole).find((one) => one.id === id);
      // a row grows one port after the other
      const grown = part ?? this.grown({ ...node, kind, ports }, id);
      if (!grown) continue;
      const last = ports.findLastIndex(
        (port) =>
          port.direction === grown.direction &&
          (part ? port.id === whole.id || port.of === whole.id : sameStem(port.id, id)),
      );
      ports.splice(last + 1, 0, grown);
    }
    this.ports.set(node.id, (direction, id) => {
      const now = rename(direction, id);
      return now !== undefined && has(direction, now) ? now : undefined;
    });
    return ports;
  }

  private grown(node: GraphNode, id: string): Port | undefined {
    for (const port of node.ports) {
      const next = port.direction === 'in' && sameStem(port.id, id) ? this.after.grownPort(node, port.id) : undefined;
      if (next) return { ...next, id };
    }
    return undefined;
  }

  private parameters(node: GraphNode, kind: string, own: KindMapping | undefined): void {
    const params = this.values(node, kind, own, node.params ?? {}, true);
    for (const id of new Set([...Object.keys(node.params ?? {}), ...Object.keys(params)]))
      this.tx.setParameter(node.id, id, params[id]);
    for (const [name, values] of Object.entries(node.settings ?? {}))
      this.tx.setPart('nodes', node.id, 'settings', name, this.values(node, kind, own, values, false));
  }

  /** The parameters of one setting as they are called and counted now. */
  private values(
    node: GraphNode,
    kind: string,
    own: KindMapping | undefined,
    old: Readonly<Record<string, Json>>,
    tell: boolean,
  ): Record<string, Json> {
    const values: Record<string, Json> = {};
    const told = (severity: Severity, said: Saying): void => void (tell && this.tell(severity, node, said));
    for (const [id, value] of Object.entries(old)) {
      const entry = own && Object.hasOwn(own.parameters, id) ? own.parameters[id] : id;
      if (entry === null) {
        told('info', say('upgrade-dropped', { node: caption(node), parameter: id, value: JSON.stringify(value) }));
        continue;
      }
      const to = typeof entry === 'string' ? entry : must(entry).to;
      const now = this.carried(value, typeof entry === 'string' ? undefined : entry, () =>
        told('warning', say('upgrade-not-counted', { node: caption(node), parameter: id, to })),
      );
      values[to] = now;
      if (isFixed(node)) continue;
      if (!this.after.parameter(kind, to) && this.before.parameter(node.kind, id))
        told(
          'warning',
          say('upgrade-no-parameter', { node: caption(node), parameter: to, value: JSON.stringify(now) }),
        );
      const problem = this.after.valueProblem(kind, to, now);
      if (problem) told('warning', say('upgrade-value', { node: caption(node), problem: problem.message }));
    }
    if (!isFixed(node)) this.defaults(node, kind, own, values, tell);
    return values;
  }

  /** Where a default has changed under a node that relied on it, the old one is set. */
  private defaults(
    node: GraphNode,
    kind: string,
    own: KindMapping | undefined,
    values: Record<string, Json>,
    tell: boolean,
  ): void {
    if ((own?.defaults ?? this.mapping.defaults) === 'take') return;
    for (const spec of this.before.parameters(node.kind)) {
      const entry = own && Object.hasOwn(own.parameters, spec.id) ? own.parameters[spec.id] : spec.id;
      if (entry === null) continue;
      const to = typeof entry === 'string' ? entry : must(entry).to;
      const fresh = this.after.parameter(kind, to);
      if (!fresh || values[to] !== undefined || spec.default === null) continue;
      const was = this.carried(spec.default, typeof entry === 'string' ? undefined : entry, () => {});
      if (sameJson(was, fresh.default)) continue;
      values[to] = was;
      if (tell) this.kept++;
    }
  }

  /** A value in the terms of the new parameter; references in an expression follow what is called otherwise. */
  private carried(
    value: Json,
    how:
      | {
          readonly scale: number;
          readonly offset: number;
          readonly values?: Readonly<Record<string, Json>> | undefined;
        }
      | undefined,
    unable: () => void,
  ): Json {
    if (isExpression(value)) {
      if (how && (how.scale !== 1 || how.offset !== 0 || how.values)) unable();
      const segments = (value as Expression).expression.map((segment) =>
        typeof segment === 'string' ? segment : { ...segment, parameter: this.reference(segment) },
      );
      return { ...(value as object), expression: segments } as unknown as Json;
    }
    if (!how) return value;
    const counted = (n: number): number => n * how.scale + how.offset;
    const looked = how.values?.[String(value)];
    if (looked !== undefined) return looked;
    if (how.scale === 1 && how.offset === 0) return value;
    if (typeof value === 'number') return counted(value);
    if (Array.isArray(value) && value.every((part) => typeof part === 'number'))
      return (value as number[]).map(counted);
    unable();
    return value;
  }

  private reference({ node, parameter }: { readonly node: string; readonly parameter: string }): string {
    const kind = this.doc.nodes.get(node)?.kind ?? '';
    const entry = this.mapping.kinds[kind]?.parameters[parameter];
    return entry === undefined || entry === null ? parameter : typeof entry === 'string' ? entry : entry.to;
  }

  wires(): void {
    for (const wire of this.doc.wires.values()) {
      const from = this.end(wire.from, 'out');
      const to = this.end(wire.to, 'in');
      const isFitting =
        from && to
          ? this.after.accepts(this.typeOf(to, 'in'), this.typeOf(from, 'out')) ||
            this.before.accepts(this.oldType(wire.to, 'in'), this.oldType(wire.from, 'out')) === false
          : false;
      if (from && to && isFitting) {
        this.tx.set('wires', wire.id, 'from', from);
        this.tx.set('wires', wire.id, 'to', to);
        continue;
      }
      this.tx.remove('wires', wire.id);
      const [source, target] = [must(this.doc.nodes.get(wire.from.node)), must(this.doc.nodes.get(wire.to.node))];
      const why = !from
        ? say('upgrade-no-output', { node: caption(source), port: wire.from.port })
        : !to
          ? say('upgrade-no-input', { node: caption(target), port: wire.to.port })
          : say('upgrade-types');
      this.tell(
        'warning',
        target,
        say('upgrade-wire', {
          source: caption(source),
          port: wire.to.port,
          target: caption(target),
          why: why.message,
        }),
      );
    }
  }

  private end(ref: PortRef, direction: Port['direction']): PortRef | undefined {
    const rename = this.ports.get(ref.node);
    const port = rename ? rename(direction, ref.port) : ref.port;
    return port === undefined ? undefined : port === ref.port ? ref : { ...ref, port };
  }

  private typeOf(ref: PortRef, direction: Port['direction']): string {
    return portOrPart(this.after, this.tx.get('nodes', ref.node), ref.port, direction)?.type ?? 'any';
  }

  private oldType(ref: PortRef, direction: Port['direction']): string {
    return portOrPart(this.before, this.doc.nodes.get(ref.node), ref.port, direction)?.type ?? 'any';
  }
}

/** Nodes whose ports are not those of a kind: what carries, borders and nests. */
const isFixed = (node: GraphNode): boolean =>
  node.inner !== undefined || isBoundary(node.kind) || Object.values<string>(builtin).includes(node.kind);

const sameStem = (one: string, other: string): boolean =>
  stemOf(one) === stemOf(other) && /\d$/.test(one) && /\d$/.test(other);

/**
 * Puts apart what overlaps since nodes have grown; what overlapped before is left as it was. Returns how many nodes
 * moved.
 */
function putApart(tx: Transaction, old: Doc, mapped: Doc, before: Kinds, after: Kinds): number {
  let moved = 0;
  for (const graph of mapped.graphs.keys()) {
    const [was, now] = [nodeBoxes(old, before, graph), nodeBoxes(mapped, after, graph)];
    const key = (boxes: Boxes, [i, k]: readonly [number, number]): string =>
      `${must(boxes.nodes[i]).id} ${must(boxes.nodes[k]).id}`;
    const pairs = was.overlapping();
    const known = new Set(pairs.map((pair) => key(was, pair)));
    if (now.overlapping().every((pair) => known.has(key(now, pair)))) continue;
    const stacked = new Set(pairs.flatMap((pair) => pair.map((i) => must(was.nodes[i]).id)));
    const free = now.nodes.flatMap((node, i) => (stacked.has(node.id) ? [] : [{ node, rect: must(now.rects[i]) }]));
    const places = unstack(
      free.map((one) => one.rect),
      gap,
      (i) => must(free[i]).node.pinned === true,
    );
    free.forEach(({ node }, i) => {
      const steps = tx.edit.steps.length;
      tx.move(node.id, must(places[i]).x, must(places[i]).y);
      if (tx.edit.steps.length > steps) moved++;
    });
  }
  return moved;
}
