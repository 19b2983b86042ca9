import { type Attributes, attributeKey, attributeName } from '../document/attributes.ts';
import { foreignKind } from '../document/builtin.ts';
import { type Doc, emptyDoc } from '../document/doc.ts';
import type { ReadFile } from '../document/file.ts';
import { geometryOf } from '../document/geometry.ts';
import type { Id } from '../document/ids.ts';
import type { Json } from '../document/json.ts';
import type { Kinds } from '../document/kinds.ts';
import { legalName } from '../document/names.ts';
import {
  type AttributeBearer,
  type Declared,
  type Frame,
  type Graph,
  type GraphNode,
  type Head,
  mostLabel,
  type Note,
  type Port,
  type Wire,
} from '../document/schema.ts';
import { repair } from '../document/validate.ts';
import type { Finding } from '../finding.ts';
import { stronglyConnected } from '../inspect/graph/components.ts';
import { must } from '../must.ts';
import type { FormatId } from './endings.ts';
import { bridgeLevels, idClaimer, type LooseWire } from './levels.ts';
import { find } from './sentences.ts';

/** What was read, and the nodes that came without a place. */
export type Assembled = ReadFile & { readonly unplaced: readonly Id[] };

/** A node as a file of another program has it. */
export interface GivenNode {
  /** Its id there; undefined where it has none. */
  readonly key: string | undefined;
  /** Its id in the file, where its key has more in it to be told apart. */
  readonly outer?: string;
  /** What people see there, where that is not its id. */
  readonly called?: string | undefined;
  readonly graph?: Id;
  readonly frame?: Id | undefined;
  readonly x?: number | undefined;
  readonly y?: number | undefined;
  readonly width?: number | undefined;
  readonly height?: number | undefined;
  /** The size is the least that it has: text may make it larger. */
  readonly atLeast?: boolean;
  readonly color?: string | undefined;
  readonly ports?: readonly Port[];
  readonly attributes?: Attributes;
  /** The graph in it is made by whoever asks. */
  readonly inner?: Id;
  /** Fields that are ours: they win over all of the above. */
  readonly own?: Partial<GraphNode>;
}

/** An edge as a file of another program has it. */
export interface GivenEdge {
  readonly key?: string | undefined;
  readonly source: string;
  readonly target: string;
  readonly sourcePort?: string | undefined;
  readonly targetPort?: string | undefined;
  readonly attributes?: Attributes;
  readonly own?: Partial<Wire>;
}

/** Things that are said once with their number, however often they happen. */
interface Counted {
  count: number;
  readonly found: (count: number) => Finding;
}

/**
 * Puts a document together from what a reader finds in a file of another program. Ids, names, sizes, edges over levels
 * and what has to be said of them are decided here, for all formats alike.
 */
export class Assembly {
  readonly findings: Finding[] = [];
  readonly nodes = new Map<Id, GraphNode>();
  readonly frames = new Map<Id, Frame>();
  readonly notes = new Map<Id, Note>();
  readonly graphs = new Map<Id, Graph>();
  readonly root: Id;
  readonly claim: (wanted: string) => Id;
  private readonly from: FormatId;
  private readonly kinds: Kinds;
  private readonly byKey = new Map<string, Id>();
  private readonly loose: LooseWire[] = [];
  private readonly declared: Record<string, Declared> = {};
  private readonly unplaced: Id[] = [];
  private readonly sizes = new Map<Id, Pick<GivenNode, 'width' | 'height' | 'atLeast'>>();
  private readonly renamed: { called: string; id: Id }[] = [];
  private readonly counted = new Map<string, Counted>();

  constructor(from: FormatId, kinds: Kinds, root: Id = 'root') {
    this.from = from;
    this.kinds = kinds;
    this.root = root;
    this.claim = idClaimer([root]);
  }

  tell(finding: Finding): void {
    this.findings.push(finding);
  }

  /** Counts something that is said once at the end, with how often it happened; `found` is that of the first. */
  count(rule: string, found: Counted['found']): void {
    const known = this.counted.get(rule);
    if (known) known.count++;
    else this.counted.set(rule, { count: 1, found });
  }

  /**
   * Declares an attribute. Returns the name that records have it under: another one where that is taken by an attribute
   * with another key.
   */
  declare(of: AttributeBearer, title: string, about: Omit<Declared, 'of' | 'name' | 'from' | 'title'>): string {
    const name = attributeName(title, (one) => attributeKey(of, one) in this.declared);
    this.declared[attributeKey(of, name)] = {
      of,
      name,
      ...about,
      from: this.from,
      ...(name !== title && { title: title.slice(0, 1000) }),
    };
    return name;
  }

  /** Takes over what a file of ours declares. */
  declareAs(one: Declared): void {
    this.declared[attributeKey(one.of, one.name)] = one;
  }

  graph(id: Id, about: Omit<Graph, 'id'>): void {
    this.graphs.set(id, { id, ...about, name: about.name.slice(0, 200) });
  }

  /** The node of a key; undefined where no node had it yet. */
  idOf(key: string): Id | undefined {
    return this.byKey.get(key);
  }

  /** Claims an id for a thing that edges may lead to, by the one that it has in its file. */
  key(key: string | undefined, fallback: string, outer = key): { readonly id: Id; readonly foreignId?: string } {
    const id = this.claim(outer || fallback);
    if (key === undefined) return { id };
    if (this.byKey.has(key)) this.tell(find('doubled-id', 'warning', [id], 'id-twice', { id: key }));
    else this.byKey.set(key, id);
    return id === outer || outer === undefined ? { id } : { id, foreignId: outer.slice(0, 10_000) };
  }

  node(given: GivenNode): Id {
    const { id, foreignId } = this.key(given.key, 'node', given.outer);
    const hasPlace = Number.isFinite(given.x) && Number.isFinite(given.y);
    if (!hasPlace) this.unplaced.push(id);
    const called = given.called ?? given.key ?? 'node';
    const own = given.own?.name;
    const named =
      own === undefined ? this.named(called, id) : given.called && given.called !== own ? { label: given.called } : {};
    const attributes = given.attributes && Object.keys(given.attributes).length > 0 ? given.attributes : undefined;
    if (given.width !== undefined || given.height !== undefined) this.sizes.set(id, given);
    this.nodes.set(id, {
      id,
      graph: given.graph ?? this.root,
      kind: foreignKind,
      name: '',
      ...named,
      x: hasPlace ? must(given.x) : 0,
      y: hasPlace ? must(given.y) : 0,
      ...(given.frame !== undefined && { frame: given.frame }),
      ...(given.inner !== undefined && { inner: given.inner }),
      ...(given.color !== undefined && { color: given.color.slice(0, 30) }),
      ports: given.ports ?? [],
      ...(attributes && { attributes }),
      ...(foreignId !== undefined && { foreignId }),
      ...given.own,
    } as GraphNode);
    return id;
  }

  /** Gives a node that is there more of what its file says of it. */
  setNode(id: Id, more: Partial<GraphNode>): void {
    this.nodes.set(id, { ...must(this.nodes.get(id)), ...more });
  }

  /** Says of a node that was made with any place that its file gives it none. */
  unplace(id: Id): void {
    this.unplaced.push(id);
  }

  /** The size that a node has in its file. */
  size(id: Id, size: Pick<GivenNode, 'width' | 'height' | 'atLeast'>): void {
    this.sizes.set(id, size);
  }

  /**
   * What people called a node stays what they see, as its label; scripts and expressions call it by a legal name, which
   * is the same where that is possible.
   */
  named(called: string, id: Id): { readonly name: string; readonly label?: string } {
    const name = legalName(called);
    if (name === called) return { name };
    this.renamed.push({ called, id });
    if (called.length > mostLabel)
      this.count('label-cut', (labels) =>
        find('label-cut', 'warning', [id], 'labels-cut', { labels, most: mostLabel, first: called }),
      );
    return { name, label: called.slice(0, mostLabel) };
  }

  edge(given: GivenEdge): void {
    const id = this.claim(given.key || `e${this.loose.length + 1}`);
    const attributes = given.attributes && Object.keys(given.attributes).length > 0 ? given.attributes : undefined;
    this.loose.push({
      id,
      source: given.source,
      target: given.target,
      sourcePort: given.sourcePort,
      targetPort: given.targetPort,
      from: undefined,
      to: undefined,
      late: () => [this.byKey.get(given.source), this.byKey.get(given.target)],
      extra: {
        ...(attributes && { attributes }),
        ...(given.key !== undefined && given.key !== id && { foreignId: given.key.slice(0, 10_000) }),
        ...given.own,
      },
    });
  }

  get edges(): number {
    return this.loose.length;
  }

  /** The document, whole. O(document · depth). */
  finish(
    head: Partial<Omit<Head, 'root' | 'attributes'>> & { readonly title: string },
    extra: Record<string, Json> = {},
  ): Assembled {
    if (!this.graphs.has(this.root)) this.graph(this.root, { name: head.title || 'Graph' });
    const { wires, made } = bridgeLevels(this.loose, this.nodes, this.graphs, this.root, {
      claim: this.claim,
      tell: (finding) => this.tell(finding),
    });
    const base = emptyDoc('document', '');
    const attributes = this.declared;
    const doc: Doc = {
      head: {
        ...base.head,
        ...head,
        title: head.title.slice(0, 300),
        root: this.root,
        ...(Object.keys(attributes).length > 0 && { attributes }),
      },
      extra,
      graphs: this.graphs,
      frames: this.frames,
      nodes: this.nodes,
      wires,
      notes: this.notes,
    };
    this.fitSizes(doc);
    this.sayLoops(wires);
    this.sayNames();
    for (const { count, found } of this.counted.values()) this.tell(found(count));
    const whole = repair(doc);
    return { doc: whole.doc, findings: [...this.findings, ...whole.findings], unplaced: [...this.unplaced, ...made] };
  }

  /** A size that is just what the node would have anyway is no override. */
  private fitSizes(doc: Doc): void {
    for (const [id, { width, height, atLeast }] of this.sizes) {
      const node = must(this.nodes.get(id));
      const natural = geometryOf(doc, this.kinds, node);
      const of = (given: number | undefined, own: number): number => {
        if (given === undefined || !Number.isFinite(given) || given <= 0) return own;
        return atLeast ? Math.max(given, own) : given;
      };
      const size = { width: of(width, natural.width), height: of(height, natural.height) };
      if (Math.abs(natural.width - size.width) >= 0.5 || Math.abs(natural.height - size.height) >= 0.5)
        this.nodes.set(id, { ...node, size });
    }
  }

  private sayNames(): void {
    const [first] = this.renamed;
    if (!first) return;
    const name = must(this.nodes.get(first.id)).name;
    this.findings.push(
      find('name', 'info', [first.id], 'names-made-legal', { called: this.renamed.length, what: first.called, name }),
    );
  }

  /** Loops and wires of a node to itself are kept; whoever imports is told, since many kinds of graph forbid them. */
  private sayLoops(wires: ReadonlyMap<Id, Wire>): void {
    const ids = [...this.nodes.keys()];
    const at = new Map(ids.map((id, i) => [id, i]));
    const before: number[][] = ids.map(() => []);
    const own = new Set<Id>();
    for (const wire of wires.values()) {
      const { from, to } = wire;
      if (wire.direction === 'undirected' || this.graphs.get(must(this.nodes.get(from.node)).graph)?.undirected)
        continue;
      if (from.node === to.node) own.add(from.node);
      else must(before[must(at.get(to.node))]).push(must(at.get(from.node)));
    }
    const loops = stronglyConnected(before).filter((component) => component.length > 1);
    if (loops.length > 0)
      this.tell(
        find('loop', 'info', [must(ids[must(must(loops[0])[0])])], 'loops-kept', {
          loops: loops.length,
          largest: loops.reduce((most, loop) => Math.max(most, loop.length), 0),
        }),
      );
    if (own.size > 0)
      this.tell(find('self-loop', 'info', [...own].slice(0, 1), 'self-loops-kept', { nodes: own.size }));
  }
}

/** That edges have no direction, which many formats may say. */
export const undirectedFinding = (): Finding => find('undirected', 'info', [], 'undirected');
