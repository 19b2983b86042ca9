import type { BatchPhase, ItemState } from '@basitax/api/batches';
import type { Unit } from '@basitax/core/batch/change-group-schema';
import {
  type CreationOptional,
  DataTypes,
  type InferAttributes,
  type InferCreationAttributes,
  Model,
  type Sequelize,
} from 'sequelize';
import { flag, key, long, maybeText, maybeWhole, text, time, whole } from './columns.ts';

/** A batch run: a recipe over files that were chosen. */
export class BatchRunRow extends Model<InferAttributes<BatchRunRow>, InferCreationAttributes<BatchRunRow>> {
  declare id: string;
  declare title: string;
  /** The recipe as JSON, with the scripts that it was started with. */
  declare recipe: string;
  /** Which files were chosen, as JSON. */
  declare files: string;
  declare message: string;
  declare author: string;
  declare authorId: string;
  declare seed: number;
  declare phase: BatchPhase;
  /** The schedule that started it. */
  declare scheduleId: CreationOptional<string | null>;
  /** The run that it repeats. */
  declare beforeId: CreationOptional<string | null>;
  /** What is done by itself when it is planned: nothing, `apply`, `keep`, or both with a comma between. */
  declare goesOn: CreationOptional<string>;
  declare createdAt: CreationOptional<Date>;
}

/** One file of a run. */
export class BatchItemRow extends Model<InferAttributes<BatchItemRow>, InferCreationAttributes<BatchItemRow>> {
  declare runId: string;
  declare fileId: string;
  declare position: number;
  declare title: string;
  declare state: ItemState;
  declare base: number | null;
  declare applied: number | null;
  declare rolledBack: number | null;
  declare accepted: boolean | null;
  /** How many groups of changes are left out. */
  declare leftOut: CreationOptional<number>;
  /** Both sides of what came into conflict, as JSON. */
  declare conflicts: CreationOptional<string | null>;
  /** What is listed of its plan, as JSON. */
  declare summary: string | null;
  declare why: string;
  /** Raised with each claim: whoever holds an older one writes nothing more. */
  declare fence: number;
  /** Claims since the state was last changed. */
  declare attempts: number;
  declare leaseUntil: Date | null;
  declare worker: string;
  declare changedAt: Date;
}

/**
 * What was planned for a file that changes: all that its revision would store, and all that is told of it, both gzip of
 * JSON.
 */
export class BatchPlanRow extends Model<InferAttributes<BatchPlanRow>, InferCreationAttributes<BatchPlanRow>> {
  declare runId: string;
  declare fileId: string;
  declare revised: Buffer;
  declare outcome: Buffer;
}

/** A group of changes that a run planned for a file: accepted or left out as one. */
export class BatchChangeRow extends Model<InferAttributes<BatchChangeRow>, InferCreationAttributes<BatchChangeRow>> {
  declare runId: string;
  declare fileId: string;
  /** The same in every file in which the same changes. */
  declare changeKey: string;
  declare what: string;
  declare kinds: string;
  declare said: string;
  /** How many nodes, frames, wires or notes change. */
  declare things: number;
  declare unit: Unit;
  declare isLeft: boolean;
}

/** The rows of a table that a run reads, those of one file, gzip of JSON. */
export class BatchTableRow extends Model<InferAttributes<BatchTableRow>, InferCreationAttributes<BatchTableRow>> {
  declare runId: string;
  declare fileId: string;
  declare content: Buffer;
}

/** A recipe that is run again and again by itself. */
export class ScheduleRow extends Model<InferAttributes<ScheduleRow>, InferCreationAttributes<ScheduleRow>> {
  declare id: string;
  declare title: string;
  declare recipe: string;
  declare files: string;
  declare author: string;
  declare authorId: string;
  /** Days of the week, 0 for Sunday, with commas between. */
  declare days: string;
  /** The time of day there, as `02:00`. */
  declare at: string;
  /** A time zone of the IANA database. */
  declare zone: string;
  declare applies: boolean;
  declare keepsReports: boolean;
  declare active: boolean;
  /** Why it could not start last. */
  declare why: string;
  declare nextAt: Date | null;
  declare lastRun: string | null;
  declare createdAt: CreationOptional<Date>;
}

/** A report of a run that is kept by itself. */
export class KeptReportRow extends Model<InferAttributes<KeptReportRow>, InferCreationAttributes<KeptReportRow>> {
  declare id: string;
  declare title: string;
  declare runId: string;
  declare step: number;
  declare runTitle: string;
  declare scheduleId: string | null;
  /** The report as JSON. */
  declare content: string;
  declare person: string;
  declare personId: string;
  declare createdAt: CreationOptional<Date>;
}

/** Binds these models; called with all the others. */
export function bindBatchModels(sequelize: Sequelize): void {
  const options = (tableName: string) => ({ sequelize, tableName, updatedAt: false, underscored: true }) as const;
  BatchRunRow.init(
    {
      ...{
        id: key(),
        title: text(200),
        recipe: { type: DataTypes.TEXT('long'), allowNull: false },
        files: long(),
        message: text(500),
        author: text(100),
        authorId: text(32),
      },
      ...{ scheduleId: maybeText(64), beforeId: maybeText(64), goesOn: { ...text(20), defaultValue: '' } },
      ...{ seed: whole(), phase: text(12), createdAt: time() },
    },
    options('batch_runs'),
  );
  BatchItemRow.init(
    {
      ...{
        runId: key(),
        fileId: key(),
        position: whole(),
        title: text(300),
        state: text(12),
        base: maybeWhole(),
        applied: maybeWhole(),
        rolledBack: maybeWhole(),
      },
      ...{
        accepted: { type: DataTypes.BOOLEAN, allowNull: true },
        leftOut: { ...whole(), defaultValue: 0 },
        conflicts: { type: DataTypes.TEXT('medium'), allowNull: true },
        summary: { type: DataTypes.TEXT('medium'), allowNull: true },
        why: text(2000),
        fence: whole(),
        attempts: whole(),
      },
      ...{ leaseUntil: { type: DataTypes.DATE(3), allowNull: true }, worker: text(100), changedAt: time() },
    },
    { ...options('batch_items'), createdAt: false },
  );
  const stored = () => ({ type: DataTypes.BLOB('long'), allowNull: false });
  BatchPlanRow.init(
    { runId: key(), fileId: key(), revised: stored(), outcome: stored() },
    { ...options('batch_plans'), createdAt: false },
  );
  BatchChangeRow.init(
    {
      runId: key(),
      fileId: key(),
      changeKey: key(24),
      what: text(200),
      kinds: text(400),
      said: text(400),
      things: whole(),
      unit: text(10),
      isLeft: { type: DataTypes.BOOLEAN, allowNull: false },
    },
    { ...options('batch_changes'), createdAt: false },
  );
  ScheduleRow.init(
    {
      ...{ id: key(), title: text(200), recipe: { type: DataTypes.TEXT('long'), allowNull: false }, files: long() },
      ...{ author: text(100), authorId: text(32), days: text(20), at: text(5), zone: text(64) },
      ...{ applies: flag(), keepsReports: flag(), active: flag(), why: text(500) },
      ...{ nextAt: { type: DataTypes.DATE(3), allowNull: true }, lastRun: maybeText(64), createdAt: time() },
    },
    options('batch_schedules'),
  );
  KeptReportRow.init(
    {
      ...{
        id: key(),
        title: text(200),
        runId: text(64),
        step: whole(),
        runTitle: text(200),
        scheduleId: maybeText(64),
      },
      ...{ content: long(), person: text(100), personId: text(32), createdAt: time() },
    },
    options('kept_reports'),
  );
  BatchTableRow.init(
    { runId: key(), fileId: key(), content: { type: DataTypes.BLOB('long'), allowNull: false } },
    { ...options('batch_tables'), createdAt: false },
  );
}
