// docs/scripting.md: what scripts are, the API from its own types, and the worked examples that a test runs.
import { mostSaid } from '@basitax/core/script/host';
import { scriptEnd } from '@basitax/core/script/job';
import { usualLimits } from '@basitax/core/script/sandbox';
import { demoScripts } from '@basitax/demo/scripts';
import { apiPage } from './script-api.ts';
import { operationsPage } from './script-operations.ts';

const seconds = (ms: number): string => `${ms / 1000} s`;

export function scriptingPage(): string {
  return `# Scripts

*Made by \`npm run docs\` from \`core/script/api.ts\` and \`demo/scripts/\`.*

A script reads and changes many nodes at once. It is JavaScript or TypeScript, and runs in the editor (\`B C\`), on the server, in recipes and on the command line alike.

- **A dry run first.** It shows each change as a list and on the canvas, each node that was skipped with the reason, what the script said, and files that it gave out. Nothing is changed.
- **All or nothing.** Applied, everything is one step, and one undo takes it back. A script that fails has changed nothing; it says the line and the node.
- **Order.** \`nodes\` are those selected, in the order of selection, the first selected first; or those that fit a query, or all of the graph, in the order of reading: sources before what they feed, and of what is free the node that comes first along the flow. The order is made when a script starts, and anew once nodes or wires are added, removed or led elsewhere.
- **Skipped, not crashed.** Reading a parameter that a node lacks gives \`undefined\`. Setting one skips the node, with a reason; with \`{ must: true }\` the script fails instead. Locked nodes, expressions and unknown values are skipped too.
- **Checked before it runs.** TypeScript checks a script while it is written and before every run: what a thing does not have, an operation or option that is not there, a parameter or kind that neither the catalogue nor the file knows, a text where a number belongs. Each mistake is told with its line and the word that was probably meant; \`// @ts-ignore\` above a line lets it pass. Where the file is not known yet (in the library, in recipes, on the command line), parameters and kinds are checked when the script runs.
- **Slips of the pen are told.** A property that a thing does not have (\`node.lable\`), an option that an operation does not have, and a parameter that no kind has fail the script, with the word that was probably meant.
- **The same input gives the same edit.** There is no network, no file, no clock and no chance but \`random()\`, which gives the same row each time.
- **Limits.** ${seconds(usualLimits.time)} of its own and ${seconds(scriptEnd.ms)} with its operations, ${usualLimits.memory / 1024 / 1024} MB, recursion as deep as a browser's worker allows, ${mostSaid.lines.toLocaleString('en')} lines in the console. It runs straight through: what waits for a promise is never done.

## In the editor

\`Ctrl+Space\` offers what may stand there: members, parameters with type, range and unit, kinds, operations and their options. A pause over a word tells what it is. \`Ctrl+Enter\` is a dry run; with lines marked, only these are run, and the options. After a dry run the number beside a line says how many things it changed, and a click on it selects them. What \`log\` is given can be opened in the console, and nodes in it lead to the graph.

## Options and the library

\`options({ … })\` at the top declares what can be set from outside; a form is made from it. *Keep …* puts a script in the team's library, in versions that never change, and says who may run it and who may change it. Whoever may run it finds it in the menu of scripts, with its form.

## On the command line

\`\`\`
npx basitax run scale-places.ts *.graph.json --option factor=1.5 --dry-run
\`\`\`

Without \`--dry-run\` each file is written where it stands. \`--where QUERY\` and \`--select NODE,NODE…\` say over which nodes it runs; else it runs over all.

## Over many files

A script may have a function \`each\`, which is called once for each file behind all else, and a function \`all\`, which is called at the end with what \`each\` gave:

\`\`\`ts
function each(file: ScriptFile) {
  return file.nodes.length;
}
function all(results: readonly ScriptResult[]) {
  return results.map(({ file, result }) => ({ file, nodes: result }));
}
\`\`\`

What stands outside the two is run for each file, and once more, over no nodes, before \`all\`. \`all\` gives rows of a table, a text, an SVG picture, or anything else as JSON:

\`\`\`
npx basitax run count-kinds.ts shots --report kinds.csv
\`\`\`

\`--report\` writes it as .csv, .md, .json, .svg or .txt; without it, it is printed. A batch run calls \`each\` for each file of its dry run; *Reports* on the page of the run shows what \`all\` makes of them, with a chart of a column of numbers, and gives it out as a file.

## Paths and the asset store

\`assets.exists(path)\` and \`assets.find(name)\` ask the store of the team, on the command line the folder that \`--assets\` names. A script waits for nothing: it is run once to hear what it asks, and again with the answers, so that both give the same edit.

## Worked examples

They come with the demo, in the library; a test runs each.
${demoScripts
  .map(
    ({ title, source }) => `
### ${title}

\`\`\`ts
${source.trim()}
\`\`\`
`,
  )
  .join('')}
${operationsPage()}
## The API

${apiPage()}`;
}
