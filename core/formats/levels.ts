import { builtin } from '../document/builtin.ts';
import type { Id } from '../document/ids.ts';
import { freeName, legalName } from '../document/names.ts';
import type { Graph, GraphNode, Port, PortRef, Wire } from '../document/schema.ts';
import type { Finding } from '../finding.ts';
import { must } from '../must.ts';
import { PortRow } from './port-row.ts';
import { find } from './sentences.ts';

/** A wire as another program wrote it: its ends may name no port, a port with a wire, or a node of another level. */
export interface LooseWire {
  readonly id: Id;
  readonly source: string;
  readonly target: string;
  readonly sourcePort: string | undefined;
  readonly targetPort: string | undefined;
  readonly from: Id | undefined;
  readonly to: Id | undefined;
  /** Asked once all nodes are read, since an edge may stand before its ends. */
  readonly late: () => [Id | undefined, Id | undefined];
  readonly extra: Partial<Wire>;
}

interface Hooks {
  claim(wanted: string): Id;
  tell(finding: Finding): void;
}

/**
 * Makes wires of what was read: gives ports their sides by the edges at them, makes ports for ends that name none, a
 * further port for a second wire into one input, and boundary nodes where an edge crosses levels. Changes `nodes`; says
 * what it made.
 * O(wires · depth).
 */
export function bridgeLevels(
  loose: readonly LooseWire[],
  nodes: Map<Id, GraphNode>,
  graphs: ReadonlyMap<Id, Graph>,
  root: Id,
  hooks: Hooks,
): { wires: Map<Id, Wire>; made: readonly Id[] } {
  return new Bridge(nodes, graphs, root, hooks).run(loose);
}

/** Gives ids that are free: the one that is wanted, or one with a number behind. */
export function idClaimer(taken: Iterable<string>): (wanted: string) => Id {
  const used = new Set(taken);
  const next = new Map<string, number>();
  return (wanted) => {
    const base = wanted.slice(0, 190) || 'node';
    let id = base;
    for (let k = next.get(base) ?? 2; used.has(id); k++) {
      id = `${base}~${k}`;
      next.set(base, k + 1);
    }
    used.add(id);
    return id;
  };
}

class Bridge {
  private readonly nodes: Map<Id, GraphNode>;
  private readonly root: Id;
  private readonly hooks: Hooks;
  private readonly ports = new Map<Id, PortRow>();
  private readonly hosts = new Map<Id, Id>();
  private readonly names = new Map<Id, Set<string>>();
  private readonly takenInputs = new Map<Id, Set<string>>();
  private readonly levelsOf = new Map<Id, readonly Id[]>();
  private readonly boundaries = new Map<string, PortRef>();
  private readonly wires = new Map<Id, Wire>();
  /** Boundary nodes that were made here, and so have no place yet. */
  private readonly made: Id[] = [];

  constructor(nodes: Map<Id, GraphNode>, graphs: ReadonlyMap<Id, Graph>, root: Id, hooks: Hooks) {
    this.nodes = nodes;
    this.root = root;
    this.hooks = hooks;
    for (const graph of graphs.keys()) this.names.set(graph, new Set());
    for (const node of nodes.values()) {
      this.ports.set(node.id, new PortRow(node.ports));
      this.names.get(node.graph)?.add(node.name);
      if (node.inner !== undefined) this.hosts.set(node.inner, node.id);
    }
  }

  run(loose: readonly LooseWire[]): { wires: Map<Id, Wire>; made: readonly Id[] } {
    const known = loose.flatMap((edge) => {
      const [from, to] = edge.late();
      if (from !== undefined && to !== undefined && this.nodes.has(from) && this.nodes.has(to))
        return [{ edge, from, to }];
      const missing = from === undefined || !this.nodes.has(from) ? edge.source : edge.target;
      this.hooks.tell(find('wire-to-nothing', 'warning', [edge.id], 'edge-to-nothing', { edge: edge.id, missing }));
      return [];
    });
    this.decideSides(known);
    for (const { edge, from, to } of known) this.wire(edge, from, to);
    for (const [id, row] of this.ports) {
      const node = must(this.nodes.get(id));
      const ports = row.all();
      if (ports.length !== node.ports.length || ports.some((port, i) => port !== node.ports[i]))
        this.nodes.set(id, { ...node, ports });
    }
    return { wires: this.wires, made: this.made };
  }

  /**
   * A foreign port lies on the side that its edges say: in where they enter, out where they leave, both where both do.
   */
  private decideSides(known: readonly { edge: LooseWire; from: Id; to: Id }[]): void {
    const open = [...this.ports].filter(([, row]) => row.all().some((port) => 'undecided' in port));
    if (open.length === 0) return;
    const leaves = new Set(known.map(({ edge, from }) => `${from} ${edge.sourcePort}`));
    const enters = new Set(known.map(({ edge, to }) => `${to} ${edge.targetPort}`));
    for (const [id, row] of open) {
      const decided = row.all().flatMap((port): Port[] => {
        if (!('undecided' in port)) return [port];
        const { undecided: _, ...rest } = port as Port & { undecided: true };
        const key = `${id} ${port.id}`;
        if (!leaves.has(key)) return [{ ...rest, direction: 'in' }];
        const out: Port = { ...rest, direction: 'out' };
        return enters.has(key) ? [{ ...rest, direction: 'in' }, out] : [out];
      });
      this.ports.set(id, new PortRow(decided));
    }
  }

  private output(node: Id, wanted: string | undefined): string {
    const row = must(this.ports.get(node));
    const known = wanted === undefined ? row.unnamedOutput() : row.get('out', wanted);
    if (known) return known.id;
    const id = wanted ?? row.free('out', 'out');
    row.add({ id, name: id, type: 'any', direction: 'out', ...(wanted === undefined && { foreign: '' }) });
    return id;
  }

  /** An input that is free: the one named, or one more where it has a wire already. */
  private input(node: Id, wanted: string | undefined): string {
    const row = must(this.ports.get(node));
    if (wanted === undefined) {
      const id = row.free('in', 'in');
      row.add({ id, name: id, type: 'any', direction: 'in', foreign: '' });
      return id;
    }
    const known = row.get('in', wanted);
    const port: Port = known ?? { id: wanted, name: wanted, type: 'any', direction: 'in' };
    if (!known) row.add(port);
    if (!this.takenInputs.get(node)?.has(wanted)) return wanted;
    const id = row.free('in', `${wanted}~2`);
    row.addBehind(port, { id, name: wanted, type: known?.type ?? 'any', direction: 'in', foreign: wanted });
    this.hooks.tell(find('second-wire', 'info', [node], 'input-multiplied', { port: wanted, node }));
    return id;
  }

  /** The graphs that a graph lies in, from the outermost to itself. */
  private levels(graph: Id): readonly Id[] {
    const known = this.levelsOf.get(graph);
    if (known) return known;
    const path = [graph];
    for (
      let host = this.hosts.get(graph);
      host !== undefined && graph !== this.root;
      host = this.hosts.get(path[0] as Id)
    ) {
      const above = (this.nodes.get(host) as GraphNode).graph;
      if (path.includes(above)) break;
      path.unshift(above);
    }
    this.levelsOf.set(graph, path);
    return path;
  }

  private wire(edge: LooseWire, from: Id, to: Id): void {
    const [fromLevels, toLevels] = [
      this.levels(must(this.nodes.get(from)).graph),
      this.levels(must(this.nodes.get(to)).graph),
    ];
    let common = 0;
    while (common < Math.min(fromLevels.length, toLevels.length) && fromLevels[common] === toLevels[common]) common++;
    let source: PortRef = { node: from, port: this.output(from, edge.sourcePort) };
    if (fromLevels.length !== common || toLevels.length !== common)
      this.hooks.tell(find('wire-over-border', 'info', [edge.id], 'edge-over-border', { edge: edge.id }));
    for (let level = fromLevels.length - 1; level >= common; level--)
      source = this.leave(source, fromLevels[level] as Id);
    for (let level = common; level < toLevels.length; level++) source = this.enter(source, toLevels[level] as Id);
    this.add(edge.id, source, { node: to, port: this.input(to, edge.targetPort) }, edge.extra);
  }

  private add(id: Id, from: PortRef, to: PortRef, extra: Partial<Wire> = {}): void {
    const taken = this.takenInputs.get(to.node);
    if (taken) taken.add(to.port);
    else this.takenInputs.set(to.node, new Set([to.port]));
    this.wires.set(id, { id, from, to, ...extra });
  }

  private boundary(kind: string, graph: Id, wanted: string): GraphNode {
    const id = this.hooks.claim(`${graph}:${wanted}`);
    const name = freeName(legalName(wanted), must(this.names.get(graph)));
    const direction = kind === builtin.input ? 'out' : 'in';
    const node: GraphNode = { id, graph, kind, name, x: 0, y: 0, ports: [] };
    this.nodes.set(id, node);
    this.made.push(id);
    this.ports.set(id, new PortRow([{ id: direction, name: direction, type: 'any', direction }]));
    const host = this.hosts.get(graph) as Id;
    must(this.ports.get(host)).add({ id, name, type: 'any', direction: kind === builtin.input ? 'in' : 'out' });
    return node;
  }

  /** Leads an output out of its graph, once for all its edges. */
  private leave(source: PortRef, graph: Id): PortRef {
    const key = JSON.stringify(['out', source.node, source.port]);
    let outer = this.boundaries.get(key);
    if (!outer) {
      const node = this.boundary(builtin.output, graph, `out_${source.port}`);
      this.add(this.hooks.claim(`${node.id}:wire`), source, { node: node.id, port: 'in' });
      outer = { node: this.hosts.get(graph) as Id, port: node.id };
      this.boundaries.set(key, outer);
    }
    return outer;
  }

  /** Leads an output into a nested graph, once for all its edges there. */
  private enter(source: PortRef, graph: Id): PortRef {
    const key = JSON.stringify(['in', source.node, source.port, graph]);
    let inner = this.boundaries.get(key);
    if (!inner) {
      const node = this.boundary(builtin.input, graph, `in_${source.port}`);
      this.add(this.hooks.claim(`${node.id}:wire`), source, { node: this.hosts.get(graph) as Id, port: node.id });
      inner = { node: node.id, port: 'out' };
      this.boundaries.set(key, inner);
    }
    return inner;
  }
}
