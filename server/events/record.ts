import { randomBytes } from 'node:crypto';
import type { EventType, TeamEvent } from '@basitax/api/events';
import { must } from '@basitax/core/must';
import { Op, QueryTypes, type Transaction } from 'sequelize';
import { databaseNow } from '../db/clock.ts';
import { DeliveryRow, NoticeRow, TeamEventRow, WebhookRow } from '../db/event-models.ts';

/** What happened, as those who did it tell it. */
export type Happened = Omit<TeamEvent, 'id' | 'type' | 'at'>;

/**
 * Puts on record that something happened, in the transaction in which it did: for those who listen, and for each webhook
 * that is sent such events.
 */
export async function happened(type: EventType, event: Happened, transaction: Transaction): Promise<void> {
  // servers whose clocks differ tell one row of events
  const at = await databaseNow(must(TeamEventRow.sequelize), transaction);
  const row = await TeamEventRow.create(
    {
      ...{ at, type, fileId: event.file ?? null, projectId: event.project ?? null, runId: event.run ?? null },
      content: JSON.stringify(event),
    },
    { transaction },
  );
  const hooks = await WebhookRow.findAll({
    attributes: ['id'],
    where: { active: true, types: { [Op.like]: `%,${type},%` } },
    transaction,
  });
  for (const hook of hooks) await queue(hook.id, type, at, { id: String(row.id), ...event }, transaction);
}

/** Queues a message for a webhook, as Standard Webhooks 1.0 has it. */
export async function queue(
  webhook: string,
  type: string,
  at: Date,
  data: object,
  transaction?: Transaction,
): Promise<DeliveryRow> {
  return DeliveryRow.create(
    {
      ...{ id: `msg_${randomBytes(12).toString('hex')}`, webhookId: webhook, type, state: 'waiting', tries: 0 },
      body: JSON.stringify({ type, timestamp: at.toISOString(), data }),
      ...{ nextAt: at, status: null, said: '' },
    },
    transaction ? { transaction } : {},
  );
}

/** Tells a person something, with where it leads to; nobody where that person has left the team. */
export async function notify(user: string, text: string, link: string, transaction: Transaction): Promise<void> {
  await must(NoticeRow.sequelize).query(
    'INSERT INTO notices (user_id, at, text, link, seen_at) SELECT id, NOW(3), ?, ?, NULL FROM users WHERE id = ?',
    { type: QueryTypes.INSERT, replacements: [text.slice(0, 500), link, user], transaction },
  );
}
