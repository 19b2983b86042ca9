import { randomInt } from 'node:crypto';
import type { FileInfo, Revision } from '@basitax/api/files';
import type { Person } from '@basitax/api/people';
import type { Catalogue } from '@basitax/core/document/catalogue';
import { readStored } from '@basitax/core/document/file';
import { idMaker } from '@basitax/core/document/ids';
import type { Edit } from '@basitax/core/edit/step';
import type { Finding } from '@basitax/core/finding';
import { limitFindings } from '@basitax/core/finding';
import type { TablePlan } from '@basitax/core/formats/table-plan';
import { compareFingerprints, type Fingerprint } from '@basitax/core/inspect/fingerprint';
import { scoreVersion } from '@basitax/core/inspect/readability';
import type { UseCount } from '@basitax/core/inspect/uses';
import type { Inspected, Revised } from '@basitax/core/work/revised';
import { Op, type Sequelize, type Transaction } from 'sequelize';
import { z } from 'zod';
import { Catalogues } from '../catalogue/catalogues.ts';
import { FileRow, FileSourceRow, PendingRow, RevisionRow, SketchRow } from '../db/models.ts';
import { retried } from '../db/retry.ts';
import { RevisionFindingsRow, TagRow } from '../db/team-models.ts';
import { happened } from '../events/record.ts';
import { unzipText, zip } from '../gzip.ts';
import { HttpProblem } from '../http/problem.ts';
import { mustBeThere } from '../projects/access.ts';
import { rulesForFile, rulesOf } from '../projects/projects.ts';
import type { Workplace } from '../work/desk.ts';
import { type Past, sinceWhen } from './history.ts';
import { fillIn, runHooks, runJudgingHooks } from './hooks.ts';
import { infoOfFile, listFiles } from './shelf.ts';

/** A packet of MariaDB holds 64 MB; a document has to fit with room to spare. */
const mostStored = 48 * 1024 * 1024;

/** All that a revision stores, ready to be written. */
export interface Packed {
  readonly revised: Revised;
  readonly content: Buffer;
  readonly edit: Buffer;
  /** Read with another catalogue than the revision before. */
  readonly isRepinned: boolean;
}

/** A revision as it is stored: its file text, and the catalogue that it is read with. */
export interface TextOf {
  readonly text: string;
  readonly number: number;
  readonly catalogue: Catalogue;
  readonly title: string;
}

/** Where a file came from: its path in a folder or archive that was imported, and the SHA-256 of what it held. */
export interface Source {
  readonly path: string;
  readonly hash: string;
}

/** What somebody has said of a table: what its columns are, and a table of its nodes. */
export interface HowMeant {
  readonly plan?: TablePlan | undefined;
  readonly beside?: string | undefined;
}

/** Files and their revisions. Every change is a new revision; nothing stored is ever changed. */
export class FileStore {
  readonly sequelize: Sequelize;
  private readonly pool: Workplace;
  private readonly saves: Workplace;
  readonly catalogues: Catalogues;
  private readonly newId = idMaker(randomInt(2 ** 31));
  /** Called when a revision was stored that is still to be judged. */
  onPending: () => void = () => {};

  /** `saves`: where saves are worked on, so that they wait for nothing else. */
  constructor(sequelize: Sequelize, pool: Workplace, saves: Workplace = pool) {
    this.sequelize = sequelize;
    this.pool = pool;
    this.saves = saves;
    this.catalogues = new Catalogues(pool);
  }

  /** The files that a person sees, by title. */
  list(person: Person): Promise<FileInfo[]> {
    return listFiles(this.sequelize, person);
  }

  /** Throws 404 where there is none, and where it is in the trash, unless it may be anywhere. */
  async file(id: string, from: 'files' | 'anywhere' = 'files', transaction?: Transaction): Promise<FileRow> {
    const file = await FileRow.findByPk(id, transaction && { transaction });
    if (!file) throw new HttpProblem(404, 'Not found', `There is no file “${id}”; it may have been removed.`);
    if (from === 'files') mustBeThere(file);
    return file;
  }

  info(id: string): Promise<FileInfo> {
    return infoOfFile(this.sequelize, id);
  }

  /** Newest first, each with what its fingerprint says beside the one before. */
  async revisions(id: string): Promise<Revision[]> {
    await this.file(id);
    const rows = await RevisionRow.findAll({
      attributes: { exclude: ['content', 'edit'] },
      where: { fileId: id },
      order: [['number', 'DESC']],
      limit: 1000,
    });
    const found = new Map(
      (await RevisionFindingsRow.findAll({ where: { fileId: id } })).map((row) => [row.number, row]),
    );
    return rows.map((row, i) => {
      const before = rows[i + 1];
      const revision = revisionOf(row, found.get(row.number));
      return before
        ? { ...revision, verdict: compareFingerprints(fingerprintOf(before), revision.fingerprint) }
        : revision;
    });
  }

  /** A revision's document as file text. `head` names the newest. */
  async text(id: string, which: number | 'head', from: 'files' | 'anywhere' = 'files'): Promise<TextOf> {
    const { file, number, zipped } = await this.zipped(id, which, from);
    const text = await unzipText(zipped);
    // an older revision may be pinned to an older catalogue
    return { text, number, catalogue: await this.catalogues.get(pinnedIn(text)), title: file.title };
  }

  /** The same as it is stored, compressed with gzip: most of the time that is what a browser wants. */
  async zipped(
    id: string,
    which: number | 'head',
    from: 'files' | 'anywhere' = 'files',
  ): Promise<{ file: FileRow; number: number; zipped: Buffer }> {
    const file = await this.file(id, from);
    const number = which === 'head' ? file.head : which;
    const row = await RevisionRow.findOne({ attributes: ['content'], where: { fileId: id, number }, raw: true });
    if (!row)
      throw new HttpProblem(404, 'Not found', `“${file.title}” has no revision ${number}; its newest is ${file.head}.`);
    return { file, number, zipped: row.content };
  }

  async sketch(id: string): Promise<string> {
    const file = await this.file(id);
    const row = await SketchRow.findOne({ where: { fileId: id, number: file.head } });
    if (!row) throw new HttpProblem(404, 'Not found', 'This file has no thumbnail yet.');
    return row.content;
  }

  /** What a file holds that is sent, or that is text of ours under another title. */
  async read(
    name: string,
    content: string | Uint8Array,
    project: string,
    { title, how = {} }: { readonly title?: string | undefined; readonly how?: HowMeant } = {},
  ) {
    // what is given a title is text of ours
    const catalogue =
      title === undefined || typeof content !== 'string'
        ? await this.catalogues.team()
        : await this.catalogues.get(pinnedIn(content));
    const { profile } = await rulesOf(project);
    const { plan, beside } = how;
    return this.pool.run('read', { name, content, profile, title, plan, beside }, { catalogue });
  }

  /** Makes a file of anything that a format reads. Nothing is stored where it cannot be read. */
  async importFile(
    name: string,
    content: string | Uint8Array,
    author: string,
    {
      id: fixedId,
      message,
      project = 'team',
      folder = '',
      title,
      source,
      how,
    }: {
      id?: string;
      message?: string;
      project?: string;
      folder?: string;
      title?: string;
      source?: Source;
      how?: HowMeant;
    } = {},
  ): Promise<{ file: FileInfo; findings: Finding[] }> {
    const read = await this.read(name, content, project, { title, ...(how && { how }) });
    const pinned = pinnedIn(read.text);
    const id = fixedId ?? this.newId('f');
    const packed = await this.packed(read.text);
    await retried(() =>
      this.sequelize.transaction(async (transaction) => {
        await FileRow.create(
          {
            id,
            title: read.title,
            catalogueId: pinned.id,
            catalogueVersion: pinned.version,
            head: 1,
            projectId: project,
            folder,
          },
          { transaction },
        );
        await this.insert(
          {
            id,
            number: 1,
            author,
            message: message ?? `Imported from ${name}`,
            content: packed,
            edit: null,
            inspected: read,
            text: read.text,
          },
          transaction,
        );
        // what is given a title is text of ours, whose tags are no part of it
        if (title === undefined && read.tags.length > 0)
          await TagRow.bulkCreate(
            read.tags.map((tag) => ({ fileId: id, tag })),
            { transaction },
          );
        if (source) await FileSourceRow.create({ fileId: id, ...source, content: packed }, { transaction });
        const about = { file: id, project, revision: 1, message: message ?? '' };
        await happened('file.created', { person: author, title: read.title, ...about }, transaction);
      }),
    );
    return { file: await this.info(id), findings: limitFindings(read.findings) };
  }

  /** Another file that begins as this one stands, beside it. */
  async duplicate(id: string, title: string, author: string): Promise<FileInfo> {
    const { text, number, title: from } = await this.text(id, 'head');
    const { projectId, folder } = await this.file(id);
    const { file } = await this.importFile(`${title}.graph.json`, text, author, {
      message: `Copy of “${from}”, revision ${number}`,
      project: projectId,
      folder,
      title,
    });
    return file;
  }

  /** Adds a revision on top of the one that the writer has seen. 412 with what changed where there is a newer one. */
  async save(
    id: string,
    seen: number,
    change: { edit: Edit } | { become: string },
    author: string,
    message: string,
  ): Promise<{ file: FileInfo; edit: Edit }> {
    await this.checkSeen(id, seen);
    const base = await this.text(id, seen);
    const catalogue =
      'edit' in change
        ? ((await this.repinned(change.edit)) ?? base.catalogue)
        : await this.catalogues.get(pinnedIn(change.become));
    const { profile, onSave } = await rulesForFile(id);
    const revised = await this.saves.run(
      'revise',
      { ...change, profile, refuse: onSave === 'refuse' && 'edit' in change, later: true },
      { doc: base.text, catalogue },
    );
    if ('refusal' in revised) throw new HttpProblem(422, 'The edit would break the document', revised.refusal);
    // what is a path, or a shared kind, may be another with another catalogue
    const isRepinned = catalogue.id !== base.catalogue.id || catalogue.version !== base.catalogue.version;
    const packed = await this.pack(revised, isRepinned);
    await retried(() =>
      this.sequelize.transaction((transaction) => this.addRevision(id, seen, packed, { author, message }, transaction)),
    );
    this.onPending();
    return { file: await this.info(id), edit: revised.edit };
  }

  /** What a revision stores, compressed before the transaction begins. */
  async pack(revised: Revised, isRepinned: boolean): Promise<Packed> {
    const [content, edit] = [await this.packed(revised.text), await zip(JSON.stringify(revised.edit))];
    return { revised, content, edit, isRepinned };
  }

  /**
   * Stores a revision on top of the one that was seen, with all that hooks derive from it, in the transaction of the
   * caller. Throws 412 where there is a newer one.
   */
  async addRevision(
    id: string,
    seen: number,
    { revised, content, edit, isRepinned }: Packed,
    about: { readonly author: string; readonly message: string; readonly runKey?: string },
    transaction: Transaction,
  ): Promise<void> {
    const file = await FileRow.findByPk(id, { transaction, lock: transaction.LOCK.UPDATE });
    if (file) mustBeThere(file);
    // by the connection that the lock is held on: those who wait for the lock may hold all others
    if (file?.head !== seen) throw await this.changedMeanwhile(id, seen, transaction);
    const useChanges = isRepinned ? undefined : revised.useChanges;
    await this.insert(
      { id, number: seen + 1, ...about, content, edit, inspected: revised, useChanges, text: revised.text },
      transaction,
    );
    const pinned = pinnedIn(revised.text);
    await file.update(
      { head: seen + 1, title: revised.title, catalogueId: pinned.id, catalogueVersion: pinned.version },
      { transaction },
    );
    await happened(
      'file.saved',
      {
        ...{ person: about.author, title: revised.title, file: id, project: file.projectId },
        ...{ revision: seen + 1, message: about.message },
      },
      transaction,
    );
  }

  /** Readability and fingerprint of a revision, where they were made as they are now. */
  async knownOf(id: string, number: number): Promise<{ score: number; fingerprint: Fingerprint } | undefined> {
    const row = await RevisionRow.findOne({
      attributes: ['measures', 'fingerprintEnds', 'fingerprintEverything'],
      where: { fileId: id, number },
    });
    const { score, scoring } = row ? (JSON.parse(row.measures) as { score?: number; scoring?: number }) : {};
    if (!row || score === undefined || scoring !== scoreVersion) return undefined;
    return { score, fingerprint: { ends: row.fingerprintEnds, everything: row.fingerprintEverything } };
  }

  /** The edit that a revision was made by; undefined for the first. */
  async editOf(id: string, number: number): Promise<Edit | undefined> {
    const row = await RevisionRow.findOne({ attributes: ['edit'], where: { fileId: id, number } });
    return row?.edit ? (JSON.parse(await unzipText(row.edit)) as Edit) : undefined;
  }

  /** The catalogue that an edit pins the file to, where it does. Refuses one that is not there. */
  private async repinned(edit: Edit): Promise<Catalogue | undefined> {
    const step = edit.steps.findLast(
      (one) => one.type === 'set' && one.table === 'head' && one.path[0] === 'catalogue',
    );
    const wanted = pinSchema.safeParse((step as { to?: unknown } | undefined)?.to);
    if (!step || !wanted.success) return undefined;
    const found = await this.catalogues.get(wanted.data);
    if (found.id !== wanted.data.id)
      throw new HttpProblem(
        422,
        'The edit would break the document',
        `There is no version ${wanted.data.version} of a catalogue “${wanted.data.id}”.`,
      );
    return found;
  }

  /** Since which revision each bypassed node of the newest one is so. */
  async bypassedSince(id: string): Promise<Record<string, { revision: number; days: number }>> {
    const { text } = await this.text(id, 'head');
    const bypassed = [...readStored(text).nodes.values()].filter((node) => node.bypassed).map((node) => node.id);
    return bypassed.length === 0 ? {} : sinceWhen(bypassed, this.past(id), new Date());
  }

  /** The revisions of a file with their edits, the newest first, read as they are asked for. */
  private async *past(id: string): AsyncIterable<Past> {
    for (let before = (await this.file(id)).head; before > 0; before--) {
      const row = await RevisionRow.findOne({
        attributes: ['number', 'createdAt', 'edit'],
        where: { fileId: id, number: before },
      });
      if (row)
        yield {
          number: row.number,
          createdAt: row.createdAt,
          edit: row.edit ? (JSON.parse(await unzipText(row.edit)) as Edit) : undefined,
        };
    }
  }

  /** Runs hooks of later versions over what was stored before. */
  fillInHooks(): Promise<number> {
    return fillIn(this.sequelize, async (fileId, number) => {
      const { text, catalogue } = await this.text(fileId, number, 'anywhere');
      return { text, noted: await this.pool.run('note', {}, { doc: text, catalogue }) };
    });
  }

  async checkSeen(id: string, seen: number): Promise<void> {
    if ((await this.file(id)).head !== seen) throw await this.changedMeanwhile(id, seen);
  }

  private async packed(text: string): Promise<Buffer> {
    const content = await zip(text);
    if (content.length > mostStored)
      throw new HttpProblem(
        413,
        'Too large',
        `The document takes ${Math.round(content.length / 1e6)} MB when packed; the most is ${Math.round(mostStored / 1e6)} MB.`,
      );
    return content;
  }

  private async insert(
    row: {
      id: string;
      number: number;
      author: string;
      message: string;
      content: Buffer;
      edit: Buffer | null;
      inspected: Inspected;
      useChanges?: readonly UseCount[] | undefined;
      text: string;
      runKey?: string;
    },
    transaction: Transaction,
  ): Promise<void> {
    const { fingerprint, size, judged } = row.inspected;
    const { id: fileId, number } = row;
    await RevisionRow.create(
      {
        fileId,
        number,
        author: row.author,
        message: row.message,
        content: row.content,
        edit: row.edit,
        fingerprintEnds: fingerprint.ends,
        fingerprintEverything: fingerprint.everything,
        measures: JSON.stringify(size),
        runKey: row.runKey ?? null,
      },
      { transaction },
    );
    await runHooks(
      { fileId, number, noted: row.inspected, text: row.text, ...(row.useChanges && { useChanges: row.useChanges }) },
      transaction,
    );
    if (judged) await runJudgingHooks({ fileId, number, judged }, transaction);
    else await PendingRow.create({ fileId, number, queuedAt: new Date() }, { transaction });
  }

  /** The 412: what was saved since, by whom, and the edits that lead there. */
  private async changedMeanwhile(id: string, seen: number, transaction?: Transaction): Promise<HttpProblem> {
    const file = await this.file(id, 'files', transaction);
    if (seen > file.head)
      return new HttpProblem(
        400,
        'The request does not fit',
        `“${file.title}” has no revision ${seen}; its newest is ${file.head}.`,
      );
    const rows = await RevisionRow.findAll({
      attributes: ['number', 'author', 'message', 'edit'],
      where: { fileId: id, number: { [Op.gt]: seen } },
      order: [['number', 'ASC']],
      ...(transaction && { transaction }),
    });
    const edits = await Promise.all(
      rows.map(async (row) => (row.edit ? JSON.parse(await unzipText(row.edit)) : { steps: [] }) as Edit),
    );
    const last = rows[rows.length - 1];
    return new HttpProblem(
      412,
      'Changed in the meantime',
      `Revision ${last?.number} by ${last?.author} was saved since: “${last?.message}”. Nothing of yours is lost.`,
      {
        changes: {
          head: file.head,
          revisions: rows.map(({ number, author, message }) => ({ number, author, message })),
          edits,
        },
      },
    );
  }
}

const pinSchema = z.object({ id: z.string(), version: z.number() });

/** The catalogue that file text is pinned to. What stands before the tables is short. */
export function pinnedIn(text: string): { id: string; version: number } {
  const head = JSON.parse(text.slice(0, text.indexOf('\n"graphs": [')).replace(/,\s*$/, '}')) as { catalogue: unknown };
  return pinSchema.parse(head.catalogue);
}

const fingerprintOf = (row: RevisionRow): Fingerprint => ({
  ends: row.fingerprintEnds,
  everything: row.fingerprintEverything,
});

function revisionOf(row: RevisionRow, found: RevisionFindingsRow | undefined): Revision {
  return {
    ...{
      number: row.number,
      name: row.name,
      author: row.author,
      message: row.message,
      createdAt: row.createdAt.toISOString(),
      fingerprint: fingerprintOf(row),
    },
    measures: JSON.parse(row.measures) as Revision['measures'],
    findings: found ? { error: found.errors, warning: found.warnings, info: found.infos } : null,
  };
}
