import { builtin } from '../document/builtin.ts';
import { type Doc, indexOf } from '../document/doc.ts';
import type { Id } from '../document/ids.ts';
import { portAt } from '../document/port-at.ts';
import type { GraphNode, PortRef } from '../document/schema.ts';
import { typeName } from './materialx-shape.ts';

/** The types of what outputs give, as MaterialX calls them; `hosts` are the nodes that hold graphs, by graph. */
export class OutputTypes {
  private readonly doc: Doc;
  private readonly hosts: ReadonlyMap<Id, GraphNode>;
  private readonly index: ReturnType<typeof indexOf>;
  /** Those that are known by now, by node and port. */
  private readonly known = new Map<string, string>();

  constructor(doc: Doc, hosts: ReadonlyMap<Id, GraphNode>) {
    this.doc = doc;
    this.hosts = hosts;
    this.index = indexOf(doc);
  }

  /** The type of what an output gives: what passes on anything has that of what it gets. */
  at(ref: PortRef): string {
    // each output on the way is asked once: chains of what passes on anything are long
    const passed: string[] = [];
    let type = 'any';
    for (let at: PortRef | undefined = ref; at; ) {
      const key = `${at.node} ${at.port}`;
      const known = this.known.get(key);
      if (known !== undefined) {
        type = known;
        break;
      }
      this.known.set(key, 'any');
      passed.push(key);
      const node: GraphNode | undefined = this.doc.nodes.get(at.node);
      const own: string = (node && portAt(node.ports, at.port, 'out')?.type) ?? 'any';
      if (own !== 'any' || !node) {
        type = typeName(own);
        break;
      }
      at = this.before(node, at.port);
    }
    for (const key of passed) this.known.set(key, type);
    return type;
  }

  private before(node: GraphNode, port: string): PortRef | undefined {
    if (node.kind === builtin.input) {
      const host = this.hosts.get(node.graph);
      return host && this.index.wireInto(host.id, node.id)?.from;
    }
    return (
      this.index.wireInto(node.id, node.inner === undefined ? 'in' : port)?.from ??
      (node.inner === undefined ? undefined : this.index.wireInto(port, 'in')?.from)
    );
  }
}
