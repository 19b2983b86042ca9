import { randomBytes } from 'node:crypto';
import type { Person } from '@basitax/api/people';
import type { Project, ProjectRules, projectWordsSchema } from '@basitax/api/projects';
import { must } from '@basitax/core/must';
import { profileProblem } from '@basitax/core/rules/profile';
import { type Profile, profileSchema } from '@basitax/core/rules/profile-schema';
import { col, fn, Op, type Transaction, UniqueConstraintError } from 'sequelize';
import type { z } from 'zod';
import { FileRow, User } from '../db/models.ts';
import { ProjectMemberRow, ProjectRow } from '../db/team-models.ts';
import { HttpProblem } from '../http/problem.ts';
import { closedTo } from './access.ts';

/** There from the beginning: where files go when nobody says otherwise. */
export const firstProject = 'team';

type Words = z.output<typeof projectWordsSchema>;

const profileOf = (row: ProjectRow): Profile => profileSchema.parse(JSON.parse(row.profile));

/** The projects that a person sees, by title, with how many files each holds. */
export async function projectsFor(person: Person): Promise<Project[]> {
  const closed = new Set(await closedTo(person));
  const [rows, members, counts] = await Promise.all([
    ProjectRow.findAll({ order: [['title', 'ASC']] }),
    ProjectMemberRow.findAll({ raw: true }),
    FileRow.findAll({
      attributes: ['projectId', [fn('COUNT', col('id')), 'count']],
      where: { trashedAt: null },
      group: ['project_id'],
      raw: true,
    }) as unknown as Promise<{ projectId: string; count: number }[]>,
  ]);
  const files = new Map(counts.map((row) => [row.projectId, Number(row.count)]));
  return rows.flatMap((row) => {
    if (closed.has(row.id)) return [];
    const { id, title, about, open, onSave, profile } = row;
    return [
      {
        id,
        title,
        about,
        open,
        members: members.flatMap((one) => (one.projectId === id ? [one.userId] : [])),
        files: files.get(id) ?? 0,
        onSave,
        hasRules: profile !== '{}',
      },
    ];
  });
}

async function setMembers(id: string, members: readonly string[], transaction: Transaction): Promise<void> {
  const known = new Set(
    (await User.findAll({ attributes: ['id'], where: { id: [...members] }, transaction })).map((user) => user.id),
  );
  const unknown = members.find((one) => !known.has(one));
  if (unknown !== undefined) throw new HttpProblem(422, 'Refused', `There is nobody “${unknown}” in the team.`);
  await ProjectMemberRow.destroy({ where: { projectId: id, userId: { [Op.notIn]: [...members] } }, transaction });
  await ProjectMemberRow.bulkCreate(
    members.map((userId) => ({ projectId: id, userId })),
    { ignoreDuplicates: true, transaction },
  );
}

async function titled<T>(title: string, act: () => Promise<T>): Promise<T> {
  try {
    return await act();
  } catch (error) {
    if (error instanceof UniqueConstraintError)
      throw new HttpProblem(422, 'Refused', `There is a project “${title}” already; give this one another name.`);
    throw error;
  }
}

/** Makes a project. */
export async function makeProject({ members, ...words }: Words, id = randomBytes(8).toString('hex')): Promise<string> {
  await titled(words.title, () =>
    must(ProjectRow.sequelize).transaction(async (transaction) => {
      await ProjectRow.create({ id, ...words }, { transaction });
      await setMembers(id, members, transaction);
    }),
  );
  return id;
}

async function project(id: string, transaction?: Transaction): Promise<ProjectRow> {
  const row = await ProjectRow.findByPk(id, transaction ? { transaction, lock: transaction.LOCK.UPDATE } : {});
  if (!row) throw new HttpProblem(404, 'Not found', `There is no project “${id}”.`);
  return row;
}

/** Gives a project other words, or other members. */
export async function changeProject(id: string, { members, ...words }: Words): Promise<void> {
  await titled(words.title, () =>
    must(ProjectRow.sequelize).transaction(async (transaction) => {
      await (await project(id, transaction)).update(words, { transaction });
      await setMembers(id, members, transaction);
    }),
  );
}

/** Removes a project that holds nothing any more. Returns its title. */
export async function removeProject(id: string): Promise<string> {
  return must(ProjectRow.sequelize).transaction(async (transaction) => {
    const row = await project(id, transaction);
    const files = await FileRow.count({ where: { projectId: id }, transaction });
    if (files > 0)
      throw new HttpProblem(
        422,
        'Refused',
        `“${row.title}” holds ${files === 1 ? 'a file' : `${files} files`}, perhaps in the trash: move or remove them first.`,
      );
    if (id === firstProject)
      throw new HttpProblem(422, 'Refused', `“${row.title}” stays: files go there where nobody says otherwise.`);
    await row.destroy({ transaction });
    return row.title;
  });
}

/** The house rules of a project. */
export async function rulesOf(id: string): Promise<ProjectRules> {
  const row = await project(id);
  return { profile: profileOf(row), onSave: row.onSave, version: row.rulesVersion };
}

/** Changes them, where nobody did since they were read. */
export async function changeRules(id: string, wanted: ProjectRules): Promise<ProjectRules> {
  const problem = profileProblem(wanted.profile);
  if (problem) throw new HttpProblem(422, 'Refused', problem.message);
  await must(ProjectRow.sequelize).transaction(async (transaction) => {
    const row = await project(id, transaction);
    if (row.rulesVersion !== wanted.version)
      throw new HttpProblem(
        412,
        'Changed in the meantime',
        `The rules of “${row.title}” were changed by somebody else since; load them again, and make your change there.`,
      );
    await row.update(
      { profile: JSON.stringify(wanted.profile), onSave: wanted.onSave, rulesVersion: row.rulesVersion + 1 },
      { transaction },
    );
  });
  return rulesOf(id);
}

/** What the file's project asks of it. */
export async function rulesForFile(fileId: string): Promise<ProjectRules> {
  const file = await FileRow.findByPk(fileId, { attributes: ['projectId'] });
  return rulesOf(file?.projectId ?? firstProject);
}
