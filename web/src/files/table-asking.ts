import type { TablePlan } from '@basitax/core/formats/table-plan';
import { must } from '@basitax/core/must';
import { create } from 'zustand';
import type { Gathered } from './gather.ts';

/** A table of which somebody has to say what its columns are. */
export interface Asked {
  readonly name: string;
  readonly text: string;
  readonly plan: TablePlan;
  readonly doubt: string | undefined;
  /** Other tables that came with it, in which its nodes may be described, and which of them does; −1 for none. */
  readonly others: readonly { readonly name: string }[];
  readonly beside: number;
  /** How many of the files that follow have the same columns. */
  readonly alike: number;
}

/** What was said: how it is to be read, or that it is to be left out. */
export type Answer =
  | { readonly plan: TablePlan; readonly beside: number; readonly forAlike: boolean }
  | 'leave out'
  | 'stop';

interface Asking {
  readonly asked: Asked | undefined;
  answer(answer: Answer): void;
}

/** The table that is asked about now. */
export const useAsking = create<Asking>(() => ({ asked: undefined, answer: () => {} }));

const ask = (asked: Asked): Promise<Answer> =>
  new Promise((done) =>
    useAsking.setState({
      asked,
      answer(answer) {
        useAsking.setState({ asked: undefined });
        done(answer);
      },
    }),
  );

/** A table as it is to be imported. */
export interface Planned {
  readonly text: string;
  readonly plan: TablePlan;
  readonly beside: string | undefined;
}

interface Table {
  readonly at: number;
  readonly name: string;
  readonly text: string;
  readonly titles: string;
  readonly plan: TablePlan;
  readonly doubt: string | undefined;
}

const isTable = (name: string): boolean => /\.(?:csv|tsv|txt)$/i.test(name);

/** The tables among some files, as they may be meant; ours know what they are. */
async function tablesAmong(files: readonly Gathered[]): Promise<Table[]> {
  const candidates = files.flatMap((file, at) => (isTable(file.name) ? [{ file, at }] : []));
  if (candidates.length === 0) return [];
  // nobody loads what reads tables before there is one
  const [{ decodeFile }, { guessPlan, isOwnTable }, { rowsOf, withoutStatement }, { UnreadableFile }] =
    await Promise.all([
      import('@basitax/core/formats/decode'),
      import('@basitax/core/formats/table-plan'),
      import('@basitax/core/formats/delimited'),
      import('@basitax/core/document/unreadable'),
    ]);
  const tables: Table[] = [];
  for (const { file, at } of candidates) {
    try {
      const { text } = decodeFile(new Uint8Array(await file.content.arrayBuffer()), file.name);
      const { plan, doubt } = guessPlan(text);
      const [first] = rowsOf(withoutStatement(text.slice(0, 20_000)), plan.delimiter);
      if (!first || isOwnTable(first.cells)) continue;
      tables.push({ at, name: file.path || file.name, text, titles: first.cells.join('\u0001'), plan, doubt });
    } catch (error) {
      // the server says why it cannot be read
      if (!(error instanceof UnreadableFile)) throw error;
    }
  }
  return tables;
}

/**
 * Asks about the tables among some files that are not sure, and about edges that come with one table of nodes. Gives how
 * each is to be read, and what is said of the files that are left out: by themselves, or since they describe the nodes
 * of another.
 */
export async function askAboutTables(files: readonly Gathered[]): Promise<{
  readonly planned: ReadonlyMap<number, Planned>;
  readonly left: ReadonlyMap<number, string>;
  readonly stopped: boolean;
}> {
  const planned = new Map<number, Planned>();
  const left = new Map<number, string>();
  const tables = await tablesAmong(files);
  const known = new Map<string, TablePlan | 'leave out'>();
  for (const [i, table] of tables.entries()) {
    if (left.has(table.at)) continue;
    const before = known.get(table.titles);
    if (before === 'leave out') {
      left.set(table.at, 'left out');
      continue;
    }
    if (before) {
      planned.set(table.at, { text: table.text, plan: before, beside: undefined });
      continue;
    }
    const others = tables.filter((one) => one !== table && !left.has(one.at));
    const ofNodes = others.filter((one) => one.plan.kind === 'nodes');
    const mayBelong = table.plan.kind === 'edges' && ofNodes.length === 1;
    if (table.doubt === undefined && !mayBelong) continue;
    const rest = tables.slice(i + 1).filter((one) => one.titles === table.titles);
    const answer = await ask({
      name: table.name,
      text: table.text,
      plan: table.plan,
      doubt: table.doubt,
      others,
      beside: mayBelong ? others.indexOf(must(ofNodes[0])) : -1,
      alike: rest.length,
    });
    if (answer === 'stop') return { planned, left, stopped: true };
    if (answer === 'leave out') {
      left.set(table.at, 'left out');
      if (rest.length > 0) known.set(table.titles, 'leave out');
      continue;
    }
    const used = others[answer.beside];
    planned.set(table.at, { text: table.text, plan: answer.plan, beside: used?.text });
    if (answer.forAlike) known.set(table.titles, answer.plan);
    if (used) {
      left.set(used.at, `read with ${table.name}`);
      planned.delete(used.at);
    }
  }
  return { planned, left, stopped: false };
}
