import { type Command, own, someSelected } from './command.ts';
import { ask, lookedUpFor, useQuestions } from './inspect/questions.ts';
import { openLeft, toggleLeft, useLayout } from './layout.ts';
import { useEditor } from './store.ts';

const { getState } = useEditor;

/** Asks about what is selected; where that was asked already, closes the panel. */
function askDependencies(): void {
  const { doc, selection } = getState();
  const nodes = selection.filter((id) => doc.nodes.has(id));
  const { of } = useQuestions.getState();
  const isAsked = nodes.length === 0 || (nodes.length === of.length && nodes.every((id) => of.includes(id)));
  if (useLayout.getState().left === 'dependencies' && isAsked) toggleLeft('dependencies');
  else {
    if (nodes.length > 0) ask({ of: nodes });
    openLeft('dependencies');
  }
}

function askUses(): void {
  const use = lookedUpFor(getState());
  const known = useQuestions.getState().use;
  const isAsked = use === undefined || (known.what === use.what && known.name === use.name);
  if (useLayout.getState().left === 'uses' && isAsked) toggleLeft('uses');
  else {
    if (use) ask({ use: { ...use, match: 'exact' }, follows: true });
    openLeft('uses');
  }
}

/** Compares with the revision that was opened, where nothing else was chosen. */
function askComparison(): void {
  const { fileId, revision } = getState();
  if (useLayout.getState().left !== 'compare' && !useQuestions.getState().other)
    ask({ other: { file: fileId, revision } });
  toggleLeft('compare');
}

/** What the application adds for inspecting: panels on the left, each shown or hidden. */
export const inspectCommands: readonly Command[] = [
  own(
    'inspect',
    'dependencies',
    'Dependencies',
    'Shows what the selected nodes depend on and what depends on them, the paths between two nodes, and what a change would affect.',
    ['q d'],
    askDependencies,
    (state) => (useLayout.getState().left === 'dependencies' ? undefined : someSelected(state)),
  ),
  own(
    'inspect',
    'leftovers',
    'Leftovers and findings',
    'Lists what is unused, lost, duplicated, bypassed, unnamed or in a cycle, and what house rules find, with fixes.',
    ['q l'],
    () => toggleLeft('leftovers'),
  ),
  own(
    'inspect',
    'cost',
    'Cost',
    'Shows measured times of nodes: totals, the critical path and a heat map.',
    ['q c'],
    () => toggleLeft('cost'),
  ),
  own(
    'inspect',
    'uses',
    'Where used',
    'Lists where the kind, asset, beacon or shared kind of the selected node is used, in this file and in all files.',
    ['q w'],
    askUses,
  ),
  own(
    'inspect',
    'readability',
    'Readability',
    'Scores this graph, and shows the parts of the score, the ten worst places and what would help.',
    ['q r'],
    () => toggleLeft('readability'),
  ),
  own(
    'inspect',
    'compare',
    'Compare',
    'Shows what differs from another revision or file, as a list and on the canvas.',
    ['q v'],
    askComparison,
  ),
  own(
    'inspect',
    'file-map',
    'Map of the files',
    'Shows which files use which shared kinds and assets, and what a change would affect, in another tab.',
    ['q m'],
    () => {
      window.open('/map', '_blank', 'noreferrer');
    },
  ),
];
