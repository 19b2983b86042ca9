import { hexOf } from '../color/contrast.ts';
import { emptyDoc } from '../document/doc.ts';
import type { ReadFile } from '../document/file.ts';
import type { Id } from '../document/ids.ts';
import type { Json } from '../document/json.ts';
import { legalName } from '../document/names.ts';
import { type Graph, type GraphNode, tableShapes, type Wire } from '../document/schema.ts';
import { UnreadableFile } from '../document/unreadable.ts';
import { repair } from '../document/validate.ts';
import { type Finding, finding } from '../finding.ts';
import { must } from '../must.ts';
import { type Declared, type Kept, own } from './gexf-write.ts';
import { bridgeLevels, idClaimer, type LooseWire } from './levels.ts';
import { misfitFinding, renamedFindings } from './said.ts';
import { attribute, children, type Element, innerText, innerXml, parseXml } from './xml.ts';

const moreOfNode = tableShapes.nodes.partial().omit({ id: true, graph: true, frame: true, inner: true });
const moreOfWire = tableShapes.wires.partial().omit({ id: true, from: true, to: true });

/**
 * Reads GEXF 1.3 and older (https://gexf.net): labels as names, places and colours of the viz module; what else was
 * declared is kept, to be written back.
 * Trees of nodes, as older versions had them, are read flat. Nodes without a place are named in `unplaced`. Throws
 * UnreadableFile where it is no such file. O(text).
 */
export function readGexf(text: string, title: string): ReadFile & { unplaced: readonly Id[] } {
  const root = children(parseXml(text), 'gexf')[0];
  if (!root) throw new UnreadableFile('this XML is no GEXF: its outermost element is not <gexf>.');
  const graph = children(root, 'graph')[0];
  if (!graph) throw new UnreadableFile('this GEXF holds no <graph>.');
  return new Reader(root, graph, title).read();
}

const attributesOf = (element: Element): Record<string, string> =>
  Object.fromEntries(
    Object.keys(element).flatMap((field) =>
      field.startsWith('@') ? [[field.slice(1), must(attribute(element, field.slice(1)))]] : [],
    ),
  );

const without = (attributes: Readonly<Record<string, string>>, names: readonly string[]): Record<string, string> =>
  Object.fromEntries(Object.entries(attributes).filter(([name]) => !names.includes(name) && !name.startsWith('xmlns')));

/** The elements of the viz module, whatever prefix it has, with their attributes. */
const modules = ['position', 'color', 'size', 'shape', 'thickness'];
function vizOf(element: Element): Record<string, Record<string, string>> {
  return Object.fromEntries(
    Object.keys(element).flatMap((tag) => {
      const name = must(tag.split(':').at(-1));
      const one = modules.includes(name) ? children(element, tag)[0] : undefined;
      return one ? [[name, attributesOf(one)]] : [];
    }),
  );
}

const textOf = (element: Element | undefined): string | undefined => element && innerText(innerXml(element));

/** What there is to keep, or nothing. */
function filled<T extends object>(kept: T): T | undefined {
  const some = Object.entries(kept).filter(([, value]) => Object.keys(value as object).length > 0);
  return some.length > 0 ? (Object.fromEntries(some) as T) : undefined;
}

/** The viz elements without what is read of them. */
function restOf(
  viz: Readonly<Record<string, Readonly<Record<string, string>>>>,
): Record<string, Record<string, string>> {
  const { position, color, ...others } = viz;
  return {
    ...(filled({
      position: without(position ?? {}, ['x', 'y']),
      color: without(color ?? {}, ['r', 'g', 'b', 'hex']),
    }) as object),
    ...others,
  };
}

/** Red, green or blue of a colour, within what there is of it. */
const part = (value: string | undefined): number => Math.max(0, Math.min(255, Number(value) || 0));

class Reader {
  private readonly root: Element;
  private readonly graph: Element;
  private readonly title: string;
  private readonly findings: Finding[] = [];
  private readonly claim = idClaimer(['root']);
  private readonly ids = new Map<string, Id>();
  private readonly nodes = new Map<Id, GraphNode>();
  private readonly unplaced: Id[] = [];
  private readonly renamed: string[] = [];
  private nested = 0;
  private timed = 0;

  constructor(root: Element, graph: Element, title: string) {
    this.root = root;
    this.graph = graph;
    this.title = title;
  }

  read(): ReadFile & { unplaced: readonly Id[] } {
    const about = attributesOf(this.graph);
    if ((about.defaultedgetype ?? 'undirected') !== 'directed')
      this.say('undirected', 'info', 'The edges have no direction; they are read from source to target.');
    const edges: Element[] = [];
    const todo: Element[] = [this.graph];
    for (let at = todo.pop(); at; at = todo.pop()) {
      edges.push(...children(at, 'edges').flatMap((list) => children(list, 'edge')));
      for (const element of children(at, 'nodes').flatMap((list) => children(list, 'node'))) {
        if (at !== this.graph || attribute(element, 'pid') !== undefined) this.nested++;
        this.readNode(element);
        if (children(element, 'nodes').length > 0) todo.push(element);
      }
    }
    const loose = edges.map((element, i) => this.looseWire(element, i));
    const meta = children(this.root, 'meta')[0];
    const [creator, description] = ['creator', 'description'].map((name) => textOf(meta && children(meta, name)[0]));
    const called = creator === 'Basitax' && description ? description : this.title;
    const graphs = new Map<Id, Graph>([['root', { id: 'root', name: called.slice(0, 200) || 'Graph' }]]);
    const { wires, made } = bridgeLevels(loose, this.nodes, graphs, 'root', {
      claim: this.claim,
      say: (rule, severity, message, place) => this.say(rule, severity, message, place),
    });
    this.sayWhatIsLeft();
    const kept: Kept = {
      declared: { node: this.declared('node'), edge: this.declared('edge') },
      graph: without(about, []),
    };
    const base = emptyDoc('document', called.slice(0, 300), { id: 'none', version: 0 });
    const whole = repair({ ...base, extra: { gexf: kept as unknown as Json }, graphs, nodes: this.nodes, wires });
    return { doc: whole.doc, findings: [...this.findings, ...whole.findings], unplaced: [...this.unplaced, ...made] };
  }

  private say(rule: string, severity: Finding['severity'], message: string, place: readonly Id[] = []): void {
    this.findings.push(finding(rule, severity, place, message));
  }

  private sayWhatIsLeft(): void {
    if (this.nested > 0)
      this.say('tree-of-nodes', 'warning', `${this.nested} nodes lie within other nodes; they were read beside them.`);
    if (this.timed > 0)
      this.say(
        'times',
        'warning',
        `${this.timed} nodes and edges have lists of times at which they are there; the lists were left out.`,
      );
    this.findings.push(...renamedFindings(this.renamed));
  }

  /** What the file declares of nodes or edges, without what is ours. */
  private declared(of: 'node' | 'edge'): Declared[] {
    const ours: readonly string[] = Object.values(own[of]);
    return children(this.graph, 'attributes')
      .filter((list) => attribute(list, 'class') === of)
      .flatMap((list) => children(list, 'attribute'))
      .filter((one) => !ours.includes(attribute(one, 'id') ?? ''))
      .map((one) => {
        const [fallback, options] = ['default', 'options'].map((name) => textOf(children(one, name)[0]));
        return {
          attributes: attributesOf(one),
          ...(fallback !== undefined && { fallback }),
          ...(options !== undefined && { options }),
        };
      });
  }

  /** The values of an element by what they are for: ours, and those of others. */
  private values(
    element: Element,
    ours: readonly string[],
  ): { own: ReadonlyMap<string, string>; rest: Record<string, string> } {
    const mine = new Map<string, string>();
    const rest = new Map<string, string>();
    for (const one of children(element, 'attvalues').flatMap((list) => children(list, 'attvalue'))) {
      const [key, value] = [attribute(one, 'for') ?? attribute(one, 'id'), attribute(one, 'value')];
      if (key === undefined || value === undefined) continue;
      if (ours.includes(key)) mine.set(key, value);
      else rest.set(key, value);
    }
    if (children(element, 'spells').length > 0) this.timed++;
    return { own: mine, rest: Object.fromEntries(rest) };
  }

  /** Fields that we have written, where they fit; said where they do not. */
  private more<T>(
    text: string | undefined,
    shape: { safeParse(value: unknown): { data?: T | undefined } },
    id: Id,
  ): T | undefined {
    if (text === undefined) return undefined;
    let read: T | undefined;
    try {
      read = shape.safeParse(JSON.parse(text)).data;
    } catch {
      read = undefined;
    }
    if (read === undefined) this.findings.push(misfitFinding(id));
    return read;
  }

  private readNode(element: Element): void {
    const name = attribute(element, 'id');
    if (name === undefined) {
      this.say('node-without-id', 'warning', 'A node without an id was left out.');
      return;
    }
    const id = this.claim(name);
    if (this.ids.has(name))
      this.say(
        'doubled-id',
        'warning',
        `The id ${name} stands twice; the second one is now ${id}, and edges lead to the first.`,
        [id],
      );
    else this.ids.set(name, id);
    const { own: mine, rest } = this.values(element, Object.values(own.node));
    const viz = vizOf(element);
    const [x, y] = [Number(viz.position?.x ?? Number.NaN), Number(viz.position?.y ?? Number.NaN)];
    const hasPlace = Number.isFinite(x) && Number.isFinite(y);
    if (!hasPlace) this.unplaced.push(id);
    const label = attribute(element, 'label') ?? name;
    const called = mine.get(own.node.name) ?? legalName(label);
    if (called !== label && !mine.has(own.node.name)) this.renamed.push(label);
    const color =
      viz.color &&
      (viz.color.hex ?? hexOf([part(viz.color.r), part(viz.color.g), part(viz.color.b)])).slice(0, 30).toLowerCase();
    const kept = filled<Kept>({
      attributes: without(attributesOf(element), ['id', 'label']),
      values: rest,
      viz: restOf(viz),
    });
    this.nodes.set(id, {
      ports: [],
      ...(called !== label && { label: label.slice(0, 500) }),
      ...(color !== undefined && { color }),
      ...this.more(mine.get(own.node.more), moreOfNode, id),
      id,
      graph: 'root',
      kind: (mine.get(own.node.kind) ?? 'foreign.node').slice(0, 200) || 'foreign.node',
      name: called.slice(0, 200),
      x: hasPlace ? x : 0,
      y: hasPlace ? y : 0,
      ...(kept && { gexf: kept }),
    } as GraphNode);
  }

  private looseWire(element: Element, i: number): LooseWire {
    const [source, target] = [attribute(element, 'source') ?? '', attribute(element, 'target') ?? ''];
    const id = this.claim(attribute(element, 'id') ?? `e${i + 1}`);
    const { own: mine, rest } = this.values(element, Object.values(own.edge));
    const kept = filled<Kept>({
      attributes: without(attributesOf(element), ['id', 'source', 'target']),
      values: rest,
      viz: vizOf(element),
    });
    const [from, to] = [this.ids.get(source), this.ids.get(target)];
    return {
      id,
      source,
      target,
      sourcePort: mine.get(own.edge.from),
      targetPort: mine.get(own.edge.to),
      from,
      to,
      late: () => [from, to],
      extra: { ...this.more(mine.get(own.edge.more), moreOfWire, id), ...(kept && { gexf: kept }) } as Partial<Wire>,
    };
  }
}
