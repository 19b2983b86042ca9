import { profileSchema } from '@basitax/core/rules/profile-schema';
import { z } from 'zod';
import { contract } from './contract.ts';
import { fileIdSchema } from './places.ts';
import { titleSchema } from './words.ts';

/** What a save does where it would add findings of severity error: nothing, say it, or refuse. */
export const savingChecks = ['off', 'tell', 'refuse'] as const;

export const savingCheckSchema = z.enum(savingChecks);
export type SavingCheck = z.infer<typeof savingCheckSchema>;

export const projectWordsSchema = z.object({
  title: titleSchema,
  about: z.string().trim().max(1000).default(''),
  open: z.boolean().default(true).describe('Open to the whole team; else to its members and to leads.'),
  members: z
    .array(z.string().max(32))
    .max(1000)
    .default([])
    .describe('Ids of people; they count where it is not open.'),
});
export type ProjectWords = z.input<typeof projectWordsSchema>;

export const projectSchema = projectWordsSchema.extend({
  id: z.string(),
  files: z.int(),
  onSave: savingCheckSchema,
  hasRules: z.boolean(),
});
export type Project = z.infer<typeof projectSchema>;

/** The house rules of a project. `version` is what the next change has to name. */
export const projectRulesSchema = z.object({ profile: profileSchema, onSave: savingCheckSchema, version: z.int() });
export type ProjectRules = z.infer<typeof projectRulesSchema>;

const one = z.object({ id: fileIdSchema });

/** Projects: everybody sees those that are open to them, leads make and change them. */
export const projectsApi = {
  list: contract({
    method: 'get',
    path: '/api/projects',
    about: 'The projects that one sees',
    role: 'viewer',
    answer: z.object({ projects: z.array(projectSchema) }),
  }),
  make: contract({
    method: 'post',
    path: '/api/projects',
    about: 'Makes a project',
    role: 'lead',
    body: projectWordsSchema,
    answer: z.object({ id: z.string() }),
    status: 201,
    problems: [422],
  }),
  change: contract({
    method: 'put',
    path: '/api/projects/:id',
    about: 'Changes a project and its members',
    role: 'lead',
    params: one,
    body: projectWordsSchema,
    problems: [422],
  }),
  remove: contract({
    method: 'delete',
    path: '/api/projects/:id',
    about: 'Removes a project that holds nothing',
    role: 'lead',
    params: one,
    problems: [422],
  }),
  rules: contract({
    method: 'get',
    path: '/api/projects/:id/rules',
    about: 'The house rules of a project',
    role: 'viewer',
    params: one,
    answer: projectRulesSchema,
  }),
  changeRules: contract({
    method: 'put',
    path: '/api/projects/:id/rules',
    about: 'Changes the house rules of a project',
    role: 'lead',
    params: one,
    body: projectRulesSchema,
    answer: projectRulesSchema,
    problems: [412, 422],
  }),
};
