import type {
  ScriptFrame,
  ScriptGraph,
  ScriptNode,
  ScriptNodes,
  ScriptPort,
  ScriptRect,
  ScriptReport,
  ScriptSet,
  ScriptThing,
  ScriptValue,
  ScriptWire,
} from '../api.ts';
import type { NodeRow, PortRow } from '../bridge.ts';
import { objects } from './objects.ts';
import {
  ask,
  byId,
  captioned,
  kinds,
  moved,
  nodes,
  patch,
  portLists,
  root,
  ScriptError,
  sized,
  wiresAt,
} from './store.ts';

// Runs inside the sandbox: nodes, lists of nodes, and ports, over the rows in `store.ts`.

import { once } from './once.ts';
import { strict } from './strict.ts';

/** The node that was taken from a list last: what an error that names none is about. */
export const at: { node: string | undefined } = { node: undefined };

/** Does an operation of the registry in a graph. */
export function perform(
  operation: string,
  graph: string,
  items: readonly string[],
  options: object = {},
  node?: string,
): ScriptReport & { ids: readonly string[] } {
  const { summary, findings, made } = ask(
    { do: 'run', operation, graph, items: [...items], options: options as never },
    node,
  ) as {
    summary: string;
    findings: string[];
    made: string[];
  };
  return { summary, findings, ids: made, made: listOf(made.filter((id) => nodes.has(id))) };
}

class Nodes extends Array<ScriptNode> {
  // what is made of a list by map and the like is a plain one
  static override get [Symbol.species](): ArrayConstructor {
    return Array;
  }
  override *[Symbol.iterator](): ArrayIterator<ScriptNode> {
    for (let i = 0; i < this.length; i++) {
      const node = this[i]!;
      at.node = node.id;
      yield node;
    }
    at.node = undefined;
  }
  override forEach(use: (node: ScriptNode, i: number, all: ScriptNode[]) => void): void {
    let i = 0;
    for (const node of this) use(node, i++, this);
  }
  get bounds(): ScriptRect | undefined {
    if (this.length === 0) return undefined;
    let [left, top, right, bottom] = [Infinity, Infinity, -Infinity, -Infinity];
    for (let i = 0; i < this.length; i++) {
      const node = this[i]!;
      [left, top] = [Math.min(left, node.x), Math.min(top, node.y)];
      [right, bottom] = [Math.max(right, node.x + node.width), Math.max(bottom, node.y + node.height)];
    }
    return { x: left, y: top, width: right - left, height: bottom - top };
  }
  inFlowOrder(): ScriptNodes {
    const order = new Map((ask({ do: 'flow' }) as string[]).map((id, i) => [id, i]));
    const place = (node: ScriptNode): number => order.get(node.id) ?? order.size;
    return sorted(this, (a, b) => place(a) - place(b) || byId(a.id, b.id));
  }
  byPlace(): ScriptNodes {
    return sorted(this, (a, b) => a.x - b.x || a.y - b.y || byId(a.id, b.id));
  }
  having(parameter: string): ScriptNodes {
    return listOf([...this].filter((node) => node.has(parameter)).map((node) => node.id));
  }
  set(parameter: string, value: ScriptValue, how?: ScriptSet): number {
    let count = 0;
    for (const node of this) if (node.set(parameter, value, how)) count++;
    return count;
  }
  run(operation: string, options?: object): ScriptReport {
    return performOn(operation, [...this], options);
  }
  remove(how?: { heal?: boolean }): ScriptReport {
    return performOn(how?.heal === false ? 'delete-with-wires' : 'delete', [...this]);
  }
}

// what a node has, a list has not: a slip of the pen would otherwise be a property that nobody reads
for (const field of ['label', 'name', 'color', 'bypassed', 'pinned', 'x', 'y'])
  Object.defineProperty(Nodes.prototype, field, {
    set() {
      throw new ScriptError(
        `A list of nodes has no “${field}”; go through it: for (const node of nodes) node.${field} = …`,
      );
    },
    get() {
      throw new ScriptError(`A list of nodes has no “${field}”; ask its nodes one by one.`);
    },
  });

export function listOf(ids: readonly string[]): ScriptNodes {
  const list = new Nodes();
  for (const id of ids) list.push(nodeOf(id));
  return list as unknown as ScriptNodes;
}

const sorted = (list: Nodes, order: (a: ScriptNode, b: ScriptNode) => number): ScriptNodes =>
  listOf([...list].sort(order).map((node) => node.id));

/** An operation on things, which lie in one graph. */
export function performOn(operation: string, things: readonly ScriptThing[], options?: object): ScriptReport {
  const graph = things[0] === undefined ? undefined : graphOfThing(things[0]);
  const stranger = things.find((thing) => graphOfThing(thing) !== graph);
  if (stranger)
    throw new ScriptError(
      'An operation works in one graph; these lie in several. Go through file.graphs, one after the other.',
      stranger.id,
    );
  return perform(
    operation,
    graph ?? current.graph,
    things.map((thing) => thing.id),
    options,
  );
}

export const current = { graph: root };

function graphOfThing(thing: ScriptThing): string {
  return 'from' in thing ? thing.from.node.graph.id : thing.graph.id;
}

class PortModel implements ScriptPort {
  readonly node: ScriptNode;
  private readonly row: PortRow;
  constructor(node: ScriptNode, row: PortRow) {
    this.node = node;
    this.row = row;
  }
  get id(): string {
    return this.row.id;
  }
  get name(): string {
    return this.row.name;
  }
  get type(): string {
    return this.row.type;
  }
  get direction(): 'in' | 'out' {
    return this.row.direction;
  }
  get wires(): readonly ScriptWire[] {
    return wiresAt(this.row.direction, this.node.id, this.id).map(objects.wireOf);
  }
  connect(other: ScriptPort, how: { replace?: boolean } = {}): void {
    const [from, to] = (other as PortModel).direction === 'out' ? [other, this] : [this, other];
    const end = (port: ScriptPort): object => ({ node: port.node.id, port: port.id });
    perform(
      'connect',
      from.node.graph.id,
      [],
      { from: end(from), to: end(to), replace: how.replace === true },
      to.node.id,
    );
  }
  beacon(name?: string): ScriptNode {
    const { made } = perform(
      'beacon',
      this.node.graph.id,
      [this.node.id],
      { output: this.id, ...(name !== undefined && { name }) },
      this.node.id,
    );
    return made[0]!;
  }
}

class NodeModel implements ScriptNode {
  readonly id: string;
  constructor(id: string) {
    this.id = id;
  }
  private get row(): NodeRow {
    const row = nodes.get(this.id);
    if (!row) throw new ScriptError(`The node ${this.id} was deleted.`, this.id);
    return row;
  }
  private field(field: string, value: string | boolean): void {
    ask({ do: 'field', table: 'nodes', id: this.id, field, value }, this.id);
    const row =
      typeof value === 'boolean' ? { [field]: value || undefined } : { [field]: value === '' ? undefined : value };
    patch(nodes, this.id, row as Partial<NodeRow>);
    if (field === 'name' || field === 'label') captioned(this.id);
  }
  get kind(): string {
    return this.row.kind;
  }
  get kindTitle(): string {
    return kinds[this.row.kind]?.title ?? this.row.kind;
  }
  get name(): string {
    return this.row.name;
  }
  set name(name: string) {
    this.field('name', String(name));
  }
  get label(): string {
    return this.row.label ?? '';
  }
  set label(label: string) {
    this.field('label', String(label));
  }
  get x(): number {
    return this.row.x;
  }
  set x(x: number) {
    this.moveTo(x, this.row.y);
  }
  get y(): number {
    return this.row.y;
  }
  set y(y: number) {
    this.moveTo(this.row.x, y);
  }
  get width(): number {
    return sized(this.row).width;
  }
  get height(): number {
    return sized(this.row).height;
  }
  get bypassed(): boolean {
    return this.row.bypassed === true;
  }
  set bypassed(on: boolean) {
    this.field('bypassed', Boolean(on));
  }
  get pinned(): boolean {
    return this.row.pinned === true;
  }
  set pinned(on: boolean) {
    this.field('pinned', Boolean(on));
  }
  get color(): string | undefined {
    return this.row.color;
  }
  set color(color: string | undefined) {
    this.field('color', color ?? '');
  }
  get locked(): boolean {
    return this.row.locked === true;
  }
  get path(): string {
    const above = this.graph.host;
    return above ? `${above.path}/${this.name}` : this.name;
  }
  get graph(): ScriptGraph {
    return objects.graphOf(this.row.graph);
  }
  get frame(): ScriptFrame | undefined {
    return this.row.frame === undefined ? undefined : objects.frameOf(this.row.frame);
  }
  get inner(): ScriptGraph | undefined {
    return this.row.inner === undefined ? undefined : objects.graphOf(this.row.inner);
  }
  private ports(direction: 'in' | 'out'): ScriptPort[] {
    return (portLists[this.row.ports] ?? [])
      .filter((port) => port.direction === direction)
      .map((port) => new PortModel(this, port));
  }
  get inputs(): readonly ScriptPort[] {
    return this.ports('in');
  }
  get outputs(): readonly ScriptPort[] {
    return this.ports('out');
  }
  get parameters(): readonly string[] {
    return [
      ...new Set([
        ...Object.keys(kinds[this.row.kind]?.parameters ?? {}),
        ...Object.keys(this.row.params ?? {}),
        ...(this.row.opaque ?? []),
      ]),
    ];
  }
  get sources(): ScriptNodes {
    return listOf([...new Set(this.inputs.flatMap((port) => port.wires.map((wire) => wire.from.node.id)))]);
  }
  get targets(): ScriptNodes {
    return listOf([...new Set(this.outputs.flatMap((port) => port.wires.map((wire) => wire.to.node.id)))].sort(byId));
  }
  input(port: string): ScriptPort | undefined {
    return this.inputs.find((one) => one.id === port) ?? this.inputs.find((one) => one.name === port);
  }
  output(port: string): ScriptPort | undefined {
    return this.outputs.find((one) => one.id === port) ?? this.outputs.find((one) => one.name === port);
  }
  get(parameter: string): ScriptValue | undefined {
    const { params, opaque, kind } = this.row;
    if (opaque?.includes(parameter)) return undefined;
    return (params?.[parameter] ?? kinds[kind]?.parameters[parameter]) as ScriptValue | undefined;
  }
  has(parameter: string): boolean {
    return this.parameters.includes(parameter);
  }
  isSet(parameter: string): boolean {
    return this.row.params?.[parameter] !== undefined || this.row.opaque?.includes(parameter) === true;
  }
  set(parameter: string, value: ScriptValue, how: ScriptSet = {}): boolean {
    if (value === undefined)
      throw new ScriptError(
        `“${this.name}”: a parameter cannot be set to undefined; reset("${parameter}") takes it back to the default.`,
        this.id,
      );
    return this.write(parameter, value, how);
  }
  reset(parameter: string): boolean {
    return this.write(parameter, undefined, {});
  }
  private write(parameter: string, value: ScriptValue | undefined, how: ScriptSet): boolean {
    const isDone =
      ask(
        {
          do: 'set',
          node: this.id,
          parameter,
          ...(value !== undefined && { value: value as never }),
          must: how.must,
          replace: how.replace,
        },
        this.id,
      ) === true;
    if (!isDone) return false;
    const { [parameter]: _old, ...rest } = this.row.params ?? {};
    const opaque = this.row.opaque?.filter((one) => one !== parameter) ?? [];
    patch(nodes, this.id, { params: value === undefined ? rest : { ...rest, [parameter]: value as never }, opaque });
    return true;
  }
  moveTo(x: number, y: number): void {
    const place = ask({ do: 'move', node: this.id, x, y }, this.id) as { x: number; y: number };
    patch(nodes, this.id, place);
    moved();
  }
  placeBeside(other: ScriptNode, where: 'right' | 'left' | 'above' | 'below' = 'right', gap = 40): void {
    const middle = { x: other.x + (other.width - this.width) / 2, y: other.y + (other.height - this.height) / 2 };
    if (where === 'right') this.moveTo(other.x + other.width + gap, middle.y);
    else if (where === 'left') this.moveTo(other.x - this.width - gap, middle.y);
    else if (where === 'below') this.moveTo(middle.x, other.y + other.height + gap);
    else this.moveTo(middle.x, other.y - this.height - gap);
  }
  connect(to: ScriptNode, ports: { output?: string; input?: string; replace?: boolean } = {}): void {
    const named = (node: ScriptNode, side: 'input' | 'output', port: string | undefined): object => {
      if (port === undefined) return { node: node.id };
      const found = node[side](port);
      if (!found) throw new ScriptError(`“${node.name}” has no ${side} “${port}”.`, node.id);
      return { node: node.id, port: found.id };
    };
    perform(
      'connect',
      this.row.graph,
      [],
      {
        from: named(this, 'output', ports.output),
        to: named(to, 'input', ports.input),
        replace: ports.replace === true,
      },
      this.id,
    );
  }
  become(kind: string): ScriptReport {
    return perform('replace-kind', this.row.graph, [this.id], { kind }, this.id);
  }
  remove(how?: { heal?: boolean }): ScriptReport {
    return perform(how?.heal === false ? 'delete-with-wires' : 'delete', this.row.graph, [this.id], {}, this.id);
  }
}
strict(PortModel.prototype, 'A port');
strict(NodeModel.prototype, 'A node');

export const nodeOf = once((id): ScriptNode => new NodeModel(id));

export function portOf(side: 'in' | 'out', [node, port]: readonly [string, string]): ScriptPort {
  const row = nodes.get(node)!;
  return new PortModel(
    nodeOf(node),
    portLists[row.ports]?.find((one) => one.id === port && one.direction === side) ?? {
      id: port,
      name: port,
      type: 'any',
      direction: side,
    },
  );
}
