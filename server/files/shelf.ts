import type { EventType } from '@basitax/api/events';
import type { FileInfo } from '@basitax/api/files';
import type { Person } from '@basitax/api/people';
import type { Trashed } from '@basitax/api/shelf';
import { addTo } from '@basitax/core/group-by';
import { must } from '@basitax/core/must';
import { Op, QueryTypes, type Sequelize, type Transaction } from 'sequelize';
import { FileRow, HookRun, RevisionRow, SketchRow, TimesRow, UseRow } from '../db/models.ts';
import { RevisionFindingsRow, TagRow } from '../db/team-models.ts';
import { happened } from '../events/record.ts';
import { HttpProblem } from '../http/problem.ts';
import { closedTo, reachable, reachableProject } from '../projects/access.ts';

// Where files lie, which is beside what they hold: none of this makes a revision.

/** What is listed of a file, read in one question for all. */
interface Listed {
  readonly id: string;
  readonly title: string;
  readonly catalogue_id: string;
  readonly catalogue_version: number;
  readonly project_id: string;
  readonly folder: string;
  readonly trashed_at: Date | null;
  readonly trashed_by: string;
  readonly created_at: Date;
  readonly number: number;
  readonly author: string;
  readonly message: string;
  readonly saved_at: Date;
  readonly name: string;
  readonly fingerprint_ends: string;
  readonly fingerprint_everything: string;
  readonly measures: string;
  readonly errors: number | null;
  readonly warnings: number | null;
  readonly infos: number | null;
  /** How many of each rule, as JSON. */
  readonly by_rule: string | null;
}

const question = `SELECT f.id, f.title, f.catalogue_id, f.catalogue_version, f.project_id, f.folder, f.trashed_at, f.trashed_by, f.created_at,
  r.number, r.author, r.message, r.created_at AS saved_at, r.name, r.fingerprint_ends, r.fingerprint_everything, r.measures, n.errors, n.warnings, n.infos, n.by_rule
  FROM files f JOIN revisions r ON r.file_id = f.id AND r.number = f.head LEFT JOIN revision_findings n ON n.file_id = f.id AND n.number = f.head`;

function told(row: Listed, tags: readonly string[]): FileInfo {
  const { errors, warnings, infos } = row;
  return {
    ...{
      id: row.id,
      title: row.title,
      catalogue: { id: row.catalogue_id, version: row.catalogue_version },
      project: row.project_id,
      folder: row.folder,
      tags: [...tags],
    },
    head: {
      ...{
        number: row.number,
        author: row.author,
        message: row.message,
        createdAt: row.saved_at.toISOString(),
        name: row.name,
      },
      fingerprint: { ends: row.fingerprint_ends, everything: row.fingerprint_everything },
      measures: JSON.parse(row.measures) as FileInfo['head']['measures'],
      findings:
        errors === null || warnings === null || infos === null
          ? null
          : { error: errors, warning: warnings, info: infos },
      ...(row.by_rule !== null && { rules: Object.keys(JSON.parse(row.by_rule) as object) }),
    },
    createdAt: row.created_at.toISOString(),
  };
}

async function ask(
  sequelize: Sequelize,
  where: string,
  replacements: readonly unknown[],
): Promise<{ rows: Listed[]; tags: ReadonlyMap<string, string[]> }> {
  const rows = await sequelize.query<Listed>(`${question} ${where}`, {
    type: QueryTypes.SELECT,
    replacements: [...replacements],
  });
  const tags = new Map<string, string[]>();
  const wanted = rows.length === 1 ? { where: { fileId: must(rows[0]).id } } : {};
  for (const { fileId, tag } of await TagRow.findAll({ ...wanted, order: [['tag', 'ASC']], raw: true }))
    addTo(tags, fileId, tag);
  return { rows, tags };
}

/** The files that a person sees, by title. */
export async function listFiles(sequelize: Sequelize, person: Person): Promise<FileInfo[]> {
  const closed = await closedTo(person);
  const { rows, tags } = await ask(
    sequelize,
    `WHERE f.trashed_at IS NULL ${closed.length > 0 ? 'AND f.project_id NOT IN (?)' : ''} ORDER BY f.title, f.id`,
    closed.length > 0 ? [closed] : [],
  );
  return rows.map((row) => told(row, tags.get(row.id) ?? []));
}

/** One file, wherever it lies. */
export async function infoOfFile(sequelize: Sequelize, id: string): Promise<FileInfo> {
  const { rows, tags } = await ask(sequelize, 'WHERE f.id = ?', [id]);
  const row = rows[0];
  if (!row) throw new HttpProblem(404, 'Not found', `There is no file “${id}”; it may have been removed.`);
  return told(row, tags.get(row.id) ?? []);
}

/** What lies in the trash, as far as a person sees it; what was thrown away last comes first. */
export async function listTrash(sequelize: Sequelize, person: Person): Promise<Trashed[]> {
  const closed = await closedTo(person);
  const { rows, tags } = await ask(
    sequelize,
    `WHERE f.trashed_at IS NOT NULL ${closed.length > 0 ? 'AND f.project_id NOT IN (?)' : ''} ORDER BY f.trashed_at DESC`,
    closed.length > 0 ? [closed] : [],
  );
  return rows.map((row) => ({
    ...told(row, tags.get(row.id) ?? []),
    trashedAt: must(row.trashed_at).toISOString(),
    trashedBy: row.trashed_by,
  }));
}

/** Changes where a file lies, and puts on record that it happened. */
async function changed(id: string, type: EventType, person: Person, fields: Partial<FileRow>): Promise<void> {
  await must(FileRow.sequelize).transaction(async (transaction) => {
    await FileRow.update(fields, { where: { id }, transaction });
    const file = must(await FileRow.findByPk(id, { transaction }));
    const about = { file: id, project: file.projectId };
    await happened(type, { person: person.name, title: file.title, ...about }, transaction);
  });
}

/** Moves a file to a folder of a project that the person sees, too. */
export async function moveFile(
  id: string,
  { project, folder }: { project: string; folder: string },
  person: Person,
): Promise<string> {
  const { title } = await reachableProject(person, project);
  await changed(id, 'file.moved', person, { projectId: project, folder });
  return folder === '' ? title : `${title}/${folder}`;
}

/** Gives a file these tags in place of those that it had. */
export async function tagFile(sequelize: Sequelize, id: string, tags: readonly string[]): Promise<void> {
  await sequelize.transaction(async (transaction) => {
    await TagRow.destroy({ where: { fileId: id, tag: { [Op.notIn]: [...tags] } }, transaction });
    await TagRow.bulkCreate(
      tags.map((tag) => ({ fileId: id, tag })),
      { ignoreDuplicates: true, transaction },
    );
  });
}

/** Puts a file into the trash: nothing of it is lost, and nobody works on it there. */
export async function throwAway(id: string, person: Person): Promise<void> {
  await changed(id, 'file.trashed', person, { trashedAt: new Date(), trashedBy: person.name });
}

/** Takes a file out of the trash, to where it was. */
export async function takeBack(id: string, person: Person): Promise<string> {
  const file = await reachable(person, id, 'trash');
  await changed(id, 'file.restored', person, { trashedAt: null, trashedBy: '' });
  return file.title;
}

const ofFile = [TagRow, RevisionFindingsRow, HookRun, SketchRow, UseRow, TimesRow] as const;

/** Removes a file that lies in the trash with all its revisions, for ever. Returns its title. */
export async function removeForEver(sequelize: Sequelize, id: string, person: Person): Promise<string> {
  const file = await reachable(person, id, 'trash');
  await sequelize.transaction(async (transaction: Transaction) => {
    for (const model of ofFile) await (model as typeof TagRow).destroy({ where: { fileId: id }, transaction });
    await RevisionRow.destroy({ where: { fileId: id }, transaction });
    await file.destroy({ transaction });
    const about = { file: id, project: file.projectId };
    await happened('file.removed', { person: person.name, title: file.title, ...about }, transaction);
  });
  return file.title;
}

/** Names a revision; an empty name takes it off. */
export async function nameRevision(id: string, number: number, name: string): Promise<void> {
  const [count] = await RevisionRow.update({ name }, { where: { fileId: id, number } });
  if (count === 0 && (await RevisionRow.count({ where: { fileId: id, number } })) === 0)
    throw new HttpProblem(404, 'Not found', `The file has no revision ${number}.`);
}
