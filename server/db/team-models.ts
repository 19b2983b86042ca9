import type { SavingCheck } from '@basitax/api/projects';
import type { Role } from '@basitax/api/roles';
import {
  type CreationOptional,
  DataTypes,
  type InferAttributes,
  type InferCreationAttributes,
  Model,
  type Sequelize,
} from 'sequelize';
import { flag, key, text, time, whole } from './columns.ts';

/** Files that belong together: who sees them, and the house rules that they are held to. */
export class ProjectRow extends Model<InferAttributes<ProjectRow>, InferCreationAttributes<ProjectRow>> {
  declare id: string;
  declare title: string;
  declare about: string;
  /** Open to the whole team; else to members and leads. */
  declare open: boolean;
  /** House rules, as JSON. */
  declare profile: CreationOptional<string>;
  declare onSave: CreationOptional<SavingCheck>;
  /** Raised with each change of the rules. */
  declare rulesVersion: CreationOptional<number>;
  declare createdAt: CreationOptional<Date>;
}

export class ProjectMemberRow extends Model<
  InferAttributes<ProjectMemberRow>,
  InferCreationAttributes<ProjectMemberRow>
> {
  declare projectId: string;
  declare userId: string;
}

export class TagRow extends Model<InferAttributes<TagRow>, InferCreationAttributes<TagRow>> {
  declare fileId: string;
  declare tag: string;
}

/** How much the house rules found in a revision, by the rules of its project when it was stored. */
export class RevisionFindingsRow extends Model<
  InferAttributes<RevisionFindingsRow>,
  InferCreationAttributes<RevisionFindingsRow>
> {
  declare fileId: string;
  declare number: number;
  declare errors: number;
  declare warnings: number;
  declare infos: number;
  /** How many of each rule, as JSON. */
  declare byRule: string;
}

/** Somebody who may join the team: with a link that is handed on, once. */
export class InvitationRow extends Model<InferAttributes<InvitationRow>, InferCreationAttributes<InvitationRow>> {
  declare id: string;
  /** SHA-256 of the token in the link. */
  declare hash: string;
  declare name: string;
  declare role: Role;
  declare by: string;
  declare expiresAt: Date;
  declare createdAt: CreationOptional<Date>;
}

/** One line of the record of what was done. Written, never changed. */
export class AuditRow extends Model<InferAttributes<AuditRow>, InferCreationAttributes<AuditRow>> {
  declare id: CreationOptional<number>;
  declare at: Date;
  declare person: string;
  declare byToken: boolean;
  declare act: string;
  declare target: string;
  declare detail: string;
  declare address: string;
}

/** A tab of somebody’s browser that has a file open. */
export class PresenceRow extends Model<InferAttributes<PresenceRow>, InferCreationAttributes<PresenceRow>> {
  declare tab: string;
  declare fileId: string;
  declare userId: string;
  declare name: string;
  /** Where it stands, as JSON. */
  declare standing: string;
  declare seenAt: Date;
}

/** Binds these models; called with all the others. */
export function bindTeamModels(sequelize: Sequelize): void {
  const options = (tableName: string, createdAt: boolean) =>
    ({ sequelize, tableName, updatedAt: false, underscored: true, ...(!createdAt && { createdAt: false }) }) as const;
  ProjectRow.init(
    {
      ...{
        id: key(32),
        title: text(200),
        about: text(1000),
        open: flag(),
        profile: { type: DataTypes.TEXT('medium'), allowNull: false, defaultValue: '{}' },
      },
      ...{
        onSave: { ...text(10), defaultValue: 'off' },
        rulesVersion: { ...whole(), defaultValue: 1 },
        createdAt: time(),
      },
    },
    options('projects', true),
  );
  ProjectMemberRow.init({ projectId: key(32), userId: key(32) }, options('project_members', false));
  TagRow.init({ fileId: key(), tag: key(50) }, options('file_tags', false));
  RevisionFindingsRow.init(
    {
      fileId: key(),
      number: { ...whole(), primaryKey: true },
      errors: whole(),
      warnings: whole(),
      infos: whole(),
      byRule: { type: DataTypes.TEXT, allowNull: false },
    },
    options('revision_findings', false),
  );
  InvitationRow.init(
    {
      id: key(32),
      hash: text(64),
      name: text(100),
      role: text(10),
      by: text(100),
      expiresAt: time(),
      createdAt: time(),
    },
    options('invitations', true),
  );
  AuditRow.init(
    {
      id: { type: DataTypes.BIGINT.UNSIGNED, primaryKey: true, autoIncrement: true },
      ...{
        at: time(),
        person: text(100),
        byToken: flag(),
        act: text(200),
        target: text(400),
        detail: text(1000),
        address: text(64),
      },
    },
    options('audit', false),
  );
  PresenceRow.init(
    {
      tab: key(32),
      fileId: text(64),
      userId: text(32),
      name: text(100),
      standing: { type: DataTypes.TEXT, allowNull: false },
      seenAt: time(),
    },
    options('presence', false),
  );
}
