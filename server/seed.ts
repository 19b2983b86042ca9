import type { Role } from '@basitax/api/roles';
import { writeDoc } from '@basitax/core/document/file';
import { must } from '@basitax/core/must';
import { catalogue } from '@basitax/demo/catalogue';
import { demoFiles } from '@basitax/demo/files';
import { pastOf, withPast } from '@basitax/demo/history';
import { demoPlaces, demoProjects } from '@basitax/demo/projects';
import { demoScripts } from '@basitax/demo/scripts';
import { QueryTypes } from 'sequelize';
import { hashPassword, verifyPassword } from './auth/hashing.ts';
import { WebhookRow } from './db/event-models.ts';
import { FileRow, LibraryRow, User } from './db/models.ts';
import { ProjectRow } from './db/team-models.ts';
import { newSecret } from './events/postman.ts';
import { tagFile } from './files/shelf.ts';
import type { FileStore } from './files/store.ts';
import type { Library } from './library/library.ts';
import { makeProject } from './projects/projects.ts';

/** The demo team: roles, no names. The password is the same for all, and said at the start. */
export const demoPeople: readonly { login: string; name: string; role: Role }[] = [
  { login: 'lead', name: 'Lead TD', role: 'lead' },
  { login: 'editor', name: 'Lighting artist', role: 'editor' },
  { login: 'viewer', name: 'Producer', role: 'viewer' },
];
export const demoPassword = 'lantern-reef';

/** Has anybody of the demo team the password that everybody knows? */
export async function hasDemoPasswords(): Promise<boolean> {
  const users = await User.findAll({ where: { id: demoPeople.map((person) => person.login) } });
  for (const user of users) if (await verifyPassword(user.passwordHash, demoPassword)) return true;
  return false;
}

/** The demo has been at work for some weeks. */
async function date(store: FileStore, file: string, number: number, daysAgo: number): Promise<void> {
  const sql = 'UPDATE revisions SET created_at = NOW(3) - INTERVAL ? DAY WHERE file_id = ? AND number = ?';
  await store.sequelize.query(sql, { replacements: [daysAgo, file, number], type: QueryTypes.UPDATE });
}

/** Loads the demo team and its files where there are no people yet. True where it did. */
export async function seedDemo(
  store: FileStore,
  library: Library,
  said: (what: string) => void = () => {},
): Promise<boolean> {
  await store.catalogues.add(catalogue);
  const isNew = (await User.count()) === 0;
  if (isNew) {
    const passwordHash = await hashPassword(demoPassword);
    for (const person of demoPeople) await User.create({ id: person.login, ...person, passwordHash });
  }
  // a team of people's own is never given files of the demo
  if (!isNew && !(await User.findOne({ where: { id: 'lead', login: 'lead' } }))) return false;
  // a first start that was stopped half-way goes on where it was; files that people removed later do not come back
  if (!isNew && (await FileRow.count()) >= demoFiles.length) return false;
  if (!isNew && (await FileRow.findOne({ where: { id: must(demoFiles[demoFiles.length - 1]).slug } }))) return false;
  const lead = { id: 'lead', ...must(demoPeople[0]) };
  for (const { id, members, ...project } of demoProjects)
    if (!(await ProjectRow.findByPk(id))) await makeProject({ ...project, members: [...members] }, id);
  for (const { id, title, about, source } of demoScripts) {
    if (await LibraryRow.findByPk(id)) continue;
    await library.make(
      {
        type: 'script',
        title,
        about,
        content: source,
        runRole: 'viewer',
        changeRole: 'lead',
        message: 'Comes with the demo',
      },
      lead,
      id,
    );
  }
  for (const file of demoFiles) {
    if (await FileRow.findByPk(file.slug)) continue;
    said(file.title);
    const { project, folder, tags } = must(demoPlaces[file.slug]);
    const past = (withPast as readonly string[]).includes(file.slug) ? await pastOf(file.build()) : [];
    const first = past[0]?.doc ?? file.build();
    await store.importFile(`${file.title}.graph.json`, writeDoc(first), 'Lead TD', {
      id: file.slug,
      message: past[0]?.message ?? 'First revision in Basitax',
      project,
      folder,
    });
    for (const [i, { doc, author, message }] of past.slice(1).entries())
      await store.save(file.slug, i + 1, { become: writeDoc(doc) }, author, message);
    for (const [i, { daysAgo }] of (past.length > 0 ? past : [{ daysAgo: 60 }]).entries())
      await date(store, file.slug, i + 1, daysAgo);
    await tagFile(store.sequelize, file.slug, tags);
  }
  return true;
}

const standInHook = 'stand-in';
let secret: string | undefined;
/** The secret of the webhook that leads to the stand-in. */
export const demoSecret = (): string | undefined => secret;

/**
 * A webhook to the stand-in, which answers elsewhere at each start. It is made with the demo; where a lead removed it,
 * it stays away.
 */
export async function seedWebhook(address: string, isFirst: boolean): Promise<void> {
  const known = await WebhookRow.findByPk(standInHook);
  const row =
    known ??
    (isFirst
      ? await WebhookRow.create({
          ...{ id: standInHook, title: 'Stand-in that shows what came', url: address, secret: newSecret() },
          ...{
            types: ',run.planned,run.applied,run.rolled-back,schedule.failed,',
            active: true,
            why: '',
            by: 'Lead TD',
          },
        })
      : undefined);
  secret = row?.secret;
  if (row && row.url !== address) await row.update({ url: address });
}
