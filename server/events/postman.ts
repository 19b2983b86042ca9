import { createHmac, randomBytes } from 'node:crypto';
import { Op, QueryTypes, type Sequelize } from 'sequelize';
import { databaseTime } from '../db/clock.ts';
import { DeliveryRow, IdempotencyRow, NoticeRow, TeamEventRow, WebhookRow } from '../db/event-models.ts';
import { retried } from '../db/retry.ts';
import { keyLife } from '../http/idempotency.ts';

/** Standard Webhooks 1.0, “Signature scheme”: how a secret is written, and how long it is, in bytes. */
const prefix = 'whsec_';
const secretLength = 32;

export const newSecret = (): string => `${prefix}${randomBytes(secretLength).toString('base64')}`;

/** The headers of a message as Standard Webhooks 1.0 has them. `at`: in milliseconds. */
export function signed(secret: string, id: string, body: string, at: number): Record<string, string> {
  const time = String(Math.floor(at / 1000));
  const key = Buffer.from(secret.slice(prefix.length), 'base64');
  const signature = createHmac('sha256', key).update(`${id}.${time}.${body}`).digest('base64');
  return { 'webhook-id': id, 'webhook-timestamp': time, 'webhook-signature': `v1,${signature}` };
}

const second = 1000;
const minute = 60 * second;
const hour = 60 * minute;
const day = 24 * hour;
/** How long is waited after each try that failed; then the message is given up. */
const waits = [5 * second, minute, 5 * minute, 30 * minute, 2 * hour, 6 * hour, 12 * hour] as const;
/** How long a receiver has to answer, and how long a message is another server's while it is sent, in milliseconds. */
const patience = 10 * second;
const lease = minute;
const mostAtOnce = 10;
const week = 7 * day;

/** May be sent to: hosts that whoever runs the server has named, at one port or, without a port, at any. */
export function mayReceive(url: string, hosts: readonly string[]): boolean {
  if (!URL.canParse(url)) return false;
  const { host, hostname } = new URL(url);
  return hosts.includes(host) || hosts.includes(hostname);
}

/** Sends what is queued for webhooks. Each server has one; a message is sent by one of them at a time. */
export class Postman {
  private readonly sequelize: Sequelize;
  private readonly hosts: readonly string[];
  private readonly waits: readonly number[];
  private cleaned = 0;

  constructor(sequelize: Sequelize, hosts: readonly string[], pauses: readonly number[] = waits) {
    this.sequelize = sequelize;
    this.hosts = hosts;
    this.waits = pauses;
  }

  /** Sends all that is due now. */
  async work(): Promise<void> {
    for (;;) {
      const due = await this.claimed();
      await Promise.all(due.map((one) => this.send(one)));
      if (due.length < mostAtOnce) break;
    }
    await this.clean();
  }

  private claimed(): Promise<DeliveryRow[]> {
    return retried(() =>
      this.sequelize.transaction(async (transaction) => {
        const rows = await this.sequelize.query<{ id: string }>(
          `SELECT id FROM webhook_deliveries WHERE state = 'waiting' AND next_at <= NOW(3) ORDER BY next_at LIMIT ${mostAtOnce} FOR UPDATE SKIP LOCKED`,
          { type: QueryTypes.SELECT, transaction },
        );
        const ids = rows.map((row) => row.id);
        if (ids.length === 0) return [];
        // should this server end meanwhile, another takes them up
        await DeliveryRow.update({ nextAt: databaseTime(lease) }, { where: { id: ids }, transaction });
        return DeliveryRow.findAll({ where: { id: ids }, order: [['createdAt', 'ASC']], transaction });
      }),
    );
  }

  private async send(message: DeliveryRow): Promise<void> {
    const hook = await WebhookRow.findByPk(message.webhookId);
    // removed since, and its messages with it
    if (!hook) return;
    if (!hook.active && message.type !== 'test') {
      await message.update({ state: 'failed', nextAt: null, said: 'The webhook is switched off.' });
      return;
    }
    const { status, said } = await this.post(hook, message);
    const tries = message.tries + 1;
    if (status !== null && status >= 200 && status < 300) {
      await message.update({ state: 'delivered', tries, status, said: '', nextAt: null });
      return;
    }
    // Standard Webhooks 1.0: a receiver that is gone for good says so
    if (status === 410) await hook.update({ active: false, why: 'The receiver answered that it is gone (410).' });
    const wait = status === 410 ? undefined : this.waits[tries - 1];
    await DeliveryRow.update(
      {
        ...{ tries, status, said: said.slice(0, 300) },
        ...(wait === undefined ? { state: 'failed' as const, nextAt: null } : { nextAt: databaseTime(wait) }),
      },
      { where: { id: message.id } },
    );
  }

  private async post(hook: WebhookRow, { id, body }: DeliveryRow): Promise<{ status: number | null; said: string }> {
    if (!mayReceive(hook.url, this.hosts))
      return {
        status: null,
        said: 'This server may not send to that host. The administrator lists allowed hosts in WEBHOOK_HOSTS.',
      };
    try {
      const response = await fetch(hook.url, {
        method: 'POST',
        headers: {
          'Content-Type': 'application/json',
          'User-Agent': 'Basitax',
          ...signed(hook.secret, id, body, Date.now()),
        },
        body,
        // somewhere else is not where it was allowed to go
        redirect: 'manual',
        signal: AbortSignal.timeout(patience),
      });
      await response.body?.cancel();
      return { status: response.status, said: response.ok ? '' : `The receiver answered ${response.status}.` };
    } catch (error) {
      const { name, cause } = error as Error & { cause?: { code?: string } };
      return {
        status: null,
        said:
          name === 'TimeoutError'
            ? `No answer within ${patience / second} seconds.`
            : `It cannot be reached (${cause?.code ?? name}).`,
      };
    }
  }

  /** Once an hour, what is old is thrown away: messages of a week, notices of three months, events of one. */
  private async clean(): Promise<void> {
    if (Date.now() - this.cleaned < hour) return;
    this.cleaned = Date.now();
    const before = (ms: number) => ({ [Op.lt]: databaseTime(-ms) });
    await DeliveryRow.destroy({ where: { createdAt: before(week) } });
    await IdempotencyRow.destroy({ where: { at: before(keyLife) } });
    await NoticeRow.destroy({ where: { at: before(90 * day) } });
    await TeamEventRow.destroy({ where: { at: before(30 * day) } });
  }
}
