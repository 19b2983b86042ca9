import { readStored } from '@basitax/core/document/file';
import { diff } from '@basitax/core/edit/diff';
import { meet } from '@basitax/core/edit/meet';
import { apply, type Edit, editSchema } from '@basitax/core/edit/step';
import { isDirty, unsavedActs } from '@basitax/core/session/session';
import { del, delMany, entries, set } from 'idb-keyval';
import { z } from 'zod';
import { create } from 'zustand';
import { api } from '../../api/client.ts';
import { commit, useEditor } from '../store.ts';
import { tellAdapted } from './adapted.ts';
import { tab } from './live.ts';
import type { Met } from './meet.ts';

// What is not saved yet is kept in this browser as it is done, so that a tab that closes, a machine that stops or a
// server that is away loses nothing.

const draftSchema = z.object({
  file: z.string(),
  person: z.string(),
  tab: z.string(),
  /** The revision that the edits begin at. */
  revision: z.int(),
  edits: z.array(editSchema),
  titles: z.array(z.string()),
  at: z.number(),
});
export type Draft = z.infer<typeof draftSchema>;

interface Unsaved {
  /** Left in this browser by a tab that is gone; offered until it is taken up or thrown away. */
  readonly left: readonly Draft[];
  /** Why it cannot be kept here. */
  readonly problem: string | undefined;
}
export const useUnsaved = create<Unsaved>(() => ({ left: [], problem: undefined }));

const keyOf = (draft: Pick<Draft, 'file' | 'person' | 'tab'>): string =>
  `unsaved ${draft.file} ${draft.person} ${draft.tab}`;

/** How long after an act it is kept, and how long other tabs have to say that they are there, in milliseconds. */
const delay = 400;
const wait = 250;

/** Which tabs have the file open: asked of all tabs of this browser. */
async function openTabs(file: string, channel: BroadcastChannel): Promise<ReadonlySet<string>> {
  const found = new Set<string>();
  const hear = ({ data }: MessageEvent<{ here?: string }>): void => {
    if (data.here !== undefined) found.add(data.here);
  };
  channel.addEventListener('message', hear);
  channel.postMessage({ who: file });
  await new Promise((done) => setTimeout(done, wait));
  channel.removeEventListener('message', hear);
  return found;
}

/** Keeps what is changed in a file as it is changed, and finds what was left of it before. Returns a way to stop. */
export function keepUnsaved(file: string, person: string): () => void {
  const own = { file, person, tab };
  const channel = new BroadcastChannel('basitax-tabs');
  const answer = ({ data }: MessageEvent<{ who?: string }>): void => {
    if (data.who === file) channel.postMessage({ here: tab });
  };
  channel.addEventListener('message', answer);
  let stopped = false;
  const fail = (error: unknown): void =>
    useUnsaved.setState({
      problem: `What you do cannot be kept in this browser: ${(error as Error).message}. Save often.`,
    });
  const look = async (): Promise<void> => {
    const there = await openTabs(file, channel);
    const found = (await entries<string, unknown>()).flatMap(([key, value]) => {
      const parsed = draftSchema.safeParse(value);
      return key.startsWith(`unsaved ${file} ${person} `) &&
        parsed.success &&
        parsed.data.tab !== tab &&
        !there.has(parsed.data.tab)
        ? [parsed.data]
        : [];
    });
    if (!stopped) useUnsaved.setState({ left: found.sort((a, b) => b.at - a.at) });
  };
  look().catch(fail);
  let timer: ReturnType<typeof setTimeout> | undefined;
  const write = (): void => {
    timer = undefined;
    const state = useEditor.getState();
    if (state.fileId !== file) return;
    if (!isDirty(state) || state.readOnly !== undefined) {
      del(keyOf(own)).catch(fail);
      return;
    }
    const edit = diff(state.base, state.doc);
    const titles = unsavedActs(state).map((act) => act.title);
    const draft: Draft = {
      ...own,
      revision: state.revision,
      edits: [edit as Draft['edits'][number]],
      titles: titles.length > 0 ? titles : ['Undo'],
      at: Date.now(),
    };
    set(keyOf(own), draft).then(
      () => useUnsaved.getState().problem && useUnsaved.setState({ problem: undefined }),
      fail,
    );
  };
  const stop = useEditor.subscribe((state, before) => {
    if (state.past === before.past && state.saved === before.saved && state.revision === before.revision) return;
    timer ??= setTimeout(write, delay);
  });
  const hide = (): void => {
    if (timer !== undefined) {
      clearTimeout(timer);
      write();
    }
  };
  document.addEventListener('visibilitychange', hide);
  window.addEventListener('pagehide', hide);
  return () => {
    hide();
    stopped = true;
    stop();
    document.removeEventListener('visibilitychange', hide);
    window.removeEventListener('pagehide', hide);
    channel.close();
    useUnsaved.setState({ left: [], problem: undefined });
  };
}

/** Throws away what was left. */
export async function forget(drafts: readonly Draft[]): Promise<void> {
  await delMany(drafts.map(keyOf));
  useUnsaved.setState(({ left }) => ({ left: left.filter((one) => !drafts.includes(one)) }));
}

/**
 * Takes up what was left, on top of what is shown. Gives back what met where others saved meanwhile and touched the
 * same; then nothing is done yet, and it is kept until it is. Throws where the revision that it was made on cannot be
 * read.
 */
export async function takeUp(draft: Draft): Promise<Met | undefined> {
  const old = await api.revision(draft.file, draft.revision);
  const base = readStored(old.text);
  const mine = (draft.edits as Edit[]).reduce(apply, base);
  const { revision, base: now, kinds } = useEditor.getState();
  const met = { ...meet(base, mine, now, kinds), head: revision, revisions: [] };
  if (met.rebased.conflicts.length > 0) return met;
  tellAdapted(met.rebased.notes.map((note) => note.message));
  await putBack(draft, met.rebased.edit);
  return undefined;
}

/** Does what was left as one act, and no longer keeps it. */
export async function putBack(draft: Draft, edit: Edit): Promise<void> {
  commit('Restore unsaved changes', edit);
  await forget([draft]);
}
