import type { BatchRun } from '@basitax/api/batches';
import { mostBody } from '@basitax/api/contract';
import type { Person } from '@basitax/api/people';
import { tablesApi, xlsxType } from '@basitax/api/tables';
import type { FileAim } from '@basitax/core/batch/recipe';
import { addTo, groupBy } from '@basitax/core/group-by';
import { type Cell, fileColumn, fileIdColumn, type Row } from '@basitax/core/table/cells';
import { headIn } from '@basitax/core/table/in';
import { type Columns, headOf } from '@basitax/core/table/out';
import type { FileSearch } from '../files/search.ts';
import type { FileStore } from '../files/store.ts';
import { rawBytes } from '../http/body.ts';
import { HttpProblem } from '../http/problem.ts';
import { bind, type Route } from '../http/route.ts';
import type { Workplace } from '../work/desk.ts';
import type { Batches } from './batches.ts';

/** Rows of a table that goes out, and of one that comes in. */
const mostRows = 200_000;
const mostProblems = 200;

/** Tables of nodes of many files. What comes in is a batch run: planned, looked at, accepted, rolled back like any other. */
export class Tables {
  private readonly batches: Batches;
  private readonly search: FileSearch;
  private readonly store: FileStore;
  private readonly pool: Workplace;

  constructor(batches: Batches, search: FileSearch, store: FileStore, pool: Workplace) {
    this.batches = batches;
    this.search = search;
    this.store = store;
    this.pool = pool;
  }

  /** A table of the nodes that fit, of all files that do and that the person sees. */
  async out(
    aim: FileAim,
    wanted: Columns & { where: string; format: 'csv' | 'xlsx' },
    person: Person,
  ): Promise<Uint8Array> {
    const { fields, parameters, where, format } = wanted;
    const files = await this.batches.aimed(aim, person);
    if (files.length === 0) throw new HttpProblem(422, 'Nothing to write', 'No files match.');
    const rows: Cell[][] = [headOf({ fields, parameters }, 'with ids')];
    const unknown = new Map<string, number>();
    for (const { id, title } of files) {
      const { text, catalogue } = await this.store.text(id, 'head');
      const own = await this.pool.run(
        'tableRows',
        { fields: [...fields], parameters: [...parameters], where },
        { doc: text, catalogue },
      );
      for (const name of own.unknown) unknown.set(name, (unknown.get(name) ?? 0) + 1);
      for (const row of own.rows) rows.push([title, id, ...row]);
      if (rows.length > mostRows)
        throw new HttpProblem(
          422,
          'Too many rows',
          `The table has more than ${mostRows.toLocaleString('en')} rows. Ask for fewer files or nodes.`,
        );
    }
    const stranger = [...unknown].find(([, count]) => count === files.length)?.[0];
    if (stranger !== undefined && rows.length > 1)
      throw new HttpProblem(422, 'No such parameter', `No node of these has a parameter “${stranger}”.`);
    return this.pool.run(
      'tableText',
      { rows, format, title: 'Nodes' },
      { catalogue: await this.store.catalogues.team() },
    );
  }

  /** Starts a batch run of what a table says. Throws 422 where it is no table, or about no file that the person sees. */
  async into(bytes: Uint8Array, title: string, person: Person): Promise<{ run: BatchRun; problems: string[] }> {
    const catalogue = await this.store.catalogues.team();
    const rows = await this.pool.run('tableRead', { bytes }, { catalogue });
    const [head, ...body] = rows;
    if (!head || body.length === 0) throw new HttpProblem(422, 'An empty table', 'The table has no rows.');
    if (rows.length > mostRows)
      throw new HttpProblem(422, 'Too many rows', `The table has more than ${mostRows.toLocaleString('en')} rows.`);
    const names = headIn(rows);
    if (!names.includes(fileColumn) && !names.includes(fileIdColumn))
      throw new HttpProblem(
        422,
        'Which files?',
        `The first row has to name a column “${fileColumn}” or “${fileIdColumn}”.`,
      );
    const files = await this.search.files(person, '');
    const known = new Set(files.map((file) => file.id));
    const byTitle = groupBy(files, (file) => file.title);
    const tables = new Map<string, Row[]>();
    const problems: string[] = [];
    const [nameAt, idAt] = [names.indexOf(fileColumn), names.indexOf(fileIdColumn)];
    const problem = (line: number, why: string): void => {
      if (problems.length < mostProblems) problems.push(`Line ${line}: ${why}`);
    };
    for (const row of body) {
      const [name, id] = [String(row.cells[nameAt] ?? '').trim(), String(row.cells[idAt] ?? '').trim()];
      const found = known.has(id) ? [id] : id === '' ? (byTitle.get(name) ?? []).map((file) => file.id) : [];
      const [only] = found;
      if (only === undefined) problem(row.line, `there is no file “${name || id}”.`);
      else if (found.length > 1) problem(row.line, `${found.length} files are called “${name}”; give the file id.`);
      else {
        addTo(tables, only, row);
      }
    }
    if (tables.size === 0)
      throw new HttpProblem(422, 'About no file', problems[0] ?? 'No row is about a file of the team.');
    const run = await this.batches.start(
      { title, recipe: { steps: [{ do: 'table', title }] }, files: { query: '', ids: [...tables.keys()] } },
      person,
      { tables: new Map([...tables].map(([id, own]) => [id, [head, ...own]])) },
    );
    return { run, problems };
  }
}

export function tableRoutes(tables: Tables): Route[] {
  return bind(tablesApi, {
    async out({ query, person, ctx }) {
      const { files, ids, ...wanted } = query;
      const bytes = await tables.out({ query: files, ...(ids && { ids }) }, wanted, person);
      ctx.type = wanted.format === 'xlsx' ? xlsxType : 'text/csv; charset=utf-8';
      ctx.attachment(`nodes.${wanted.format}`);
      return Buffer.from(bytes);
    },
    async into({ query, person, ctx }) {
      const bytes = await rawBytes(ctx, mostBody(tablesApi.into));
      return tables.into(new Uint8Array(bytes), query.title, person);
    },
  });
}
