import { builtin } from '../document/builtin.ts';
import { caption, type Doc, graphPath, indexOf } from '../document/doc.ts';
import { type Rect, rectOf, unite } from '../document/geometry.ts';
import type { Id } from '../document/ids.ts';
import { legalName, namesIn, type Taken } from '../document/names.ts';
import type { GraphNode, PortRef, Wire } from '../document/schema.ts';
import type { Transaction } from '../edit/transaction.ts';
import { must } from '../must.ts';
import { addBoundary } from './boundary.ts';
import { refuse } from './sentences.ts';
import { portOf } from './types.ts';
import type { Wiring } from './wiring.ts';

/** How far from the rest of a graph new boundary nodes are put, and how far apart, in pixels at 100 % zoom. */
const aside = 90;
const apart = 70;

/**
 * Carries data from an output to an input over the borders of nested graphs, by their ports: boundary nodes that are
 * there are used again, missing ones are made. Both ends stand where they are in the transaction.
 */
export class Carrier {
  private readonly wiring: Wiring;
  private readonly tx: Transaction;
  private readonly newId: (prefix: string) => string;
  /** The document when carrying began: what lies in what does not change any more. */
  private readonly doc: Doc;
  private readonly placed = new Map<string, number>();
  private readonly names = new Map<Id, Taken>();
  private readonly bounds = new Map<Id, Rect>();

  constructor(wiring: Wiring, newId: (prefix: string) => string) {
    this.wiring = wiring;
    this.tx = wiring.tx;
    this.doc = wiring.tx.doc;
    this.newId = newId;
  }

  /**
   * Wires them, over as many borders as lie between. False where nothing stands behind the output. Throws Refused where
   * a nested graph on the way is bypassed.
   */
  carry(from: PortRef, to: PortRef, off: boolean): boolean {
    const source = this.shortest(from, to);
    if (!source) return false;
    const up = this.path(source.node);
    const down = this.path(to.node);
    let shared = 0;
    while (shared < up.length && shared < down.length && up[shared] === down[shared]) shared++;
    let at = source;
    for (let i = up.length - 1; i >= shared; i--) at = this.out(at, must(up[i]));
    for (let i = shared; i < down.length; i++) at = this.into(at, must(down[i]));
    this.wiring.connect(at, to, { off });
    return true;
  }

  /**
   * Takes boundary nodes away that carry nothing any more, with their ports, and those behind them that so become idle.
   */
  tidy(boundaries: Iterable<Id>): void {
    const todo = [...boundaries];
    for (let id = todo.pop(); id !== undefined; id = todo.pop()) {
      const node = this.tx.get('nodes', id);
      if (!node) continue;
      const host = this.hostNow(node.graph);
      const isInput = node.kind === builtin.input;
      if (!host || (!isInput && node.kind !== builtin.output)) continue;
      const inner = this.wiring.of(id);
      const outer = this.wiring
        .of(host.id)
        .filter(({ from, to }) =>
          isInput ? to.node === host.id && to.port === id : from.node === host.id && from.port === id,
        );
      if ((isInput ? inner : outer).length > 0) continue;
      for (const wire of [...inner, ...outer]) {
        todo.push(wire.from.node);
        this.wiring.disconnect(wire);
      }
      this.tx.remove('nodes', id);
      this.tx.set(
        'nodes',
        host.id,
        'ports',
        host.ports.filter((port) => port.id !== id),
      );
    }
  }

  private hostNow(graph: Id): GraphNode | undefined {
    const known = indexOf(this.doc).hostOf(graph);
    return known && this.tx.get('nodes', known.id);
  }

  private path(node: Id): Id[] {
    return graphPath(this.doc, must(this.tx.get('nodes', node)).graph);
  }

  private host(graph: Id): GraphNode {
    const host = must(this.tx.get('nodes', must(indexOf(this.doc).hostOf(graph)).id));
    if (host.bypassed) throw refuse('host-bypassed', { host: caption(host) });
    return host;
  }

  /**
   * Where the data stood before it came to this border, so that it does not go in and out again; undefined where it is
   * open.
   */
  private shortest(from: PortRef, to: PortRef): PortRef | undefined {
    const index = indexOf(this.doc);
    const goal = new Set(this.path(to.node));
    let at: PortRef = from;
    const seen = new Set<Id>();
    for (;;) {
      const node = must(this.tx.get('nodes', at.node));
      if (seen.has(node.id)) return at;
      seen.add(node.id);
      const host = index.hostOf(node.graph);
      let wire: Wire | undefined;
      if (node.kind === builtin.input && host && !host.bypassed && !goal.has(node.graph))
        wire = this.wiring.into({ node: host.id, port: node.id });
      else if (node.inner !== undefined && !node.bypassed && goal.has(node.inner))
        wire = this.wiring.into({ node: at.port, port: 'in' });
      else return at;
      if (!wire || wire.off) return undefined;
      at = wire.from;
    }
  }

  private typeOf(from: PortRef): string {
    return portOf(this.tx.get('nodes', from.node), from.port, 'out')?.type ?? 'any';
  }

  /** The wire from an output that fits, among those that stand now. */
  private wireFrom(from: PortRef, fits: (wire: Wire) => boolean): Wire | undefined {
    return this.wiring.outOf(from).find((wire) => !wire.off && fits(wire));
  }

  /** Out of a graph: the host's port that gives what `from` gives. */
  private out(from: PortRef, graph: Id): PortRef {
    const host = this.host(graph);
    const there = this.wireFrom(from, (wire) => this.tx.get('nodes', wire.to.node)?.kind === builtin.output);
    if (there) return { node: host.id, port: there.to.node };
    const made = this.boundary(builtin.output, graph, from);
    this.wiring.connect(from, { node: made, port: 'in' });
    return { node: host.id, port: made };
  }

  /** Into a graph: the boundary node there that gives what `from` gives outside. */
  private into(from: PortRef, graph: Id): PortRef {
    const host = this.host(graph);
    const there = this.wireFrom(
      from,
      (wire) => wire.to.node === host.id && this.tx.get('nodes', wire.to.port)?.kind === builtin.input,
    );
    if (there) return { node: there.to.port, port: 'out' };
    const made = this.boundary(builtin.input, graph, from);
    this.wiring.connect(from, { node: host.id, port: made });
    return { node: made, port: 'out' };
  }

  private boundary(kind: typeof builtin.input | typeof builtin.output, graph: Id, from: PortRef): Id {
    const id = this.newId('n');
    const taken = this.names.get(graph) ?? namesIn(this.doc, graph);
    this.names.set(graph, taken);
    const name = legalName(must(this.tx.get('nodes', from.node)).name);
    addBoundary(this.tx, { kind, graph, name, type: this.typeOf(from), ...this.place(graph, kind) }, taken, id);
    return id;
  }

  /** Inputs stand to the left of what is in the graph, outputs to the right, one under the other. */
  private place(graph: Id, kind: string): { x: number; y: number } {
    let bounds = this.bounds.get(graph);
    if (!bounds) {
      const nodes = indexOf(this.doc).nodesIn(graph);
      bounds = unite(nodes.map((node) => rectOf(this.doc, this.wiring.kinds, node))) ?? {
        x: 0,
        y: 0,
        width: 0,
        height: 0,
      };
      this.bounds.set(graph, bounds);
    }
    const key = `${graph} ${kind}`;
    const count = this.placed.get(key) ?? 0;
    this.placed.set(key, count + 1);
    const x = kind === builtin.input ? bounds.x - aside - 110 : bounds.x + bounds.width + aside;
    return { x: Math.round(x), y: Math.round(bounds.y + count * apart) };
  }
}
