import { z } from 'zod';

export const roles = ['viewer', 'editor', 'lead'] as const;

export const roleSchema = z.enum(roles);

export type Role = z.infer<typeof roleSchema>;

/** May someone with role `have` do what asks for `need`? */
export function mayAct(have: Role, need: Role): boolean {
  return roles.indexOf(have) >= roles.indexOf(need);
}
