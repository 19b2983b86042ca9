import { fileSchema, type Revision } from '@basitax/api/files';
import { problemSchema } from '@basitax/api/problem';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { openFile, saveLabel } from './tests/acts.ts';
import { eventsOf, until } from './tests/events.ts';
import { type ServerProcess, startProcess } from './tests/process.ts';
import { type Client, freshDatabase, startTeam, type Team } from './tests/team.ts';

// Two real server processes over one MariaDB, as on two machines; the clock of the second is eleven minutes ahead.

let team: Team;
let one: ServerProcess;
let two: ServerProcess;

beforeAll(async () => {
  const url = await freshDatabase();
  team = await startTeam(url);
  // from here on the work is theirs
  await team.judging.close();
  [one, two] = await Promise.all([startProcess(url), startProcess(url, {}, 11 * 60_000)]);
}, 60_000);
afterAll(async () => {
  await Promise.all([one.stop(), two.stop()]);
  await team.close();
}, 60_000);

const open = (client: Client) => openFile(client, 'tide-cues');

it('a session that one server opened is known to the other, and ended there ends here', async () => {
  const client = await team.as('editor', one.base);
  const other = client.at(two.base);
  expect((await other.json('GET', '/api/session')).person.login).toBe('editor');
  await other.send('DELETE', '/api/session');
  await client.json('GET', '/api/files', { status: 401 });
});

it('what is saved at one is refused as meanwhile changed at the other, which names it, and seen there at once', async () => {
  const [here, there] = [await team.as('editor', one.base), await team.as('lead', two.base)];
  const [mine, theirs] = [await open(here), await open(there)];
  expect((await saveLabel(here, mine, 0, 'Ebb')).status).toBe(201);
  const met = await saveLabel(there, theirs, 1, 'Flood');
  expect(met.status).toBe(412);
  const { changes } = problemSchema.parse(await met.json());
  expect(changes).toMatchObject({ head: mine.number + 1, revisions: [{ message: 'Ebb' }] });
  expect((await saveLabel(there, { ...theirs, number: mine.number + 1 }, 1, 'Flood')).status).toBe(201);
  expect((await open(here)).nodes.slice(0, 2).map((node) => node.label)).toEqual(['Ebb', 'Flood']);
});

it('of two that save at the same moment one is accepted, and no number is given twice', async () => {
  const clients = [await team.as('editor', one.base), await team.as('lead', two.base)];
  const first = await open(clients[0]!);
  const accepted: number[] = [];
  for (let round = 0; round < 15; round++) {
    const now = await open(clients[round % 2]!);
    const answers = await Promise.all(clients.map((client, i) => saveLabel(client, now, i, `Round ${round}`)));
    expect(answers.map((answer) => answer.status).sort()).toEqual([201, 412]);
    accepted.push(fileSchema.parse(await answers.find((answer) => answer.status === 201)!.json()).head.number);
  }
  expect(accepted).toEqual(accepted.map((_, i) => first.number + 1 + i));
});

it('who is in a file is told by both alike, though their clocks are apart', async () => {
  const [here, there] = [await team.as('editor', one.base), await team.as('lead', two.base)];
  const standing = { graph: 'root', x: 0, y: 0, width: 800, height: 600, selection: [], editing: true };
  await here.json('PUT', '/api/files/tide-cues/presence/tabnumber1', { json: standing, status: 204 });
  await there.json('PUT', '/api/files/tide-cues/presence/tabnumber2', { json: standing, status: 204 });
  for (const client of [here, there]) {
    const events = eventsOf(await client.send('GET', '/api/files/tide-cues/live'));
    const { people } = await until(events, (live) => live.people.length > 1);
    expect(people.map(({ tab }) => tab).sort()).toEqual(['tabnumber1', 'tabnumber2']);
    await events.return(undefined);
  }
  await there.json('DELETE', '/api/files/tide-cues/presence/tabnumber2', { status: 204 });
  const events = eventsOf(await here.send('GET', '/api/files/tide-cues/live'));
  expect((await until(events, () => true)).people.map(({ tab }) => tab)).toEqual(['tabnumber1']);
  await events.return(undefined);
});

it('when one is killed in the middle of its work, the other goes on with it, sessions and what was still to be measured included', async () => {
  const client = await team.as('editor', one.base);
  let now = await open(client);
  for (let i = 0; i < 3; i++) {
    expect((await saveLabel(client, now, 2, `Before ${i}`)).status).toBe(201);
    now = await open(client);
  }
  await one.kill();
  const other = client.at(two.base);
  expect((await open(other)).nodes[2]!.label).toBe('Before 2');
  expect((await saveLabel(other, now, 2, 'After')).status).toBe(201);
  const unmeasured = async () => {
    const { revisions } = (await other.json('GET', '/api/files/tide-cues/revisions')) as { revisions: Revision[] };
    return revisions.filter((revision) => revision.measures.score === undefined).map((revision) => revision.number);
  };
  // what the dead one had taken on comes free by itself, at the latest after half a minute
  await expect.poll(unmeasured, { timeout: 60_000, interval: 500 }).toEqual([]);
}, 180_000);
