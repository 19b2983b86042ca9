import { projectsApi } from '@basitax/api/projects';
import { bind, type Route, say } from '../http/route.ts';
import { reachableProject } from './access.ts';
import { changeProject, changeRules, makeProject, projectsFor, removeProject, rulesOf } from './projects.ts';

/** Projects: everybody sees those that are open to them, leads make and change them. */
export function projectRoutes(): Route[] {
  return bind(projectsApi, {
    list: async ({ person }) => ({ projects: await projectsFor(person) }),
    async make({ body, ctx }) {
      say(ctx, { target: `“${body.title}”` });
      return { id: await makeProject(body) };
    },
    async change({ params, body, ctx }) {
      await changeProject(params.id, body);
      say(ctx, {
        target: `“${body.title}”`,
        detail: body.open ? 'open to all' : `for ${body.members.join(', ') || 'leads alone'}`,
      });
      return undefined;
    },
    async remove({ params, ctx }) {
      say(ctx, { target: `“${await removeProject(params.id)}”` });
      return undefined;
    },
    async rules({ params, person }) {
      await reachableProject(person, params.id);
      return rulesOf(params.id);
    },
    async changeRules({ params, body, person, ctx }) {
      const project = await reachableProject(person, params.id);
      say(ctx, {
        target: `“${project.title}”`,
        detail: `${Object.keys(body.profile.rules).length} rules set; on save: ${body.onSave}`,
      });
      return changeRules(params.id, body);
    },
  });
}
