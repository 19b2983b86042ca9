import { indexOf } from '../document/doc.ts';
import type { Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import type { GraphNode, Port, PortRef, Wire } from '../document/schema.ts';
import type { Transaction } from '../edit/transaction.ts';
import { must } from '../must.ts';
import { isCarrier } from './carriers.ts';
import { carriedType, portOf, portOrPart } from './types.ts';

/**
 * The way in which wires are written: what is wired is opened where it is a component, growing inputs grow and shrink,
 * and every question about wires is answered as they stand now, without the cost of an index for each change. One for a
 * transaction; no wire is written past it.
 */
export class Wiring {
  readonly tx: Transaction;
  readonly kinds: Kinds;
  private readonly newId: (prefix: string) => string;
  private readonly changed = new Map<Id, Wire | undefined>();
  private readonly at = new Map<Id, Set<Id>>();

  constructor(tx: Transaction, kinds: Kinds, newId: (prefix: string) => string) {
    this.tx = tx;
    this.kinds = kinds;
    this.newId = newId;
  }

  private note(id: Id, wire: Wire | undefined): void {
    this.changed.set(id, wire);
    for (const ref of wire ? [wire.from, wire.to] : []) {
      const set = this.at.get(ref.node);
      if (set) set.add(id);
      else this.at.set(ref.node, new Set([id]));
    }
  }

  private changedAt(node: Id): Wire[] {
    return [...(this.at.get(node) ?? [])].flatMap((id) => this.changed.get(id) ?? []);
  }

  into(to: PortRef): Wire | undefined {
    const fresh = this.changedAt(to.node).find((wire) => wire.to.node === to.node && wire.to.port === to.port);
    if (fresh) return fresh;
    const old = indexOf(this.tx.before).wireInto(to.node, to.port);
    return old && !this.changed.has(old.id) ? old : undefined;
  }

  /** The type of what an output gives as it stands now; through carriers as they stood before. */
  typeOf(from: PortRef): string {
    const node = this.tx.get('nodes', from.node);
    if (node && isCarrier(node.kind)) return carriedType(this.tx.before, this.kinds, from);
    return portOrPart(this.kinds, node, from.port, 'out')?.type ?? 'any';
  }

  /** The wires at a node: those that come in, then those that go out. */
  of(node: Id): Wire[] {
    const old = indexOf(this.tx.before)
      .wiresOf(node)
      .filter((wire) => !this.changed.has(wire.id));
    const fresh = this.changedAt(node).filter((wire) => wire.from.node === node || wire.to.node === node);
    return fresh.length === 0
      ? old
      : [...old, ...fresh].sort((a, b) => Number(a.to.node !== node) - Number(b.to.node !== node));
  }

  outOf(from: PortRef): Wire[] {
    return this.of(from.node).filter((wire) => wire.from.node === from.node && wire.from.port === from.port);
  }

  /** Wires an output to an input; a wire that is there gives way. Ask `connectProblem` first. */
  connect(from: PortRef, to: PortRef, more: { readonly off?: boolean } = {}): Wire {
    const old = this.into(to);
    if (old) this.remove(old);
    const wire: Wire = { id: this.newId('w'), from, to, ...(more.off && { off: true as const }) };
    this.open(from, 'out');
    this.open(to, 'in');
    this.tx.add('wires', wire);
    this.note(wire.id, wire);
    this.fitRow(to);
    return wire;
  }

  disconnect(wire: Wire): void {
    this.remove(wire);
    this.fitRow(wire.to);
  }

  /** Gives a wire another end, or both; it stays the same wire. A wire at the new input gives way. */
  carry(wire: Wire, ends: { readonly from?: PortRef; readonly to?: PortRef }): void {
    this.carryAll([{ wire, ...ends }]);
  }

  /** The same for several at once, which may take one another’s places. */
  carryAll(moves: readonly { readonly wire: Wire; readonly from?: PortRef; readonly to?: PortRef }[]): void {
    const moved = new Set(moves.map(({ wire }) => wire.id));
    for (const { to } of moves) {
      const old = to && this.into(to);
      if (old && !moved.has(old.id)) this.remove(old);
    }
    for (const { wire, from = wire.from, to = wire.to } of moves) {
      this.open(from, 'out');
      this.open(to, 'in');
      this.tx.set('wires', wire.id, 'from', from);
      this.tx.set('wires', wire.id, 'to', to);
      this.note(wire.id, { ...wire, from, to });
    }
    for (const { wire, to } of moves) {
      if (!to) continue;
      this.fitRow(to);
      this.fitRow(wire.to);
    }
  }

  /** Switches a wire off, or on again. */
  switch(wire: Wire, off: boolean): void {
    const { off: _, ...rest } = wire;
    this.tx.set('wires', wire.id, 'off', off || undefined);
    this.note(wire.id, { ...rest, ...(off && { off: true as const }) });
  }

  /** The same without a look at the row of its input, for wires that another one follows. */
  remove(wire: Wire): void {
    this.tx.remove('wires', wire.id);
    this.note(wire.id, undefined);
  }

  /**
   * Makes a component of a compound port a port of its own, behind the whole and the components that stand before it.
   */
  open({ node: id, port }: PortRef, direction: 'in' | 'out'): void {
    const node = this.tx.get('nodes', id) as GraphNode;
    if (portOf(node, port, direction)) return;
    const part = portOrPart(this.kinds, node, port, direction);
    const whole = part && portOf(node, must(part.of), direction);
    if (!part || !whole) return;
    const order = this.kinds.parts(whole).map((one) => one.id);
    const later = (own: Port): boolean =>
      own.direction !== direction ||
      (own.id !== whole.id && (own.of !== whole.id || order.indexOf(own.id) > order.indexOf(port)));
    const place = node.ports.findIndex((own, i) => i > node.ports.indexOf(whole) && later(own));
    const at = place < 0 ? node.ports.length : place;
    this.tx.set('nodes', id, 'ports', [...node.ports.slice(0, at), part, ...node.ports.slice(at)]);
  }

  /** Takes components that are not wired away again. */
  close(id: Id): void {
    const node = this.tx.get('nodes', id) as GraphNode;
    const wired = new Set(
      this.of(id).flatMap((wire) => [
        ...(wire.to.node === id ? [`in ${wire.to.port}`] : []),
        ...(wire.from.node === id ? [`out ${wire.from.port}`] : []),
      ]),
    );
    const ports = node.ports.filter((port) => port.of === undefined || wired.has(`${port.direction} ${port.id}`));
    if (ports.length < node.ports.length) this.tx.set('nodes', id, 'ports', ports);
  }

  /** A growing input has an open port at the end of its row, and no second one. */
  fitRow({ node: id, port }: PortRef): void {
    const node = this.tx.get('nodes', id);
    const growing = node && this.kinds.growingRow(node, portOf(node, port, 'in')?.of ?? port);
    if (!node || !growing) return;
    const isTaken = (one: Port): boolean =>
      this.into({ node: id, port: one.id }) !== undefined ||
      node.ports.some((part) => part.of === one.id && this.into({ node: id, port: part.id }) !== undefined);
    const { row, least } = growing;
    if (row.length > 0 && row.every(isTaken)) {
      const grown = must(this.kinds.grownPort(node, must(row[0]).id));
      const end = must(row.at(-1));
      const last = node.ports.findLastIndex(
        (one) => one.direction === 'in' && (one.id === end.id || one.of === end.id),
      );
      this.tx.set('nodes', id, 'ports', [...node.ports.slice(0, last + 1), grown, ...node.ports.slice(last + 1)]);
      return;
    }
    let length = row.length;
    while (length > least && length > 1 && !isTaken(must(row[length - 1])) && !isTaken(must(row[length - 2]))) length--;
    const gone = new Set(row.slice(length).map((one) => one.id));
    if (gone.size > 0)
      this.tx.set(
        'nodes',
        id,
        'ports',
        node.ports.filter(
          (one) => one.direction !== 'in' || !(gone.has(one.id) || (one.of !== undefined && gone.has(one.of))),
        ),
      );
  }
}
