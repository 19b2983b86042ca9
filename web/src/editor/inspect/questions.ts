import { builtin } from '@basitax/core/document/builtin';
import type { Id } from '@basitax/core/document/ids';
import type { UseMatch } from '@basitax/core/inspect/use-kinds';
import { textOfUse, type UseQuery } from '@basitax/core/inspect/uses';
import { create } from 'zustand';
import type { Editing } from '../store.ts';

/** What is asked in the panels: kept while they are closed, and set by commands. */
interface Questions {
  /** The nodes whose dependencies are shown. */
  readonly of: readonly Id[];
  /** What is looked up in this and all files. */
  readonly use: UseQuery & { readonly match: UseMatch };
  /** What is looked up is what is selected. */
  readonly follows: boolean;
  /** The document that this one is compared with. */
  readonly other: { readonly file: string; readonly revision: number } | undefined;
}

export const useQuestions = create<Questions>(() => ({
  of: [],
  use: { what: 'kind', match: 'part' },
  follows: true,
  other: undefined,
}));
export const ask = (question: Partial<Questions>): void => useQuestions.setState(question);

/** What is looked up first for a node: its shared kind, beacon or kind. */
export function lookedUpFor({
  doc,
  kinds,
  selection,
}: Pick<Editing, 'doc' | 'kinds' | 'selection'>): UseQuery | undefined {
  const node = doc.nodes.get(selection[0] ?? '');
  if (!node) return undefined;
  const shared = kinds.kind(node.kind)?.shared;
  if (shared) return { what: 'shared', name: shared.name };
  if (node.beacon) return { what: 'beacon', name: node.beacon.name };
  if (node.kind === builtin.beacon) return { what: 'beacon', name: node.name };
  const [held] = kinds.pathsOf(node);
  if (held) return { what: 'asset', name: textOfUse(held.path) };
  return { what: 'kind', name: node.kind };
}
