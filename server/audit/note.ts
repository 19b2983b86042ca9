import { AuditRow } from '../db/team-models.ts';

export interface Noted {
  readonly person: string;
  readonly byToken?: boolean;
  readonly act: string;
  readonly target?: string;
  readonly detail?: string;
  readonly address: string;
}

/** Adds a line to the record of what was done. */
export async function note({ person, byToken = false, act, target = '', detail = '', address }: Noted): Promise<void> {
  await AuditRow.create({
    at: new Date(),
    person,
    byToken,
    act: act.slice(0, 200),
    target: target.slice(0, 400),
    detail: detail.slice(0, 1000),
    address: address.slice(0, 64),
  });
}
