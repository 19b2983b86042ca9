import type { LibraryType } from '@basitax/api/library';
import type { Role } from '@basitax/api/roles';
import type { UseKind } from '@basitax/core/inspect/use-kinds';
import {
  type CreationOptional,
  DataTypes,
  type InferAttributes,
  type InferCreationAttributes,
  Model,
  type Sequelize,
} from 'sequelize';
import { bindBatchModels } from './batch-models.ts';
import { key, long, text, time, whole } from './columns.ts';
import { bindEventModels } from './event-models.ts';
import { bindTeamModels } from './team-models.ts';

export class User extends Model<InferAttributes<User>, InferCreationAttributes<User>> {
  declare id: string;
  declare login: string;
  declare name: string;
  declare role: Role;
  declare passwordHash: string;
  /** An account for programs: nobody signs in with it, and leads make its tokens. */
  declare isService: CreationOptional<boolean>;
  declare createdAt: CreationOptional<Date>;
}

export class Session extends Model<InferAttributes<Session>, InferCreationAttributes<Session>> {
  /** SHA-256 of the token that the cookie holds. */
  declare id: string;
  declare userId: string;
  declare expiresAt: Date;
  /** What the browser calls itself, where it asked from last, and when. */
  declare browser: CreationOptional<string>;
  declare address: CreationOptional<string>;
  declare seenAt: CreationOptional<Date | null>;
  declare createdAt: CreationOptional<Date>;
}

/** A browser that a person was let in with. */
export class KnownBrowserRow extends Model<InferAttributes<KnownBrowserRow>, InferCreationAttributes<KnownBrowserRow>> {
  /** SHA-256 of the token that its cookie holds. */
  declare hash: string;
  declare userId: string;
  declare createdAt: CreationOptional<Date>;
}

export class CatalogueRow extends Model<InferAttributes<CatalogueRow>, InferCreationAttributes<CatalogueRow>> {
  declare id: string;
  declare version: number;
  declare content: Buffer;
  declare createdAt: CreationOptional<Date>;
}

export class FileRow extends Model<InferAttributes<FileRow>, InferCreationAttributes<FileRow>> {
  declare id: string;
  declare title: string;
  declare catalogueId: string;
  declare catalogueVersion: number;
  /** Number of the newest revision. */
  declare head: number;
  declare projectId: CreationOptional<string>;
  /** Names with strokes between; empty for the project itself. */
  declare folder: CreationOptional<string>;
  /** Null while it is no trash. */
  declare trashedAt: CreationOptional<Date | null>;
  declare trashedBy: CreationOptional<string>;
  declare createdAt: CreationOptional<Date>;
}

/** Where a file came from that was imported with a folder or archive. */
export class FileSourceRow extends Model<InferAttributes<FileSourceRow>, InferCreationAttributes<FileSourceRow>> {
  declare fileId: string;
  /** Its path in the folder or archive. */
  declare path: string;
  /** SHA-256 of what came last from there. */
  declare hash: string;
  /** That as file text, gzip: by it what changed there is told from what changed here. */
  declare content: Buffer;
}

export class RevisionRow extends Model<InferAttributes<RevisionRow>, InferCreationAttributes<RevisionRow>> {
  declare fileId: string;
  declare number: number;
  declare author: string;
  declare message: string;
  /** The whole document, gzip of `*.graph.json`. */
  declare content: Buffer;
  /** The edit that leads here from the revision before, gzip of JSON; null for the first. */
  declare edit: Buffer | null;
  declare fingerprintEnds: string;
  declare fingerprintEverything: string;
  declare measures: string;
  /** The batch run that made it, and in which of its parts: `<run>:apply`, `<run>:back`. */
  declare runKey: CreationOptional<string | null>;
  /** What people call it, empty where they do not. */
  declare name: CreationOptional<string>;
  declare createdAt: CreationOptional<Date>;
}

/** Which hook has run over which revision, and in which version of the hook. */
export class HookRun extends Model<InferAttributes<HookRun>, InferCreationAttributes<HookRun>> {
  declare fileId: string;
  declare number: number;
  declare hook: string;
  declare version: number;
}

/** A revision whose measures and findings are still to come, which some server takes on for a while. */
export class PendingRow extends Model<InferAttributes<PendingRow>, InferCreationAttributes<PendingRow>> {
  declare fileId: string;
  declare number: number;
  declare queuedAt: Date;
  declare leasedUntil: CreationOptional<Date | null>;
  declare tries: CreationOptional<number>;
}

export class SketchRow extends Model<InferAttributes<SketchRow>, InferCreationAttributes<SketchRow>> {
  declare fileId: string;
  declare number: number;
  declare content: string;
}

/** Something that one person has set up, as JSON. */
export class SettingRow extends Model<InferAttributes<SettingRow>, InferCreationAttributes<SettingRow>> {
  declare userId: string;
  declare name: string;
  declare value: string;
}

/** Something that the whole team has set up, as JSON. */
export class TeamSettingRow extends Model<InferAttributes<TeamSettingRow>, InferCreationAttributes<TeamSettingRow>> {
  declare name: string;
  declare value: string;
}

/** A version of a shared kind; never changed once it is there. */
export class SharedKindRow extends Model<InferAttributes<SharedKindRow>, InferCreationAttributes<SharedKindRow>> {
  declare name: string;
  declare version: number;
  /** The kind as JSON. */
  declare kind: string;
  /** What it holds, gzip of `*.graph.json`. */
  declare content: Buffer;
  declare fileId: string;
  declare author: string;
  declare message: string;
  declare createdAt: CreationOptional<Date>;
}

/** How often the newest revision of a file uses something. */
export class UseRow extends Model<InferAttributes<UseRow>, InferCreationAttributes<UseRow>> {
  declare fileId: string;
  declare what: UseKind;
  declare name: string;
  declare value: string;
  declare count: number;
}

/** Times of the nodes of a file, measured or imported last, as JSON by path. */
export class TimesRow extends Model<InferAttributes<TimesRow>, InferCreationAttributes<TimesRow>> {
  declare fileId: string;
  declare content: string;
  declare author: string;
  declare source: string;
  declare createdAt: CreationOptional<Date>;
}

/** A script or recipe of the team's library: what it is called, and who may do what with it. */
export class LibraryRow extends Model<InferAttributes<LibraryRow>, InferCreationAttributes<LibraryRow>> {
  declare id: string;
  declare type: LibraryType;
  declare title: string;
  declare about: string;
  /** The least role that may run it, and that may change it. */
  declare runRole: Role;
  declare changeRole: Role;
  /** Number of the newest version. */
  declare head: number;
  declare createdAt: CreationOptional<Date>;
}

/** A version of it; never changed once it is there. */
export class LibraryVersionRow extends Model<
  InferAttributes<LibraryVersionRow>,
  InferCreationAttributes<LibraryVersionRow>
> {
  declare id: string;
  declare version: number;
  /** The script, or the recipe as JSON. */
  declare content: string;
  /** The options that a script declares, as JSON. */
  declare options: string;
  declare author: string;
  declare message: string;
  declare createdAt: CreationOptional<Date>;
}

/** A personal token for a pipeline: acts for a person, with that person's role or a lesser one. */
export class TokenRow extends Model<InferAttributes<TokenRow>, InferCreationAttributes<TokenRow>> {
  declare id: string;
  /** SHA-256 of the token itself, which is shown once. */
  declare hash: string;
  declare userId: string;
  declare title: string;
  declare role: Role;
  /** The projects that it is bound to, as a JSON list of ids; null: all that its person sees. */
  declare projects: CreationOptional<string | null>;
  declare expiresAt: Date;
  declare usedAt: Date | null;
  declare createdAt: CreationOptional<Date>;
}

/** Binds the models to a connection. Columns follow the migrations, which alone make tables. */
export function bindModels(sequelize: Sequelize): void {
  // Sequelize writes into what it is given, so that each column needs an object of its own
  const options = (tableName: string) => ({ sequelize, tableName, updatedAt: false, underscored: true }) as const;
  User.init(
    {
      ...{ id: key(32), login: text(100), name: text(100), role: text(10), passwordHash: text(255) },
      ...{ isService: { type: DataTypes.BOOLEAN, allowNull: false, defaultValue: false }, createdAt: time() },
    },
    options('users'),
  );
  const usual = (length: number, defaultValue = '') => ({ ...text(length), defaultValue });
  Session.init(
    {
      id: key(64),
      userId: text(32),
      expiresAt: time(),
      browser: usual(300),
      address: usual(64),
      seenAt: { type: DataTypes.DATE(3), allowNull: true },
      createdAt: time(),
    },
    options('sessions'),
  );
  KnownBrowserRow.init({ hash: key(64), userId: text(32), createdAt: time() }, options('known_browsers'));
  CatalogueRow.init(
    {
      id: key(100),
      version: { ...whole(), primaryKey: true },
      content: { type: DataTypes.BLOB('long'), allowNull: false },
      createdAt: time(),
    },
    options('catalogues'),
  );
  FileRow.init(
    {
      ...{
        id: key(64),
        title: text(300),
        catalogueId: text(100),
        catalogueVersion: whole(),
        head: whole(),
        projectId: usual(32, 'team'),
        folder: usual(300),
      },
      ...{ trashedAt: { type: DataTypes.DATE(3), allowNull: true }, trashedBy: usual(100), createdAt: time() },
    },
    options('files'),
  );
  FileSourceRow.init(
    { fileId: key(64), path: text(600), hash: text(64), content: { type: DataTypes.BLOB('long'), allowNull: false } },
    { ...options('file_sources'), timestamps: false },
  );
  RevisionRow.init(
    {
      fileId: key(64),
      number: { ...whole(), primaryKey: true },
      author: text(100),
      message: text(500),
      content: { type: DataTypes.BLOB('long'), allowNull: false },
      edit: { type: DataTypes.BLOB('long'), allowNull: true },
      fingerprintEnds: text(64),
      fingerprintEverything: text(64),
      measures: { type: DataTypes.TEXT, allowNull: false },
      runKey: { type: DataTypes.STRING(80), allowNull: true },
      name: usual(100),
      createdAt: time(),
    },
    options('revisions'),
  );
  HookRun.init(
    { fileId: key(64), number: { ...whole(), primaryKey: true }, hook: key(50), version: whole() },
    { ...options('hook_runs'), createdAt: false },
  );
  PendingRow.init(
    {
      ...{ fileId: key(64), number: { ...whole(), primaryKey: true }, queuedAt: time() },
      ...{ leasedUntil: { type: DataTypes.DATE(3), allowNull: true }, tries: { ...whole(), defaultValue: 0 } },
    },
    { ...options('pending_revisions'), createdAt: false },
  );
  SketchRow.init(
    {
      fileId: key(64),
      number: { ...whole(), primaryKey: true },
      content: { type: DataTypes.TEXT('long'), allowNull: false },
    },
    { ...options('sketches'), createdAt: false },
  );
  TeamSettingRow.init(
    { name: key(80), value: { type: DataTypes.TEXT('medium'), allowNull: false } },
    { ...options('team_settings'), createdAt: false },
  );
  SharedKindRow.init(
    {
      name: key(100),
      version: { ...whole(), primaryKey: true },
      kind: { type: DataTypes.TEXT('long'), allowNull: false },
      content: { type: DataTypes.BLOB('long'), allowNull: false },
      fileId: text(64),
      author: text(100),
      message: text(500),
      createdAt: time(),
    },
    options('shared_kinds'),
  );
  UseRow.init(
    {
      fileId: key(64),
      what: key(10),
      name: key(200),
      value: key(200),
      count: { type: DataTypes.INTEGER, allowNull: false },
    },
    { ...options('uses'), createdAt: false },
  );
  TimesRow.init(
    {
      fileId: key(64),
      content: { type: DataTypes.TEXT('long'), allowNull: false },
      author: text(100),
      source: text(200),
      createdAt: time(),
    },
    options('file_times'),
  );
  LibraryRow.init(
    {
      id: key(),
      type: text(10),
      title: text(200),
      about: text(1000),
      runRole: text(10),
      changeRole: text(10),
      head: whole(),
      createdAt: time(),
    },
    options('library'),
  );
  LibraryVersionRow.init(
    {
      id: key(),
      version: { ...whole(), primaryKey: true },
      content: long(),
      options: long(),
      author: text(100),
      message: text(500),
      createdAt: time(),
    },
    options('library_versions'),
  );
  TokenRow.init(
    {
      id: key(32),
      hash: text(64),
      userId: text(32),
      title: text(200),
      role: text(10),
      projects: { type: DataTypes.TEXT, allowNull: true, defaultValue: null },
      expiresAt: time(),
      usedAt: { type: DataTypes.DATE(3), allowNull: true },
      createdAt: time(),
    },
    options('tokens'),
  );
  SettingRow.init(
    { userId: key(32), name: key(80), value: { type: DataTypes.TEXT('medium'), allowNull: false } },
    { ...options('settings'), createdAt: false },
  );
  bindBatchModels(sequelize);
  bindEventModels(sequelize);
  bindTeamModels(sequelize);
}
