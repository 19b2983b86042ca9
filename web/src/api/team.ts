import { type FileInfo, fileSchema } from '@basitax/server/api';
import {
  type AuditRecord,
  type Health,
  healthSchema,
  type Invitation,
  invitationSchema,
  invitedSchema,
  type inviteSchema,
  type Member,
  type memberChangeSchema,
  memberSchema,
  type OpenSession,
  openSessionSchema,
  type Place,
  type Project,
  type ProjectRules,
  type ProjectWords,
  projectRulesSchema,
  projectSchema,
  recordSchema,
  type Standing,
  type Trashed,
  trashedSchema,
} from '@basitax/server/team-api';
import { z } from 'zod';
import { queryOf, read, send } from './http.ts';

const id = encodeURIComponent;

/** Where files lie, who is in the team, and what was done: the part of the API that is about the team itself. */
export const teamApi = {
  projects: async (): Promise<Project[]> =>
    (await read(z.object({ projects: z.array(projectSchema) }), send('GET', '/api/projects'))).projects,
  makeProject: async (words: ProjectWords): Promise<string> =>
    (await read(z.object({ id: z.string() }), send('POST', '/api/projects', { json: words }))).id,
  changeProject: async (project: string, words: ProjectWords): Promise<void> =>
    void (await send('PUT', `/api/projects/${id(project)}`, { json: words })),
  removeProject: async (project: string): Promise<void> => void (await send('DELETE', `/api/projects/${id(project)}`)),
  rules: (project: string): Promise<ProjectRules> =>
    read(projectRulesSchema, send('GET', `/api/projects/${id(project)}/rules`)),
  saveRules: (project: string, rules: ProjectRules): Promise<ProjectRules> =>
    read(projectRulesSchema, send('PUT', `/api/projects/${id(project)}/rules`, { json: rules })),
  move: (file: string, place: Place): Promise<FileInfo> =>
    read(fileSchema, send('PUT', `/api/files/${id(file)}/place`, { json: place })),
  tag: (file: string, tags: readonly string[]): Promise<FileInfo> =>
    read(fileSchema, send('PUT', `/api/files/${id(file)}/tags`, { json: { tags } })),
  duplicate: (file: string, title: string): Promise<FileInfo> =>
    read(fileSchema, send('POST', `/api/files/${id(file)}/duplicate`, { json: { title } })),
  nameRevision: async (file: string, number: number, name: string): Promise<void> =>
    void (await send('PUT', `/api/files/${id(file)}/revisions/${number}/name`, { json: { name } })),
  throwAway: async (file: string): Promise<void> => void (await send('DELETE', `/api/files/${id(file)}`)),
  trash: async (): Promise<Trashed[]> =>
    (await read(z.object({ files: z.array(trashedSchema) }), send('GET', '/api/trash'))).files,
  takeBack: (file: string): Promise<FileInfo> => read(fileSchema, send('POST', `/api/trash/${id(file)}/restore`)),
  removeForEver: async (file: string): Promise<void> => void (await send('DELETE', `/api/trash/${id(file)}`)),
  people: async (): Promise<Member[]> =>
    (await read(z.object({ people: z.array(memberSchema) }), send('GET', '/api/people'))).people,
  changeMember: async (person: string, wanted: z.input<typeof memberChangeSchema>): Promise<void> =>
    void (await send('PUT', `/api/people/${id(person)}`, { json: wanted })),
  removeMember: async (person: string): Promise<void> => void (await send('DELETE', `/api/people/${id(person)}`)),
  invitations: async (): Promise<Invitation[]> =>
    (await read(z.object({ invitations: z.array(invitationSchema) }), send('GET', '/api/invitations'))).invitations,
  invite: (wanted: z.input<typeof inviteSchema>) =>
    read(invitedSchema, send('POST', '/api/invitations', { json: wanted })),
  takeInvitationBack: async (invitation: string): Promise<void> =>
    void (await send('DELETE', `/api/invitations/${id(invitation)}`)),
  takeInvitation: async (token: string, login: string, password: string): Promise<void> =>
    void (await send('POST', '/api/invitations/take', { json: { token, login, password } })),
  sessions: async (all: boolean): Promise<OpenSession[]> =>
    (
      await read(
        z.object({ sessions: z.array(openSessionSchema) }),
        send('GET', `/api/sessions?all=${all ? 'yes' : 'no'}`),
      )
    ).sessions,
  endSession: async (session: string): Promise<void> => void (await send('DELETE', `/api/sessions/${id(session)}`)),
  changePassword: async (old: string, password: string): Promise<void> =>
    void (await send('PUT', '/api/password', { json: { old, password } })),
  audit: ({
    before,
    person,
    text,
  }: {
    before?: number;
    person?: string;
    text?: string;
  }): Promise<{ records: AuditRecord[]; more: boolean }> =>
    read(
      z.object({ records: z.array(recordSchema), more: z.boolean() }),
      send(
        'GET',
        `/api/audit?${queryOf({ before: before?.toString(), person: person || undefined, text: text || undefined })}`,
      ),
    ),
  health: ({ project, of, days }: { project?: string; of?: string; days: number }): Promise<Health> =>
    read(healthSchema, send('GET', `/api/health?${queryOf({ days: String(days), project, of })}`)),
  handoverAddress: (file: string, revision: number | 'head', as: 'page' | 'svg' | 'pdf', theme: string): string =>
    `/api/files/${id(file)}/revisions/${revision}/handover?as=${as}&theme=${theme}`,
  liveAddress: (file: string): string => `/api/files/${id(file)}/live`,
  /** Says where this tab is in a file. */
  stand: async (file: string, tab: string, standing: Standing): Promise<void> =>
    void (await send('PUT', `/api/files/${id(file)}/presence/${tab}`, { json: standing })),
  leave: async (file: string, tab: string): Promise<void> =>
    void (await send('DELETE', `/api/files/${id(file)}/presence/${tab}`, { keepalive: true })),
};
