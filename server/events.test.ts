import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { batchRunSchema } from '@basitax/api/batches';
import { type TeamEvent, teamEventSchema } from '@basitax/api/events';
import { webhookPayloadSchema } from '@basitax/api/webhooks';
import { startWebhookReceiver } from '@basitax/demo/standins/webhook-receiver';
import { Webhook } from 'standardwebhooks';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { batchParts } from './app.ts';
import { nextTime, type Schedules } from './batch/schedules.ts';
import { BatchWorker } from './batch/worker.ts';
import { BatchRunRow, ScheduleRow } from './db/batch-models.ts';
import { DeliveryRow } from './db/event-models.ts';
import { User } from './db/models.ts';
import { Postman, signed } from './events/postman.ts';
import { told } from './tests/events.ts';
import { type Client, startTeam, type Team } from './tests/team.ts';

let team: Team;
let editor: Client;
let lead: Client;
let viewer: Client;
let worker: BatchWorker;
let schedules: Schedules;
beforeAll(async () => {
  team = await startTeam();
  [editor, lead, viewer] = [await team.as('editor'), await team.as('lead'), await team.as('viewer')];
  worker = new BatchWorker(team.sequelize, team.store, team.pool, 'test');
  schedules = batchParts(team).schedules;
});
afterAll(() => team.close());

const work = async (): Promise<void> => {
  while (await worker.work());
};
const label = { do: 'operation', operation: 'label', where: 'kind:read', options: { label: 'read' } };
const recipe = { steps: [label] };

/** Events until one is of a type. */
async function until(events: AsyncGenerator<TeamEvent, void>, type: string): Promise<TeamEvent[]> {
  const all: TeamEvent[] = [];
  for (;;) {
    const { value, done } = await events.next();
    if (done) throw new Error('The line ended.');
    all.push(value);
    if (value.type === type) return all;
  }
}

describe('the stream of the team’s events', () => {
  it('tells what happens to files as it happens, goes on where a program left, and keeps closed projects closed', async () => {
    const [file] = (await editor.json('GET', '/api/files')).files;
    const open = await viewer.send('GET', '/api/events?types=file.trashed,file.restored,file.moved');
    const events = told(open, teamEventSchema);
    await editor.json('DELETE', `/api/files/${file.id}`, { status: 204 });
    await editor.json('POST', `/api/trash/${file.id}/restore`, {});
    const seen = await until(events, 'file.restored');
    expect(seen.map(({ type, title, person }) => [type, title, person])).toEqual([
      ['file.trashed', file.title, 'Lighting artist'],
      ['file.restored', file.title, 'Lighting artist'],
    ]);
    await events.return();

    // a program that comes back after the first of the two is told the second again
    const headers = { 'Last-Event-ID': seen[0]!.id };
    const again = told(await viewer.send('GET', '/api/events?types=file.restored', { headers }), teamEventSchema);
    expect((await until(again, 'file.restored')).map(({ id }) => id)).toEqual([seen[1]!.id]);
    await again.return();

    const json = { title: 'Closed reef', about: '', open: false, members: [] };
    const project = await lead.json('POST', '/api/projects', { json, status: 201 });
    await lead.json('PUT', `/api/files/${file.id}/place`, { json: { project: project.id } });
    const [seenByLead, seenByViewer] = await Promise.all(
      [lead, viewer].map(async (who) =>
        told(await who.send('GET', '/api/events?types=file.moved,run.planned', { headers }), teamEventSchema),
      ),
    );
    expect((await until(seenByLead!, 'file.moved')).at(-1)).toMatchObject({ project: project.id });
    await editor.json('POST', '/api/batches', { json: { title: 'Open', recipe, files: {} }, status: 201 });
    await work();
    // not what happened to the file that is closed to them now
    expect((await until(seenByViewer!, 'run.planned')).map(({ type }) => type)).toEqual(['run.planned']);
    await Promise.all([seenByLead!.return(), seenByViewer!.return()]);
    await lead.json('PUT', `/api/files/${file.id}/place`, { json: { project: 'team' } });
    await viewer.json('GET', '/api/events?types=file.eaten', { status: 400 });
  });
});

describe('webhooks', () => {
  it('sign as Standard Webhooks does: the example of its specification', () => {
    // Standard Webhooks 1.0, reference libraries, test vector of `sign`
    const secret = 'whsec_MfKQ9r8GKYqrTwjUPD8ILPZIo2LaLaSw';
    const body = '{"test": 2432232314}';
    expect(signed(secret, 'msg_p5jXN8AQM9LWM0D4loKWxJek', body, 1614265330_000)).toEqual({
      'webhook-id': 'msg_p5jXN8AQM9LWM0D4loKWxJek',
      'webhook-timestamp': '1614265330',
      'webhook-signature': 'v1,g0hM9SsE+OTPJTGt/tmIKtSyZlE3uFJELVlNIOLJ1OE=',
    });
  });

  it('send what happens, signed, try again where the receiver fails, and stop where it is gone', async () => {
    let secret = '';
    const receiver = await startWebhookReceiver(() => secret);
    const make = (path: string, types: string[]) =>
      lead.json('POST', '/api/webhooks', { json: { title: path, url: receiver.address + path, types }, status: 201 });
    const hook = await make('/', ['run.planned']);
    ({ secret } = hook);
    const failing = await make('/fail', ['run.planned']);
    const run = batchRunSchema.parse(
      await editor.json('POST', '/api/batches', { json: { title: 'Told', recipe, files: {} }, status: 201 }),
    );
    await work();
    const postman = new Postman(team.sequelize, ['127.0.0.1'], [0, 0]);
    await postman.work();
    expect(receiver.received.map(({ isSigned, why }) => [isSigned, why])).toEqual([[true, '']]);
    expect(webhookPayloadSchema.parse(receiver.received[0]!.body)).toMatchObject({
      type: 'run.planned',
      data: { run: run.id, title: 'Told', person: 'Lighting artist' },
    });
    // with another secret it is refused by the reference library
    const [sent] = await DeliveryRow.findAll({ where: { webhookId: hook.id } });
    const headers = signed(secret, sent!.id, sent!.body, Date.now());
    expect(() => new Webhook(`whsec_${Buffer.alloc(32).toString('base64')}`).verify(sent!.body, headers)).toThrow();
    await postman.work();
    await postman.work();
    const { deliveries } = await lead.json('GET', `/api/webhooks/${failing.id}/deliveries`);
    expect(deliveries).toMatchObject([{ state: 'failed', tries: 3, status: 503 }]);
    expect(
      (await lead.json('GET', '/api/webhooks')).webhooks.find((one: { id: string }) => one.id === failing.id),
    ).toMatchObject({ failed: 1 });
    await lead.json('POST', `/api/webhooks/${failing.id}/deliveries/${deliveries[0].id}/again`, {
      json: {},
      status: 201,
    });
    await receiver.stop();
    await postman.work();
    const [last] = (await lead.json('GET', `/api/webhooks/${failing.id}/deliveries`)).deliveries;
    expect(last).toMatchObject({ state: 'waiting', status: null, said: expect.stringContaining('ECONNREFUSED') });

    const gone = createServer((_, response) => response.writeHead(410).end());
    await new Promise<void>((done) => gone.listen(0, '127.0.0.1', done));
    const url = `http://127.0.0.1:${(gone.address() as AddressInfo).port}/`;
    await lead.json('PUT', `/api/webhooks/${failing.id}`, { json: { title: 'Gone', url, types: ['run.planned'] } });
    await lead.json('POST', `/api/webhooks/${failing.id}/test`, { json: {}, status: 201 });
    await postman.work();
    gone.close();
    const after = (await lead.json('GET', '/api/webhooks')).webhooks.find(
      (one: { id: string }) => one.id === failing.id,
    );
    expect(after).toMatchObject({ active: false, why: expect.stringContaining('410') });
  });

  it('lead only where whoever runs the server lets them, and are for leads', async () => {
    const json = { title: 'Elsewhere', url: 'http://169.254.169.254/latest', types: ['run.planned'] };
    await lead.json('POST', '/api/webhooks', { json, status: 422 });
    await lead.json('POST', '/api/webhooks', { json: { ...json, url: 'file:///etc/hosts' }, status: 400 });
    await editor.json('POST', '/api/webhooks', { json, status: 403 });
    await editor.json('GET', '/api/webhooks', { status: 403 });
  });
});

describe('schedules', () => {
  it('are due by the clock of their zone, over the change of summer time', () => {
    const night = { days: [0, 1, 2, 3, 4, 5, 6], at: '02:30', zone: 'Europe/Oslo' };
    // IANA time zone database: clocks in Oslo went from 02:00 to 03:00 on 29 March 2026, and back on 25 October 2026
    expect(nextTime(night, new Date('2026-03-27T12:00:00Z'))!.toISOString()).toBe('2026-03-28T01:30:00.000Z');
    expect(nextTime(night, new Date('2026-03-29T12:00:00Z'))!.toISOString()).toBe('2026-03-30T00:30:00.000Z');
    expect(nextTime(night, new Date('2026-10-25T12:00:00Z'))!.toISOString()).toBe('2026-10-26T01:30:00.000Z');
    expect(nextTime({ ...night, days: [1] }, new Date('2026-12-01T12:00:00Z'))!.toISOString()).toBe(
      '2026-12-07T01:30:00.000Z',
    );
  });

  it('start their run once when they are due, propose or apply, keep reports, and compare with the run before', async () => {
    const source =
      'function each(file) { return { nodes: file.nodes.length } }\nfunction all(results) { return results.map((one) => ({ file: one.file, ...one.result })) }';
    const json = {
      title: 'Every night',
      recipe: { steps: [label, { do: 'script', title: 'Count', source }] },
      files: {},
      ...{ days: [0, 1, 2, 3, 4, 5, 6], at: '02:00', zone: 'Etc/UTC' },
    };
    await viewer.json('POST', '/api/schedules', { json, status: 403 });
    await editor.json('POST', '/api/schedules', { json: { ...json, zone: 'Reef/Lagoon' }, status: 400 });
    await editor.json('POST', '/api/schedules', { json: { ...json, files: { query: 'colour:red' } }, status: 422 });
    const made = await editor.json('POST', '/api/schedules', { json, status: 201 });
    expect(new Date(made.nextAt).getUTCHours()).toBe(2);
    const due = () => ScheduleRow.update({ nextAt: new Date(Date.now() - 1000) }, { where: { id: made.id } });
    await due();
    await Promise.all([schedules.work(), schedules.work()]);
    await work();
    await schedules.work();
    const runs = async () =>
      (await editor.json('GET', '/api/batches')).runs.filter((run: { schedule: string }) => run.schedule === made.id);
    expect(await runs()).toMatchObject([{ phase: 'review', author: 'Lighting artist', accepted: 0, repeats: null }]);
    const [first] = await runs();
    const { reports } = await viewer.json('GET', '/api/reports');
    expect(reports).toMatchObject([{ title: 'Count', run: first.id, schedule: made.id }]);

    // the next one applies by itself, and is put beside the first
    await editor.json('PUT', `/api/schedules/${made.id}`, { json: { ...json, applies: true } });
    await due();
    await schedules.work();
    await work();
    await schedules.work();
    await work();
    const [second] = await runs();
    expect(second).toMatchObject({ phase: 'applied', repeats: first.id });
    const compared = await editor.json('GET', `/api/batches/${second.id}/before`);
    expect(compared).toMatchObject({ run: { id: first.id }, files: [], same: second.total });

    await due();
    await schedules.work();
    await work();
    const [third] = await runs();
    const later = await editor.json('GET', `/api/batches/${third.id}/before`);
    expect(later.files.map((one: { said: string[] }) => one.said[0])).toContain(
      'nothing to change; would change in the run before',
    );
    await schedules.work();
    const kept = (await viewer.json('GET', '/api/reports')).reports;
    const shown = await viewer.json('GET', `/api/reports/${kept[0].id}`);
    expect(shown.before).toHaveLength(2);
    expect(shown.report.is).toBe('table');
    await viewer.json('DELETE', `/api/reports/${kept[0].id}`, { status: 403 });
    await lead.json('DELETE', `/api/reports/${kept[0].id}`, { status: 204 });

    const { notices, unseen } = await editor.json('GET', '/api/notices');
    expect(unseen).toBe(notices.length);
    expect(notices.map((one: { link: string }) => one.link)).toContain(`/batches/${second.id}`);
    await editor.json('POST', '/api/notices/seen', { json: { link: `/batches/${second.id}` }, status: 204 });
    expect((await editor.json('GET', '/api/notices')).unseen).toBeLessThan(unseen);
    expect((await viewer.json('GET', '/api/notices')).notices).toEqual([]);
  });

  it('say why they could not start, and stop when their author may not change files any more', async () => {
    const json = {
      title: 'Too late',
      recipe,
      files: { query: 'title:nothing' },
      days: [1],
      at: '02:00',
      zone: 'Etc/UTC',
    };
    const made = await editor.json('POST', '/api/schedules', { json, status: 201 });
    const due = () => ScheduleRow.update({ nextAt: new Date(Date.now() - 1000) }, { where: { id: made.id } });
    const now = async () =>
      (await editor.json('GET', '/api/schedules')).schedules.find((one: { id: string }) => one.id === made.id);
    await due();
    await schedules.work();
    expect(await now()).toMatchObject({ active: true, why: 'No files match.' });
    await User.update({ role: 'viewer' }, { where: { id: 'editor' } });
    await due();
    await schedules.work();
    expect(await now()).toMatchObject({ active: false, why: expect.stringContaining('Lighting artist') });
    await User.update({ role: 'editor' }, { where: { id: 'editor' } });
  });

  it('settles runs whose author has left, or whose last worker ended before it could', async () => {
    const json = { title: 'Left alone', recipe, files: {} };
    const run = batchRunSchema.parse(await editor.json('POST', '/api/batches', { json, status: 201 }));
    const phase = async () => (await lead.json('GET', `/api/batches/${run.id}`)).phase;
    await BatchRunRow.update({ authorId: 'gone' }, { where: { id: run.id } });
    await work();
    expect(await phase()).toBe('review');
    await BatchRunRow.update({ phase: 'planning' }, { where: { id: run.id } });
    await schedules.work();
    expect(await phase()).toBe('review');
  });
});
