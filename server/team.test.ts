import { fileSchema } from '@basitax/api/files';
import { problemSchema } from '@basitax/api/problem';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { AuditRow } from './db/team-models.ts';
import { Client, startTeam, type Team } from './tests/team.ts';

let team: Team;
let lead: Client;
let editor: Client;
let viewer: Client;
beforeAll(async () => {
  team = await startTeam();
  [lead, editor, viewer] = [await team.as('lead'), await team.as('editor'), await team.as('viewer')];
});
afterAll(() => team.close());

const filesOf = async (client: Client): Promise<string[]> =>
  (await client.json('GET', '/api/files')).files.map((file: { id: string }) => file.id);

describe('projects', () => {
  it('are made by leads, hold files in folders, and show closed ones to their members alone', async () => {
    const { id } = await lead.json('POST', '/api/projects', {
      json: { title: 'Night act', about: 'Forty shots', open: false, members: ['editor'] },
      status: 201,
    });
    await lead.json('POST', '/api/projects', { json: { title: 'Night act' }, status: 422 });
    await lead.json('POST', '/api/projects', { json: { title: 'Other', members: ['nobody'] }, status: 422 });
    expect((await viewer.json('GET', '/api/projects')).projects.map((one: { title: string }) => one.title)).toEqual([
      'Team files',
    ]);
    expect(
      (await editor.json('GET', '/api/projects')).projects.map((one: { title: string; files: number }) => [
        one.title,
        one.files,
      ]),
    ).toEqual([
      ['Night act', 0],
      ['Team files', 2],
    ]);
    const moved = await editor.json('PUT', '/api/files/tide-cues/place', {
      json: { project: id, folder: ' cues / night ' },
    });
    expect(fileSchema.parse(moved)).toMatchObject({ project: id, folder: 'cues/night' });
    expect(await filesOf(viewer)).toEqual(['dome-blend']);
    expect(await filesOf(editor)).toEqual(['dome-blend', 'tide-cues']);
    for (const folder of ['/a', 'a//b', 'a/ /b', 'a\\b'])
      await editor.json('PUT', '/api/files/tide-cues/place', { json: { project: id, folder }, status: 400 });
    await editor.json('PUT', '/api/files/tide-cues/place', { json: { project: 'nowhere' }, status: 404 });
    expect((await lead.json('DELETE', `/api/projects/${id}`, { status: 422 })).detail).toContain('holds a file');
    // opened to all it is seen by all, and once it is empty it can go
    await lead.json('PUT', `/api/projects/${id}`, { json: { title: 'Night', open: true }, status: 204 });
    expect(await filesOf(viewer)).toEqual(['dome-blend', 'tide-cues']);
    await editor.json('PUT', '/api/files/tide-cues/place', { json: { project: 'team' } });
    await lead.json('DELETE', `/api/projects/${id}`, { status: 204 });
    expect((await lead.json('DELETE', '/api/projects/team', { status: 422 })).detail).toContain('holds 2 files');
  });

  it('have house rules, which count findings, are told from an older state, and can refuse a save that adds errors', async () => {
    const rules = await editor.json('GET', '/api/projects/team/rules');
    expect(rules).toEqual({ profile: { others: 'usual', rules: {} }, onSave: 'off', version: 1 });
    const strict = {
      ...rules,
      profile: {
        others: 'off',
        rules: { 'cut-caption': { severity: 'error', options: {} }, 'untitled-frame': { severity: 'error' } },
      },
      onSave: 'refuse',
    };
    await lead.json('PUT', '/api/projects/team/rules', {
      json: { ...strict, profile: { others: 'off', rules: { nonsense: {} } } },
      status: 422,
    });
    expect((await lead.json('PUT', '/api/projects/team/rules', { json: strict })).version).toBe(2);
    expect((await lead.json('PUT', '/api/projects/team/rules', { json: strict, status: 412 })).detail).toContain(
      'somebody else',
    );
    const head = (await editor.json('GET', '/api/files/dome-blend')).head.number;
    const frame = (name: string, id: string) => ({
      type: 'add',
      table: 'frames',
      id,
      value: { id, graph: 'root', title: name, x: 0, y: 3000, width: 300, height: 200 },
    });
    const save = (step: object, base: number, status: number) =>
      editor.json('POST', '/api/files/dome-blend/revisions', {
        json: { edit: { steps: [step] }, message: 'A frame' },
        headers: { 'If-Match': `"${base}"` },
        status,
      });
    const refused = problemSchema.parse(await save(frame('', 'frame-new'), head, 422));
    expect(refused.detail).toContain('The house rules of this project refuse a save that adds errors');
    const saved = await save(frame('Titled', 'frame-new'), head, 201);
    const found = async () => {
      await team.judging.settled();
      return (await editor.json('GET', '/api/files/dome-blend')).head.findings;
    };
    expect(await found()).toEqual({ error: 0, warning: 0, info: 0 });
    await lead.json('PUT', '/api/projects/team/rules', { json: { ...strict, onSave: 'tell', version: 2 } });
    await save(frame('', 'frame-other'), saved.head.number, 201);
    expect(await found()).toEqual({ error: 1, warning: 0, info: 0 });
    // an old error is no new one
    await lead.json('PUT', '/api/projects/team/rules', { json: { ...strict, version: 3 } });
    await save(frame('Third', 'frame-third'), saved.head.number + 1, 201);
    await lead.json('PUT', '/api/projects/team/rules', { json: { profile: { rules: {} }, onSave: 'off', version: 4 } });
  });
});

describe('files on the shelf', () => {
  it('are tagged, duplicated where they lie, and their revisions named', async () => {
    const tagged = await editor.json('PUT', '/api/files/tide-cues/tags', {
      json: { tags: ['to tidy', ' final ', 'final'] },
    });
    expect(tagged.tags).toEqual(['final', 'to tidy']);
    await editor.json('PUT', '/api/files/tide-cues/tags', { json: { tags: ['a,b'] }, status: 400 });
    await editor.json('PUT', '/api/files/tide-cues/place', { json: { project: 'team', folder: 'cues' } });
    const copy = await editor.json('POST', '/api/files/tide-cues/duplicate', {
      json: { title: 'Cues, spring' },
      status: 201,
    });
    expect(copy).toMatchObject({
      title: 'Cues, spring',
      folder: 'cues',
      head: { number: 1, author: 'Lighting artist' },
    });
    expect(copy.head.message).toMatch(/^Copy of “Tide lighting cues”, revision \d+$/);
    expect(copy.head.fingerprint).toEqual(tagged.head.fingerprint);
    await editor.json('PUT', `/api/files/${copy.id}/revisions/1/name`, { json: { name: 'As rehearsed' }, status: 204 });
    await editor.json('PUT', `/api/files/${copy.id}/revisions/9/name`, { json: { name: 'x' }, status: 404 });
    expect(
      (await viewer.json('GET', `/api/files/${copy.id}/revisions`)).revisions.map((one: { name: string }) => one.name),
    ).toEqual(['As rehearsed']);
  });

  it('go to the trash, out of all that is asked, and come back whole; a lead removes them for ever', async () => {
    const text = await (await viewer.send('GET', '/api/files/tide-cues/revisions/head')).text();
    await editor.json('DELETE', '/api/files/tide-cues', { status: 204 });
    expect(await filesOf(lead)).not.toContain('tide-cues');
    expect((await editor.json('GET', '/api/files/tide-cues/revisions/head', { status: 404 })).detail).toContain(
      'is in the trash, where Lighting artist put it',
    );
    expect((await lead.json('GET', '/api/map')).files.map((file: { id: string }) => file.id)).not.toContain(
      'tide-cues',
    );
    const { files } = await viewer.json('GET', '/api/trash');
    expect(files).toMatchObject([{ id: 'tide-cues', trashedBy: 'Lighting artist', tags: ['final', 'to tidy'] }]);
    await editor.json('POST', '/api/trash/tide-cues/restore');
    expect(await (await viewer.send('GET', '/api/files/tide-cues/revisions/head')).text()).toBe(text);
    await editor.json('POST', '/api/trash/tide-cues/restore', { status: 404 });
    await lead.json('DELETE', '/api/trash/tide-cues', { status: 404 });
    const copy = (await filesOf(lead)).find((id) => id !== 'tide-cues' && id !== 'dome-blend')!;
    await editor.json('DELETE', `/api/files/${copy}`, { status: 204 });
    await lead.json('DELETE', `/api/trash/${copy}`, { status: 204 });
    expect((await lead.json('GET', '/api/trash')).files).toEqual([]);
    await lead.json('GET', `/api/files/${copy}`, { status: 404 });
  });
});

describe('people', () => {
  it('are invited with a link that can be taken once, changed and removed; the last lead stays', async () => {
    const invited = await lead.json('POST', '/api/invitations', {
      json: { name: 'Sound artist', role: 'viewer' },
      status: 201,
    });
    expect((await lead.json('GET', '/api/invitations')).invitations).toMatchObject([
      { name: 'Sound artist', role: 'viewer', by: 'Lead TD' },
    ]);
    const theirs = new Client(team.base);
    const take = { token: invited.token, login: 'sound', password: 'kelp and lanterns' };
    await theirs.json('POST', '/api/invitations/take', { json: { ...take, password: 'short' }, status: 400 });
    expect(
      (await theirs.json('POST', '/api/invitations/take', { json: { ...take, login: 'lead' }, status: 422 })).detail,
    ).toContain('another one');
    expect(await theirs.json('POST', '/api/invitations/take', { json: take })).toMatchObject({
      login: 'sound',
      name: 'Sound artist',
      role: 'viewer',
    });
    await new Client(team.base).json('POST', '/api/invitations/take', {
      json: { ...take, login: 'sound2' },
      status: 404,
    });
    const { person } = await theirs.json('GET', '/api/session');
    await theirs.json('GET', '/api/people', { status: 403 });
    await lead.json('PUT', `/api/people/${person.id}`, { json: { name: 'Sound lead', role: 'lead' }, status: 204 });
    // counts at once, without another sign-in
    expect((await theirs.json('GET', '/api/people')).people).toHaveLength(4);
    expect(
      (
        await theirs.json('PUT', `/api/people/${person.id}`, {
          json: { name: 'Sound lead', role: 'viewer' },
          status: 422,
        })
      ).detail,
    ).toContain('yourself');
    await lead.json('DELETE', `/api/people/${person.id}`, { status: 204 });
    await theirs.json('GET', '/api/people', { status: 401 });
    expect((await lead.json('DELETE', '/api/people/lead', { status: 422 })).detail).toContain('yourself');
  });

  it('see and end their sessions; another password ends all others; a lead ends anybody’s', async () => {
    const [here, there] = [await team.as('viewer'), await team.as('viewer')];
    const { sessions } = await here.json('GET', '/api/sessions');
    expect(sessions.filter((one: { own: boolean }) => one.own)).toHaveLength(1);
    expect(
      sessions.every((one: { person: string; address: string }) => one.person === 'Producer' && one.address !== ''),
    ).toBe(true);
    await here.json('GET', '/api/sessions?all=yes', { status: 403 });
    await here.json('PUT', '/api/password', { json: { old: 'wrong', password: 'another long one' }, status: 422 });
    await here.json('PUT', '/api/password', {
      json: { old: 'lantern-reef', password: 'another long one' },
      status: 204,
    });
    await there.json('GET', '/api/files', { status: 401 });
    await here.json('GET', '/api/files');
    const all = (await lead.json('GET', '/api/sessions?all=yes')).sessions;
    const theirs = all.find((one: { login: string }) => one.login === 'viewer');
    await here.json('DELETE', `/api/sessions/${all.find((one: { login: string }) => one.login === 'lead').id}`, {
      status: 404,
    });
    await lead.json('DELETE', `/api/sessions/${theirs.id}`, { status: 204 });
    await here.json('GET', '/api/files', { status: 401 });
    viewer = new Client(team.base);
    await viewer.json('POST', '/api/session', { json: { login: 'viewer', password: 'another long one' } });
  });

  it('that guess are paused by every server, whichever they asked', async () => {
    const other = await team.another();
    const guess = (base: string, login: string, status: number) =>
      new Client(base).json('POST', '/api/session', { json: { login, password: 'x' }, status });
    for (let i = 0; i < 10; i++) await guess(i % 2 === 0 ? team.base : other, 'guess-me', 401);
    for (const base of [team.base, other]) expect((await guess(base, ' guess-me  ', 429)).detail).toContain('Wait');
    // a login that nobody has is not put on record: it may be a password
    const failed = { act: 'Failed to sign in' };
    expect(await AuditRow.count({ where: { ...failed, target: 'an unknown login' } })).toBe(10);
    expect(await AuditRow.count({ where: { ...failed, target: 'guess-me' } })).toBe(0);
  });

  it('that guess all at once are let try no oftener, and shut nobody out who was let in before', async () => {
    const known = await team.as('editor');
    const tries = await Promise.all(
      Array.from({ length: 60 }, () =>
        new Client(team.base).send('POST', '/api/session', { json: { login: 'editor', password: 'x' } }),
      ),
    );
    const statuses = tries.map((one) => one.status);
    expect(statuses.filter((status) => status === 401).length).toBeLessThanOrEqual(12);
    expect(new Set(statuses)).toEqual(new Set([401, 429]));
    // the same address, and the browser of the person
    await known.json('POST', '/api/session', { json: { login: 'editor', password: 'lantern-reef' } });
  });

  it('choose passwords that are not guessed first', async () => {
    for (const password of ['123456789012', 'passwordpassword', 'aaaaaaaaaaaaaa', 'viewerviewer', 'qwertyuiopas'])
      expect(
        (
          await viewer.json('PUT', '/api/password', {
            json: { old: 'another long one', password },
            status: 422,
          })
        ).detail,
        password,
      ).toContain('easy to guess');
  });

  it('lose their tokens with their password', async () => {
    const person = editor;
    const { token } = await person.json('POST', '/api/tokens', {
      json: { title: 'night', role: 'viewer' },
      status: 201,
    });
    const byToken = (status: number) =>
      new Client(team.base).json('GET', '/api/files', { headers: { Authorization: `Bearer ${token}` }, status });
    await byToken(200);
    const change = (old: string, password: string) =>
      person.json('PUT', '/api/password', { json: { old, password }, status: 204 });
    await change('lantern-reef', 'tide pool lantern');
    await byToken(401);
    await change('tide pool lantern', 'lantern-reef');
  });
});

describe('the record', () => {
  it('holds who did what to what, the latest first; nothing that was tried out or refused', async () => {
    await editor.json('PUT', '/api/files/dome-blend/tags', { json: { tags: ['seen'] } });
    const before = await AuditRow.count();
    await editor.json('POST', '/api/files/dome-blend/operations/arrange', { json: { selection: { graph: 'root' } } });
    await editor.json('PUT', '/api/files/dome-blend/tags', { json: { tags: 7 }, status: 400 });
    await viewer.json('PUT', '/api/files/dome-blend/tags', { json: { tags: [] }, status: 403 });
    await editor.json('GET', '/api/files');
    expect(await AuditRow.count()).toBe(before);
    const { records } = await lead.json('GET', '/api/audit');
    expect(records[0]).toMatchObject({
      person: 'Lighting artist',
      byToken: false,
      act: 'Sets the tags of a file',
      target: '“Dome blend”',
      detail: 'seen',
    });
    const invited = (await lead.json('GET', '/api/audit?text=Invites')).records;
    expect(invited).toMatchObject([{ person: 'Lead TD', target: 'Sound artist', detail: 'as viewer, for 7 days' }]);
    expect(
      (await lead.json('GET', `/api/audit?before=${records[0].id}&person=Lead TD`)).records.every(
        (one: { person: string }) => one.person === 'Lead TD',
      ),
    ).toBe(true);
    const { token } = await editor.json('POST', '/api/tokens', {
      json: { title: 'pipeline', role: 'editor' },
      status: 201,
    });
    await new Client(team.base).json('PUT', '/api/files/dome-blend/tags', {
      json: { tags: [] },
      headers: { Authorization: `Bearer ${token}` },
    });
    expect((await lead.json('GET', '/api/audit')).records[0]).toMatchObject({
      person: expect.stringMatching(/ for Lighting artist$/),
      byToken: true,
      detail: 'none',
    });
  });
});
