import type { Id } from './ids.ts';
import type { TableName } from './schema.ts';

/** A field that names another record, by its table and path. */
interface Reference {
  readonly table: TableName;
  readonly path: readonly [field: string, part?: string];
  readonly to: TableName;
}

/**
 * All fields that name a record which theirs cannot be without: where it is gone, the document is broken. What speaks
 * of another record and goes on without it (`tiedTo`, `outerFrame`, `covers`, the beacon of a tap, named sets) is none
 * of them.
 */
export const references: readonly Reference[] = [
  { table: 'frames', path: ['graph'], to: 'graphs' },
  { table: 'frames', path: ['parent'], to: 'frames' },
  { table: 'nodes', path: ['graph'], to: 'graphs' },
  { table: 'nodes', path: ['frame'], to: 'frames' },
  { table: 'nodes', path: ['inner'], to: 'graphs' },
  { table: 'wires', path: ['from', 'node'], to: 'nodes' },
  { table: 'wires', path: ['to', 'node'], to: 'nodes' },
  { table: 'notes', path: ['graph'], to: 'graphs' },
];

/** A record by its table and id. */
export interface RecordRef {
  readonly table: TableName;
  readonly id: Id;
}

const ofTable = (table: TableName): readonly Reference[] => references.filter((one) => one.table === table);
const byTable = {
  graphs: ofTable('graphs'),
  frames: ofTable('frames'),
  nodes: ofTable('nodes'),
  wires: ofTable('wires'),
  notes: ofTable('notes'),
};

/** The records that a record, or the part of one that is given, cannot be without. */
export function referencesOf(table: TableName, record: object): RecordRef[] {
  return byTable[table].flatMap(({ path: [field, part], to }) => {
    const value = (record as Record<string, unknown>)[field];
    const id = part === undefined ? value : (value as Record<string, unknown> | undefined)?.[part];
    return typeof id === 'string' ? [{ table: to, id }] : [];
  });
}

const structural = new Map<TableName, ReadonlySet<string>>();
for (const { table } of references)
  structural.set(table, new Set(references.filter((one) => one.table === table).map(({ path }) => path[0])));

/** Does writing this field of a record name others that it cannot be without? */
export const isReferenceField = (table: TableName, field: string): boolean =>
  structural.get(table)?.has(field) ?? false;

/**
 * May writing this field of a record make it, or another, impossible? Those that name records, and what is named:
 * ports, names, kinds.
 */
export const isStructuralField = (table: TableName, field: string): boolean =>
  isReferenceField(table, field) || (table === 'nodes' && (field === 'ports' || field === 'kind'));
