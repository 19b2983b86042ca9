import { DataTypes, type QueryInterface } from 'sequelize';
import type { RunnableMigration } from 'umzug';

const whole = { type: DataTypes.INTEGER.UNSIGNED, allowNull: false };
const text = (length: number) => ({ type: DataTypes.STRING(length), allowNull: false });
const time = { type: DataTypes.DATE(3), allowNull: false };
const blob = { type: DataTypes.BLOB('long'), allowNull: false };
const key = (length: number) => ({ ...text(length), primaryKey: true });
const numbered = { ...whole, primaryKey: true };

/** In the order in which they run; one that has landed is never changed, a later one is added behind. */
export const migrations: RunnableMigration<QueryInterface>[] = [
  {
    name: '0001-people-and-files',
    async up({ context: db }) {
      await db.createTable('users', { id: key(32), login: { ...text(100), unique: true }, name: text(100), role: text(10), password_hash: text(255), created_at: time });
      await db.createTable('sessions', {
        id: key(64),
        user_id: { ...text(32), references: { model: 'users', key: 'id' }, onDelete: 'CASCADE' },
        expires_at: time,
        created_at: time,
      });
      await db.createTable('catalogues', { id: key(100), version: numbered, content: blob, created_at: time });
      await db.createTable('files', { id: key(64), title: text(300), catalogue_id: text(100), catalogue_version: whole, head: whole, created_at: time });
      await db.createTable('revisions', {
        file_id: { ...key(64), references: { model: 'files', key: 'id' } },
        number: numbered,
        author: text(100),
        message: text(500),
        content: blob,
        edit: { ...blob, allowNull: true },
        fingerprint_ends: text(64),
        fingerprint_everything: text(64),
        measures: { type: DataTypes.TEXT, allowNull: false },
        created_at: time,
      });
    },
  },
  {
    name: '0002-revision-hooks',
    async up({ context: db }) {
      await db.createTable('hook_runs', { file_id: key(64), number: numbered, hook: key(50), version: whole });
      await db.createTable('sketches', { file_id: key(64), number: numbered, content: { type: DataTypes.TEXT('long'), allowNull: false } });
    },
  },
  {
    name: '0003-settings',
    async up({ context: db }) {
      await db.createTable('settings', {
        user_id: { ...key(32), references: { model: 'users', key: 'id' }, onDelete: 'CASCADE' },
        name: key(80),
        value: { type: DataTypes.TEXT('medium'), allowNull: false },
      });
    },
  },
  {
    name: '0004-shared-kinds',
    async up({ context: db }) {
      await db.createTable('team_settings', { name: key(80), value: { type: DataTypes.TEXT('medium'), allowNull: false } });
      await db.createTable('shared_kinds', {
        name: key(100),
        version: numbered,
        kind: { type: DataTypes.TEXT('long'), allowNull: false },
        content: blob,
        file_id: text(64),
        author: text(100),
        message: text(500),
        created_at: time,
      });
      await db.createTable('kind_uses', { file_id: key(64), kind: key(200), number: whole, count: whole });
      await db.addIndex('kind_uses', ['kind']);
    },
  },
  {
    name: '0005-uses',
    async up({ context: db }) {
      // values are told apart to the last blank, which other collations pass over
      const options = { charset: 'utf8mb4', collate: 'utf8mb4_nopad_bin' };
      const found = { file_id: key(64), what: key(10), name: key(200), value: key(200), count: { type: DataTypes.INTEGER, allowNull: false } };
      await db.createTable('uses', found, options);
      // both hold all that is asked for, so that no row has to be looked up
      await db.addIndex('uses', ['what', 'name', 'value', 'count'], { name: 'uses_by_name' });
      await db.addIndex('uses', ['what', 'value', 'name', 'count'], { name: 'uses_by_value' });
      await db.createTable('file_times', { file_id: key(64), content: { type: DataTypes.TEXT('long'), allowNull: false }, author: text(100), source: text(200), created_at: time });
      // kinds are among the uses now
      await db.dropTable('kind_uses');
      await db.bulkDelete('hook_runs', { hook: 'kind-uses' });
    },
  },
  {
    name: '0006-library',
    async up({ context: db }) {
      await db.createTable('library', {
        id: key(64),
        type: text(10),
        title: text(200),
        about: text(1000),
        run_role: text(10),
        change_role: text(10),
        head: whole,
        created_at: time,
      });
      await db.createTable('library_versions', {
        id: { ...key(64), references: { model: 'library', key: 'id' }, onDelete: 'CASCADE' },
        version: numbered,
        content: { type: DataTypes.TEXT('medium'), allowNull: false },
        options: { type: DataTypes.TEXT('medium'), allowNull: false },
        author: text(100),
        message: text(500),
        created_at: time,
      });
    },
  },
];
