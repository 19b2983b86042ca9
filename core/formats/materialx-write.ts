import { builtin, isBoundary } from '../document/builtin.ts';
import { type Doc, indexOf, table } from '../document/doc.ts';
import { frameRects } from '../document/geometry.ts';
import type { Id } from '../document/ids.ts';
import { type Json, sameJson } from '../document/json.ts';
import type { Kinds } from '../document/kinds.ts';
import { freeName, legalName } from '../document/names.ts';
import { portAt } from '../document/port-at.ts';
import type { GraphNode, TableName, Wire } from '../document/schema.ts';
import { must } from '../must.ts';
import { type Made, readTree } from './materialx-read.ts';
import {
  colorText,
  type Kept,
  keptOf,
  ownAttribute,
  tagOf,
  typeName,
  typeOfValue,
  unit,
  valueText,
  wantedId,
} from './materialx-shape.ts';
import { OutputTypes } from './materialx-types.ts';
import { treeText, type XmlTree } from './xml.ts';

/**
 * A document as MaterialX 1.39 (https://materialx.org): nodes with their inputs and values, nested graphs as node
 * graphs (those within others by a definition, as the standard has it), frames as backdrops, places and colours. What
 * the standard has no place for stands as JSON in an attribute that the file declares.
 * Elements that came with such a file go back as they came. O(document), read again once or twice to find what has to
 * stand there.
 */
export function writeMaterialx(doc: Doc, kinds: Kinds): string {
  const writer = new Writer(doc, kinds);
  return `<?xml version="1.0" encoding="UTF-8"?>\n${treeText(writer.write())}`;
}

const tables: Readonly<Record<keyof Made, TableName>> = {
  node: 'nodes',
  graph: 'graphs',
  wire: 'wires',
  frame: 'frames',
};
type Over = { [part in keyof Made | 'document']?: Record<string, Json> } & {
  implied?: Record<string, Record<string, Json>>;
  port?: string;
  body?: string;
  made?: true;
};

/** An element that is being built: the reader sees it as it stands. */
interface Building extends XmlTree {
  readonly attributes: Record<string, string>;
  readonly children: Building[];
}

class Writer {
  private readonly doc: Doc;
  private readonly rects: ReturnType<typeof frameRects>;
  private readonly index: ReturnType<typeof indexOf>;
  private readonly names = new Map<Id, string>();
  private readonly hosts = new Map<Id, GraphNode>();
  /** The records that elements stand for, and what is said of them beside. */
  private readonly records = new Map<Building, Made>();
  private readonly overs = new Map<Building, Over>();
  private readonly bodies: Building[] = [];
  private readonly definitions = new Map<string, string>();
  private readonly definitionNames = new Set<string>();
  private readonly bodyTags = new Set<string>();
  private readonly types: OutputTypes;

  constructor(doc: Doc, kinds: Kinds) {
    this.doc = doc;
    this.index = indexOf(doc);
    this.rects = new Map([...doc.graphs.keys()].flatMap((graph) => [...frameRects(doc, kinds, graph)]));
    for (const node of doc.nodes.values()) if (node.inner !== undefined) this.hosts.set(node.inner, node);
    this.types = new OutputTypes(doc, this.hosts);
    for (const node of doc.nodes.values()) this.bodyTags.add(tagOf(node.kind));
    for (const graph of doc.graphs.keys()) this.nameAll(graph);
    // definitions lie beside what lies outermost, and beside those that came with the file
    for (const node of this.index.nodesIn(doc.head.root)) this.definitionNames.add(must(this.names.get(node.id)));
    for (const kept of keptOf(doc.extra).children ?? []) this.definitionNames.add(kept.attributes.name ?? '');
  }

  write(): XmlTree {
    const { root } = this.doc.head;
    const { attributes, children } = keptOf(this.doc.extra);
    const inside = this.scope(root, 0);
    const tree: Building = { tag: 'materialx', attributes: { version: '1.39', ...attributes }, children: [] };
    const declared = this.element(
      'attributedef',
      { name: `AD_${ownAttribute}`, type: 'string', attrname: ownAttribute, value: '' },
      { made: true },
    );
    tree.children.push(declared, ...((children ?? []) as Building[]), ...this.bodies, ...inside);
    this.records.set(tree, { graph: root });
    const { mtlx: _mtlx, ...extra } = this.doc.extra as Record<string, Json>;
    const { root: _root, ...head } = this.doc.head;
    const notes = [...this.doc.notes.values()] as unknown as Json[];
    const isOurs = attributes === undefined;
    this.overs.set(tree, {
      document: {
        head: isOurs ? (head as unknown as Json) : this.headOf(head),
        ...(notes.length > 0 && { notes }),
        ...(Object.keys(extra).length > 0 && { extra }),
      },
    });
    this.sayAll(tree);
    return tree;
  }

  /** Of a file that came from elsewhere, what it was given since. */
  private headOf({ title, sets, wireStyle }: Partial<Doc['head']>): Json {
    return { title: title ?? '', ...(sets && { sets }), ...(wireStyle && { wireStyle }) };
  }

  /** Says of each element what reading it would not give: ids first, since all else leads to them. */
  private sayAll(tree: Building): void {
    this.sayIds((records, { attributes: { name = '' } }) => this.wanted(records, name));
    for (let round = 0; ; round++) {
      const { doc: read, made } = readTree(tree, this.doc.head.title, this.overs);
      if (round < 3 && this.sayIds((_records, element) => made.get(element) ?? {})) continue;
      for (const [element, records] of this.records) this.sayFields(this.overOf(element), records, read);
      break;
    }
    this.putOvers(tree);
  }

  /** Says the ids that records do not get as they are. Were there any? */
  private sayIds(got: (records: Made, element: Building) => Made): boolean {
    let isNew = false;
    for (const [element, records] of this.records) {
      const others = got(records, element);
      for (const part of Object.keys(records) as (keyof Made)[]) {
        if (others[part] === records[part]) continue;
        const over = this.overOf(element);
        over[part] = { ...over[part], id: must(records[part]) };
        isNew = true;
      }
    }
    return isNew;
  }

  /** The ids that a reader gives to what an element of that name stands for. */
  private wanted({ node, frame, graph, wire }: Made, name: string): Made {
    const at = node === undefined ? frame && this.doc.frames.get(frame)?.graph : this.doc.nodes.get(node)?.graph;
    const item = wantedId.item(at === undefined ? undefined : this.hosts.get(at)?.id, name);
    const to = wire === undefined ? undefined : this.doc.wires.get(wire)?.to.node;
    return {
      ...(node !== undefined && { node: item }),
      ...(frame !== undefined && { frame: item }),
      ...(graph !== undefined && { graph: node === undefined ? wantedId.root : wantedId.graph(node) }),
      ...(to !== undefined && { wire: wantedId.wire(to, name) }),
    };
  }

  private overOf(element: Building): Over {
    const over = this.overs.get(element) ?? {};
    this.overs.set(element, over);
    return over;
  }

  private putOvers(element: Building): void {
    const over = this.overs.get(element);
    if (over && Object.keys(over).length > 0) element.attributes[ownAttribute] = JSON.stringify(over);
    element.children.forEach((child) => this.putOvers(child));
  }

  private sayFields(over: Over, records: Made, read: Doc): void {
    for (const part of Object.keys(records) as (keyof Made)[]) {
      const name = tables[part];
      const [own, other] = [table(this.doc, name), table(read, name)] as unknown as ReadonlyMap<
        Id,
        Record<string, Json>
      >[];
      const [record, got] = [must(must(own).get(must(records[part]))), must(other).get(must(records[part])) ?? {}];
      const said: Record<string, Json> = {};
      for (const field of new Set([...Object.keys(record), ...Object.keys(got)])) {
        if (sameJson(record[field], got[field])) continue;
        said[field] = field === 'params' ? difference(record[field], got[field]) : (record[field] ?? null);
      }
      if (Object.keys(said).length > 0) over[part] = { ...over[part], ...said };
    }
  }

  /** Names in a graph are of nodes and frames alike. */
  private nameAll(graph: Id): void {
    const taken = new Set<string>();
    for (const node of this.index.nodesIn(graph)) {
      const { name: kept, implied } = keptOf(node);
      if (implied) {
        this.names.set(node.id, kept ?? node.name);
        continue;
      }
      const name =
        kept !== undefined && legalName(kept) === node.name && !taken.has(kept) ? kept : freeName(node.name, taken);
      taken.add(name);
      this.names.set(node.id, name);
    }
    for (const frame of this.index.framesIn(graph))
      this.names.set(frame.id, freeName(legalName(frame.title || 'frame'), taken));
  }

  private element(tag: string, attributes: Readonly<Record<string, string | undefined>>, over?: Over): Building {
    const made: Building = {
      tag,
      attributes: Object.fromEntries(
        Object.entries(attributes).filter((one): one is [string, string] => one[1] !== undefined),
      ),
      children: [],
    };
    if (over) this.overs.set(made, over);
    return made;
  }

  /** All that lies in a graph: inputs, nodes, backdrops, outputs. */
  private scope(graph: Id, depth: number): Building[] {
    const order = new Map(this.hosts.get(graph)?.ports.map((port, i) => [port.id, i]));
    const boundaries = this.index
      .nodesIn(graph)
      .filter((node) => isBoundary(node.kind) && keptOf(node).implied === undefined);
    const sorted = [...boundaries].sort((a, b) => (order.get(a.id) ?? order.size) - (order.get(b.id) ?? order.size));
    const all = sorted.map((node) => ({ node, element: this.boundary(node) }));
    return [
      ...all.filter(({ node }) => node.kind === builtin.input).map(({ element }) => element),
      ...this.index
        .nodesIn(graph)
        .flatMap((node) =>
          isBoundary(node.kind)
            ? []
            : [node.inner !== undefined && this.doc.graphs.has(node.inner) ? this.host(node, depth) : this.node(node)],
        ),
      ...this.index.framesIn(graph).map((frame) => this.frame(frame.id)),
      ...all.filter(({ node }) => node.kind === builtin.output).map(({ element }) => element),
    ];
  }

  private look(node: GraphNode): Record<string, string | undefined> {
    return {
      xpos: String(node.x / unit),
      ypos: String(node.y / unit),
      uicolor: node.color === undefined ? undefined : colorText(node.color),
      uiname: node.label,
    };
  }

  private boundary(node: GraphNode): Building {
    const isInput = node.kind === builtin.input;
    const host = this.hosts.get(node.graph);
    const wire = isInput ? host && this.index.wireInto(host.id, node.id) : this.index.wireInto(node.id, 'in');
    const isWithin = isInput && host !== undefined && host.graph !== this.doc.head.root;
    const type = isInput
      ? this.types.at({ node: node.id, port: 'out' })
      : wire
        ? this.types.at(wire.from)
        : typeName(node.ports[0]?.type ?? 'any');
    // what leads to an input of a graph within another stands at the node that stands for it
    const connection = wire && !isWithin ? this.connection(wire) : {};
    const element = this.element(node.kind === builtin.input ? 'input' : 'output', {
      name: this.names.get(node.id),
      type,
      ...connection,
      ...this.look(node),
      ...keptOf(node).attributes,
    });
    this.records.set(element, { node: node.id, ...(wire && !isWithin && { wire: wire.id }) });
    if (wire?.off && !isWithin) this.overOf(element).wire = { id: wire.id, from: wire.from as unknown as Json };
    return element;
  }

  private frame(id: Id): Building {
    const frame = must(this.doc.frames.get(id));
    const rect = this.rects.get(id) ?? frame;
    const within = (at: Id): Id[] => [
      ...this.index.membersOf(at).map((node) => node.id),
      ...this.index.framesWithin(at).flatMap((inner) => within(inner.id)),
    ];
    const name = must(this.names.get(id));
    const element = this.element('backdrop', {
      name,
      contains: within(id)
        .map((member) => must(this.names.get(member)))
        .join(', '),
      ...{
        xpos: String(rect.x / unit),
        ypos: String(rect.y / unit),
        width: String(rect.width / unit),
        height: String(rect.height / unit),
      },
      uicolor: frame.color === undefined ? undefined : colorText(frame.color),
      uiname: frame.title === name ? undefined : frame.title,
      doc: frame.note,
      ...keptOf(frame).attributes,
    });
    this.records.set(element, { frame: id });
    return element;
  }

  private node(node: GraphNode): Building {
    const kept = keptOf(node);
    const outs = node.ports.filter((port) => port.direction === 'out');
    const type =
      kept.type !== undefined
        ? kept.type
        : outs.length > 1
          ? 'multioutput'
          : outs[0]
            ? this.types.at({ node: node.id, port: outs[0].id })
            : 'none';
    const element = this.element(tagOf(node.kind), {
      name: this.names.get(node.id),
      type,
      ...this.look(node),
      ...kept.attributes,
    });
    this.records.set(element, { node: node.id });
    const names = new Set<string>();
    const ids = new Set([
      ...node.ports.filter((port) => port.direction === 'in').map((port) => port.id),
      ...Object.keys(node.params ?? {}),
    ]);
    for (const id of ids) {
      const input = this.input(node, id, kept, names);
      if (input) element.children.push(input);
    }
    if (kept.type === undefined && outs.length > 1) {
      for (const { id } of outs) {
        const name = outputName(node, id);
        element.children.push(
          this.element(
            'output',
            { name, type: this.types.at({ node: node.id, port: id }) },
            name === id ? undefined : { port: id },
          ),
        );
      }
      element.attributes.nodedef = this.defined(element);
    }
    element.children.push(...((kept.children ?? []) as Building[]));
    return element;
  }

  /**
   * Outputs of a name are there for others only where a definition says so: one for all nodes with the same inputs and
   * outputs.
   */
  private defined(element: Building): string {
    const ports = element.children.map(({ tag, attributes: { name, type } }) => this.element(tag, { name, type }));
    const key = JSON.stringify([element.tag, ports.map(({ tag, attributes }) => [tag, attributes])]);
    const known = this.definitions.get(key);
    if (known !== undefined) return known;
    const name = freeName(`ND_${legalName(element.tag)}`, this.definitionNames);
    this.definitions.set(key, name);
    const definition = this.element('nodedef', { name, node: element.tag }, { made: true });
    definition.children.push(...ports);
    this.bodies.push(definition);
    return name;
  }

  /** An input that is led to or has a value; others are known by the definition of their node. */
  private input(node: GraphNode, id: string, kept: Kept, names: Set<string>): Building | undefined {
    const port = portAt(node.ports, id, 'in');
    const wire = port && this.index.wireInto(node.id, id);
    const value = node.params?.[id];
    const isLed = wire !== undefined && wire.off === undefined;
    const rest = kept.inputs?.[id];
    if (!wire && value === undefined && !rest) return undefined;
    const name = freeName(plainName(id), names);
    const element = this.element(
      'input',
      {
        name,
        // channels of 1.38 make another type of what comes
        type:
          isLed && rest?.channels === undefined
            ? this.types.at(wire.from)
            : isLed || value === undefined
              ? typeName(port?.type ?? 'string')
              : typeOfValue(value, port?.type),
        value: isLed || value === undefined ? undefined : valueText(value),
        ...(isLed && this.connection(wire)),
        uiname: port && port.name !== id ? port.name : undefined,
        ...rest,
      },
      name === id ? undefined : { port: id },
    );
    if (wire) this.records.set(element, { wire: wire.id });
    if (wire && !isLed) this.overOf(element).wire = { id: wire.id, from: wire.from as unknown as Json };
    return element;
  }

  private host(node: GraphNode, depth: number): Building {
    const kept = keptOf(node);
    const inside = this.scope(must(node.inner), depth + 1);
    const records: Made = { node: node.id, graph: must(node.inner) };
    const name = must(this.names.get(node.id));
    if (depth === 0) {
      const element = this.element('nodegraph', { name, ...this.look(node), ...kept.attributes });
      element.children.push(...((kept.children ?? []) as Building[]), ...inside);
      this.records.set(element, records);
      const implied = this.index.nodesIn(must(node.inner)).filter((one) => keptOf(one).implied);
      if (implied.length > 0)
        this.overs.set(element, {
          implied: Object.fromEntries(implied.map((one) => [must(this.names.get(one.id)), ownFields(one)])),
        });
      return element;
    }
    // node graphs do not lie in others: a definition, what it holds, and a node that stands for it
    const tag = freeName(`graph_${name}`, this.bodyTags);
    const definition = this.element(
      'nodedef',
      { name: freeName(`ND_${tag}`, this.definitionNames), node: tag },
      { made: true },
    );
    const body = this.element(
      'nodegraph',
      { name: freeName(`NG_${tag}`, this.definitionNames), nodedef: definition.attributes.name },
      { made: true },
    );
    for (const one of inside) (one.tag === 'input' ? definition : body).children.push(one);
    const outs = inside
      .filter((one) => one.tag === 'output')
      .map((one) => this.element('output', { name: one.attributes.name, type: one.attributes.type }));
    definition.children.push(...outs);
    this.bodies.push(definition, body);
    const type = outs.length > 1 ? 'multioutput' : (outs[0]?.attributes.type ?? 'none');
    const element = this.element(
      tag,
      { name, type, ...this.look(node), ...kept.attributes },
      { body: must(body.attributes.name) },
    );
    for (const one of inside) {
      const boundary = one.tag === 'input' ? must(must(this.records.get(one)).node) : undefined;
      const wire = boundary === undefined ? undefined : this.index.wireInto(node.id, boundary);
      if (!wire) continue;
      const input = this.element('input', {
        name: one.attributes.name,
        type: one.attributes.type,
        ...this.connection(wire),
      });
      this.records.set(input, { wire: wire.id });
      if (wire.off) this.overOf(input).wire = { id: wire.id, from: wire.from as unknown as Json };
      element.children.push(input);
    }
    this.records.set(element, records);
    return element;
  }

  /** How an input says where it is led from. What is switched off is not led. */
  private connection(wire: Wire): Record<string, string | undefined> {
    const from = must(this.doc.nodes.get(wire.from.node));
    if (wire.off) return {};
    const name = must(this.names.get(from.id));
    if (from.kind === builtin.input) return { interfacename: name };
    const outs = from.ports.filter((port) => port.direction === 'out');
    if (from.inner === undefined)
      return {
        nodename: name,
        output: outs.length > 1 || keptOf(from).type !== undefined ? outputName(from, wire.from.port) : undefined,
      };
    const output = this.names.get(wire.from.port);
    return from.graph === this.doc.head.root
      ? { nodegraph: name, output }
      : { nodename: name, output: outs.length > 1 ? output : undefined };
  }
}

const plainName = (id: string): string => id.replace(/[^A-Za-z0-9_:]/g, '_');

/** Inputs and outputs share their names there. */
function outputName(node: GraphNode, id: string): string {
  const isTaken = node.ports.some((port) => port.direction === 'in' && plainName(port.id) === plainName(id));
  return isTaken ? `${plainName(id)}_out` : plainName(id);
}

/** What an input that is only implied has beside its name and type. */
function ownFields(node: GraphNode): Record<string, Json> {
  const {
    graph: _graph,
    kind: _kind,
    name: _name,
    ports: _ports,
    mtlx: _mtlx,
    ...fields
  } = node as GraphNode & { mtlx?: Kept };
  return fields as Record<string, Json>;
}

/** What parameters have that others do not have so; null for what they lack. */
function difference(own: Json | undefined, other: Json | undefined): Json {
  const [mine, theirs] = [(own ?? {}) as Record<string, Json>, (other ?? {}) as Record<string, Json>];
  const names = [...new Set([...Object.keys(mine), ...Object.keys(theirs)])].filter(
    (name) => !sameJson(mine[name], theirs[name]),
  );
  return Object.fromEntries(names.map((name) => [name, mine[name] ?? null]));
}
