// One format in one size, written and read, in a process of its own, so that its memory is its own: a line of JSON.
import { Kinds } from '@basitax/core/document/kinds';
import type { FormatId } from '@basitax/core/formats/endings';
import { formatById, readFile } from '@basitax/core/formats/formats';
import { must } from '@basitax/core/must';
import { catalogue } from '@basitax/demo/catalogue';
import { MultiDirectedGraph } from 'graphology';
import { parse } from 'graphology-gexf';
import { bigScene } from './scene.ts';

const [id, nodes, wires] = [
  process.argv[2] as FormatId | 'reference',
  Number(process.argv[3]),
  Number(process.argv[4]),
];
const kinds = new Kinds(catalogue);
const doc = bigScene(nodes, wires, 3);

function timed<T>(act: () => T): { ms: number; made: T } {
  const started = process.cpuUsage();
  const made = act();
  const { user, system } = process.cpuUsage(started);
  return { ms: Math.round((user + system) / 1000), made };
}

const small = bigScene(500, 700, 1);
if (id === 'reference') {
  // the reader of the registry by which ours are measured: graphology-gexf, on the same file
  const text = formatById('gexf').write(doc, kinds);
  const read = timed(() => parse(MultiDirectedGraph, text));
  report({ write: 0, read: read.ms, bytes: text.length, nodes: read.made.order });
} else {
  const format = formatById(id);
  // a first small run pays for loading and compiling
  const first = format.write(small, kinds);
  if (format.read) readFile(`a${must(format.extensions[0])}`, first, kinds);
  const write = timed(() => format.write(doc, kinds));
  const read = format.read ? timed(() => readFile(`a${must(format.extensions[0])}`, write.made, kinds)) : undefined;
  report({ write: write.ms, read: read?.ms ?? 0, bytes: write.made.length, nodes: read?.made.doc.nodes.size ?? 0 });
}

function report(row: object): void {
  process.stdout.write(`${JSON.stringify({ ...row, mb: Math.round(process.resourceUsage().maxRSS / 1024) })}\n`);
}
