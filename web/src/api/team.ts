import { auditApi } from '@basitax/api/audit';
import { addressOf } from '@basitax/api/client';
import { handoverApi } from '@basitax/api/handover';
import { healthApi } from '@basitax/api/health';
import { liveApi, type Standing } from '@basitax/api/live';
import { peopleApi } from '@basitax/api/people';
import type { Place } from '@basitax/api/places';
import { type ProjectRules, type ProjectWords, projectsApi } from '@basitax/api/projects';
import { shelfApi } from '@basitax/api/shelf';
import type { Theme } from '@basitax/core/inspect/sketch-colors';
import type { z } from 'zod';
import { call } from './client.ts';

/** Where files lie, who is in the team, and what was done: the part of the API that is about the team itself. */
export const teamApi = {
  makeService: (body: { name: string; role: 'viewer' | 'editor' }) => call(peopleApi.service, { body }),
  projects: async () => (await call(projectsApi.list, {})).projects,
  makeProject: async (body: ProjectWords) => (await call(projectsApi.make, { body })).id,
  changeProject: (id: string, body: ProjectWords) => call(projectsApi.change, { params: { id }, body }),
  removeProject: (id: string) => call(projectsApi.remove, { params: { id } }),
  rules: (id: string) => call(projectsApi.rules, { params: { id } }),
  saveRules: (id: string, body: ProjectRules) => call(projectsApi.changeRules, { params: { id }, body }),

  move: (id: string, body: Place) => call(shelfApi.move, { params: { id }, body }),
  tag: (id: string, tags: readonly string[]) => call(shelfApi.tag, { params: { id }, body: { tags } }),
  duplicate: (id: string, title: string) => call(shelfApi.duplicate, { params: { id }, body: { title } }),
  nameRevision: (id: string, number: number, name: string) =>
    call(shelfApi.nameRevision, { params: { id, number }, body: { name } }),
  throwAway: (id: string) => call(shelfApi.throwAway, { params: { id } }),
  trash: async () => (await call(shelfApi.trash, {})).files,
  takeBack: (id: string) => call(shelfApi.takeBack, { params: { id } }),
  removeForEver: (id: string) => call(shelfApi.removeForGood, { params: { id } }),

  people: async () => (await call(peopleApi.list, {})).people,
  changeMember: (id: string, body: z.input<(typeof peopleApi.change)['body']>) =>
    call(peopleApi.change, { params: { id }, body }),
  removeMember: (id: string) => call(peopleApi.remove, { params: { id } }),
  invitations: async () => (await call(peopleApi.invitations, {})).invitations,
  invite: (body: z.input<(typeof peopleApi.invite)['body']>) => call(peopleApi.invite, { body }),
  takeInvitationBack: (id: string) => call(peopleApi.withdraw, { params: { id } }),
  takeInvitation: (token: string, login: string, password: string) =>
    call(peopleApi.accept, { body: { token, login, password } }),
  sessions: async (all: boolean) => (await call(peopleApi.sessions, { query: { all: all ? 'yes' : 'no' } })).sessions,
  endSession: (id: string) => call(peopleApi.endSession, { params: { id } }),
  changePassword: (old: string, password: string) => call(peopleApi.changePassword, { body: { old, password } }),

  audit: (query: z.input<(typeof auditApi.list)['query']>) => call(auditApi.list, { query }),
  health: (query: z.input<(typeof healthApi.get)['query']>) => call(healthApi.get, { query }),
  handoverAddress: (id: string, number: number | 'head', as: 'page' | 'svg' | 'pdf', theme: Theme): string =>
    addressOf(handoverApi.make, { params: { id, number }, query: { as, theme } }),

  liveAddress: (id: string): string => addressOf(liveApi.watch, { params: { id } }),
  /** Says where this tab is in a file. */
  stand: (id: string, tab: string, body: Standing) => call(liveApi.stand, { params: { id, tab }, body }),
  leave: (id: string, tab: string) => call(liveApi.leave, { params: { id, tab }, keepalive: true }),
};
