import { User } from '../db/models.ts';
import { InvitationRow, ProjectRow } from '../db/team-models.ts';
import { invite } from './people.ts';

/** By whom the first invitation was made: nobody of the team. */
const house = { id: '', login: '', name: 'The house', role: 'lead' } as const;

/**
 * While nobody is in the team: a link for its first lead, which works once. One that was made before works no more. With
 * a name the project that all files begin in is called so. Undefined where there are people.
 */
export async function firstInvitation(team: string | undefined, address: string): Promise<string | undefined> {
  if ((await User.count()) > 0) return undefined;
  await InvitationRow.destroy({ where: { by: house.name } });
  if (team) await ProjectRow.update({ title: team.slice(0, 100) }, { where: { id: 'team' } });
  const { token } = await invite({ name: 'Lead', role: 'lead', days: 7 }, house);
  return `${address}/welcome#${token}`;
}
