import type { EventType } from '@basitax/api/events';
import {
  type CreationOptional,
  DataTypes,
  type InferAttributes,
  type InferCreationAttributes,
  Model,
  type Sequelize,
} from 'sequelize';
import { counted, key, long, maybeText, maybeTime, text, time } from './columns.ts';

/** Something that happened, for those who listen. Written, never changed. */
export class TeamEventRow extends Model<InferAttributes<TeamEventRow>, InferCreationAttributes<TeamEventRow>> {
  declare id: CreationOptional<string>;
  declare at: Date;
  declare type: EventType;
  declare fileId: string | null;
  declare projectId: string | null;
  declare runId: string | null;
  /** The event as it is told, as JSON, without id, type and time. */
  declare content: string;
}

export class NoticeRow extends Model<InferAttributes<NoticeRow>, InferCreationAttributes<NoticeRow>> {
  declare id: CreationOptional<string>;
  declare userId: string;
  declare at: Date;
  declare text: string;
  declare link: string;
  declare seenAt: Date | null;
}

export class WebhookRow extends Model<InferAttributes<WebhookRow>, InferCreationAttributes<WebhookRow>> {
  declare id: string;
  declare title: string;
  declare url: string;
  declare secret: string;
  /** The types of event that it is sent, with commas between and at both ends. */
  declare types: string;
  declare active: boolean;
  declare why: string;
  declare by: string;
  declare createdAt: CreationOptional<Date>;
}

/** A message for a webhook, until a week after it was sent. */
export class DeliveryRow extends Model<InferAttributes<DeliveryRow>, InferCreationAttributes<DeliveryRow>> {
  declare id: string;
  declare webhookId: string;
  declare type: string;
  /** Exactly what is signed and sent. */
  declare body: string;
  declare state: 'waiting' | 'delivered' | 'failed';
  declare tries: number;
  declare nextAt: Date | null;
  declare status: number | null;
  declare said: string;
  declare createdAt: CreationOptional<Date>;
}

/** What a request with an Idempotency-Key was answered, so that it is done once however often it is sent. */
export class IdempotencyRow extends Model<InferAttributes<IdempotencyRow>, InferCreationAttributes<IdempotencyRow>> {
  declare userId: string;
  declare idempotencyKey: string;
  /** SHA-256 of what was asked. */
  declare request: string;
  /** Null while it is being done. */
  declare status: number | null;
  declare headers: string;
  declare body: string | null;
  declare at: Date;
}

/** Binds these models; called with all the others. */
export function bindEventModels(sequelize: Sequelize): void {
  const options = (tableName: string) => ({ sequelize, tableName, updatedAt: false, underscored: true }) as const;
  IdempotencyRow.init(
    {
      userId: { type: DataTypes.STRING(32), primaryKey: true },
      idempotencyKey: { type: DataTypes.STRING(255), primaryKey: true },
      ...{ request: text(64), status: { type: DataTypes.INTEGER.UNSIGNED, allowNull: true }, headers: long() },
      ...{ body: { type: DataTypes.TEXT('long'), allowNull: true }, at: time() },
    },
    { ...options('idempotency_keys'), createdAt: false },
  );
  TeamEventRow.init(
    {
      id: counted(),
      at: time(),
      type: text(40),
      fileId: maybeText(64),
      projectId: maybeText(32),
      runId: maybeText(64),
      content: long(),
    },
    { ...options('team_events'), createdAt: false },
  );
  NoticeRow.init(
    { id: counted(), userId: text(32), at: time(), text: text(500), link: text(300), seenAt: maybeTime() },
    { ...options('notices'), createdAt: false },
  );
  WebhookRow.init(
    {
      ...{ id: key(), title: text(200), url: text(500), secret: text(100), types: text(1000) },
      ...{ active: { type: DataTypes.BOOLEAN, allowNull: false }, why: text(300), by: text(100), createdAt: time() },
    },
    options('webhooks'),
  );
  DeliveryRow.init(
    {
      ...{ id: key(), webhookId: text(64), type: text(40), body: long(), state: text(10) },
      ...{ tries: { type: DataTypes.INTEGER.UNSIGNED, allowNull: false }, nextAt: maybeTime() },
      ...{ status: { type: DataTypes.INTEGER.UNSIGNED, allowNull: true }, said: text(300), createdAt: time() },
    },
    options('webhook_deliveries'),
  );
}
