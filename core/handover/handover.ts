import { type Doc, graphPath, indexOf, nodePath } from '../document/doc.ts';
import { framesAround, titleOf } from '../document/geometry.ts';
import type { Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import type { Frame } from '../document/schema.ts';
import type { Finding, Severity } from '../finding.ts';
import { addTo } from '../group-by.ts';
import { endsOf } from '../inspect/fingerprint.ts';
import { dependencyGraph } from '../inspect/graph/dependency-graph.ts';
import { scoreOfDoc } from '../inspect/readability.ts';
import { must } from '../must.ts';
import { readPaths } from '../rules/kept.ts';
import { askedBy } from '../rules/profile.ts';
import type { Profile } from '../rules/profile-schema.ts';
import { checkAsked, ruleById } from '../rules/rules.ts';
import { plainText } from '../sheet/wrap.ts';

/** What is known of the revision beside its document. */
export interface HandoverFacts {
  readonly revision: number;
  readonly author: string;
  readonly message: string;
  /** When it was saved, in words. */
  readonly at: string;
  readonly project: string;
}

interface FrameRow {
  readonly title: string;
  readonly depth: number;
  readonly nodes: number;
  /** The notes that are tied to it, or lie in it. */
  readonly notes: readonly string[];
}

interface GraphRow {
  readonly id: Id;
  readonly path: string;
  readonly nodes: number;
  readonly frames: readonly FrameRow[];
  /** Notes that belong to no frame. */
  readonly notes: readonly string[];
}

interface Named {
  readonly name: string;
  readonly kind: string;
  readonly about: string;
}

/** What somebody has to know who takes a file over. */
export interface Handover extends HandoverFacts {
  readonly title: string;
  readonly root: Id;
  readonly score: number;
  readonly counts: { readonly nodes: number; readonly wires: number; readonly frames: number; readonly graphs: number };
  readonly graphs: readonly GraphRow[];
  /** What it reads from outside. */
  readonly inputs: readonly Named[];
  /** What it is for. */
  readonly outputs: readonly Named[];
  readonly shared: readonly { readonly title: string; readonly version: number; readonly count: number }[];
  readonly findings: {
    readonly counts: Readonly<Record<Severity, number>>;
    readonly rules: readonly {
      readonly title: string;
      readonly severity: Severity;
      readonly count: number;
      readonly messages: readonly string[];
    }[];
  };
}

const mostMessages = 4;

/** Gathers it. Cost: that of the rules, and O(nodes · depth). */
export function handoverOf(doc: Doc, kinds: Kinds, profile: Profile, facts: HandoverFacts): Handover {
  const graph = dependencyGraph(doc, kinds);
  const shared = new Map<string, { title: string; version: number; count: number }>();
  for (const node of doc.nodes.values()) {
    const kind = kinds.kind(node.kind);
    if (!kind?.shared) continue;
    const key = `${kind.shared.name} ${kind.shared.version}`;
    shared.set(key, { title: kind.title, version: kind.shared.version, count: (shared.get(key)?.count ?? 0) + 1 });
  }
  const named = (id: Id, about: string): Named => {
    const node = must(doc.nodes.get(id));
    return { name: nodePath(doc, node), kind: kinds.title(node.kind), about };
  };
  const byName = (a: Named, b: Named): number => (a.name < b.name ? -1 : a.name > b.name ? 1 : 0);
  const written = new Map<Id, string>();
  for (const node of doc.nodes.values())
    for (const { path, isRead } of kinds.pathsOf(node)) if (!isRead) written.set(node.id, path);
  return {
    ...facts,
    title: doc.head.title,
    root: doc.head.root,
    score: scoreOfDoc(doc, kinds),
    counts: { nodes: doc.nodes.size, wires: doc.wires.size, frames: doc.frames.size, graphs: doc.graphs.size },
    graphs: [...doc.graphs.keys()]
      .sort((a, b) => graphPath(doc, a).length - graphPath(doc, b).length || (a < b ? -1 : 1))
      .map((id) => graphRow(doc, id)),
    inputs: readPaths(doc, kinds)
      .map(({ node, path }) => named(node.id, path))
      .sort(byName),
    outputs: endsOf(doc, kinds, graph)
      .map((i) => named(must(graph.nodes[i]).id, written.get(must(graph.nodes[i]).id) ?? ''))
      .sort(byName),
    shared: [...shared.values()].sort((a, b) => (a.title < b.title ? -1 : 1)),
    findings: summedUp(checkAsked(doc, kinds, askedBy(profile))),
  };
}

function graphRow(doc: Doc, id: Id): GraphRow {
  const index = indexOf(doc);
  const frames = [...doc.frames.values()].filter((frame) => frame.graph === id);
  const notes = [...doc.notes.values()].filter((note) => note.graph === id && note.text.trim() !== '');
  // a note belongs to the frame that it is tied to, or to that of the node that it is tied to
  const frameOf = (tiedTo: Id | undefined): Id | undefined =>
    tiedTo === undefined ? undefined : doc.frames.has(tiedTo) ? tiedTo : doc.nodes.get(tiedTo)?.frame;
  const owned = new Map<Id | undefined, string[]>();
  for (const note of notes) {
    const owner = frameOf(note.tiedTo);
    addTo(owned, owner, plainText(note.text).trim());
  }
  const order = (frame: Frame): string =>
    [...framesAround(doc, frame).reverse(), frame].map((one) => `${titleOf(one)}\u0000${one.id}`).join('\u0001');
  const path = graphPath(doc, id)
    .slice(1)
    .map((one) => doc.graphs.get(one)?.name ?? one)
    .join(' / ');
  return {
    id,
    path: path || doc.head.title,
    nodes: index.nodesIn(id).length,
    frames: frames
      .map((frame) => ({ frame, key: order(frame) }))
      .sort((a, b) => (a.key < b.key ? -1 : 1))
      .map(({ frame }) => ({
        title: titleOf(frame),
        depth: framesAround(doc, frame).length,
        nodes: index.membersOf(frame.id).length,
        notes: owned.get(frame.id) ?? [],
      })),
    notes: owned.get(undefined) ?? [],
  };
}

function summedUp(found: readonly Finding[]): Handover['findings'] {
  const counts = { error: 0, warning: 0, info: 0 };
  const rules = new Map<string, { title: string; severity: Severity; count: number; messages: string[] }>();
  for (const { rule, severity, message } of found) {
    counts[severity]++;
    const one = rules.get(rule) ?? { title: ruleById(rule)?.title ?? rule, severity, count: 0, messages: [] };
    one.count++;
    if (one.messages.length < mostMessages) one.messages.push(message);
    rules.set(rule, one);
  }
  return { counts, rules: [...rules.values()] };
}
