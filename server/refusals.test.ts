import type { Contract } from '@basitax/api/contract';
import { allContracts as routes } from '@basitax/api/contracts';
import { problemSchema } from '@basitax/api/problem';
import { mayAct, type Role, roles } from '@basitax/api/roles';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { ProjectRow } from './db/team-models.ts';
import { Client, startTeam, type Team } from './tests/team.ts';

// Made from the contracts themselves: one that is added is asked here, too.

let team: Team;
let clients: Record<Role | 'nobody', Client>;
const examples: Readonly<Record<string, string>> = {
  id: 'dome-blend',
  file: 'dome-blend',
  number: '1',
  operation: 'arrange',
  version: '1',
  name: 'shortcuts',
  tab: 'abcdefgh',
};
const addressOf = (one: Contract): string => one.path.replace(/:(\w+)/g, (_all, name: string) => examples[name]!);

beforeAll(async () => {
  team = await startTeam();
  clients = {
    nobody: await team.as('nobody'),
    viewer: await team.as('viewer'),
    editor: await team.as('editor'),
    lead: await team.as('lead'),
  };
});
afterAll(() => team.close());

describe('who may do what', () => {
  it('only what it takes to sign in, and to watch the machine, is open to all', () => {
    const open = routes.filter((one) => !one.role).map((one) => `${one.method} ${one.path}`);
    expect(open.sort()).toEqual([
      'delete /api/session',
      'get /api/openapi.json',
      'get /api/session',
      'get /healthz',
      'get /metrics',
      'post /api/invitations/take',
      'post /api/session',
    ]);
  });

  it('every route refuses every role that may not use it, whatever is sent, and says which it takes', async () => {
    let refused = 0;
    for (const one of routes.filter((route) => route.role)) {
      const [method, path] = [one.method.toUpperCase(), addressOf(one)];
      await clients.nobody.json(method, path, { status: 401 });
      for (const role of roles) {
        if (mayAct(role, one.role!)) continue;
        const problem = problemSchema.parse(await clients[role].json(method, path, { status: 403 }));
        expect(problem.detail).toContain(`the role ${one.role}`);
        refused++;
      }
    }
    expect(refused).toBeGreaterThan(40);
  });

  it('a token is refused where its role would be, even in the hands of a lead', async () => {
    const tokens = Object.fromEntries(
      await Promise.all(
        roles.map(async (role) => [
          role,
          (await clients.lead.json('POST', '/api/tokens', { json: { title: role, role }, status: 201 }))
            .token as string,
        ]),
      ),
    );
    const bare = new Client(team.base);
    for (const one of routes.filter((route) => route.role)) {
      for (const role of roles) {
        if (mayAct(role, one.role!)) continue;
        await bare.json(one.method.toUpperCase(), addressOf(one), {
          status: 403,
          headers: { Authorization: `Bearer ${tokens[role]}` },
        });
      }
      await bare.json(one.method.toUpperCase(), addressOf(one), {
        status: 401,
        headers: { Authorization: 'Bearer bx_none' },
      });
    }
  });

  it('every route about a file says so, and refuses those to whom its project is closed as if there were no such file', async () => {
    const about = routes.filter(
      (one) => one.role && (/^\/api\/files\/:id/.test(one.path) || one.path.includes('/items/:file')),
    );
    // closing is for those who are in already
    expect(about.filter((one) => !one.file).map((one) => `${one.method} ${one.path}`)).toEqual([
      'delete /api/files/:id/presence/:tab',
    ]);
    await ProjectRow.update({ open: false }, { where: { id: 'team' } });
    try {
      for (const one of about.filter((route) => route.file)) {
        const problem = problemSchema.parse(
          await clients.editor.json(one.method.toUpperCase(), addressOf(one), {
            status: mayAct('editor', one.role!) ? 404 : 403,
          }),
        );
        if (mayAct('editor', one.role!))
          expect(problem.detail).toBe('There is no file “dome-blend”; it may have been removed.');
      }
      expect((await clients.editor.json('GET', '/api/files')).files).toEqual([]);
      expect((await clients.editor.json('GET', '/api/projects')).projects).toEqual([]);
      expect((await clients.editor.json('GET', '/api/uses?what=kind&name=dome.warp')).files).toEqual([]);
      expect((await clients.editor.json('GET', '/api/uses?what=kind&name=dome.warp')).lines).toEqual([]);
      expect((await clients.editor.json('GET', '/api/uses/names?what=kind')).names).toEqual([]);
      expect((await clients.editor.json('GET', '/api/kind-uses?kinds=dome.warp')).files).toEqual([]);
      expect((await clients.editor.json('GET', '/api/map')).files).toEqual([]);
      expect((await clients.editor.json('POST', '/api/batches/files', { json: { files: {} } })).files).toEqual([]);
      await clients.editor.json('GET', '/api/projects/team/rules', { status: 404 });
      await clients.editor.json('POST', '/api/files?name=x.graphml', { text: '<graphml/>', status: 404 });
      expect((await clients.lead.json('GET', '/api/files')).files).toHaveLength(2);
    } finally {
      await ProjectRow.update({ open: true }, { where: { id: 'team' } });
    }
    expect((await clients.editor.json('GET', '/api/files')).files).toHaveLength(2);
  });

  it('nobody but a person who is signed in changes who is who', async () => {
    const { token } = await clients.lead.json('POST', '/api/tokens', {
      json: { title: 'all', role: 'lead' },
      status: 201,
    });
    const bare = new Client(team.base);
    const headers = { Authorization: `Bearer ${token}` };
    for (const [method, path, json] of [
      ['PUT', '/api/people/editor', { name: 'X', role: 'lead' }],
      ['DELETE', '/api/people/editor', {}],
      ['POST', '/api/invitations', { name: 'X', role: 'lead' }],
      ['PUT', '/api/password', { old: 'lantern-reef', password: 'long enough now' }],
      ['POST', '/api/tokens', { title: 'x', role: 'lead' }],
    ] as const)
      expect((await bare.json(method, path, { json, headers, status: 403 })).detail).toContain('signed in');
  });
});
