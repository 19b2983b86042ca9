import type { Publish, SharedKind } from '@basitax/api/catalogues';
import type { Person } from '@basitax/api/people';
import {
  type Catalogue,
  catalogueSchema,
  emptyCatalogue,
  type KindSpec,
  kindSchema,
} from '@basitax/core/document/catalogue';
import { freeCode } from '@basitax/core/document/kind-code';
import { sharedKindId } from '@basitax/core/structure/shared-kinds';
import { Op, UniqueConstraintError } from 'sequelize';
import { CatalogueRow, FileRow, SharedKindRow, UseRow } from '../db/models.ts';
import { unzipText, zip } from '../gzip.ts';
import { HttpProblem } from '../http/problem.ts';
import { visibleTo } from '../projects/access.ts';
import type { Workplace } from '../work/desk.ts';

const packed = (value: unknown): Promise<Buffer> => zip(JSON.stringify(value));

/**
 * The team's catalogues of kinds, in versions that never change, and the shared kinds that were published into them.
 * Shared kinds are part of every version, since each version of one has an id of its own and can only be in documents
 * once it is there.
 */
export class Catalogues {
  private readonly pool: Workplace;
  private readonly plain = new Map<string, Catalogue>();
  private readonly whole = new Map<string, { readonly shared: number; readonly catalogue: Catalogue }>();

  constructor(pool: Workplace) {
    this.pool = pool;
  }

  /** A version as it was made, without shared kinds; undefined where there is none. */
  async without(id: string, version: number): Promise<Catalogue | undefined> {
    const key = `${id} ${version}`;
    const known = this.plain.get(key);
    if (known) return known;
    const row = await CatalogueRow.findOne({ where: { id, version } });
    if (!row) return undefined;
    const catalogue = catalogueSchema.parse(JSON.parse(await unzipText(row.content)));
    this.plain.set(key, catalogue);
    return catalogue;
  }

  /**
   * A version with all shared kinds. A file may pin one that the team does not have: its nodes still draw, from their
   * snapshots.
   */
  async get({ id, version }: { readonly id: string; readonly version: number }): Promise<Catalogue> {
    const plain = await this.without(id, version);
    if (!plain) return emptyCatalogue;
    const shared = await SharedKindRow.count();
    const key = `${id} ${version}`;
    const known = this.whole.get(key);
    if (known?.shared === shared) return known.catalogue;
    const rows = await SharedKindRow.findAll({
      attributes: ['kind'],
      order: [
        ['name', 'ASC'],
        ['version', 'ASC'],
      ],
    });
    const kinds = rows.map((row) => fitted(plain, kindSchema.parse(JSON.parse(row.kind))));
    const catalogue = kinds.length === 0 ? plain : { ...plain, kinds: [...plain.kinds, ...kinds] };
    this.whole.set(key, { shared, catalogue });
    return catalogue;
  }

  async add(catalogue: Catalogue): Promise<void> {
    await CatalogueRow.findOrCreate({
      where: { id: catalogue.id, version: catalogue.version },
      defaults: { id: catalogue.id, version: catalogue.version, content: await packed(catalogue) },
    });
  }

  /** The newest version of the newest catalogue: what imports are read with, and what leads change. */
  async team(): Promise<Catalogue> {
    const row = await CatalogueRow.findOne({
      attributes: ['id', 'version'],
      order: [
        ['createdAt', 'DESC'],
        ['version', 'DESC'],
      ],
    });
    return row ? this.get(row) : emptyCatalogue;
  }

  async versions(): Promise<{ id: string; version: number; createdAt: string }[]> {
    const rows = await CatalogueRow.findAll({
      attributes: ['id', 'version', 'createdAt'],
      order: [['version', 'DESC']],
    });
    return rows.map(({ id, version, createdAt }) => ({ id, version, createdAt: createdAt.toISOString() }));
  }

  /** Stores a changed catalogue as the next version. Throws 412 where somebody made that version meanwhile. */
  async change(catalogue: Catalogue, seen: number): Promise<Catalogue> {
    const newest = await CatalogueRow.max<number, CatalogueRow>('version', { where: { id: catalogue.id } });
    const next = { ...catalogue, version: seen + 1, kinds: catalogue.kinds.filter((kind) => !kind.shared) };
    const stale = new HttpProblem(
      412,
      'Changed in the meantime',
      `The catalogue has version ${newest ?? 0} by now; look at that one first. Nothing of yours is lost.`,
    );
    if ((newest ?? 0) !== seen) throw stale;
    try {
      await CatalogueRow.create({ id: next.id, version: next.version, content: await packed(next) });
    } catch (error) {
      if (error instanceof UniqueConstraintError) throw stale;
      throw error;
    }
    return this.get(next);
  }

  /**
   * The files that a person sees and that use any of some kinds, with how often, and the version of the catalogue that
   * each is read with.
   */
  async uses(
    kinds: readonly string[],
    person: Person,
  ): Promise<{ file: string; title: string; catalogueVersion: number; counts: Record<string, number> }[]> {
    if (kinds.length === 0) return [];
    const rows = await UseRow.findAll({ where: { what: 'kind', name: [...kinds] } });
    const files = await FileRow.findAll({
      where: { [Op.and]: [{ id: [...new Set(rows.map((row) => row.fileId))] }, await visibleTo(person)] },
      order: [['title', 'ASC']],
    });
    return files.map((file) => ({
      file: file.id,
      title: file.title,
      catalogueVersion: file.catalogueVersion,
      counts: Object.fromEntries(rows.filter((row) => row.fileId === file.id).map((row) => [row.name, row.count])),
    }));
  }

  async shared(): Promise<SharedKind[]> {
    const rows = await SharedKindRow.findAll({
      attributes: { exclude: ['content'] },
      order: [
        ['name', 'ASC'],
        ['version', 'DESC'],
      ],
    });
    return rows.map(sharedOf);
  }

  /** What a version of a shared kind holds, as file text. */
  async body(name: string, version: number): Promise<string> {
    const row = await SharedKindRow.findOne({ attributes: ['content'], where: { name, version } });
    if (!row) throw new HttpProblem(404, 'Not found', `There is no version ${version} of a shared kind “${name}”.`);
    return await unzipText(row.content);
  }

  /**
   * Publishes a graph as the next version of a shared kind. Throws 422 where it is not whole, or its category is not
   * there.
   */
  async publish(name: string, wanted: Publish, author: string): Promise<SharedKind> {
    const team = await this.team();
    if (!team.categories.some((category) => category.id === wanted.category))
      throw new HttpProblem(422, 'It cannot be published', `There is no category “${wanted.category}”.`);
    const read = await this.pool.run('published', { text: wanted.body, order: wanted.order }, { catalogue: team });
    const [problem] = read.problems;
    if (problem) throw new HttpProblem(422, 'It cannot be published', problem.message);
    const version = ((await SharedKindRow.max<number, SharedKindRow>('version', { where: { name } })) ?? 0) + 1;
    const kind: KindSpec = kindSchema.parse({
      id: sharedKindId(name, version),
      title: wanted.title,
      // the versions of one shared kind look alike
      code: freeCode(wanted.title, new Set()),
      category: wanted.category,
      ports: read.ports,
      end: read.end,
      shared: { name, version },
    });
    const row = {
      name,
      version,
      kind: JSON.stringify(kind),
      content: await zip(read.text),
      fileId: wanted.file,
      author,
      message: wanted.message,
    };
    try {
      return sharedOf(await SharedKindRow.create(row));
    } catch (error) {
      if (error instanceof UniqueConstraintError)
        throw new HttpProblem(
          412,
          'Changed in the meantime',
          `Somebody published version ${version} of “${name}” at the same moment; try again.`,
        );
      throw error;
    }
  }
}

const sharedOf = ({ name, version, kind, fileId, author, message, createdAt }: SharedKindRow): SharedKind => ({
  name,
  version,
  kind: kindSchema.parse(JSON.parse(kind)),
  fileId,
  author,
  message,
  createdAt: createdAt.toISOString(),
});

/** A shared kind as another version of the catalogue can take it: categories and types that are not there are none. */
function fitted(catalogue: Catalogue, kind: KindSpec): KindSpec {
  const types = new Set(['any', ...catalogue.types.map((type) => type.id)]);
  const category = catalogue.categories.some((one) => one.id === kind.category)
    ? kind.category
    : (catalogue.categories[0]?.id ?? kind.category);
  return {
    ...kind,
    category,
    ports: kind.ports.map((port) => (types.has(port.type) ? port : { ...port, type: 'any' })),
  };
}
