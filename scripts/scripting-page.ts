// docs/scripting.md: what scripts are, the API from its own types, and the worked examples that a test runs.
import { mostSaid } from '@basitax/core/script/host';
import { scriptEnd } from '@basitax/core/script/job';
import { usualLimits } from '@basitax/core/script/sandbox';
import { demoScripts } from '@basitax/demo/scripts';
import { apiPage } from './script-api.ts';

const seconds = (ms: number): string => `${ms / 1000} s`;

export function scriptingPage(): string {
  return `# Scripts

*Made by \`npm run docs\` from \`core/script/api.ts\` and \`demo/scripts/\`.*

A script reads and changes many nodes at once. It is JavaScript or TypeScript, and runs in the editor (\`B C\`), on the server, in recipes and on the command line alike.

- **A dry run first.** It shows each change as a list and on the canvas, each node that was skipped with the reason, what the script said, and files that it gave out. Nothing is changed.
- **All or nothing.** Applied, everything is one step, and one undo takes it back. A script that fails has changed nothing; it says the line and the node.
- **Order.** \`nodes\` are those selected, in the order of selection, the first selected first; or those that fit a query, or all of the graph, by id.
- **Skipped, not crashed.** Reading a parameter that a node lacks gives \`undefined\`. Setting one skips the node, with a reason; with \`{ must: true }\` the script fails instead. Locked nodes, expressions and unknown values are skipped too.
- **Slips of the pen are told.** A property that a thing does not have (\`node.lable\`), an option that an operation does not have, and a parameter that no kind has fail the script, with the word that was probably meant.
- **The same input gives the same edit.** There is no network, no file, no clock and no chance but \`random()\`, which gives the same row each time.
- **Limits.** ${seconds(usualLimits.time)} of its own and ${seconds(scriptEnd.ms)} with its operations, ${usualLimits.memory / 1024 / 1024} MB, recursion as deep as a browser's worker allows, ${mostSaid.lines.toLocaleString('en')} lines in the console. It runs straight through: what waits for a promise is never done.

## Options and the library

\`options({ … })\` at the top declares what can be set from outside; a form is made from it. *Keep …* puts a script in the team's library, in versions that never change, and says who may run it and who may change it. Whoever may run it finds it in the menu of scripts, with its form.

## On the command line

\`\`\`
npx basitax run scale-places.ts *.graph.json --option factor=1.5 --dry-run
\`\`\`

Without \`--dry-run\` each file is written where it stands. \`--where QUERY\` and \`--select NODE,NODE…\` say over which nodes it runs; else it runs over all.

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
## The API

${apiPage()}`;
}
