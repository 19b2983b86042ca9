import type { UseAnswer, UseSearch } from '@basitax/api/inspect';
import type { FileLinks } from '@basitax/core/inspect/file-links';
import { textOfUse } from '@basitax/core/inspect/uses';
import { col, where as comparing, fn, Op, type WhereOptions } from 'sequelize';
import { literally } from '../db/like.ts';
import { FileRow, SharedKindRow, UseRow } from '../db/models.ts';

/** At most so many lines are listed for a file, and so many names proposed. */
const mostRows = 20;
const mostNames = 30;

/** A beginning for LIKE, with its signs taken as they are. */
const begins = (text: string): string => `${literally(text)}%`;

/** Files that are left out. Without any the index that is asked holds all, and no row has to be looked up. */
const except = (hidden: readonly string[]): WhereOptions =>
  hidden.length === 0 ? {} : { fileId: { [Op.notIn]: [...hidden] } };

/**
 * What the newest revisions of all files use of something: the files with most of it first. Asked of an index that
 * holds all of it. `meant`: ids that the name means by their titles.
 */
export async function searchUses(
  { what, name, value, match }: UseSearch,
  hidden: readonly string[],
  meant: readonly string[] = [],
): Promise<UseAnswer> {
  const fits = (column: 'name' | 'value', text: string): WhereOptions => {
    const sought = textOfUse(text);
    if (match === 'part')
      return comparing(fn('LOWER', col(column)), { [Op.like]: `%${literally(sought.trim().toLowerCase())}%` });
    return { [column]: match === 'starts' ? { [Op.like]: begins(sought) } : sought };
  };
  const where: WhereOptions = {
    [Op.and]: [
      { what, ...except(hidden) },
      ...(name === undefined
        ? []
        : [meant.length > 0 ? { [Op.or]: [fits('name', name), { name: [...meant] }] } : fits('name', name)]),
      ...(value === undefined ? [] : [fits('value', value)]),
    ],
  };
  // side by side, since each walks the same rows of an index
  const [sums, lines] = await Promise.all([
    UseRow.findAll({
      attributes: ['fileId', [fn('SUM', col('count')), 'count'], [fn('COUNT', col('count')), 'rows']],
      where,
      group: ['file_id'],
      raw: true,
    }) as unknown as Promise<{ fileId: string; count: string; rows: string }[]>,
    UseRow.findAll({
      attributes: ['name', 'value', [fn('SUM', col('count')), 'count']],
      where,
      group: ['name', 'value'],
      order: [[fn('SUM', col('count')), 'DESC'], 'name', 'value'],
      limit: mostRows,
      raw: true,
    }),
  ]);
  const files = new Map(
    (
      await FileRow.findAll({
        attributes: ['id', 'title', 'head'],
        where: { id: sums.map((sum) => sum.fileId) },
        raw: true,
      })
    ).map((file) => [file.id, file]),
  );
  const found = sums
    .flatMap((sum) => {
      const file = files.get(sum.fileId);
      return file
        ? [{ file: file.id, title: file.title, revision: file.head, count: Number(sum.count), rows: Number(sum.rows) }]
        : [];
    })
    .sort((a, b) => b.count - a.count || (a.title < b.title ? -1 : 1));
  return {
    files: found,
    total: found.reduce((sum, file) => sum + file.count, 0),
    lines: lines.map((line) => ({ name: line.name, value: line.value, count: Number(line.count) })),
  };
}

/**
 * What there is to be looked up whose name, or value, begins so, in order. Grouped without counts, so that the index is
 * jumped along from one to the next.
 */
export async function namesOfUses(
  { what, starts, of }: { what: UseSearch['what']; starts: string; of?: string | undefined },
  hidden: readonly string[],
): Promise<string[]> {
  const column = of === undefined ? 'name' : 'value';
  const where: WhereOptions = {
    what,
    ...(of !== undefined && { name: of }),
    ...(starts !== '' && { [column]: { [Op.like]: begins(starts) } }),
    ...except(hidden),
  };
  const rows = await UseRow.findAll({
    attributes: [[col(column), 'name']],
    where,
    group: [column],
    order: [col(column)],
    limit: mostNames,
    raw: true,
  });
  return rows.map((row) => row.name);
}

/** What files use of one another and of the asset store. */
export async function fileLinks(hidden: readonly string[]): Promise<FileLinks> {
  const files = await FileRow.findAll({
    attributes: ['id', 'title'],
    where: { id: { [Op.notIn]: [...hidden] } },
    order: [['title', 'ASC']],
  });
  const shared = await SharedKindRow.findAll({
    attributes: ['name', 'version', 'kind', 'fileId'],
    order: [['version', 'ASC']],
  });
  const uses = (await UseRow.findAll({
    attributes: ['fileId', 'what', 'name', 'value', [fn('SUM', col('count')), 'count']],
    where: { what: ['shared', 'asset'], ...except(hidden) },
    group: ['file_id', 'what', 'name', 'value'],
    raw: true,
  })) as unknown as { fileId: string; what: 'shared' | 'asset'; name: string; value: string; count: string }[];
  // the last version says where it comes from, and how it is titled
  const newest = new Map(
    shared.map(({ name, kind, fileId }) => [
      name,
      { name, title: (JSON.parse(kind) as { title: string }).title, from: fileId },
    ]),
  );
  return {
    files: files.map(({ id, title }) => ({ id, title })),
    shared: [...newest.values()],
    uses: uses.map(({ fileId, what, name, value, count }) => ({
      file: fileId,
      what,
      name,
      written: what === 'asset' && value === 'written',
      count: Number(count),
    })),
  };
}
