import { builtin } from '@basitax/core/document/builtin';
import { type Doc, emptyDoc } from '@basitax/core/document/doc';
import { type Id, idMaker, type Random, seededRandom } from '@basitax/core/document/ids';
import type { Json } from '@basitax/core/document/json';
import { Kinds } from '@basitax/core/document/kinds';
import { freeName, legalName } from '@basitax/core/document/names';
import type { Frame, Graph, GraphNode, Note, Wire } from '@basitax/core/document/schema';
import { catalogue } from './catalogue.ts';

export const kinds = new Kinds(catalogue);

export interface NodeOptions {
  readonly label?: string;
  readonly params?: Record<string, Json>;
  readonly frame?: Id | undefined;
  readonly bypassed?: boolean;
}

/** Builds a document by hand or by seed; what it makes is whole: names free, one wire an input, types that fit. */
export class Builder {
  readonly random: Random;
  private readonly newId: (prefix: string) => Id;
  private readonly graphs = new Map<Id, Graph>();
  private readonly nodes = new Map<Id, GraphNode>();
  private readonly frames = new Map<Id, Frame>();
  private readonly wires = new Map<Id, Wire>();
  private readonly notes = new Map<Id, Note>();
  private readonly taken = new Map<Id, Set<string>>();
  private readonly inputs = new Set<string>();
  private readonly base: Doc;

  constructor(id: string, title: string, seed: number) {
    this.random = seededRandom(seed);
    this.newId = idMaker(seed);
    this.base = emptyDoc(id, title, { id: catalogue.id, version: catalogue.version });
    this.graphs.set('root', { id: 'root', name: title });
    this.taken.set('root', new Set());
  }

  get doc(): Doc {
    return {
      ...this.base,
      graphs: this.graphs,
      nodes: this.nodes,
      frames: this.frames,
      wires: this.wires,
      notes: this.notes,
    };
  }

  get count(): number {
    return this.nodes.size;
  }

  pick<T>(list: readonly T[]): T {
    return list[Math.floor(this.random() * list.length)] as T;
  }

  /** A number from a to b. */
  between(a: number, b: number): number {
    return a + (b - a) * this.random();
  }

  chance(share: number): boolean {
    return this.random() < share;
  }

  node(graph: Id, kind: string, name: string, x: number, y: number, options: NodeOptions = {}): Id {
    const id = this.newId('n');
    const node: GraphNode = {
      id,
      graph,
      kind,
      name: freeName(legalName(name), this.taken.get(graph)!),
      ...(options.label && { label: options.label }),
      x: Math.round(x),
      y: Math.round(y),
      ...(options.frame && { frame: options.frame }),
      ...(options.bypassed && { bypassed: true as const }),
      ports: kinds.startPorts(kind),
      ...(options.params && { params: options.params }),
    };
    this.nodes.set(id, node);
    return id;
  }

  frame(graph: Id, title: string, x: number, y: number, parent?: Id): Id {
    const id = this.newId('f');
    this.frames.set(id, { id, graph, title, ...(parent && { parent }), x, y, width: 240, height: 160 });
    return id;
  }

  note(graph: Id, text: string, x: number, y: number): void {
    const id = this.newId('t');
    this.notes.set(id, { id, graph, x: Math.round(x), y: Math.round(y), width: 220, height: 72, text });
  }

  /**
   * Wires `port` of one node to `input` of another; false where the input has a wire or the types do not fit. Growing
   * inputs grow.
   */
  wire(from: Id, port: string, to: Id, input: string): boolean {
    const [source, target] = [this.nodes.get(from)!, this.nodes.get(to)!];
    const output = source.ports.find((one) => one.direction === 'out' && one.id === port);
    const slot = target.ports.find((one) => one.direction === 'in' && one.id === input);
    if (!output || !slot || kinds.refusal(slot, output) || this.inputs.has(`${to} ${input}`)) return false;
    this.inputs.add(`${to} ${input}`);
    const id = this.newId('w');
    this.wires.set(id, { id, from: { node: from, port }, to: { node: to, port: input } });
    const grown = kinds.grownPort(target, input);
    if (
      grown &&
      target.ports
        .filter((one) => one.direction === 'in' && one.id.replace(/\d+$/, '') === grown.id.replace(/\d+$/, ''))
        .every((one) => this.inputs.has(`${to} ${one.id}`))
    ) {
      const last = target.ports.findLastIndex((one) => one.direction === 'in');
      this.nodes.set(to, {
        ...target,
        ports: [...target.ports.slice(0, last + 1), grown, ...target.ports.slice(last + 1)],
      });
    }
    return true;
  }

  /** Wires an output to the first free input that fits. */
  feed(from: Id, port: string, to: Id): boolean {
    return this.nodes.get(to)!.ports.some((one) => one.direction === 'in' && this.wire(from, port, to, one.id));
  }

  /** A nested graph with its host; the ports follow from the boundary nodes that are made with `boundary`. */
  nested(graph: Id, name: string, x: number, y: number, options: NodeOptions = {}): { host: Id; inner: Id } {
    const inner = this.newId('g');
    this.graphs.set(inner, { id: inner, name });
    this.taken.set(inner, new Set());
    const host = this.node(graph, builtin.nested, name, x, y, options);
    this.nodes.set(host, { ...this.nodes.get(host)!, inner });
    return { host, inner };
  }

  boundary(host: Id, direction: 'in' | 'out', name: string, type: string, x: number, y: number): Id {
    const hostNode = this.nodes.get(host)!;
    const id = this.node(hostNode.inner!, direction === 'in' ? builtin.input : builtin.output, name, x, y);
    const node = this.nodes.get(id)!;
    this.nodes.set(id, { ...node, ports: node.ports.map((port) => ({ ...port, type })) });
    this.nodes.set(host, { ...hostNode, ports: [...hostNode.ports, { id, name: node.name, type, direction }] });
    return id;
  }

  remote(graph: Id, name: string, x: number, y: number, frame?: Id): Id {
    return this.node(graph, builtin.beacon, name, x, y, { frame });
  }

  /** A beacon for an output, wired to it, in the graph and frame of its node. */
  linked(from: Id, port: string, name: string, x: number, y: number): Id {
    const source = this.nodes.get(from)!;
    const beacon = this.remote(source.graph, name, x, y, source.frame);
    this.wire(from, port, beacon, 'in');
    return beacon;
  }

  /** A tap whose beacon is gone. */
  stray(graph: Id, name: string, x: number, y: number, frame?: Id): Id {
    const id = this.node(graph, builtin.tap, `${name}_tap`, x, y, { frame });
    this.nodes.set(id, { ...this.nodes.get(id)!, beacon: { id: 'deleted', name } });
    return id;
  }

  /** A standing feed behind an output, in a frame or for the whole graph. */
  standing(from: Id, port: string, types: string, x: number, y: number, frame?: Id): Id {
    const source = this.nodes.get(from)!;
    const feed = this.node(source.graph, builtin.feed, `${source.name}_feed`, x, y, { frame, params: { types } });
    this.wire(from, port, feed, 'in');
    return feed;
  }

  /** The first output of a node. */
  outputOf(id: Id): string {
    return this.nodes.get(id)!.ports.find((port) => port.direction === 'out')!.id;
  }

  tap(graph: Id, beacon: Id, x: number, y: number, frame?: Id): Id {
    const name = this.nodes.get(beacon)!.name;
    const id = this.node(graph, builtin.tap, `${name}_tap`, x, y, { frame });
    this.nodes.set(id, { ...this.nodes.get(id)!, beacon: { id: beacon, name } });
    return id;
  }

  /** Puts an exact copy on top of a node, as a slip of the hand does. */
  stack(id: Id): Id {
    const node = this.nodes.get(id)!;
    const copy = this.node(node.graph, node.kind, node.name, node.x, node.y, { frame: node.frame });
    this.nodes.set(copy, { ...this.nodes.get(copy)!, ports: node.ports, ...(node.params && { params: node.params }) });
    return copy;
  }

  /** Sets how a node is drawn: closed, its port rule, caption, picture. */
  detail(id: Id, detail: Pick<GraphNode, 'closed' | 'show' | 'caption' | 'picture'>): void {
    this.nodes.set(id, { ...this.nodes.get(id)!, ...detail });
  }

  nodeKind(id: Id): string {
    return this.nodes.get(id)!.kind;
  }

  shift(id: Id, dx: number, dy: number): void {
    const node = this.nodes.get(id)!;
    this.nodes.set(id, { ...node, x: Math.round(node.x + dx), y: Math.round(node.y + dy) });
  }
}
