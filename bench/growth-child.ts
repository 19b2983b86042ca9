// One shape of graph in one size through everything that is done to files, in a process of its own, so that it can be
// stopped: a line of JSON for each task as it ends.
import { Kinds } from '@basitax/core/document/kinds';
import { formats, readFile } from '@basitax/core/formats/formats';
import { handoverOf } from '@basitax/core/handover/handover';
import { handoverPage } from '@basitax/core/handover/page';
import { must } from '@basitax/core/must';
import { createContext } from '@basitax/core/operation';
import { operate } from '@basitax/core/operations';
import { routeWires } from '@basitax/core/route/route';
import { profileSchema } from '@basitax/core/rules/profile-schema';
import { sheetColors } from '@basitax/core/sheet/colors';
import { catalogue } from '@basitax/demo/catalogue';
import type { Shape } from './growth-shapes.ts';
import { graphmlOf } from './growth-shapes.ts';

const [shape, size] = [process.argv[2] as Shape, Number(process.argv[3])];
const kinds = new Kinds(catalogue);

function timed<T>(task: string, act: () => T): T {
  const started = process.cpuUsage();
  const result = act();
  const used = process.cpuUsage(started);
  const mb = Math.round(process.resourceUsage().maxRSS / 1024);
  process.stdout.write(`${JSON.stringify({ task, ms: (used.user + used.system) / 1000, mb })}\n`);
  return result;
}

// a first small run pays for loading and compiling
readFile('a.graphml', graphmlOf(shape, 300), kinds);
const text = graphmlOf(shape, size);
const { doc } = timed('import', () => readFile('a.graphml', text, kinds));
timed('route', () => {
  for (const graph of doc.graphs.keys()) routeWires(doc, kinds, graph);
});
timed('arrange', () => {
  for (const graph of doc.graphs.keys()) operate('arrange', createContext(kinds, 1), doc, { graph, items: [] });
});
for (const format of formats) {
  const written = timed(`write ${format.id}`, () => format.write(doc, kinds));
  if (format.id === 'json') timed('JSON of the platform', () => JSON.stringify(JSON.parse(written)));
  if (format.read) timed(`read ${format.id}`, () => readFile(`a${must(format.extensions[0])}`, written, kinds));
}
timed('hand over', () =>
  handoverPage(
    handoverOf(doc, kinds, profileSchema.parse({}), {
      revision: 1,
      author: 'Lead TD',
      message: '',
      at: '',
      project: '',
    }),
    '',
    sheetColors.paper,
    {},
  ),
);
