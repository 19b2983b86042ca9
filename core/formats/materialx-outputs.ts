import type { Id } from '../document/ids.ts';
import type { GraphNode } from '../document/schema.ts';
import { must } from '../must.ts';
import { type Fields, keptOf, type Said } from './materialx-shape.ts';
import { PortRow } from './port-row.ts';
import type { XmlTree } from './xml.ts';

/** Something that lies in a graph of a MaterialX file. */
export interface Item {
  readonly element: XmlTree;
  readonly what: 'node' | 'host' | 'boundary' | 'frame';
  readonly name: string;
  readonly id: Id;
  /** What lies in it. */
  readonly inner?: Scope;
  readonly isImplied?: true;
}

/** A graph of such a file, while it is read. */
export interface Scope {
  readonly graph: Id;
  readonly items: Item[];
  readonly byName: Map<string, Item>;
  /** What carries data in, which a definition may name like a node. */
  readonly inputs: Map<string, Item>;
  readonly kept: XmlTree[];
  /** What is said of inputs that are implied. */
  readonly implied: Readonly<Record<string, Fields>>;
  /** The inputs of its definition, in their order. */
  readonly defined: readonly string[];
}

/** The outputs of a node, or of the graph that it holds. */
interface Known {
  readonly element: XmlTree;
  readonly named: ReadonlyMap<string, XmlTree>;
  /** Those of a nested graph, by name. */
  readonly within: ReadonlyMap<string, Item> | undefined;
  readonly ports: PortRow;
  first: Id | undefined;
  /** Does a connection name one that its element does not? */
  isUndeclared: boolean;
}

/** The outputs that an element names itself. */
const isOut = ({ attributes }: XmlTree, output: string): boolean => attributes.type !== 'none' && output === 'out';

/** The outputs of nodes while connections are read, which may tell of more of them. `nodes` is changed. */
export class Outputs {
  private readonly nodes: Map<Id, GraphNode>;
  private readonly said: (element: XmlTree | undefined) => Said;
  private readonly known = new Map<Id, Known>();

  constructor(nodes: Map<Id, GraphNode>, said: (element: XmlTree | undefined) => Said) {
    this.nodes = nodes;
    this.said = said;
  }

  /**
   * The output that a connection means: the one named, else the first. One that its node does not name is known by what
   * leads to it.
   */
  portOf(from: Item, output: string | undefined, type: string): string {
    const outputs = this.outputsOf(from);
    if (outputs.within) {
      const [first] = outputs.within.values();
      return ((output === undefined ? undefined : outputs.within.get(output)) ?? first)?.id ?? 'out';
    }
    const { ports, element } = outputs;
    const named = output === undefined ? undefined : outputs.named.get(output);
    const id = this.said(named).port ?? output ?? outputs.first ?? 'out';
    const isDeclared =
      output === undefined ||
      (element.attributes.type === 'multioutput' ? named !== undefined : isOut(element, output));
    if (!ports.get('out', id)) {
      ports.add({ id, name: id, type: type.slice(0, 100), direction: 'out' });
      outputs.first ??= id;
    }
    if (!isDeclared) outputs.isUndeclared = true;
    return id;
  }

  /** What is known of the outputs of something, gathered once: files of others have nodes with thousands of them. */
  private outputsOf(from: Item): Known {
    const known = this.known.get(from.id);
    if (known) return known;
    const { element } = from;
    const { ports } = must(this.nodes.get(from.id));
    const named = new Map<string, XmlTree>();
    for (const child of element.children) {
      const { name } = child.attributes;
      if (child.tag === 'output' && name !== undefined && !named.has(name)) named.set(name, child);
    }
    let within: Map<string, Item> | undefined;
    if (from.inner) {
      within = new Map();
      for (const item of from.inner.items)
        if (item.element.tag === 'output' && !within.has(item.name)) within.set(item.name, item);
    }
    const made: Known = {
      element,
      named,
      within,
      ports: new PortRow(ports),
      first: ports.find((port) => port.direction === 'out')?.id,
      isUndeclared: false,
    };
    this.known.set(from.id, made);
    return made;
  }

  /** Gives nodes the outputs that only connections told of. */
  add(): void {
    for (const [id, { ports, element, within, isUndeclared }] of this.known) {
      if (within) continue;
      const node = must(this.nodes.get(id));
      const type = element.attributes.type ?? 'multioutput';
      this.nodes.set(id, {
        ...node,
        ports: ports.all(),
        ...(isUndeclared && { mtlx: { ...keptOf(node), type } }),
      } as GraphNode);
    }
  }
}
