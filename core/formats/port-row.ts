import { stemOf } from '../document/kinds.ts';
import type { Port } from '../document/schema.ts';

type Direction = Port['direction'];

/** The ports of a node while edges of another program are read into it: each question and each further port in O(1). */
export class PortRow {
  private readonly ports: Port[] = [];
  private readonly known = new Map<string, Port>();
  /** Further ports for an input, the latest first, as they stand behind it. */
  private readonly behind = new Map<Port, Port[]>();
  private readonly next = new Map<string, number>();
  private unnamed: Port | undefined;

  constructor(ports: readonly Port[]) {
    for (const port of ports) this.add(port);
  }

  get(direction: Direction, id: string): Port | undefined {
    return this.known.get(`${direction} ${id}`);
  }

  /** The output that edges take which name none. */
  unnamedOutput(): Port | undefined {
    return this.unnamed;
  }

  add(port: Port): void {
    this.ports.push(port);
    this.note(port);
  }

  /** Puts a port directly behind one that is there. */
  addBehind(before: Port, port: Port): void {
    const list = this.behind.get(before);
    if (list) list.push(port);
    else this.behind.set(before, [port]);
    this.note(port);
  }

  private note(port: Port): void {
    const key = `${port.direction} ${port.id}`;
    if (!this.known.has(key)) this.known.set(key, port);
    if (port.direction === 'out' && port.foreign === '') this.unnamed ??= port;
  }

  /** An id that is free on a side: the one that is wanted, or one with a number behind. */
  free(direction: Direction, wanted: string): string {
    if (!this.get(direction, wanted)) return wanted;
    const stem = stemOf(wanted);
    const key = `${direction} ${stem}`;
    let number = this.next.get(key) ?? 2;
    while (this.get(direction, `${stem}${number}`)) number++;
    this.next.set(key, number + 1);
    return `${stem}${number}`;
  }

  /** All ports in their order. O(ports). */
  all(): Port[] {
    if (this.behind.size === 0) return [...this.ports];
    return this.ports.flatMap((port) => [port, ...[...(this.behind.get(port) ?? [])].reverse()]);
  }
}
