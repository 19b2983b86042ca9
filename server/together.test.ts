import type { Live } from '@basitax/api/live';
import { problemSchema } from '@basitax/api/problem';
import type { Doc } from '@basitax/core/document/doc';
import { parseDoc, writeDoc } from '@basitax/core/document/file';
import { seededRandom } from '@basitax/core/document/ids';
import { Kinds } from '@basitax/core/document/kinds';
import { diff } from '@basitax/core/edit/diff';
import { rebase } from '@basitax/core/edit/rebase';
import { resolve } from '@basitax/core/edit/resolve';
import { apply, type Edit } from '@basitax/core/edit/step';
import { catalogue } from '@basitax/demo/catalogue';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { eventsOf, until } from './tests/events.ts';
import { type Client, startTeam, type Team } from './tests/team.ts';

let team: Team;
let other: string;
beforeAll(async () => {
  team = await startTeam();
  other = await team.another();
});
afterAll(() => team.close());

const file = 'dome-blend';
const kinds = new Kinds(catalogue);

async function open(client: Client): Promise<{ doc: Doc; number: number }> {
  const response = await client.send('GET', `/api/files/${file}/revisions/head`);
  return { doc: parseDoc(await response.text()).doc, number: Number(JSON.parse(response.headers.get('etag')!)) };
}

/** Something that a person might do. */
function act(doc: Doc, random: () => number, id: string): Doc {
  const nodes = [...doc.nodes.values()];
  const node = nodes[Math.floor(random() * nodes.length)]!;
  const all = new Map(doc.nodes);
  const what = random();
  if (what < 0.35)
    all.set(node.id, {
      ...node,
      x: node.x + Math.round(random() * 200 - 100),
      y: node.y + Math.round(random() * 200 - 100),
    });
  else if (what < 0.7) all.set(node.id, { ...node, label: `Label ${Math.floor(random() * 1000)}` });
  else if (what < 0.9 || nodes.length < 12)
    all.set(id, { ...node, id, name: `${node.name}_${id}`, x: node.x + 40, y: node.y + 300 });
  else {
    all.delete(node.id);
    return {
      ...doc,
      nodes: all,
      wires: new Map([...doc.wires].filter(([, wire]) => wire.from.node !== node.id && wire.to.node !== node.id)),
    };
  }
  return { ...doc, nodes: all };
}

it('eight people who edit one file at random for three quarters of a minute, over two servers, lose nothing that was accepted, and it stands in order', async () => {
  const until = Date.now() + 45_000;
  const accepted: { number: number; edit: Edit; author: string }[] = [];
  const counts = { met: 0, conflicts: 0, mine: 0 };
  const person = async (who: number): Promise<void> => {
    const random = seededRandom(who + 1);
    const client = await team.as(who % 2 === 0 ? 'editor' : 'lead', who % 4 < 2 ? undefined : other);
    let { doc: base, number } = await open(client);
    for (let i = 0; Date.now() < until; i++) {
      let mine = base;
      for (let k = 0; k <= random() * 3; k++) mine = act(mine, random, `n${who}x${i}x${k}`);
      let edit = diff(base, mine);
      while (edit.steps.length > 0) {
        const response = await client.send('POST', `/api/files/${file}/revisions`, {
          json: { edit, message: `Person ${who}, act ${i}` },
          headers: { 'If-Match': `"${number}"` },
        });
        const answer = await response.json();
        if (response.status === 201) {
          number = answer.head.number as number;
          accepted.push({ number, edit, author: answer.head.author as string });
          base = apply(base, edit);
          break;
        }
        expect([412, answer.detail]).toEqual([response.status, answer.detail]);
        const { changes } = problemSchema.parse(answer);
        counts.met++;
        const theirs = (changes!.edits as Edit[]).reduce(apply, base);
        mine = apply(base, edit);
        const rebased = rebase(edit, diff(base, theirs), theirs, kinds);
        counts.conflicts += rebased.conflicts.length;
        const chosen = new Set([...rebased.conflicts.keys()].filter(() => random() < 0.5));
        counts.mine += chosen.size;
        edit = resolve({ base, mine, theirs }, rebased, chosen).edit;
        base = theirs;
        number = changes!.head;
      }
    }
  };
  const first = await open(await team.as('viewer'));
  await Promise.all(Array.from({ length: 8 }, (_, who) => person(who)));
  // every number was given to one, and none was left out
  accepted.sort((a, b) => a.number - b.number);
  expect(accepted.map((one) => one.number)).toEqual(accepted.map((_, i) => first.number + 1 + i));
  const viewer = await team.as('viewer');
  const last = await open(viewer);
  expect(last.number).toBe(accepted.at(-1)!.number);
  // each edit is stored as it was accepted, and all of them in order lead to what is there
  let doc = first.doc;
  for (const { number, edit } of accepted) {
    expect(await team.store.editOf(file, number)).toEqual(edit);
    doc = apply(doc, edit);
  }
  expect(writeDoc(doc)).toBe(writeDoc(last.doc));
  expect(accepted.length).toBeGreaterThan(40);
  expect(counts.met).toBeGreaterThan(20);
  expect(counts.conflicts).toBeGreaterThan(0);
}, 180_000);

/** Reads server-sent events until one fits. */

it('whoever has a file open sees at another server who else is there and where, and what is saved; a tab is its owner’s', async () => {
  const [here, there] = [await team.as('editor'), await team.as('viewer', other)];
  const response = await there.send('GET', `/api/files/${file}/live`);
  expect(response.headers.get('content-type')).toContain('text/event-stream');
  const events = eventsOf(response);
  const { head } = (await events.next()).value as Live;
  const standing = { graph: 'root', x: 10, y: 20, width: 800, height: 600, selection: ['a'], editing: true };
  await here.json('PUT', `/api/files/${file}/presence/tabnumber1`, { json: standing, status: 204 });
  const met = await until(events, (live) => live.people.length === 1);
  expect(met.people).toEqual([{ ...standing, tab: 'tabnumber1', person: 'editor', name: 'Lighting artist' }]);
  await there.json('PUT', `/api/files/${file}/presence/tabnumber1`, { json: standing, status: 403 });
  await there.json('PUT', `/api/files/${file}/presence/NO`, { json: standing, status: 404 });
  const { doc, number } = await open(here);
  const node = [...doc.nodes.values()][0]!;
  const edit = diff(doc, { ...doc, nodes: new Map(doc.nodes).set(node.id, { ...node, label: 'Seen there' }) });
  await here.json('POST', `/api/files/${file}/revisions`, {
    json: { edit, message: 'Look' },
    headers: { 'If-Match': `"${number}"` },
    status: 201,
  });
  const saved = await until(events, (live) => live.head.number > head.number);
  expect(saved.head).toEqual({ number: number + 1, author: 'Lighting artist', message: 'Look' });
  await there.json('DELETE', `/api/files/${file}/presence/tabnumber1`, { status: 204 });
  await here.json('DELETE', `/api/files/${file}/presence/tabnumber1`, { status: 204 });
  await until(events, (live) => live.people.length === 0);
  await here.json('DELETE', `/api/files/${file}`, { status: 204 });
  await until(events, (live) => live.trashed);
  await events.return(undefined);
});
