import type { Person } from '@basitax/api/people';
import type { FileQuery } from '@basitax/core/batch/recipe';
import { col, fn, Op, type WhereOptions, where } from 'sequelize';
import { literally } from '../db/like.ts';
import { FileRow, UseRow } from '../db/models.ts';
import { visibleTo } from '../projects/access.ts';

/** The files that fit and that a person sees: each condition has to hold. By title. */
export async function filesFor(
  { title, uses, ids }: FileQuery,
  person: Person,
): Promise<readonly { id: string; title: string }[]> {
  const conditions: WhereOptions[] = [await visibleTo(person)];
  if (title !== '')
    conditions.push(
      where(fn('LOWER', col('title')), { [Op.like]: `%${literally(title.toLowerCase())}%` }) as unknown as WhereOptions,
    );
  if (ids) conditions.push({ id: ids });
  if (uses) {
    const fits = {
      what: uses.what,
      ...(uses.name !== '' && { name: uses.name }),
      ...(uses.value !== undefined && { value: uses.value }),
    };
    const rows = await UseRow.findAll({ attributes: ['fileId'], where: fits, group: ['file_id'], raw: true });
    conditions.push({ id: rows.map((row) => row.fileId) });
  }
  return FileRow.findAll({
    attributes: ['id', 'title'],
    where: { [Op.and]: conditions },
    order: [
      ['title', 'ASC'],
      ['id', 'ASC'],
    ],
    raw: true,
  });
}
