import { randomBytes } from 'node:crypto';
import { type Delivery, type Webhook, webhooksApi } from '@basitax/api/webhooks';
import { must } from '@basitax/core/must';
import { fn, Op } from 'sequelize';
import { databaseNow, databaseTime } from '../db/clock.ts';
import { DeliveryRow, WebhookRow } from '../db/event-models.ts';
import { HttpProblem } from '../http/problem.ts';
import { bind, type Route, say } from '../http/route.ts';
import { mayReceive, newSecret } from './postman.ts';
import { queue } from './record.ts';

type Counts = ReadonlyMap<string, { waiting: number; failed: number }>;

async function counts(): Promise<Counts> {
  const rows = (await DeliveryRow.findAll({
    attributes: ['webhookId', 'state', [fn('COUNT', '*'), 'count']],
    where: { state: ['waiting', 'failed'] },
    group: ['webhookId', 'state'],
    raw: true,
  })) as unknown as { webhookId: string; state: 'waiting' | 'failed'; count: number }[];
  const byHook = new Map<string, { waiting: number; failed: number }>();
  for (const { webhookId, state, count } of rows)
    byHook.set(webhookId, { ...{ waiting: 0, failed: 0, ...byHook.get(webhookId) }, [state]: Number(count) });
  return byHook;
}

const told = (row: WebhookRow, known: Counts): Webhook => ({
  ...{ id: row.id, title: row.title, url: row.url, active: row.active, why: row.why, by: row.by },
  types: row.types.split(',').filter(Boolean) as Webhook['types'],
  createdAt: row.createdAt.toISOString(),
  ...(known.get(row.id) ?? { waiting: 0, failed: 0 }),
});

const delivery = (row: DeliveryRow): Delivery => ({
  ...{ id: row.id, type: row.type, state: row.state, tries: row.tries, status: row.status, said: row.said },
  ...{ createdAt: row.createdAt.toISOString(), nextAt: row.nextAt?.toISOString() ?? null },
});

async function hookOf(id: string): Promise<WebhookRow> {
  const row = await WebhookRow.findByPk(id);
  if (!row) throw new HttpProblem(404, 'Not found', 'There is no such webhook. It may have been removed.');
  return row;
}

/** Where the team's events are sent: leads decide. `hosts`: those that may be sent to. */
export function webhookRoutes(hosts: readonly string[]): Route[] {
  const allowed = (url: string): void => {
    if (!mayReceive(url, hosts))
      throw new HttpProblem(
        422,
        'Not allowed',
        `This server may not send to ${new URL(url).host}. The administrator lists allowed hosts in WEBHOOK_HOSTS${hosts.length === 0 ? '; there are none yet' : `: ${hosts.join(', ')}`}.`,
      );
  };
  const stored = (types: readonly string[]): string => `,${types.join(',')},`;
  return bind(webhooksApi, {
    async list() {
      const known = await counts();
      const rows = await WebhookRow.findAll({ order: [['title', 'ASC']] });
      return { webhooks: rows.map((row) => told(row, known)), hosts };
    },
    async make({ body, person, ctx }) {
      allowed(body.url);
      const secret = newSecret();
      const { title, url, types, active } = body;
      const about = { id: randomBytes(8).toString('hex'), secret, why: '', by: person.name };
      const row = await WebhookRow.create({ ...about, title, url, active, types: stored(types) });
      say(ctx, { target: `“${title}”`, detail: new URL(url).host });
      return { ...told(row, new Map()), secret };
    },
    async change({ params, body, ctx }) {
      allowed(body.url);
      const row = await hookOf(params.id);
      const { title, url, types, active } = body;
      await row.update({ title, url, active, types: stored(types), why: '' });
      say(ctx, { target: `“${title}”`, detail: new URL(url).host });
      return told(row, await counts());
    },
    async remove({ params, ctx }) {
      const row = await hookOf(params.id);
      say(ctx, { target: `“${row.title}”` });
      await row.destroy();
      return undefined;
    },
    async test({ params, person }) {
      const { id, title } = await hookOf(params.id);
      const now = await databaseNow(must(WebhookRow.sequelize));
      return delivery(await queue(id, 'test', now, { person: person.name, title, message: 'This is a test.' }));
    },
    async deliveries({ params }) {
      await hookOf(params.id);
      const rows = await DeliveryRow.findAll({
        where: { webhookId: params.id },
        order: [['createdAt', 'DESC']],
        limit: 200,
      });
      return { deliveries: rows.map(delivery) };
    },
    async again({ params }) {
      const [count] = await DeliveryRow.update(
        { state: 'waiting', tries: 0, nextAt: databaseTime() },
        { where: { id: params.delivery, webhookId: params.id, state: { [Op.ne]: 'waiting' } } },
      );
      const row = await DeliveryRow.findOne({ where: { id: params.delivery, webhookId: params.id } });
      if (!row || count === 0)
        throw new HttpProblem(404, 'Not found', 'There is no such message, or it still waits to be sent.');
      return delivery(row);
    },
  });
}
