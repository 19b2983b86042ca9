import { DataTypes, type QueryInterface, QueryTypes } from 'sequelize';
import type { RunnableMigration } from 'umzug';

const whole = { type: DataTypes.INTEGER.UNSIGNED, allowNull: false };
const text = (length: number) => ({ type: DataTypes.STRING(length), allowNull: false });
const time = { type: DataTypes.DATE(3), allowNull: false };
const blob = { type: DataTypes.BLOB('long'), allowNull: false };
const key = (length: number) => ({ ...text(length), primaryKey: true });
const long = { type: DataTypes.TEXT('medium'), allowNull: false };
const numbered = { ...whole, primaryKey: true };

/** In the order in which they run; one that has landed is never changed, a later one is added behind. */
export const migrations: RunnableMigration<QueryInterface>[] = [
  {
    name: '0001-people-and-files',
    async up({ context: db }) {
      await db.createTable('users', {
        id: key(32),
        login: { ...text(100), unique: true },
        name: text(100),
        role: text(10),
        password_hash: text(255),
        created_at: time,
      });
      await db.createTable('sessions', {
        id: key(64),
        user_id: { ...text(32), references: { model: 'users', key: 'id' }, onDelete: 'CASCADE' },
        expires_at: time,
        created_at: time,
      });
      await db.createTable('catalogues', { id: key(100), version: numbered, content: blob, created_at: time });
      await db.createTable('files', {
        id: key(64),
        title: text(300),
        catalogue_id: text(100),
        catalogue_version: whole,
        head: whole,
        created_at: time,
      });
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
      await db.createTable('sketches', {
        file_id: key(64),
        number: numbered,
        content: { type: DataTypes.TEXT('long'), allowNull: false },
      });
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
      await db.createTable('team_settings', {
        name: key(80),
        value: { type: DataTypes.TEXT('medium'), allowNull: false },
      });
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
      const found = {
        file_id: key(64),
        what: key(10),
        name: key(200),
        value: key(200),
        count: { type: DataTypes.INTEGER, allowNull: false },
      };
      await db.createTable('uses', found, options);
      // both hold all that is asked for, so that no row has to be looked up
      await db.addIndex('uses', ['what', 'name', 'value', 'count'], { name: 'uses_by_name' });
      await db.addIndex('uses', ['what', 'value', 'name', 'count'], { name: 'uses_by_value' });
      await db.createTable('file_times', {
        file_id: key(64),
        content: { type: DataTypes.TEXT('long'), allowNull: false },
        author: text(100),
        source: text(200),
        created_at: time,
      });
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
  {
    name: '0007-batches',
    async up({ context: db }) {
      await db.createTable('batch_runs', {
        id: key(64),
        title: text(200),
        recipe: { type: DataTypes.TEXT('long'), allowNull: false },
        files: long,
        message: text(500),
        author: text(100),
        author_id: text(32),
        seed: whole,
        phase: text(12),
        created_at: time,
      });
      await db.createTable('batch_items', {
        run_id: { ...key(64), references: { model: 'batch_runs', key: 'id' }, onDelete: 'CASCADE' },
        file_id: key(64),
        position: whole,
        title: text(300),
        state: text(12),
        // the revision that it was planned on, and those that applying and rolling back made
        base: { ...whole, allowNull: true },
        applied: { ...whole, allowNull: true },
        rolled_back: { ...whole, allowNull: true },
        accepted: { type: DataTypes.BOOLEAN, allowNull: true },
        summary: { ...long, allowNull: true },
        why: text(2000),
        fence: whole,
        attempts: whole,
        lease_until: { type: DataTypes.DATE(3), allowNull: true },
        worker: text(100),
        changed_at: time,
      });
      await db.addIndex('batch_items', ['state', 'lease_until'], { name: 'batch_claims' });
      await db.createTable('batch_plans', { run_id: key(64), file_id: key(64), revised: blob, outcome: blob });
      // one revision of a file for applying a run, and one for rolling it back: whoever comes twice is refused by the
      // database
      await db.addColumn('revisions', 'run_key', { type: DataTypes.STRING(80), allowNull: true });
      await db.addIndex('revisions', ['file_id', 'run_key'], { name: 'revisions_by_run', unique: true });
    },
  },
  {
    name: '0008-tokens',
    async up({ context: db }) {
      await db.createTable('tokens', {
        id: key(32),
        hash: { ...text(64), unique: true },
        user_id: { ...text(32), references: { model: 'users', key: 'id' }, onDelete: 'CASCADE' },
        title: text(200),
        role: text(10),
        expires_at: time,
        used_at: { ...time, allowNull: true },
        created_at: time,
      });
    },
  },
  {
    name: '0009-projects-and-people',
    async up({ context: db }) {
      const flag = { type: DataTypes.BOOLEAN, allowNull: false };
      const maybe = { ...time, allowNull: true };
      await db.createTable('projects', {
        ...{ id: key(32), title: { ...text(200), unique: true }, about: text(1000), open: flag },
        ...{
          profile: { type: DataTypes.TEXT('medium'), allowNull: false },
          on_save: text(10),
          rules_version: whole,
          created_at: time,
        },
      });
      await db.createTable('project_members', {
        project_id: { ...key(32), references: { model: 'projects', key: 'id' }, onDelete: 'CASCADE' },
        user_id: { ...key(32), references: { model: 'users', key: 'id' }, onDelete: 'CASCADE' },
      });
      const first = {
        id: 'team',
        title: 'Team files',
        about: '',
        open: true,
        profile: '{}',
        on_save: 'off',
        rules_version: 1,
        created_at: new Date(),
      };
      await db.bulkInsert('projects', [first]);
      await db.addColumn('files', 'project_id', { ...text(32), defaultValue: 'team' });
      await db.addColumn('files', 'folder', { ...text(300), defaultValue: '' });
      await db.addColumn('files', 'trashed_at', maybe);
      await db.addColumn('files', 'trashed_by', { ...text(100), defaultValue: '' });
      await db.addIndex('files', ['project_id']);
      await db.createTable('file_tags', {
        file_id: { ...key(64), references: { model: 'files', key: 'id' }, onDelete: 'CASCADE' },
        tag: key(50),
      });
      await db.addColumn('revisions', 'name', { ...text(100), defaultValue: '' });
      await db.createTable('revision_findings', {
        ...{ file_id: key(64), number: numbered, errors: whole, warnings: whole, infos: whole },
        by_rule: { type: DataTypes.TEXT, allowNull: false },
      });
      await db.addColumn('sessions', 'browser', { ...text(300), defaultValue: '' });
      await db.addColumn('sessions', 'address', { ...text(64), defaultValue: '' });
      await db.addColumn('sessions', 'seen_at', maybe);
      await db.createTable('invitations', {
        ...{
          id: key(32),
          hash: { ...text(64), unique: true },
          name: text(100),
          role: text(10),
          by: text(100),
          expires_at: time,
          created_at: time,
        },
      });
      await db.createTable('sign_in_failures', { who: key(64), count: whole, until: time });
      await db.createTable('audit', {
        id: { type: DataTypes.BIGINT.UNSIGNED, primaryKey: true, autoIncrement: true },
        ...{
          at: time,
          person: text(100),
          by_token: flag,
          act: text(200),
          target: text(400),
          detail: text(1000),
          address: text(64),
        },
      });
      await db.createTable('presence', {
        ...{
          tab: key(32),
          file_id: key(64),
          user_id: { ...text(32), references: { model: 'users', key: 'id' }, onDelete: 'CASCADE' },
          name: text(100),
        },
        ...{ standing: { type: DataTypes.TEXT, allowNull: false }, seen_at: time },
      });
      await db.addIndex('presence', ['file_id', 'seen_at']);
    },
  },
  {
    name: '0010-judged-later',
    async up({ context: db }) {
      await db.createTable('pending_revisions', {
        ...{
          file_id: { ...key(64), references: { model: 'files', key: 'id' }, onDelete: 'CASCADE' },
          number: numbered,
          queued_at: time,
        },
        ...{ leased_until: { ...time, allowNull: true }, tries: { ...whole, defaultValue: 0 } },
      });
      await db.addIndex('pending_revisions', ['queued_at']);
      // what was scored as it is now has been measured
      await db.sequelize.query(
        `INSERT INTO hook_runs (file_id, number, hook, version)
         SELECT file_id, number, 'measures', JSON_VALUE(measures, '$.scoring') FROM revisions WHERE JSON_VALUE(measures, '$.scoring') IS NOT NULL`,
        { type: QueryTypes.INSERT },
      );
    },
  },
  {
    name: '0011-known-browsers',
    async up({ context: db }) {
      await db.createTable('known_browsers', {
        hash: key(64),
        user_id: { ...text(32), references: { model: 'users', key: 'id' }, onDelete: 'CASCADE' },
        created_at: time,
      });
      await db.addIndex('known_browsers', ['user_id']);
      await db.addColumn('sign_in_failures', 'tried', { ...text(32), defaultValue: '' });
    },
  },
  {
    name: '0012-grouped-changes',
    async up({ context: db }) {
      await db.createTable('batch_changes', {
        ...{
          run_id: key(64),
          file_id: key(64),
          change_key: key(24),
          what: text(200),
          kinds: text(400),
          said: text(400),
        },
        ...{ things: whole, unit: text(10), is_left: { type: DataTypes.BOOLEAN, allowNull: false } },
      });
      await db.addIndex('batch_changes', ['run_id', 'change_key']);
      await db.addColumn('batch_items', 'left_out', { ...whole, defaultValue: 0 });
      await db.addColumn('batch_items', 'conflicts', { type: DataTypes.TEXT('medium'), allowNull: true });
    },
  },
  {
    name: '0013-events',
    async up({ context: db }) {
      const counted = { type: DataTypes.BIGINT.UNSIGNED, primaryKey: true, autoIncrement: true };
      const maybe = (length: number) => ({ type: DataTypes.STRING(length), allowNull: true });
      const noTime = { ...time, allowNull: true };
      const flag = { type: DataTypes.BOOLEAN, allowNull: false };
      await db.createTable('team_events', {
        ...{ id: counted, at: time, type: text(40), file_id: maybe(64), project_id: maybe(32), run_id: maybe(64) },
        content: long,
      });
      await db.addIndex('team_events', ['at']);
      await db.createTable('notices', {
        id: counted,
        user_id: { ...text(32), references: { model: 'users', key: 'id' }, onDelete: 'CASCADE' },
        ...{ at: time, text: text(500), link: text(300), seen_at: noTime },
      });
      await db.addIndex('notices', ['user_id', 'at']);
      await db.createTable('webhooks', {
        ...{ id: key(64), title: text(200), url: text(500), secret: text(100), types: text(1000) },
        ...{ active: flag, why: text(300), by: text(100), created_at: time },
      });
      await db.createTable('webhook_deliveries', {
        id: key(64),
        webhook_id: { ...text(64), references: { model: 'webhooks', key: 'id' }, onDelete: 'CASCADE' },
        ...{ type: text(40), body: long, state: text(10), tries: whole, next_at: noTime },
        ...{ status: { ...whole, allowNull: true }, said: text(300), created_at: time },
      });
      await db.addIndex('webhook_deliveries', ['state', 'next_at']);
    },
  },
  {
    name: '0014-schedules',
    async up({ context: db }) {
      const flag = { type: DataTypes.BOOLEAN, allowNull: false };
      const maybe = { type: DataTypes.STRING(64), allowNull: true };
      await db.createTable('batch_schedules', {
        ...{ id: key(64), title: text(200), recipe: { type: DataTypes.TEXT('long'), allowNull: false }, files: long },
        ...{ author: text(100), author_id: text(32), days: text(20), at: text(5), zone: text(64) },
        ...{ applies: flag, keeps_reports: flag, active: flag, why: text(500) },
        ...{ next_at: { ...time, allowNull: true }, last_run: maybe, created_at: time },
      });
      await db.addIndex('batch_schedules', ['active', 'next_at']);
      await db.addColumn('batch_runs', 'schedule_id', maybe);
      await db.addColumn('batch_runs', 'before_id', maybe);
      // what comes next by itself: nothing, applying, keeping reports, or both
      await db.addColumn('batch_runs', 'goes_on', { ...text(20), defaultValue: '' });
      await db.addIndex('batch_runs', ['goes_on']);
      await db.createTable('kept_reports', {
        ...{ id: key(64), title: text(200), run_id: text(64), step: whole, run_title: text(200) },
        ...{ schedule_id: maybe, content: long, person: text(100), person_id: text(32), created_at: time },
      });
      await db.addIndex('kept_reports', ['created_at']);
    },
  },
  {
    name: '0015-tables',
    async up({ context: db }) {
      const content = { type: DataTypes.BLOB('long'), allowNull: false };
      await db.createTable('batch_tables', { run_id: key(64), file_id: key(64), content });
    },
  },
  {
    name: '0016-programs',
    async up({ context: db }) {
      await db.createTable('idempotency_keys', {
        user_id: { ...key(32), references: { model: 'users', key: 'id' }, onDelete: 'CASCADE' },
        ...{ idempotency_key: key(255), request: text(64), status: { ...whole, allowNull: true } },
        ...{ headers: long, body: { type: DataTypes.TEXT('long'), allowNull: true }, at: time },
      });
      await db.addIndex('idempotency_keys', ['at']);
      await db.addColumn('tokens', 'projects', { type: DataTypes.TEXT, allowNull: true });
      await db.addColumn('users', 'is_service', { type: DataTypes.BOOLEAN, allowNull: false, defaultValue: false });
    },
  },
  {
    name: '0017-sources',
    async up({ context: db }) {
      // where files came from that were imported with a folder or archive, and what came last
      await db.createTable('file_sources', {
        file_id: { ...key(64), references: { model: 'files', key: 'id' }, onDelete: 'CASCADE' },
        ...{ path: text(600), hash: text(64), content: { type: DataTypes.BLOB('long'), allowNull: false } },
      });
      await db.addIndex('file_sources', ['hash']);
      await db.addIndex('file_sources', { fields: [{ name: 'path', length: 191 }] });
    },
  },
];
