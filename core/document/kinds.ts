import { must } from '../must.ts';
import type { Saying } from '../said.ts';
import { builtin, builtinKinds, foreignKind, isBoundary } from './builtin.ts';
import type { Catalogue, CategorySpec, KindSpec, ParameterSpec, PortSpec, TypeSpec } from './catalogue.ts';
import type { Json } from './json.ts';
import { portAt } from './port-at.ts';
import type { GraphNode, Port } from './schema.ts';
import { say } from './sentences.ts';

const anyType: TypeSpec = {
  id: 'any',
  title: 'Anything',
  sign: 'circle',
  hue: 0,
  assignableTo: [],
  conversions: [],
  components: [],
};
const stdCategory: CategorySpec = { id: 'std', title: 'Basics', hue: 0 };

/** How imported nodes are shown, whose kind is in no catalogue; undefined for all others. */
const shownAs = (kindId: string): { title: string; code: string; category: CategorySpec } | undefined =>
  kindId === foreignKind
    ? { title: 'Imported node', code: 'IM', category: { id: 'unknown', title: 'Imported', hue: 0 } }
    : undefined;

/**
 * Answers every question about kinds, types and parameters; nobody else looks inside a catalogue.
 * Made once for a catalogue, O(size); every answer is O(1) but for what is said.
 */
export class Kinds {
  readonly catalogue: Catalogue;
  private readonly kinds: Map<string, KindSpec>;
  private readonly types: Map<string, TypeSpec>;
  private readonly categories: Map<string, CategorySpec>;
  private readonly newest = new Map<string, KindSpec>();

  constructor(catalogue: Catalogue) {
    this.catalogue = catalogue;
    this.kinds = new Map([...catalogue.kinds, ...builtinKinds].map((kind) => [kind.id, kind]));
    for (const kind of catalogue.kinds)
      if (kind.shared && kind.shared.version > (this.newest.get(kind.shared.name)?.shared?.version ?? 0))
        this.newest.set(kind.shared.name, kind);
    this.types = new Map([anyType, ...catalogue.types].map((type) => [type.id, type]));
    this.categories = new Map([stdCategory, ...catalogue.categories].map((category) => [category.id, category]));
  }

  /** All kinds that a node may have. */
  all(): KindSpec[] {
    return [...this.kinds.values()].filter((kind) => kind.id !== builtin.fold);
  }

  /** The newest version of a shared kind, by its name. */
  newestShared(name: string): KindSpec | undefined {
    return this.newest.get(name);
  }

  /** The names of all shared kinds, sorted. */
  sharedNames(): string[] {
    return [...this.newest.keys()].sort();
  }

  kind(id: string): KindSpec | undefined {
    return this.kinds.get(id);
  }

  type(id: string): TypeSpec {
    return this.types.get(id) ?? { ...anyType, id, title: id };
  }

  hasType(id: string): boolean {
    return this.types.has(id);
  }

  category(kindId: string): CategorySpec {
    return (
      this.categories.get(this.kinds.get(kindId)?.category ?? '') ??
      shownAs(kindId)?.category ?? { id: 'unknown', title: 'Unknown', hue: 0 }
    );
  }

  /** The two letters on the spine; unknown kinds take them from their id. */
  code(kindId: string): string {
    return (
      this.kinds.get(kindId)?.code ??
      shownAs(kindId)?.code ??
      (kindId
        .replace(/[^A-Za-z0-9]/g, '')
        .slice(0, 2)
        .toUpperCase() ||
        '??')
    );
  }

  title(kindId: string): string {
    return this.kinds.get(kindId)?.title ?? shownAs(kindId)?.title ?? kindId;
  }

  /** The ports that a new node of the kind starts with. Throws RangeError on a kind that the catalogue lacks. */
  startPorts(kindId: string): Port[] {
    const kind = this.kinds.get(kindId);
    if (!kind) throw new RangeError(`The catalogue “${this.catalogue.title}” has no kind “${kindId}”.`);
    return kind.ports.map(({ id, name, type, direction }) => ({ id, name, type, direction }));
  }

  /** May an output of type `from` feed an input of type `to` as it is? */
  accepts(to: string, from: string): boolean {
    return to === from || to === 'any' || from === 'any' || this.type(from).assignableTo.includes(to);
  }

  /** The kind of node that makes `from` fit `to`, if the catalogue knows one. */
  conversion(from: string, to: string): string | undefined {
    return this.type(from).conversions.find((entry) => entry.to === to)?.kind;
  }

  /**
   * The ports that a compound port opens into, one for each component of its type; none where the type has none, or the
   * port is a component itself.
   */
  parts(port: Port): Port[] {
    if (port.of !== undefined) return [];
    return this.type(port.type).components.map(({ name, type }) => ({
      id: `${port.id}.${name}`,
      name: `${port.name}.${name}`,
      type,
      direction: port.direction,
      of: port.id,
    }));
  }

  /** Why an output may not feed an input, as a sentence; undefined where it may. */
  refusal(to: Port, from: Port): Saying | undefined {
    if (to.direction !== 'in' || from.direction !== 'out') return say('wire-direction');
    if (this.accepts(to.type, from.type)) return undefined;
    const bridge = this.conversion(from.type, to.type);
    return say('type-refused', {
      to: to.name,
      takes: this.type(to.type).title,
      from: from.name,
      gives: this.type(from.type).title,
      bridge: bridge && this.title(bridge),
    });
  }

  /**
   * The pass rule: the input that passes for output `outputId` while the node is bypassed.
   * The one that the kind names; else the first of exactly the same type, wired or not; else the first assignable; else
   * none.
   */
  passInput(node: GraphNode, outputId: string): Port | undefined {
    const output = portAt(node.ports, outputId, 'out');
    if (!output) return undefined;
    // a component never stands for a whole
    const inputs = node.ports.filter((port) => port.direction === 'in' && port.of === undefined);
    const named = this.kinds.get(node.kind)?.pass[outputId];
    return (
      (named !== undefined ? inputs.find((port) => port.id === named) : undefined) ??
      inputs.find((port) => port.type === output.type) ??
      inputs.find((port) => this.accepts(output.type, port.type))
    );
  }

  private portSpec(node: GraphNode, portId: string): PortSpec | undefined {
    const ports = this.kinds.get(node.kind)?.ports;
    return (
      ports?.find((port) => port.id === portId) ??
      ports?.find((port) => port.many && stemOf(portId) === stemOf(port.id))
    );
  }

  /**
   * The row that a port of a growing input stands in, in order, and how many of them the kind starts with; undefined
   * where nothing grows.
   * A row ends in an open port: `Wiring` adds one when all are wired and takes the last away when two are open.
   */
  growingRow(node: GraphNode, portId: string): { readonly row: readonly Port[]; readonly least: number } | undefined {
    const spec = this.portSpec(node, portId);
    if (!spec?.many) return undefined;
    const stem = stemOf(spec.id);
    const inRow = (id: string): boolean => stemOf(id) === stem && id !== stem;
    return {
      row: node.ports.filter((port) => port.direction === spec.direction && port.of === undefined && inRow(port.id)),
      least: must(this.kinds.get(node.kind)).ports.filter((port) => port.direction === spec.direction && inRow(port.id))
        .length,
    };
  }

  /**
   * The paths that a node holds, and whether it reads what lies there or writes it: kinds that read files do the
   * former. O(parameters).
   */
  pathsOf(node: GraphNode): { readonly parameter: string; readonly path: string; readonly isRead: boolean }[] {
    const isRead = (this.kinds.get(node.kind)?.reads.length ?? 0) > 0;
    return Object.entries(node.params ?? {}).flatMap(([parameter, path]) =>
      typeof path === 'string' && path !== '' && this.parameter(node.kind, parameter)?.type === 'path'
        ? [{ parameter, path, isRead }]
        : [],
    );
  }

  /** The first parameter of a kind that holds a path. */
  pathParameter(kindId: string): ParameterSpec | undefined {
    return this.parameters(kindId).find((spec) => spec.type === 'path');
  }

  /** The kinds whose nodes read a file of this name, by its ending, in the order of the catalogue. */
  readers(fileName: string): KindSpec[] {
    const stop = fileName.lastIndexOf('.');
    if (stop < 0) return [];
    const ending = fileName.slice(stop + 1).toLowerCase();
    return this.all().filter((kind) => kind.reads.includes(ending) && this.pathParameter(kind.id) !== undefined);
  }

  /** Kinds that belong to something else: ports of a graph and standing feeds. */
  isFixture(kindId: string): boolean {
    return isBoundary(kindId) || kindId === builtin.feed;
  }

  isEnd(node: GraphNode): boolean {
    return !node.bypassed && this.kinds.get(node.kind)?.end === true;
  }

  /** Is the port one of those that matter first? Where the kind is unknown, the first of each side is. */
  isMain(node: GraphNode, port: Port): boolean {
    const spec = this.portSpec(node, port.id);
    return spec ? spec.main : node.ports.find((own) => own.direction === port.direction) === port;
  }

  /** The ids of the types that a standing feed is for. */
  feedTypes(feed: GraphNode): string[] {
    return typesIn(String(this.value(feed, 'types') ?? ''));
  }

  /** The kinds that have an input which standing feeds may supply. O(kinds). */
  feedableKinds(): readonly string[] {
    return this.all().flatMap((kind) => (kind.ports.some((port) => port.feedable) ? [kind.id] : []));
  }

  feedable(node: GraphNode, portId: string): boolean {
    return this.portSpec(node, portId)?.feedable === true;
  }

  /** The port that a growing input adds once all of its row are wired, or undefined where none grows. */
  grownPort(node: GraphNode, portId: string): Port | undefined {
    const spec = this.portSpec(node, portId);
    if (!spec?.many) return undefined;
    const stem = stemOf(spec.id);
    const numbers = node.ports
      .filter((port) => port.of === undefined && port.id.startsWith(stem))
      .map((port) => Number(/\d+$/.exec(port.id)?.[0] ?? 0));
    const next = Math.max(0, ...numbers) + 1;
    return {
      id: `${stem}${next}`,
      name: `${spec.name.replace(/\s*\d+$/, '')} ${next}`,
      type: spec.type,
      direction: spec.direction,
    };
  }

  parameters(kindId: string): readonly ParameterSpec[] {
    return this.kinds.get(kindId)?.parameters ?? [];
  }

  parameter(kindId: string, id: string): ParameterSpec | undefined {
    return this.parameters(kindId).find((parameter) => parameter.id === id);
  }

  /** The value that counts: what was set, else the default. */
  value(node: GraphNode, id: string): Json | undefined {
    return node.params?.[id] ?? this.parameter(node.kind, id)?.default ?? undefined;
  }

  /**
   * Everything that counts for what the node computes: non-cosmetic parameters, defaults filled in where there are any,
   * numbers normalised by type.
   */
  functionValues(node: GraphNode): Record<string, Json> {
    const values: Record<string, Json> = {};
    for (const spec of this.parameters(node.kind)) {
      const value = this.value(node, spec.id);
      if (!spec.cosmetic && value !== undefined) values[spec.id] = normalise(spec, value);
    }
    for (const [id, value] of Object.entries(node.params ?? {})) if (!this.parameter(node.kind, id)) values[id] = value;
    return values;
  }

  /** Why a value does not fit a parameter, as a sentence; undefined where it fits. Expressions fit everywhere. */
  valueProblem(kindId: string, id: string, value: Json): Saying | undefined {
    const spec = this.parameter(kindId, id);
    if (!spec || isExpression(value)) return undefined;
    const no = (expected: string): Saying =>
      say('value-refused', { parameter: spec.title, expected, value: JSON.stringify(value) });
    const range =
      spec.min !== undefined || spec.max !== undefined ? ` from ${spec.min ?? '−∞'} to ${spec.max ?? '∞'}` : '';
    const outside = (n: number): boolean => n < (spec.min ?? -Infinity) || n > (spec.max ?? Infinity);
    switch (spec.type) {
      case 'number':
        return typeof value === 'number' && !outside(value) ? undefined : no(`a number${range}`);
      case 'integer':
        return Number.isInteger(value) && !outside(value as number) ? undefined : no(`a whole number${range}`);
      case 'boolean':
        return typeof value === 'boolean' ? undefined : no('yes or no');
      case 'choice':
        return typeof value === 'string' && spec.choices?.includes(value)
          ? undefined
          : no(`one of ${spec.choices?.join(', ')}`);
      case 'vector':
        return Array.isArray(value) && value.every((part) => typeof part === 'number')
          ? undefined
          : no('a row of numbers');
      case 'color':
        return typeof value === 'string' && /^#[0-9a-fA-F]{6}$/.test(value)
          ? undefined
          : no('a colour such as #2f6f8f');
      default:
        return typeof value === 'string' ? undefined : no('text');
    }
  }
}

/** Ids of types as they are written: with commas or spaces between. */
export const typesIn = (text: string): string[] => text.split(/[\s,]+/).filter(Boolean);

/** What numbered ports of one row have in common. */
export const stemOf = (portId: string): string => portId.replace(/\d+$/, '');

/** Expressions are stored as segments: text, or a reference to a parameter of a node. */
export interface Expression {
  readonly expression: readonly (string | { readonly node: string; readonly parameter: string })[];
}

export function isExpression(value: unknown): value is Expression & Json {
  return typeof value === 'object' && value !== null && Array.isArray((value as { expression?: unknown }).expression);
}

/**
 * Can scripts and tables work with the value? Text, a number, yes or no, nothing, or a row of numbers; all else is kept
 * as it is, unread.
 */
export const isPlainValue = (value: unknown): boolean =>
  value === null ||
  ['string', 'number', 'boolean'].includes(typeof value) ||
  (Array.isArray(value) && value.every((part) => typeof part === 'number'));

function normalise(spec: ParameterSpec, value: Json): Json {
  if (spec.type === 'integer' && typeof value === 'number') return Math.round(value);
  if (spec.type === 'color' && typeof value === 'string') return value.toLowerCase();
  return value;
}
