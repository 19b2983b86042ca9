import type { Person } from '@basitax/api/people';
import { mayAct } from '@basitax/api/roles';
import { Op, type WhereOptions } from 'sequelize';
import { FileRow } from '../db/models.ts';
import { ProjectMemberRow, ProjectRow } from '../db/team-models.ts';
import { HttpProblem } from '../http/problem.ts';

/** Ids of the projects that a person does not see. Leads see all, but for what a token is bound to. */
export async function closedTo(person: Person): Promise<string[]> {
  const { projects } = person;
  if (projects) {
    // a token that is bound to projects sees no others, and of these only what its person sees
    const { projects: _, ...owner } = person;
    const hidden = new Set(await closedTo(owner));
    const all = await ProjectRow.findAll({ attributes: ['id'], raw: true });
    return all.flatMap(({ id }) => (hidden.has(id) || !projects.includes(id) ? [id] : []));
  }
  if (mayAct(person.role, 'lead')) return [];
  const closed = await ProjectRow.findAll({ attributes: ['id'], where: { open: false }, raw: true });
  if (closed.length === 0) return [];
  const own = new Set(
    (await ProjectMemberRow.findAll({ where: { userId: person.id }, raw: true })).map((row) => row.projectId),
  );
  return closed.flatMap((project) => (own.has(project.id) ? [] : [project.id]));
}

/** The files that a person sees, without what is in the trash. */
export async function visibleTo(person: Person): Promise<WhereOptions> {
  const closed = await closedTo(person);
  return { trashedAt: null, ...(closed.length > 0 && { projectId: { [Op.notIn]: closed } }) };
}

/** Ids of the files in projects that are closed to a person. */
export async function closedFiles(person: Person): Promise<string[]> {
  const closed = await closedTo(person);
  if (closed.length === 0) return [];
  return (await FileRow.findAll({ attributes: ['id'], where: { projectId: closed }, raw: true })).map((row) => row.id);
}

/** The same with those in the trash: where rows of many files are asked at once. */
export async function hiddenFrom(person: Person): Promise<string[]> {
  const trashed = await FileRow.findAll({ attributes: ['id'], where: { trashedAt: { [Op.not]: null } }, raw: true });
  return [...new Set([...(await closedFiles(person)), ...trashed.map((row) => row.id)])];
}

const missing = (id: string): HttpProblem =>
  new HttpProblem(404, 'Not found', `There is no file “${id}”; it may have been removed.`);

/**
 * The file, where a person may see it. Throws 404 where not, so that nobody learns what there is; what is in the trash
 * is said, unless it is asked for.
 */
export async function reachable(
  person: Person,
  id: string,
  where: 'files' | 'trash' | 'anywhere' = 'files',
): Promise<FileRow> {
  const file = await FileRow.findByPk(id);
  if (!file || (await closedTo(person)).includes(file.projectId)) throw missing(id);
  if (where === 'files') mustBeThere(file);
  else if (where === 'trash' && !file.trashedAt)
    throw new HttpProblem(404, 'Not found', `“${file.title}” is not in the trash.`);
  return file;
}

/** Throws where a file is in the trash. */
export function mustBeThere(file: FileRow): void {
  if (file.trashedAt)
    throw new HttpProblem(
      404,
      'In the trash',
      `“${file.title}” is in the trash, where ${file.trashedBy} put it; an editor can restore it from there.`,
    );
}

/** A project that a person sees. Throws 404 where there is none. */
export async function reachableProject(person: Person, id: string): Promise<ProjectRow> {
  const project = await ProjectRow.findByPk(id);
  if (!project || (await closedTo(person)).includes(id))
    throw new HttpProblem(404, 'Not found', `There is no project “${id}”.`);
  return project;
}
