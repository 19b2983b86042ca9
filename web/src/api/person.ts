import type { Person } from '@basitax/api/people';
import { mayAct, type Role } from '@basitax/api/roles';
import { useQuery } from '@tanstack/react-query';
import { api } from './client.ts';

/** Who is signed in, asked again after a minute. */
export function usePerson() {
  return useQuery({ queryKey: ['person'], queryFn: api.whoAmI, staleTime: 60_000 });
}

/** Why somebody may not do what takes a role; undefined where they may. */
export function lacksRole(person: Person | null | undefined, role: Role): string | undefined {
  if (!person) return 'It is not known yet who is signed in.';
  return mayAct(person.role, role) ? undefined : `You need the role ${role} for this; your role is ${person.role}.`;
}
