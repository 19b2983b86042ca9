import { emptyCatalogue } from '../document/catalogue.ts';
import type { Doc } from '../document/doc.ts';
import { readStored } from '../document/file.ts';
import { Kinds } from '../document/kinds.ts';
import { UnreadableFile } from '../document/unreadable.ts';
import { apply } from '../edit/step.ts';
import { CalmRoutes } from '../route/calm.ts';
import { Refused } from '../said.ts';
import type { Answer, RunMessage, SentDoc } from './protocol.ts';
import type { TaskTable } from './task.ts';

/**
 * The worker's side: takes one job of its table after the other and answers with progress and a result. Keeps the last
 * document, so that edits suffice. `isSpent`: does it hold so much memory that another should take its place?
 */
export function serveTasks(
  tasks: TaskTable,
  port: { post(message: Answer): void; listen(receive: (message: unknown) => void): void },
  isSpent: () => boolean = () => false,
): void {
  let kinds = new Kinds(emptyCatalogue);
  const calm = new CalmRoutes();
  let known: { version: number; doc: Doc } | undefined;

  const take = (sent: SentDoc): Doc => {
    if ('doc' in sent) known = { version: sent.version, doc: sent.doc };
    else if ('text' in sent) known = { version: sent.version, doc: readStored(sent.text) };
    else if (known?.version === sent.base) known = { version: sent.version, doc: apply(known.doc, sent.edit) };
    else throw new Error(`The worker knows version ${known?.version ?? 'none'}, not ${sent.base}.`);
    return known.doc;
  };

  const run = async (message: RunMessage): Promise<void> => {
    const { job } = message;
    try {
      if (message.catalogue) kinds = new Kinds(message.catalogue);
      const doc = message.doc && take(message.doc);
      let said = -1;
      const progress = (fraction: number, what: string): void => {
        if (fraction - said < 0.01 && fraction < 1) return;
        said = fraction;
        port.post({ type: 'progress', job, fraction, what });
      };
      const task = tasks[message.task];
      if (!task) throw new Error(`There is no task “${message.task}”.`);
      const result = await task.run(task.input.parse(message.input), { kinds, doc, calm, progress });
      port.post({ type: 'done', job, result, ...(isSpent() && { isSpent: true }) });
    } catch (error) {
      const { name, message: text } = error instanceof Error ? error : { name: 'Error', message: String(error) };
      const isSaid = error instanceof Refused || error instanceof UnreadableFile;
      const said = isSaid ? { code: error.code, params: error.params } : {};
      port.post({ type: 'failed', job, name, message: text, ...said, ...(isSpent() && { isSpent: true }) });
    }
  };

  let last: Promise<void> = Promise.resolve();
  port.listen((message) => {
    if ((message as RunMessage | null)?.type !== 'run') return;
    last = last.then(() => run(message as RunMessage));
  });
}
