import { caption, type Doc } from '../document/doc.ts';
import { parseDoc, writeDoc } from '../document/file.ts';
import type { Id } from '../document/ids.ts';
import type { Json } from '../document/json.ts';
import type { Port, PortRef, TableName, Wire } from '../document/schema.ts';
import type { Finding } from '../finding.ts';
import { addTo } from '../group-by.ts';
import { must } from '../must.ts';
import { diff } from './diff.ts';
import { type Conflict, conflictKey, type Rebased } from './rebase.ts';
import { apply, type Edit, read, type Step, written } from './step.ts';

/** One line of a conflict, as it was, as I have it and as they have it. */
export interface Contested {
  readonly what: string;
  readonly before: string;
  readonly mine: string;
  readonly theirs: string;
}

/** What is decided at once: all that both did to one thing, and all places that both changed. */
export interface Point {
  readonly title: string;
  readonly rows: readonly Contested[];
  /** Places in the list of conflicts. */
  readonly conflicts: readonly number[];
  /** Where it lies, for a picture or a jump. */
  readonly ids: readonly Id[];
}

interface Versions {
  readonly base: Doc;
  readonly mine: Doc;
  readonly theirs: Doc;
}

type AnyTable = ReadonlyMap<Id, Readonly<Record<string, unknown>>>;
const recordIn = (doc: Doc, table: Step['table'], id: Id): Readonly<Record<string, unknown>> | undefined =>
  table === 'head' ? (doc.head as unknown as Record<string, unknown>) : (doc[table] as unknown as AnyTable).get(id);

function portOf(doc: Doc, { node, port }: PortRef): string {
  const found = doc.nodes.get(node);
  return `${port} of ${found ? `“${caption(found)}”` : 'a node that is gone'}`;
}

/** A node by what is written on it, or by its name where the sides write different things there. */
function nodeTitle({ base, mine, theirs }: Versions, id: Id): string | undefined {
  const known = [mine, theirs, base].flatMap((doc) => doc.nodes.get(id) ?? []);
  const [first] = known;
  if (!first) return undefined;
  const isOne = known.every((node) => node.label === first.label);
  return `“${isOne ? caption(first) : must(known.at(-1)).name}”`;
}

/** What a thing is called, by whoever still has it. */
function titleOf({ base, mine, theirs }: Versions, table: Step['table'], id: Id): string {
  const doc = [mine, theirs, base].find((one) => recordIn(one, table, id) !== undefined) ?? base;
  switch (table) {
    case 'nodes':
      return nodeTitle({ base, mine, theirs }, id) ?? id;
    case 'frames':
      return `Frame “${doc.frames.get(id)?.title ?? ''}”`;
    case 'graphs':
      return `Graph “${doc.graphs.get(id)?.name ?? id}”`;
    case 'notes':
      return `Note “${(doc.notes.get(id)?.text ?? '').slice(0, 40)}”`;
    case 'wires': {
      const wire = doc.wires.get(id);
      return wire ? `Wire from ${portOf(doc, wire.from)} to ${portOf(doc, wire.to)}` : `Wire ${id}`;
    }
    case 'head':
      return 'The file';
  }
}

/** What one side did, in a few words. */
function said(versions: Versions, doc: Doc, step: Step): string {
  const title = titleOf(versions, step.table, step.id);
  if (step.type === 'add') return `${title} is added`;
  if (step.type === 'remove') return `${title} is deleted`;
  // ports are lists of records: that they changed says enough
  const to = step.path[0] === 'ports' ? 'changed' : shown(step.to, doc);
  return `${title}, ${step.path.join(' ')}: ${to}`;
}

const longest = 80;

function shown(value: Json | undefined, doc: Doc): string {
  if (value === undefined || value === null || value === '') return 'none';
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  const text =
    typeof value === 'string'
      ? (doc.frames.get(value)?.title ?? doc.graphs.get(value)?.name ?? value)
      : typeof value === 'number'
        ? String(value)
        : JSON.stringify(value);
  return text.length > longest ? `${text.slice(0, longest - 1)}…` : text;
}

function whole(doc: Doc, table: Step['table'], id: Id): string {
  return recordIn(doc, table, id) === undefined ? 'deleted' : 'kept';
}

/** Both sides of a conflict, told apart even where they read the same, such as two new frames of one title. */
function contested(versions: Versions, conflict: Conflict): Contested {
  const row = sides(versions, conflict);
  return row.mine === row.theirs ? { ...row, mine: `${row.mine} (mine)`, theirs: `${row.theirs} (theirs)` } : row;
}

function sides(versions: Versions, { mine: step, theirs: other, kind }: Conflict): Contested {
  const { base, mine, theirs } = versions;
  if (kind === 'structure')
    return {
      what: 'These changes cannot both stand',
      before: whole(base, step.table, step.id) === 'kept' ? 'as it was' : 'none',
      mine: said(versions, mine, step),
      theirs: said(versions, theirs, other),
    };
  if (kind === 'wire') {
    const wire = mine.wires.get(step.id);
    const against = theirs.wires.get(other.id);
    const before = [...base.wires.values()].find(
      (one) => wire && one.to.node === wire.to.node && one.to.port === wire.to.port,
    );
    const from = (doc: Doc, one: Wire | undefined): string => (one ? portOf(doc, one.from) : 'nothing');
    return {
      what: wire ? `What feeds ${portOf(mine, wire.to)}` : 'Wire',
      before: from(base, before),
      mine: from(mine, wire),
      theirs: from(theirs, against),
    };
  }
  if (step.type === 'set' && other.type === 'set') {
    const field = (doc: Doc): string => {
      const record = recordIn(doc, step.table, step.id);
      return record === undefined ? 'deleted' : shown(read(record, step.path), doc);
    };
    return { what: step.path.join(' '), before: field(base), mine: field(mine), theirs: field(theirs) };
  }
  if (kind === 'added')
    return {
      what: 'Added by both',
      before: 'none',
      mine: shown(recordIn(mine, step.table, step.id) as Json, mine),
      theirs: shown(recordIn(theirs, step.table, step.id) as Json, theirs),
    };
  // one of the two took away what the other leans on
  const gone = step.type === 'remove' ? step : other;
  const kept = step.type === 'remove' ? other : step;
  const change =
    kept.type === 'set'
      ? `${kept.path.join(' ')}: ${shown(kept.to, step.type === 'remove' ? theirs : mine)}`
      : kept.id === gone.id
        ? 'kept'
        : `${titleOf(versions, kept.table, kept.id)} is added`;
  const says = (doc: Doc): string => (recordIn(doc, gone.table, gone.id) === undefined ? 'deleted' : change);
  return {
    what: gone.id === step.id ? 'The thing itself' : titleOf(versions, gone.table, gone.id),
    before: whole(base, gone.table, gone.id),
    mine: says(mine),
    theirs: says(theirs),
  };
}

/**
 * Conflicts as they are decided, in the order in which they stand: those about one thing together, and all about places
 * as one. O(conflicts · wires).
 */
export function conflictPoints(versions: Versions, conflicts: readonly Conflict[]): Point[] {
  const groups = new Map<string, number[]>();
  conflicts.forEach((one, i) => {
    const key = one.kind === 'position' ? 'places' : (one.follows ?? conflictKey(one));
    addTo(groups, key, i);
  });
  return [...groups].map(([key, group]): Point => {
    const ids = [...new Set(group.map((i) => must(conflicts[i]).id))];
    if (key !== 'places') {
      const first = must(conflicts[must(group[0])]);
      return {
        title: titleOf(versions, first.mine.table, first.id),
        rows: group.map((i) => contested(versions, must(conflicts[i]))),
        conflicts: group,
        ids,
      };
    }
    const rows = group.map((i) => {
      const row = contested(versions, must(conflicts[i]));
      return { ...row, what: `${titleOf(versions, must(conflicts[i]).mine.table, must(conflicts[i]).id)} ${row.what}` };
    });
    return {
      title:
        ids.length === 1
          ? `Place of ${titleOf(versions, must(conflicts[must(group[0])]).mine.table, must(ids[0]))}`
          : `Places of ${ids.length} things`,
      rows,
      conflicts: group,
      ids,
    };
  });
}

function bothPorts(mine: Json | undefined, theirs: Json | undefined): Json {
  const [own, other] = [mine, theirs].map((ports) => (ports ?? []) as unknown as readonly Port[]) as [
    readonly Port[],
    readonly Port[],
  ];
  const has = ({ id, direction }: Port): boolean => own.some((port) => port.id === id && port.direction === direction);
  return [...own, ...other.filter((port) => !has(port))] as unknown as Json;
}

/** The tables of a document while records are written into them. */
class Draft {
  private readonly from: Doc;
  private head: Doc['head'];
  private readonly tables: Record<TableName, Map<Id, Record<string, unknown>>>;
  private readonly mine: Doc;
  private readonly restored = new Set<Id>();

  constructor(doc: Doc, mine: Doc) {
    const copy = (name: TableName) => new Map(doc[name] as unknown as AnyTable) as Map<Id, Record<string, unknown>>;
    this.from = doc;
    this.head = doc.head;
    this.tables = {
      graphs: copy('graphs'),
      frames: copy('frames'),
      nodes: copy('nodes'),
      wires: copy('wires'),
      notes: copy('notes'),
    };
    this.mine = mine;
  }

  /** Does one step of mine whatever stands there. */
  force(step: Step): void {
    if (step.table === 'head') {
      if (step.type === 'set') this.head = written(this.head, step.path, step.to);
      return;
    }
    const table = this.tables[step.table];
    if (step.type === 'remove') table.delete(step.id);
    else if (step.type === 'set' && table.has(step.id))
      table.set(step.id, written(must(table.get(step.id)), step.path, step.to));
    else this.restore(step.table, step.id);
    const at = this.tables[step.table].get(step.id);
    if (!at || step.type === 'remove') return;
    this.below(step.table, at);
    if (step.table === 'wires') this.free(at as unknown as Wire);
  }

  /**
   * Puts what a step of theirs changed back to how I have it. Ports of both are kept, since wires of both may lead to
   * them.
   */
  giveWay(step: Step): void {
    if (step.table === 'head') return;
    const table = this.tables[step.table];
    const record = recordIn(this.mine, step.table, step.id);
    if (step.type === 'add') table.delete(step.id);
    else if (step.type === 'remove' || !table.has(step.id)) this.restore(step.table, step.id);
    else {
      const [mine, theirs] = [read(record, step.path), read(table.get(step.id), step.path)];
      table.set(
        step.id,
        written(must(table.get(step.id)), step.path, step.path[0] === 'ports' ? bothPorts(mine, theirs) : mine),
      );
    }
  }

  /** Takes a record as I have it, with all that it cannot be without. */
  private restore(table: TableName, id: Id): void {
    const record = recordIn(this.mine, table, id);
    if (record === undefined) return;
    this.tables[table].set(id, { ...record });
    this.restored.add(id);
    this.below(table, record);
    // a nested graph comes with what it holds
    if (table === 'graphs')
      for (const name of ['nodes', 'frames', 'notes'] as const)
        for (const [inside, one] of this.mine[name])
          if (one.graph === id && !this.tables[name].has(inside)) this.restore(name, inside);
  }

  private below(table: TableName, record: Readonly<Record<string, unknown>>): void {
    const need = (name: TableName, id: unknown): void => {
      if (typeof id === 'string' && !this.tables[name].has(id)) this.restore(name, id);
    };
    need('graphs', record.graph);
    need('graphs', record.inner);
    need('frames', record.frame);
    need(table === 'graphs' ? 'graphs' : 'frames', record.parent);
    if (table !== 'wires') return;
    const wire = record as unknown as Wire;
    need('nodes', wire.from.node);
    need('nodes', wire.to.node);
  }

  /** An input takes one wire: this one. */
  private free(wire: Wire): void {
    for (const [id, other] of this.tables.wires as unknown as Map<Id, Wire>)
      if (id !== wire.id && other.to.node === wire.to.node && other.to.port === wire.to.port)
        this.tables.wires.delete(id);
  }

  /** The wires of what came back come back where their inputs are free. */
  rewire(): void {
    const wires = this.tables.wires as unknown as Map<Id, Wire>;
    const taken = new Set([...wires.values()].map((wire) => JSON.stringify([wire.to.node, wire.to.port])));
    for (const [id, wire] of this.mine.wires) {
      const [from, to] = [wire.from.node, wire.to.node];
      const input = JSON.stringify([to, wire.to.port]);
      if (wires.has(id) || taken.has(input) || !(this.restored.has(from) || this.restored.has(to))) continue;
      if (!this.tables.nodes.has(from) || !this.tables.nodes.has(to)) continue;
      this.tables.wires.set(id, wire as unknown as Record<string, unknown>);
      taken.add(input);
    }
  }

  get doc(): Doc {
    return { ...this.from, head: this.head, ...this.tables } as unknown as Doc;
  }
}

/**
 * What leads from theirs to both, where somebody chose in conflicts: of those in `chosen` (places in the list) mine is
 * done, of all others theirs stands.
 * What was deleted and is kept comes back with all that it needs. The result can be read by its own rules. O(records ·
 * conflicts that were chosen).
 */
export function resolve(
  { mine, theirs }: Versions,
  { edit, conflicts }: Rebased,
  chosen: ReadonlySet<number>,
): { readonly edit: Edit; readonly findings: readonly Finding[] } {
  if (chosen.size === 0) return { edit, findings: [] };
  const draft = new Draft(apply(theirs, edit), mine);
  const forced = conflicts.filter((_, i) => chosen.has(i));
  for (const { kind, theirs: step } of forced) if (kind === 'structure') draft.giveWay(step);
  for (const { mine: step } of forced) draft.force(step);
  draft.rewire();
  // half of an act may be left where the other half was not chosen
  const { doc, findings } = parseDoc(writeDoc(draft.doc));
  return { edit: diff(theirs, doc), findings };
}

const mostRowsSaid = 4;

/**
 * Conflicts in sentences, one for each thing that is contested: what it is called, and what it was, is on one side and
 * on the other. O(conflicts · wires).
 */
export function conflictSentences(
  versions: Versions,
  conflicts: readonly Conflict[],
  sides: { readonly mine: string; readonly theirs: string },
): string[] {
  return conflictPoints(versions, conflicts).map(({ title, rows }) => {
    const said = rows
      .slice(0, mostRowsSaid)
      .map(
        ({ what, before, mine, theirs }) =>
          `${what} was ${before || 'not set'}, is ${mine || 'not set'} in ${sides.mine} and ${theirs || 'not set'} in ${sides.theirs}`,
      );
    const rest = rows.length - said.length;
    return `${title}: ${said.join('; ')}${rest > 0 ? `; and ${rest} more` : ''}.`;
  });
}
