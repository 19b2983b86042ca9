import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';

const require = createRequire(import.meta.url);

/** A script that comes with the demo: also the worked examples of docs/scripting.md. */
export interface DemoScript {
  readonly id: string;
  readonly title: string;
  readonly about: string;
  readonly source: string;
}

const named: readonly (readonly [string, string, string])[] = [
  ['switch-on', 'Switch on', 'Switches a yes-or-no parameter of all nodes that have it.'],
  ['scale-places', 'Scale from the centre', 'Spreads nodes, or draws them together, from their common centre.'],
  ['place-beside', 'Place beside', 'Puts each node beside the one selected before it.'],
  ['label-from-parameter', 'Label from parameters', 'Writes labels from the values of parameters.'],
  ['replace-in-paths', 'Replace in paths', 'Finds and replaces in the paths of what is read and written.'],
  ['re-source', 'Re-source by name', 'Leads all that takes from one node to another.'],
  ['frame-by-prefix', 'Frame by prefix', 'Frames nodes whose names begin alike.'],
  ['number-in-flow-order', 'Number in flow order', 'Names nodes by kind and number, sources first.'],
  ['replace-kind', 'Replace a kind', 'Makes every node of one kind one of another.'],
  ['replace-root', 'Replace the root of paths', 'Moves all paths to another root, and lists what is not there.'],
  ['set-upstream', 'Set all upstream', 'Sets a number on everything that feeds the selection.'],
  ['one-mask-for-all', 'One mask for all', 'Wires the mask of the first selected node into all the others.'],
  ['insert-after', 'Insert after each of a kind', 'Puts a new node behind every node of a kind.'],
  ['column-by-number', 'Column by a number', 'Puts nodes into a column, in the order of a number that they have.'],
  ['night-setting', 'Night setting', 'Gives nodes a further setting in which they are darker.'],
  ['fix-findings', 'Fix findings', 'Does the fixes that house rules propose.'],
  ['count-kinds', 'Count the kinds', 'Counts the kinds of nodes over all files, as one table.'],
  ['missing-files', 'Missing files', 'Lists what files read and the asset store does not have.'],
  ['readability-chart', 'Chart of readability', 'Draws how easy files are to read.'],
  ['report-csv', 'Report as CSV', 'Lists the nodes with frame, sources and open inputs.'],
];

/** In the order in which the documentation tells of them. */
export const demoScripts: readonly DemoScript[] = named.map(([id, title, about]) => ({
  id,
  title,
  about,
  source: readFileSync(require.resolve(`@basitax/demo/scripts/${id}`), 'utf8'),
}));
