import type {
  ScriptFrame,
  ScriptGraph,
  ScriptNode,
  ScriptNodeParameter,
  ScriptNodeSet,
  ScriptNodes,
  ScriptPort,
  ScriptReport,
  ScriptSet,
  ScriptValue,
} from '../api.ts';
import type { NodeRow } from '../bridge.ts';
import { listOf, reach } from './lists.ts';
import { objects } from './objects.ts';
import { perform } from './perform.ts';
import { PortModel } from './ports.ts';
import { ask, byId, captioned, kinds, moved, nodes, patch, portLists, ScriptError, sets, sized } from './store.ts';

// Runs inside the sandbox: nodes, lists of nodes, and ports, over the rows in `store.ts`.

import { parameterOf } from './catalogue.ts';
import { once } from './once.ts';
import { strict } from './strict.ts';

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
  set locked(on: boolean) {
    if (on !== this.locked) this.act(on ? 'lock' : 'unlock');
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
        ...Object.keys(this.row.opaque ?? {}),
      ]),
    ];
  }
  private get ends(): { sources: string[]; consumers: string[] } {
    return ask({ do: 'ends', node: this.row.id }, this.id) as { sources: string[]; consumers: string[] };
  }
  get sources(): ScriptNodes {
    return listOf(this.ends.sources);
  }
  get consumers(): ScriptNodes {
    return listOf(this.ends.consumers);
  }
  get wiredFrom(): ScriptNodes {
    return listOf([...new Set(this.inputs.flatMap((port) => port.wires.map((wire) => wire.from.node.id)))]);
  }
  get wiredTo(): ScriptNodes {
    return listOf([...new Set(this.outputs.flatMap((port) => port.wires.map((wire) => wire.to.node.id)))].sort(byId));
  }
  upstream(steps?: number): ScriptNodes {
    return reach([this], false, steps);
  }
  downstream(steps?: number): ScriptNodes {
    return reach([this], true, steps);
  }
  private get links(): { beacon: string | null; taps: string[] } {
    return ask({ do: 'links', node: this.row.id }, this.id) as { beacon: string | null; taps: string[] };
  }
  get beacon(): ScriptNode | undefined {
    const { beacon } = this.links;
    return beacon === null ? undefined : nodeOf(beacon);
  }
  get taps(): ScriptNodes {
    return listOf(this.links.taps);
  }
  listenTo(beacon: ScriptNode): ScriptReport {
    return this.act('retune', { beacon: beacon.id });
  }
  get sets(): readonly ScriptNodeSet[] {
    const own = this.row.sets ?? [];
    return sets.filter((set) => own.includes(set.id)).map((set) => objects.setOf(set.id));
  }
  get setting(): string | undefined {
    return this.row.setting;
  }
  get settings(): readonly string[] {
    return this.row.settings ?? [];
  }
  addSetting(name: string): ScriptReport {
    return this.act('setting-add', { name });
  }
  chooseSetting(name: string): ScriptReport {
    return this.act('setting-choose', { name });
  }
  removeSetting(name: string): ScriptReport {
    return this.act('setting-remove', { name });
  }
  get paths(): readonly { parameter: string; path: string }[] {
    return this.parameters.flatMap((parameter) => {
      const path = kinds[this.row.kind]?.parameters[parameter]?.type === 'path' ? this.get(parameter) : undefined;
      return typeof path === 'string' && path !== '' ? [{ parameter, path }] : [];
    });
  }
  private act(operation: string, options?: object): ScriptReport {
    return perform(operation, this.row.graph, [this.id], options, this.id);
  }
  input(port: string): ScriptPort | undefined {
    return this.inputs.find((one) => one.id === port) ?? this.inputs.find((one) => one.name === port);
  }
  output(port: string): ScriptPort | undefined {
    return this.outputs.find((one) => one.id === port) ?? this.outputs.find((one) => one.name === port);
  }
  get(parameter: string): ScriptValue | undefined {
    const { params, opaque, kind } = this.row;
    if (opaque?.[parameter]) return undefined;
    return (params?.[parameter] ?? kinds[kind]?.parameters[parameter]?.default) as ScriptValue | undefined;
  }
  parameter(name: string): ScriptNodeParameter | undefined {
    if (!this.has(name)) return undefined;
    const value = this.get(name);
    const spec = kinds[this.row.kind]?.parameters[name];
    const holds: ScriptNodeParameter['holds'] = this.row.opaque?.[name] ?? (this.isSet(name) ? 'value' : 'default');
    return strict({ ...parameterOf(name, spec, value ?? null), value, holds }, 'A parameter');
  }
  has(parameter: string): boolean {
    return this.parameters.includes(parameter);
  }
  isSet(parameter: string): boolean {
    return this.row.params?.[parameter] !== undefined || this.row.opaque?.[parameter] !== undefined;
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
    const { [parameter]: _unread, ...opaque } = this.row.opaque ?? {};
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

objects.nodeOf = nodeOf;
