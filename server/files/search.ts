import { fileFacts } from '@basitax/api/file-facts';
import type { FileInfo } from '@basitax/api/files';
import type { Person } from '@basitax/api/people';
import { must } from '@basitax/core/must';
import { matchesFile, parseFileQuery } from '@basitax/core/query/files';
import { QueryError } from '@basitax/core/query/query';
import { ProjectRow } from '../db/team-models.ts';
import { HttpProblem } from '../http/problem.ts';
import type { Workplace } from '../work/desk.ts';
import type { FileStore } from './store.ts';

/** Answers that are kept: a revision never changes. */
const mostKept = 200_000;
/** Files that are read at a time. */
const together = 3;

/** Files that fit a query: the one answer for lists, batch runs and other programs. */
export class FileSearch {
  private readonly store: FileStore;
  private readonly pool: Workplace;
  private readonly held = new Map<string, boolean | string>();

  constructor(store: FileStore, pool: Workplace) {
    this.store = store;
    this.pool = pool;
  }

  /** The files that fit and that a person sees, by title. Throws HttpProblem 422 on a query with a mistake. */
  async files(person: Person, text: string): Promise<readonly FileInfo[]> {
    const all = await this.store.list(person);
    if (text.trim() === '') return all;
    const { query, nodes } = parsed(() => parseFileQuery(text));
    const titles = new Map((await ProjectRow.findAll({ raw: true })).map((row) => [row.id, row.title]));
    const now = Date.now();
    const facts = all.map((file) => fileFacts(file, titles.get(file.project), now));
    // what is decided without reading a file is not read for it
    const open = all.filter((_file, i) => matchesFile(query, must(facts[i]), () => undefined) === undefined);
    const held = await this.holdingOf(open, nodes);
    return all.filter(
      (file, i) => matchesFile(query, must(facts[i]), (one) => held.get(one)?.has(file.id) === true) === true,
    );
  }

  /** Which of the files that a person sees hold nodes like each query. Throws HttpProblem 422 as above. */
  async holding(person: Person, nodes: readonly string[]): Promise<ReadonlyMap<string, ReadonlySet<string>>> {
    parsed(() => nodes.map((one) => parseFileQuery(`has(${one})`)));
    return this.holdingOf(await this.store.list(person), nodes);
  }

  private async holdingOf(
    files: readonly FileInfo[],
    nodes: readonly string[],
  ): Promise<ReadonlyMap<string, ReadonlySet<string>>> {
    const todo =
      nodes.length === 0 ? [] : files.filter((file) => nodes.some((one) => !this.held.has(keyOf(file, one))));
    const work = async (): Promise<void> => {
      for (let file = todo.pop(); file; file = todo.pop()) await this.read(file, nodes);
    };
    await Promise.all(Array.from({ length: together }, work));
    return new Map(
      nodes.map((one) => {
        const answers = files.map((file) => this.held.get(keyOf(file, one)));
        const [reason] = answers;
        // what no file can be asked is a slip of the pen; where some can, the others just have no such parameter
        if (typeof reason === 'string' && answers.every((answer) => typeof answer === 'string'))
          throw new HttpProblem(422, 'The query cannot be read', `has(${one}): ${reason}`);
        return [one, new Set(files.filter((_file, i) => answers[i] === true).map((file) => file.id))];
      }),
    );
  }

  private async read(file: FileInfo, nodes: readonly string[]): Promise<void> {
    const { text, catalogue } = await this.store.text(file.id, file.head.number);
    const answers = await this.pool.run('holds', { queries: [...nodes] }, { doc: text, catalogue });
    if (this.held.size > mostKept) this.held.clear();
    nodes.forEach((one, i) => {
      this.held.set(keyOf(file, one), must(answers[i]));
    });
  }
}

const keyOf = (file: FileInfo, nodes: string): string => `${file.id} ${file.head.number} ${nodes}`;

function parsed<T>(read: () => T): T {
  try {
    return read();
  } catch (error) {
    if (error instanceof QueryError) throw new HttpProblem(422, 'The query cannot be read', error.plain);
    throw error;
  }
}
