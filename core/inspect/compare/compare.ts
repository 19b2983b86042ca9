import { caption, type Doc, indexOf } from '../../document/doc.ts';
import { titleOf } from '../../document/geometry.ts';
import { compareIds, type Id } from '../../document/ids.ts';
import { type Json, sameJson } from '../../document/json.ts';
import { isExpression, type Kinds } from '../../document/kinds.ts';
import type { GraphNode } from '../../document/schema.ts';
import { must } from '../../must.ts';
import { expressionText } from '../../structure/expression.ts';
import { effectiveWiring, isConcrete } from '../../wiring/effective.ts';
import { plural } from '../../words.ts';
import { compareFingerprints, type Fingerprint, fingerprint, type Verdict } from '../fingerprint.ts';
import { textOfUse } from '../uses.ts';
import { alike } from './alike.ts';
import { byCause, type Compared, type Rewired } from './causes.ts';
import { type Layer, layers } from './layers.ts';
import { type Match, matchDocs } from './match.ts';

export const changeTypes = [
  'added',
  'removed',
  'kind',
  'rewired',
  'parameter',
  'bypassed',
  'renamed',
  'relabelled',
  'reframed',
  'rerouted',
  'moved',
  'look',
  'note',
] as const;
export type ChangeType = (typeof changeTypes)[number];

/** One difference between two documents. */
export interface Change {
  readonly type: ChangeType;
  readonly layer: Layer;
  /** The thing in the first document, where it is there. */
  readonly before?: Id;
  /** The same thing in the second. */
  readonly after?: Id;
  /** The input or parameter that it is about. */
  readonly part?: string;
  readonly sentence: string;
  /** What changed in words, without the node that it changed at: many of the same are one entry. */
  readonly alike?: string;
  /** The nodes of the second document at which an entry of many changed the same. */
  readonly nodes?: readonly Id[];
  /** What only follows from it: inputs that take something else, what lies inside, values of another kind. */
  readonly consequences?: readonly Change[];
}

/** A change and all that follows from it, each by itself. */
export const withConsequences = (changes: readonly Change[]): readonly Change[] =>
  changes.flatMap((change) => (change.consequences ? [change, ...change.consequences] : [change]));

/** A change in words alone, as it is sent and printed. */
export interface ToldChange {
  readonly layer: Layer;
  readonly sentence: string;
  readonly consequences?: string[];
}

/** So much of what follows from one change is told by itself; of the rest the number. */
const mostTold = 200;

export function toldChange({ layer, sentence, consequences }: Change): ToldChange {
  if (!consequences) return { layer, sentence };
  const told = consequences.slice(0, mostTold).map((one) => one.sentence);
  const rest = consequences.length - told.length;
  return { layer, sentence, consequences: rest > 0 ? [...told, `${plural(rest, 'change')} more.`] : told };
}

export interface Comparison {
  /** One entry for each cause, what follows from it folded under it. */
  readonly changes: readonly Change[];
  readonly counts: Readonly<Record<Layer, number>>;
  readonly fingerprint: { readonly before: Fingerprint; readonly after: Fingerprint; readonly verdict: Verdict };
  /** How many nodes are the same by id, and how many by likeness. */
  readonly matched: { readonly byId: number; readonly byLikeness: number };
}

/** Fields of a node that say how it looks. */
const looks = [
  'size',
  'color',
  'pinned',
  'closed',
  'show',
  'caption',
  'picture',
  'pictureOff',
  'sets',
  'locked',
  'setting',
  'settings',
] as const;

/**
 * Every difference between two documents by its cause, what is computed apart from what is only arranged or worded, in
 * the order of `layers` and then of ids. Wires are told by inputs: `rewired` where something else feeds it, `rerouted` where the
 * same comes another way. O(records), and the cost of matching.
 */
export function compareDocs(
  before: Doc,
  after: Doc,
  kinds: { readonly before: Kinds; readonly after: Kinds },
): Comparison {
  const match = matchDocs(before, after, kinds);
  const changes = new Comparer(before, after, kinds, match).run();
  const prints = { before: fingerprint(before, kinds.before), after: fingerprint(after, kinds.after) };
  const byId = [...match.nodes].filter(([a, b]) => a === b).length;
  return {
    changes,
    counts: Object.fromEntries(
      layers.map((layer) => [layer, changes.filter((change) => change.layer === layer).length]),
    ) as Record<Layer, number>,
    fingerprint: { ...prints, verdict: compareFingerprints(prints.before, prints.after) },
    matched: { byId, byLikeness: match.nodes.size - byId },
  };
}

class Comparer implements Compared {
  private readonly changes: Change[] = [];
  private readonly rewired = new Map<Change, Rewired>();
  readonly before: Doc;
  readonly after: Doc;
  readonly kinds: { readonly before: Kinds; readonly after: Kinds };
  readonly match: Match;

  constructor(before: Doc, after: Doc, kinds: { readonly before: Kinds; readonly after: Kinds }, match: Match) {
    this.before = before;
    this.after = after;
    this.kinds = kinds;
    this.match = match;
  }

  run(): readonly Change[] {
    const { before, after, match } = this;
    const came = new Set(match.nodes.values());
    for (const node of before.nodes.values()) {
      const other = match.nodes.get(node.id);
      if (other === undefined)
        this.add(
          'removed',
          this.layerOf(before, node),
          { before: node.id },
          `${this.called(node, this.kinds.before)} went.`,
        );
      else this.node(node, must(after.nodes.get(other)));
    }
    for (const node of after.nodes.values())
      if (!came.has(node.id))
        this.add(
          'added',
          this.layerOf(after, node),
          { after: node.id },
          `${this.called(node, this.kinds.after)} came.`,
        );
    this.frames();
    this.notes();
    this.file();
    const rank = (change: Change): number => layers.indexOf(change.layer) * 100 + changeTypes.indexOf(change.type);
    const idOf = (change: Change): Id => change.after ?? change.before ?? '';
    return alike(
      [...byCause(this.changes, this.rewired, this)].sort(
        (a, b) => rank(a) - rank(b) || compareIds(idOf(a), idOf(b)) || ((a.part ?? '') < (b.part ?? '') ? -1 : 1),
      ),
    );
  }

  private add(
    type: ChangeType,
    layer: Layer,
    where: { before?: Id; after?: Id; part?: string },
    sentence: string,
    what?: string,
  ): Change {
    const change = { type, layer, ...where, sentence, ...(what !== undefined && { alike: what }) };
    this.changes.push(change);
    return change;
  }

  private called(node: GraphNode, kinds: Kinds): string {
    return `“${caption(node)}” (${kinds.title(node.kind)})`;
  }

  /** What only carries data is layout. */
  private layerOf(doc: Doc, node: GraphNode): Layer {
    return isConcrete(doc, node) ? 'function' : 'layout';
  }

  private node(old: GraphNode, now: GraphNode): void {
    const where = { before: old.id, after: now.id };
    const name = `“${caption(now)}”`;
    const isReal = isConcrete(this.after, now);
    if (old.kind !== now.kind) {
      const [was, is] = [this.kinds.before.title(old.kind), this.kinds.after.title(now.kind)];
      this.add('kind', 'function', where, `${name} was ${was} and is ${is} now.`, `${was} → ${is}`);
    }
    if (old.bypassed !== now.bypassed) {
      const what = now.bypassed ? 'bypassed' : 'no longer bypassed';
      this.add('bypassed', 'function', where, `${name} is ${what}.`, now.bypassed ? 'Bypassed' : 'No longer bypassed');
    }
    if (old.name !== now.name) {
      const counts = isReal && this.kinds.after.kind(now.kind)?.nameMatters === true;
      this.add(
        'renamed',
        counts ? 'function' : 'words',
        where,
        `“${old.name}” is called “${now.name}” now${counts ? ', and its name counts' : ''}.`,
      );
    }
    if (old.label !== now.label)
      this.add(
        'relabelled',
        'words',
        where,
        now.label === undefined
          ? `“${now.name}” lost its label “${old.label}”.`
          : `“${now.name}” is labelled “${now.label}”${old.label === undefined ? '' : `, no more “${old.label}”`}.`,
      );
    this.parameters(old, now, where, name);
    this.inputs(old, now, where, name);
    if (this.match.graphs.get(old.graph) !== now.graph)
      this.add(
        'moved',
        'layout',
        where,
        `${name} lies in another graph: “${this.after.graphs.get(now.graph)?.name ?? now.graph}”.`,
      );
    else if (old.x !== now.x || old.y !== now.y)
      this.add(
        'moved',
        'layout',
        where,
        `${name} moved by ${Math.round(now.x - old.x)}, ${Math.round(now.y - old.y)} px.`,
      );
    const frame = old.frame === undefined ? undefined : (this.match.frames.get(old.frame) ?? old.frame);
    if (frame !== now.frame)
      this.add(
        'reframed',
        'layout',
        where,
        now.frame === undefined
          ? `${name} left its frame.`
          : `${name} is in the frame “${titleOf(must(this.after.frames.get(now.frame)))}” now.`,
      );
    const different = looks.filter((field) => !sameJson(old[field], now[field]));
    if (different.length > 0)
      this.add('look', 'layout', where, `${name} looks or is kept otherwise: ${different.join(', ')}.`);
  }

  private parameters(old: GraphNode, now: GraphNode, where: { before: Id; after: Id }, name: string): void {
    for (const id of [...new Set([...Object.keys(old.params ?? {}), ...Object.keys(now.params ?? {})])].sort()) {
      const [from, to] = [this.mapped(old.params?.[id]), now.params?.[id]];
      if (sameJson(from, to)) continue;
      const spec = this.kinds.after.parameter(now.kind, id);
      const shown = (value: Json | undefined, doc: Doc, kinds: Kinds, kind: string): string => {
        const counts = value ?? kinds.parameter(kind, id)?.default;
        if (isExpression(counts)) return `= ${expressionText(doc, counts)}`;
        return counts === undefined ? 'nothing' : `${textOfUse(counts)}${value === undefined ? ' (default)' : ''}`;
      };
      // a default that was made explicit computes the same
      const isSame = sameJson(
        this.kinds.before.value({ ...old, params: { ...old.params, ...(from !== undefined && { [id]: from }) } }, id),
        this.kinds.after.value(now, id),
      );
      const layer = spec?.cosmetic || isSame ? 'words' : 'function';
      const values = `${shown(old.params?.[id], this.before, this.kinds.before, old.kind)} → ${shown(to, this.after, this.kinds.after, now.kind)}`;
      const title = spec?.title ?? id;
      this.add('parameter', layer, { ...where, part: id }, `${title} of ${name}: ${values}.`, `${title}: ${values}`);
    }
  }

  /** A value with the nodes that it refers to as the second document has them. */
  private mapped(value: Json | undefined): Json | undefined {
    if (typeof value !== 'object' || value === null || !('expression' in value)) return value;
    const segments = (value as { expression: readonly (string | { node: Id; parameter: string })[] }).expression;
    return {
      expression: segments.map((segment) =>
        typeof segment === 'string'
          ? segment
          : { ...segment, node: this.match.nodes.get(segment.node) ?? segment.node },
      ),
    };
  }

  private inputs(old: GraphNode, now: GraphNode, where: { before: Id; after: Id }, name: string): void {
    const wiring = {
      before: effectiveWiring(this.before, this.kinds.before),
      after: effectiveWiring(this.after, this.kinds.after),
    };
    const ports = new Set(
      [...old.ports, ...now.ports].filter((port) => port.direction === 'in').map((port) => port.id),
    );
    for (const port of ports) {
      const [was, is] = [wiring.before.source(old.id, port), wiring.after.source(now.id, port)];
      const from = was && { node: this.match.nodes.get(was.node) ?? `gone ${was.node}`, port: was.port };
      const part = { ...where, part: port };
      const title = [...now.ports, ...old.ports].find((one) => one.id === port && one.direction === 'in')?.name ?? port;
      if (from?.node !== is?.node || from?.port !== is?.port) {
        const said = (doc: Doc, source: { node: Id; port: string } | undefined): string =>
          source ? `“${caption(must(doc.nodes.get(source.node)))}”.${source.port}` : 'nothing';
        // of what only carries data the nodes behind it tell
        if (isConcrete(this.after, now))
          this.rewired.set(
            this.add(
              'rewired',
              'function',
              part,
              `Input “${title}” of ${name}: ${said(this.before, was)} → ${said(this.after, is)}.`,
            ),
            { was, is, isSameWire: this.sameWire(old, now, port) },
          );
      } else if (!this.sameWire(old, now, port))
        this.add('rerouted', 'layout', part, `Input “${title}” of ${name} takes the same another way.`);
    }
  }

  private sameWire(old: GraphNode, now: GraphNode, port: string): boolean {
    const [was, is] = [indexOf(this.before).wireInto(old.id, port), indexOf(this.after).wireInto(now.id, port)];
    if (!was || !is) return was === is;
    return (
      this.match.nodes.get(was.from.node) === is.from.node &&
      (was.from.port === is.from.port || !isConcrete(this.after, must(this.after.nodes.get(is.from.node)))) &&
      was.off === is.off
    );
  }

  private frames(): void {
    const { before, after, match } = this;
    const came = new Set(match.frames.values());
    for (const frame of after.frames.values())
      if (!came.has(frame.id)) this.add('added', 'layout', { after: frame.id }, `The frame “${titleOf(frame)}” came.`);
    for (const frame of before.frames.values()) {
      const now = after.frames.get(match.frames.get(frame.id) ?? '');
      const where = { before: frame.id, ...(now && { after: now.id }) };
      if (!now) {
        this.add('removed', 'layout', where, `The frame “${titleOf(frame)}” went.`);
        continue;
      }
      if (frame.title !== now.title)
        this.add('renamed', 'words', where, `The frame “${titleOf(frame)}” is called “${titleOf(now)}” now.`);
      if (frame.note !== now.note)
        this.add('note', 'words', where, `The note on the frame “${titleOf(now)}” is another.`);
      const parent = frame.parent === undefined ? undefined : (match.frames.get(frame.parent) ?? frame.parent);
      if (parent !== now.parent)
        this.add('reframed', 'layout', where, `The frame “${titleOf(now)}” lies in another frame, or in none.`);
      const different = (['color', 'pad', 'folded', 'order'] as const).filter(
        (field) => !sameJson(frame[field], now[field]),
      );
      if (different.length > 0)
        this.add('look', 'layout', where, `The frame “${titleOf(now)}” looks otherwise: ${different.join(', ')}.`);
    }
  }

  private notes(): void {
    const { before, after, match } = this;
    const came = new Set(match.notes.values());
    const short = (text: string): string => (text.length > 60 ? `${text.slice(0, 57)} …` : text).replace(/\s+/g, ' ');
    for (const note of after.notes.values())
      if (!came.has(note.id))
        this.add('note', 'words', { after: note.id }, `A note came: ${short(note.text) || 'without words'}.`);
    for (const note of before.notes.values()) {
      const now = after.notes.get(match.notes.get(note.id) ?? '');
      if (!now) this.add('note', 'words', { before: note.id }, `A note went: ${short(note.text) || 'without words'}.`);
      else if (note.text !== now.text)
        this.add('note', 'words', { before: note.id, after: now.id }, `A note says “${short(now.text)}” now.`);
      else if (note.x !== now.x || note.y !== now.y)
        this.add('moved', 'layout', { before: note.id, after: now.id }, `The note “${short(now.text)}” moved.`);
    }
  }

  /** What the document itself says. */
  private file(): void {
    const [old, now] = [this.before.head, this.after.head];
    if (old.title !== now.title)
      this.add('renamed', 'words', {}, `The file “${old.title}” is titled “${now.title}” now.`);
    if (!sameJson(old.catalogue, now.catalogue))
      this.add(
        'kind',
        'function',
        {},
        `It is read with catalogue “${now.catalogue.id}”, version ${now.catalogue.version}; before with “${old.catalogue.id}”, version ${old.catalogue.version}.`,
      );
    if (old.wireStyle !== now.wireStyle)
      this.add('look', 'layout', {}, `Wires are drawn ${now.wireStyle ?? 'right-angled'}.`);
  }
}
