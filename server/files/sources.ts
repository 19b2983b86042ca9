import { createHash } from 'node:crypto';
import type { FileInfo } from '@basitax/api/files';
import { type Finding, finding, limitFindings } from '@basitax/core/finding';
import { FileRow, FileSourceRow } from '../db/models.ts';
import { unzipText, zip } from '../gzip.ts';
import type { Workplace } from '../work/desk.ts';
import type { FileStore, HowMeant, Source } from './store.ts';

const hashOf = (bytes: Uint8Array): string => createHash('sha256').update(bytes).digest('hex');

interface Imported {
  readonly file: FileInfo;
  readonly findings: Finding[];
  readonly outcome: 'new' | 'updated' | 'same';
}

/** A file that comes in. */
export interface Given {
  readonly name: string;
  /** Its path in a folder or archive; empty where it comes by itself. */
  readonly path: string;
  readonly bytes: Buffer;
  /** How a table is meant. */
  readonly how?: HowMeant;
}

/**
 * Imports a file: one that comes by itself is a new one. Of a folder or archive what came from the same path of the same
 * project before gets a new revision: what changed there is brought together with what was changed here since, and where
 * both changed the same, what is here stays and that is said. What is the same as before, or is in the project under
 * another path, is not stored again.
 */
export async function importFrom(
  store: FileStore,
  pool: Workplace,
  given: Given,
  author: string,
  place: { readonly project: string; readonly folder: string },
): Promise<Imported> {
  const { how = {} } = given;
  if (given.path === '')
    return { ...(await store.importFile(given.name, given.bytes, author, { ...place, how })), outcome: 'new' };
  const source: Source = { path: given.path, hash: hashOf(given.bytes) };
  const known = await from(place.project, { path: source.path });
  const twin = known ?? (await from(place.project, { hash: source.hash }));
  if (twin?.hash === source.hash) return { file: await store.info(twin.fileId), findings: [], outcome: 'same' };
  if (!known) {
    const made = await store.importFile(given.name, given.bytes, author, { ...place, source, how });
    return { ...made, outcome: 'new' };
  }
  const read = await store.read(given.name, given.bytes, place.project, { how });
  const ours = await store.text(known.fileId, 'head');
  // what came last from there, not what became of it here: else what was changed here would count as changed there
  const base = await unzipText(known.content);
  const { text, conflicts, findings } = await pool.run(
    'merge',
    { base, ours: ours.text, theirs: read.text },
    { catalogue: ours.catalogue },
  );
  const message = `Imported again from ${given.path}`.slice(0, 500);
  const { file } = await store.save(known.fileId, ours.number, { become: text }, author, message);
  await known.update({ hash: source.hash, content: await zip(read.text) });
  const kept = conflicts.map((said) =>
    finding('kept-ours', 'warning', [], `Changed in both; what was here is kept: ${said}`),
  );
  return { file, findings: limitFindings([...kept, ...read.findings, ...findings]), outcome: 'updated' };
}

/** The file of a project that came from somewhere; the oldest of several. */
async function from(project: string, where: { path: string } | { hash: string }): Promise<FileSourceRow | undefined> {
  const rows = await FileSourceRow.findAll({ attributes: ['fileId'], where, raw: true });
  if (rows.length === 0) return undefined;
  const file = await FileRow.findOne({
    attributes: ['id'],
    where: { id: rows.map((row) => row.fileId), projectId: project, trashedAt: null },
    order: [['createdAt', 'ASC']],
  });
  return (file && (await FileSourceRow.findByPk(file.id))) ?? undefined;
}
