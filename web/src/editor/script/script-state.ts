import type { LibraryItem } from '@basitax/api/library';
import type { Doc } from '@basitax/core/document/doc';
import { Cancelled } from '@basitax/core/operation';
import { withAssets } from '@basitax/core/script/assets';
import type { ScriptProblem } from '@basitax/core/script/check/checker';
import type { Touched } from '@basitax/core/script/host';
import { type ScriptReach, scriptEnd } from '@basitax/core/script/job';
import { onlyLines } from '@basitax/core/script/lines';
import type { ScriptOptions, ScriptValues } from '@basitax/core/script/options';
import { plural } from '@basitax/core/words';
import type { PlannedScript } from '@basitax/core/work/script-tasks';
import { toast } from 'sonner';
import { create } from 'zustand';
import { api } from '../../api/client.ts';
import { scriptRunner } from '../../work/runner.ts';
import { dropPreview, plannedSeed, showEdit } from '../actions.ts';
import { withJob } from '../job.ts';
import { lookAt, select, useEditor } from '../store.ts';
import { checkSource } from './checking.ts';

/** What a script did on a copy, and of which state of the document that was. */
export interface DryRun {
  readonly of: Doc;
  readonly graph: string;
  readonly planned: PlannedScript;
}

interface ScriptState {
  /** What the source was taken from; undefined for one's own draft. */
  readonly item: LibraryItem | undefined;
  readonly source: string;
  /** The source as it was taken from the library. */
  readonly taken: string | undefined;
  readonly options: ScriptOptions;
  readonly values: ScriptValues;
  readonly over: ScriptReach['over'];
  readonly query: string;
  readonly isCodeShown: boolean;
  readonly done: DryRun | undefined;
  /** Why it could not be run at all. */
  readonly problem: string | undefined;
  /** What in the source cannot be right, as the type checker last saw it. */
  readonly mistakes: readonly ScriptProblem[];
  /** The lines that were marked when the last dry run was asked for; undefined for all of the script. */
  readonly lines: { readonly from: number; readonly to: number } | undefined;
}

const firstScript = `// Runs over "nodes": those selected, the first selected first.
for (const node of nodes) {
  log(node.name, node.kindTitle);
}
`;

const place = 'basitax.script';

/** The draft is kept in this browser: a script is not lost with the tab. */
export const useScript = create<ScriptState>(() => ({
  item: undefined,
  source: localStorage.getItem(place) ?? firstScript,
  taken: undefined,
  options: {},
  values: {},
  over: 'selection',
  query: '',
  isCodeShown: true,
  done: undefined,
  problem: undefined,
  mistakes: [],
  lines: undefined,
}));
useScript.subscribe(({ item, source }) => {
  if (item === undefined) localStorage.setItem(place, source);
});

export const setScript = (change: Partial<ScriptState>): void => useScript.setState(change);

/** Goes on with one's own draft. */
export const takeDraft = (): void =>
  setScript({
    item: undefined,
    source: localStorage.getItem(place) ?? firstScript,
    taken: undefined,
    values: {},
    isCodeShown: true,
    done: undefined,
    problem: undefined,
    mistakes: [],
  });

/** Why the script cannot be run now, as a sentence; undefined where it can. */
export function cannotRun(over: ScriptReach['over'], selected: number, isBusy: boolean): string | undefined {
  if (isBusy) return 'Wait for what is running, or cancel it.';
  return over === 'selection' && selected === 0 ? 'Select nodes first, or run it over all.' : undefined;
}

/**
 * Checks the script and runs it on a copy, all of it or the lines that are marked; shows what it would do as lists, and
 * on the canvas where the file may be changed.
 */
export async function dryRun(lines?: { readonly from: number; readonly to: number }): Promise<void> {
  const { getState } = useEditor;
  const { source: whole, values, options, over, query, item } = useScript.getState();
  const source = lines ? onlyLines(whole, lines.from, lines.to) : whole;
  const nodes = getState().selection.filter((id) => getState().doc.nodes.has(id));
  if (cannotRun(over, nodes.length, getState().job !== undefined) !== undefined) return;
  if (getState().preview) dropPreview();
  const state = getState();
  const title = item?.title ?? 'Script';
  setScript({ done: undefined, problem: undefined, lines });
  const reach: ScriptReach =
    over === 'selection' ? { over, items: nodes } : over === 'query' ? { over, query } : { over };
  const declared = Object.fromEntries(Object.entries(values).filter(([name]) => name in options));
  try {
    const { doc, catalogue } = state;
    const planned = await withJob(title, async (job) => {
      // the first check loads the compiler
      const mistakes = await checkSource(source);
      setScript({ mistakes });
      if (mistakes.length > 0) return undefined;
      return withAssets(
        (assets) =>
          scriptRunner.run(
            'script',
            { graph: state.graph, reach, source, values: declared, seed: plannedSeed, ...(assets && { assets }) },
            { doc, catalogue, limit: scriptEnd, ...job },
          ),
        api.checkAssets,
      );
    });
    if (!planned) {
      const { mistakes } = useScript.getState();
      setScript({
        problem: `Not run: ${plural(mistakes.length, 'mistake')} in the script, the first in line ${mistakes[0]?.line}.`,
      });
      return;
    }
    setScript({ done: { of: state.doc, graph: state.graph, planned } });
    if (planned.edit.steps.length > 0 && !state.readOnly && getState().doc === state.doc)
      showEdit(title, { edit: planned.edit, report: { ...planned.report, findings: [] } });
  } catch (error) {
    setScript({
      problem:
        error instanceof Cancelled
          ? 'Cancelled; nothing was changed.'
          : error instanceof Error
            ? error.message
            : String(error),
    });
  }
}

/** Selects what a line changed, as far as it lies in the graph that is shown. */
export function takeTouched({ line, ids }: Touched): void {
  const { doc, graph } = useEditor.getState();
  const here = ids.filter((id) => (doc.nodes.get(id) ?? doc.frames.get(id))?.graph === graph);
  if (here.length === 0) {
    toast(`Line ${line} changed nothing in the graph that is shown.`);
    return;
  }
  select(here);
  lookAt('selection');
}
