import { randomBytes } from 'node:crypto';
import type { LibraryItem, LibraryType, LibraryVersion, libraryChangeSchema } from '@basitax/api/library';
import type { Person } from '@basitax/api/people';
import { mayAct, type Role } from '@basitax/api/roles';
import { recipeProblem } from '@basitax/core/batch/check';
import { recipeSchema } from '@basitax/core/batch/recipe';
import { emptyCatalogue } from '@basitax/core/document/catalogue';
import { must } from '@basitax/core/must';
import { scriptEnd } from '@basitax/core/script/job';
import { type ScriptOptions, scriptOptionsSchema } from '@basitax/core/script/options';
import { type Sequelize, UniqueConstraintError } from 'sequelize';
import type { z } from 'zod';
import { LibraryRow, LibraryVersionRow } from '../db/models.ts';
import { HttpProblem } from '../http/problem.ts';
import type { Workplace } from '../work/desk.ts';
import { checkScript } from './script-check.ts';

type Wanted = z.output<typeof libraryChangeSchema>;

/**
 * The team's scripts and recipes, in versions that never change. Who may run one sees it; who may not does not know of
 * it.
 */
export class Library {
  private readonly sequelize: Sequelize;
  private readonly pool: Workplace;

  constructor(sequelize: Sequelize, pool: Workplace) {
    this.sequelize = sequelize;
    this.pool = pool;
  }

  /** What somebody may run, by title. */
  async list(person: Person, type?: LibraryType): Promise<LibraryItem[]> {
    const rows = await LibraryRow.findAll({ where: type ? { type } : {}, order: [['title', 'ASC']] });
    const heads = await LibraryVersionRow.findAll({
      attributes: { exclude: ['content', 'options'] },
      order: [['version', 'ASC']],
    });
    const newest = new Map(heads.map((row) => [row.id, row]));
    return rows.filter((row) => mayAct(person.role, row.runRole)).map((row) => itemOf(row, must(newest.get(row.id))));
  }

  /** One version; `head` names the newest. Throws 404. */
  async version(id: string, which: number | 'head', person: Person): Promise<LibraryVersion> {
    const row = await this.row(id, person);
    const found = await LibraryVersionRow.findOne({ where: { id, version: which === 'head' ? row.head : which } });
    if (!found)
      throw new HttpProblem(404, 'Not found', `“${row.title}” has no version ${which}; its newest is ${row.head}.`);
    return {
      ...itemOf(row, found),
      content: found.content,
      options: scriptOptionsSchema.parse(JSON.parse(found.options)),
    };
  }

  /** Its versions, the newest first. */
  async versions(id: string, person: Person): Promise<LibraryItem[]> {
    const row = await this.row(id, person);
    const rows = await LibraryVersionRow.findAll({
      attributes: { exclude: ['content', 'options'] },
      where: { id },
      order: [['version', 'DESC']],
    });
    return rows.map((one) => itemOf(row, one));
  }

  async make(wanted: Wanted & { type: LibraryType }, person: Person, fixedId?: string): Promise<LibraryVersion> {
    refuseOwnLock(wanted, person);
    const options = await this.checked(wanted.type, wanted.content);
    const { type, title, about, runRole, changeRole, content, message } = wanted;
    const id = fixedId ?? `${type[0]}${randomBytes(8).toString('hex')}`;
    await this.sequelize.transaction(async (transaction) => {
      await LibraryRow.create({ id, type, title, about, runRole, changeRole, head: 1 }, { transaction });
      await LibraryVersionRow.create(
        {
          id,
          version: 1,
          content,
          options: JSON.stringify(options),
          author: person.name,
          message: message || 'First version',
        },
        { transaction },
      );
    });
    return this.version(id, 'head', person);
  }

  /** The next version. 412 where there is a newer one than was seen. */
  async change(id: string, seen: number, wanted: Wanted, person: Person): Promise<LibraryVersion> {
    const row = await this.changeable(id, person);
    refuseOwnLock(wanted, person);
    const options = await this.checked(row.type, wanted.content);
    const { title, about, runRole, changeRole, content, message } = wanted;
    const stale = new HttpProblem(
      412,
      'Changed in the meantime',
      `“${row.title}” has a newer version by now; look at that one first. Nothing of yours is lost.`,
    );
    try {
      await this.sequelize.transaction(async (transaction) => {
        const now = await LibraryRow.findByPk(id, { transaction, lock: transaction.LOCK.UPDATE });
        if (now?.head !== seen) throw stale;
        await LibraryVersionRow.create(
          { id, version: seen + 1, content, options: JSON.stringify(options), author: person.name, message },
          { transaction },
        );
        await now.update({ title, about, runRole, changeRole, head: seen + 1 }, { transaction });
      });
    } catch (error) {
      if (error instanceof UniqueConstraintError) throw stale;
      throw error;
    }
    return this.version(id, 'head', person);
  }

  async remove(id: string, person: Person): Promise<void> {
    await (await this.changeable(id, person)).destroy();
  }

  private async row(id: string, person: Person): Promise<LibraryRow> {
    const row = await LibraryRow.findByPk(id);
    if (!row || !mayAct(person.role, row.runRole))
      throw new HttpProblem(404, 'Not found', `There is nothing “${id}” in the library that you may run.`);
    return row;
  }

  private async changeable(id: string, person: Person): Promise<LibraryRow> {
    const row = await this.row(id, person);
    if (!mayAct(person.role, row.changeRole))
      throw new HttpProblem(
        403,
        'Not allowed',
        `You need the role ${row.changeRole} to change “${row.title}”; your role is ${person.role}.`,
      );
    return row;
  }

  /** The options of a script. Throws 422 where a script cannot be read, or a recipe does not fit. */
  private async checked(type: LibraryType, content: string): Promise<ScriptOptions> {
    if (type === 'script') {
      const { options, failure } = await this.pool.run(
        'scriptOptions',
        { source: content },
        { catalogue: emptyCatalogue, limit: scriptEnd },
      );
      if (failure)
        throw new HttpProblem(
          422,
          'The script cannot be kept',
          `${failure.line === undefined ? '' : `Line ${failure.line}: `}${failure.message}`,
        );
      await checkScript(this.pool, content, 'The script cannot be kept');
      return options;
    }
    const read = recipeSchema.safeParse(parsed(content));
    const problem = read.data && recipeProblem(read.data);
    if (problem) throw new HttpProblem(422, 'The recipe cannot be kept', problem.message);
    if (read.success) return {};
    const issue = read.error.issues[0];
    throw new HttpProblem(
      422,
      'The recipe cannot be kept',
      `${issue?.path.join('.') || 'the recipe'}: ${issue?.message ?? 'not as expected'}.`,
    );
  }
}

function parsed(content: string): unknown {
  try {
    return JSON.parse(content);
  } catch (error) {
    throw new HttpProblem(422, 'The recipe cannot be kept', `It is not valid JSON: ${(error as Error).message}.`);
  }
}

/** Nobody locks himself or herself out. */
function refuseOwnLock({ runRole, changeRole }: { runRole: Role; changeRole: Role }, person: Person): void {
  if (!mayAct(person.role, changeRole) || !mayAct(person.role, runRole))
    throw new HttpProblem(422, 'Refused', `You are ${person.role}: with these roles you could not get at it any more.`);
}

function itemOf(row: LibraryRow, version: LibraryVersionRow): LibraryItem {
  const { id, type, title, about, runRole, changeRole } = row;
  return {
    id,
    type,
    title,
    about,
    runRole,
    changeRole,
    version: version.version,
    author: version.author,
    message: version.message,
    changedAt: version.createdAt.toISOString(),
  };
}
