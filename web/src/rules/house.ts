import type { ProjectRules } from '@basitax/api/projects';
import { must } from '@basitax/core/must';
import { type Profile, profileSchema } from '@basitax/core/rules/profile-schema';
import { useQuery } from '@tanstack/react-query';
import { api } from '../api/client.ts';
import { teamApi } from '../api/team.ts';

/** What is asked for where a project has set nothing. */
export const usualProfile: Profile = profileSchema.parse({});

/** The house rules of the project that a file lies in; the usual ones until they are there. */
export function useHouseRules(file: string): {
  rules: ProjectRules;
  project: string | undefined;
  problem: string | undefined;
} {
  const info = useQuery({
    queryKey: ['file', file],
    queryFn: () => api.file(file),
    staleTime: 60_000,
    enabled: file !== '',
  });
  const project = info.data?.project;
  const rules = useQuery({
    queryKey: ['rules', project],
    queryFn: () => teamApi.rules(must(project)),
    enabled: project !== undefined,
    staleTime: 60_000,
  });
  return {
    rules: rules.data ?? { profile: usualProfile, onSave: 'off', version: 0 },
    project,
    problem: info.error?.message ?? rules.error?.message,
  };
}

/** A profile that asks for one rule alone, as another one has it. */
export const onlyRule = (profile: Profile, id: string): Profile => ({
  ...profile,
  others: 'off',
  rules: { [id]: profile.rules[id] ?? {} },
});

/** A profile without some rules. */
export const withoutRules = (profile: Profile, ids: readonly string[]): Profile => ({
  ...profile,
  rules: { ...profile.rules, ...Object.fromEntries(ids.map((id) => [id, { severity: 'off' as const }])) },
});
