import { z } from 'zod';
import { fileIdSchema } from '../api.ts';
import { type Route, route, say } from '../http/route.ts';
import { projectRulesSchema, projectSchema, projectWordsSchema } from '../team-api.ts';
import { reachableProject } from './access.ts';
import { changeProject, changeRules, makeProject, projectsFor, removeProject, rulesOf } from './projects.ts';

const one = z.object({ id: fileIdSchema });

/** Projects: everybody sees those that are open to them, leads make and change them. */
export function projectRoutes(): Route[] {
  return [
    route({
      method: 'get',
      path: '/api/projects',
      about: 'The projects that one sees',
      role: 'viewer',
      answer: z.object({ projects: z.array(projectSchema) }),
      handle: async ({ person }) => ({ projects: await projectsFor(person) }),
    }),
    route({
      method: 'post',
      path: '/api/projects',
      about: 'Makes a project',
      role: 'lead',
      body: projectWordsSchema,
      answer: z.object({ id: z.string() }),
      async handle({ body, ctx }) {
        ctx.status = 201;
        say(ctx, { target: `“${body.title}”` });
        return { id: await makeProject(body) };
      },
    }),
    route({
      method: 'put',
      path: '/api/projects/:id',
      about: 'Changes a project and its members',
      role: 'lead',
      params: one,
      body: projectWordsSchema,
      async handle({ params, body, ctx }) {
        await changeProject(params.id, body);
        say(ctx, {
          target: `“${body.title}”`,
          detail: body.open ? 'open to all' : `for ${body.members.join(', ') || 'leads alone'}`,
        });
        return undefined;
      },
    }),
    route({
      method: 'delete',
      path: '/api/projects/:id',
      about: 'Removes a project that holds nothing',
      role: 'lead',
      params: one,
      async handle({ params, ctx }) {
        say(ctx, { target: `“${await removeProject(params.id)}”` });
        return undefined;
      },
    }),
    route({
      method: 'get',
      path: '/api/projects/:id/rules',
      about: 'The house rules of a project',
      role: 'viewer',
      params: one,
      answer: projectRulesSchema,
      async handle({ params, person }) {
        await reachableProject(person, params.id);
        return rulesOf(params.id);
      },
    }),
    route({
      method: 'put',
      path: '/api/projects/:id/rules',
      about: 'Changes the house rules of a project',
      role: 'lead',
      params: one,
      body: projectRulesSchema,
      answer: projectRulesSchema,
      async handle({ params, body, person, ctx }) {
        const project = await reachableProject(person, params.id);
        say(ctx, {
          target: `“${project.title}”`,
          detail: `${Object.keys(body.profile.rules).length} rules set; on save: ${body.onSave}`,
        });
        return changeRules(params.id, body);
      },
    }),
  ];
}
