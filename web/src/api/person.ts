import { useQuery } from '@tanstack/react-query';
import { api } from './client.ts';

/** Who is signed in, asked again after a minute. */
export function usePerson() {
  return useQuery({ queryKey: ['person'], queryFn: api.whoAmI, staleTime: 60_000 });
}
