import { existsSync } from 'node:fs';
import { readFile, writeFile } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { parseArgs } from 'node:util';
import { type Catalogue, catalogueSchema, emptyCatalogue } from '@basitax/core/document/catalogue';
import { type Doc, tableOf } from '@basitax/core/document/doc';
import { Kinds } from '@basitax/core/document/kinds';
import { type Flow, flowSchema } from '@basitax/core/document/schema';
import { UnreadableFile } from '@basitax/core/document/unreadable';
import { apply } from '@basitax/core/edit/step';
import { type Finding, limitFindings } from '@basitax/core/finding';
import { decodeFile } from '@basitax/core/formats/decode';
import { formatOf, readFile as readGraph, written } from '@basitax/core/formats/formats';
import { must } from '@basitax/core/must';
import { createContext } from '@basitax/core/operation';
import { describeOperations, operations, runOperation } from '@basitax/core/operations';
import { Refused } from '@basitax/core/said';
import { z } from 'zod';
import { batch, type Files, runScriptFiles, table, upgradeFiles } from './batch.ts';
import { check } from './check.ts';
import {
  type Loaded,
  nodesNamed,
  type Said,
  sayComparison,
  sayCost,
  sayDependencies,
  sayFingerprint,
  sayLeftovers,
  sayMeasures,
  sayPatch,
} from './inspect.ts';
import { merge } from './merge.ts';
import { Unusable } from './unusable.ts';

const help = `basitax — arranges and inspects node graphs

  basitax convert IN OUT                     another format, by the ending of OUT
  basitax arrange IN -o OUT [--flow right|down|left|up] [--keep 0..1] [--quality quick|best] [--shape W÷H] [--links]
  basitax measure IN [--json]                how hard it is to read: measures, score, the worst places
  basitax fingerprint IN [--nodes] [--json]  what it computes, as two hashes; and the hash of each node
  basitax inspect IN --select NODE,NODE… [--json]
                                             what depends on what: up, down, ends that are hit, ways between two
  basitax leftovers IN [--json]              what could go or was forgotten
  basitax compare IN OTHER [--json | --patch]
                                             what differs, by id and by likeness; as JSON Patch
  basitax cost IN TIMES.csv [--json]         totals and critical path from times: node path, milliseconds
  basitax operations [--json]                every operation with its options
  basitax run OPERATION IN -o OUT [--graph ID] [--select ID,ID…] [--options JSON]
                                             one operation; refused with its reason, and nothing is written
  basitax run SCRIPT.ts FILE… [--dry-run] [--option NAME=VALUE]… [--where QUERY | --select NODE,NODE…] [--graph ID] [-o OUT]
                                             a script over files, each written where it stands, all or nothing
  basitax batch RECIPE.json FILE… [--dry-run]
                                             a recipe over files: operations, scripts, fixes, checks, conditions
  basitax check FILE… [--rules RULES.json | --rules ID,ID…] [--format text|json|sarif]
                                             what house rules find; status 1 where it is an error
  basitax upgrade MAPPING.json FILE… --to CATALOGUE.json [--dry-run]
                                             reads files with another version of their catalogue
  basitax table FILE --parameters NAME,NAME… [--where QUERY] [-o OUT.csv]
  basitax table FILE --from IN.csv [--dry-run] [-o OUT]
                                             parameters of nodes as CSV, and back
  basitax merge BASE OURS THEIRS [-o OUT]    brings two versions together, into OURS; status 1 where ours was kept in a conflict

Nodes are named by id, or by path: Nested/Node. Formats: .graph.json, .graphml, .jgf.json, .dot or .gv. Kinds come from --catalogue FILE, or from NAME.catalogue.json beside the file.
Exit status: 0 fine, 1 done with findings (leftovers and differences too), 2 unusable input.
`;

const options = {
  output: { type: 'string', short: 'o' },
  flow: { type: 'string' },
  keep: { type: 'string' },
  quality: { type: 'string' },
  shape: { type: 'string' },
  links: { type: 'boolean' },
  catalogue: { type: 'string' },
  graph: { type: 'string' },
  select: { type: 'string' },
  options: { type: 'string' },
  option: { type: 'string', multiple: true },
  'dry-run': { type: 'boolean' },
  where: { type: 'string' },
  rules: { type: 'string' },
  parameters: { type: 'string' },
  from: { type: 'string' },
  to: { type: 'string' },
  format: { type: 'string' },
  json: { type: 'boolean' },
  nodes: { type: 'boolean' },
  patch: { type: 'boolean' },
  help: { type: 'boolean', short: 'h' },
} as const;

/** Runs one command; gives the exit status. */
export async function main(argv: readonly string[]): Promise<number> {
  try {
    return await run(argv);
  } catch (error) {
    if (error instanceof Unusable || error instanceof Refused) {
      process.stderr.write(`basitax: ${error.message}\n`);
      return 2;
    }
    throw error;
  }
}

async function run(argv: readonly string[]): Promise<number> {
  let parsed: ReturnType<typeof parse>;
  try {
    parsed = parse(argv);
  } catch (error) {
    throw new Unusable(`${(error as Error).message.split('. ')[0]}. See basitax --help.`);
  }
  const { values, positionals } = parsed;
  const [command, ...files] = positionals;
  if (values.help || command === undefined) {
    process.stdout.write(help);
    return command === undefined && !values.help ? 2 : 0;
  }
  const many = await overFiles(command, files, values);
  if (many !== undefined) return many;
  const wanted = {
    convert: 2,
    arrange: 1,
    measure: 1,
    fingerprint: 1,
    inspect: 1,
    leftovers: 1,
    compare: 2,
    cost: 2,
    operations: 0,
    run: 2,
  }[command];
  if (wanted === undefined) throw new Unusable(`there is no command “${command}”. See basitax --help.`);
  if (files.length !== wanted)
    throw new Unusable(
      `${command} takes ${command === 'run' ? 'an operation and a file' : wanted === 1 ? 'one file' : wanted === 0 ? 'no file' : `${wanted} files`}, not ${files.length}. See basitax --help.`,
    );
  if (command === 'operations') return listOperations(values.json === true);
  const [input, second] = (command === 'run' ? [files[1], files[0]] : files) as [string, string?];
  const loaded = await load(input, values.catalogue);
  switch (command) {
    case 'convert':
      await save(must(second), loaded);
      break;
    case 'arrange':
      if (values.output === undefined) throw new Unusable('arrange wants -o OUT, the file to write.');
      await save(values.output, {
        ...loaded,
        doc: await arrangeAll(loaded, flowOf(values.flow), {
          ...keepOf(values.keep),
          ...shapeOf(values.shape),
          quality: qualityOf(values.quality),
          links: values.links ?? false,
        }),
      });
      break;
    case 'run':
      return await runOne(must(second), input, loaded, values);
    case 'measure':
      return tell(input, loaded, sayMeasures(loaded), values.json);
    case 'inspect':
      return tell(input, loaded, sayDependencies(loaded, chosen(input, loaded.doc, values.select)), values.json);
    case 'leftovers':
      return tell(input, loaded, sayLeftovers(loaded), values.json);
    case 'compare': {
      const other = await load(must(second), values.catalogue);
      const comparison = sayComparison(loaded, other);
      return tell(
        input,
        loaded,
        values.patch ? { ...comparison, text: sayPatch(loaded.doc, other.doc) } : comparison,
        values.json && !values.patch,
      );
    }
    case 'cost': {
      const found = sayCost(loaded, await readText(must(second)));
      return tell(must(second), { ...loaded, findings: [...loaded.findings, ...found.findings] }, found, values.json);
    }
    default:
      return tell(input, loaded, sayFingerprint(loaded, values.nodes === true), values.json);
  }
  return complain(input, loaded.findings);
}

/** Commands over any number of files; undefined for the others. */
async function overFiles(
  command: string,
  names: readonly string[],
  values: ReturnType<typeof parse>['values'],
): Promise<number | undefined> {
  const files: Files = {
    load: (file) => load(file, values.catalogue),
    save,
    text: readText,
    write: writeText,
    catalogue: loadCatalogue,
    say: (line) => void process.stdout.write(`${line}\n`),
    complain,
  };
  const [first, ...rest] = names;
  const isScript = command === 'run' && first !== undefined && /\.[cm]?[jt]s$/.test(first);
  if (!isScript && !['batch', 'check', 'merge', 'upgrade', 'table'].includes(command)) return undefined;
  const least = command === 'check' || command === 'table' ? 1 : 2;
  if (names.length < least)
    throw new Unusable(
      `${command} takes ${least === 1 ? 'a file' : isScript ? 'a script and files' : command === 'batch' ? 'a recipe and files' : 'a mapping and files'}. See basitax --help.`,
    );
  if (command === 'merge') {
    if (names.length !== 3)
      throw new Unusable(`merge takes three files, BASE OURS THEIRS, not ${names.length}. See basitax --help.`);
    return merge(files, names, values);
  }
  if (values.output !== undefined && rest.length > 1)
    throw new Unusable('-o is for one file; without it each file is written where it stands.');
  if (isScript) return runScriptFiles(files, first, rest, values);
  if (command === 'batch') return batch(files, must(first), rest, values);
  if (command === 'upgrade') return upgradeFiles(files, must(first), rest, values);
  return command === 'check' ? check(files, names, values) : table(files, must(first), values);
}

/** Prints what a command says, and lists what was found in reading. */
function tell(input: string, loaded: Loaded, { text, json, status }: Said, asJson: boolean | undefined): number {
  process.stdout.write(`${asJson ? JSON.stringify(json) : text}\n`);
  return Math.max(status, complain(input, loaded.findings));
}

function complain(input: string, findings: readonly Finding[]): number {
  for (const item of limitFindings(findings)) process.stderr.write(`${input}: ${item.severity}: ${item.message}\n`);
  return findings.some((item) => item.severity !== 'info') ? 1 : 0;
}

/** The nodes that are asked about. */
function chosen(input: string, doc: Doc, select: string | undefined): readonly string[] {
  const names = (select ?? '').split(',').filter(Boolean);
  if (names.length === 0) throw new Unusable('inspect wants --select NODE,NODE…, by id or path.');
  const { ids, missing } = nodesNamed(doc, names);
  if (missing.length > 0) throw new Unusable(`${input}: there is no node “${missing[0]}”, by id or by path.`);
  return ids;
}

const parse = (argv: readonly string[]) =>
  parseArgs({ args: [...argv], options, allowPositionals: true, strict: true });

function flowOf(text: string | undefined): Flow | undefined {
  if (text === undefined) return undefined;
  const flow = flowSchema.safeParse(text);
  if (!flow.success) throw new Unusable(`--flow takes right, down, left or up, not “${text}”.`);
  return flow.data;
}

function keepOf(text: string | undefined): { keep?: number } {
  if (text === undefined || text === '') return {};
  const keep = Number(text);
  if (!(keep >= 0 && keep <= 1)) throw new Unusable(`--keep takes a number from 0 to 1, not “${text}”.`);
  return { keep };
}

function shapeOf(text: string | undefined): { shape?: number } {
  if (text === undefined || text === '') return {};
  const shape = Number(text);
  if (!(shape >= 0.1 && shape <= 10))
    throw new Unusable(`--shape takes width ÷ height, a number from 0.1 to 10, not “${text}”.`);
  return { shape };
}

function qualityOf(text: string | undefined): 'quick' | 'best' {
  if (text === undefined || text === 'quick' || text === 'best') return text ?? 'quick';
  throw new Unusable(`--quality takes quick or best, not “${text}”.`);
}

async function readText(file: string): Promise<string> {
  let bytes: Buffer;
  try {
    bytes = await readFile(file);
  } catch (error) {
    const { code, message } = error as NodeJS.ErrnoException;
    throw new Unusable(`${file}: ${code === 'ENOENT' ? 'there is no such file' : message}.`);
  }
  const text = decodeFile(bytes, file);
  if (text === undefined) throw new Unusable(`${file}: the file is no UTF-8 text.`);
  return text;
}

async function loadCatalogue(file: string): Promise<Catalogue> {
  const text = await readText(file);
  try {
    return catalogueSchema.parse(JSON.parse(text));
  } catch (error) {
    const why =
      error instanceof z.ZodError
        ? `${error.issues[0]?.path.join('.')}: ${error.issues[0]?.message}`
        : (error as Error).message;
    throw new Unusable(`${file}: this is no catalogue: ${why}.`);
  }
}

async function load(file: string, named: string | undefined): Promise<Loaded> {
  const text = await readText(file);
  const read = (kinds: Kinds): Loaded => {
    try {
      return { kinds, ...readGraph(file, text, kinds) };
    } catch (error) {
      if (error instanceof UnreadableFile)
        throw new Unusable(
          `${file}${error.line === undefined ? '' : `:${error.line}`}: ${error.message.replace(/^Line \d+: /, '')}`,
        );
      throw error;
    }
  };
  if (named !== undefined) return read(new Kinds(await loadCatalogue(named)));
  const first = read(new Kinds(emptyCatalogue));
  const beside = join(dirname(file), `${first.doc.head.catalogue.id}.catalogue.json`);
  return existsSync(beside) ? read(new Kinds(await loadCatalogue(beside))) : first;
}

async function save(file: string, { doc, kinds }: Loaded): Promise<void> {
  let text: string;
  try {
    const { text: made, lost } = written(formatOf(file), doc, kinds);
    text = made;
    if (lost.length > 0) process.stderr.write(`${file}: not in it: ${lost.join(', ')}.\n`);
  } catch (error) {
    if (error instanceof UnreadableFile) throw new Unusable(error.message);
    throw error;
  }
  await writeText(file, text);
}

async function writeText(file: string, text: string): Promise<void> {
  try {
    await writeFile(file, text);
  } catch (error) {
    throw new Unusable(`${file} cannot be written: ${(error as Error).message}.`);
  }
}

/** Every graph of the document, nested ones too. */
async function arrangeAll(
  { doc, kinds }: Loaded,
  flow: Flow | undefined,
  options: { keep?: number; shape?: number; quality: 'quick' | 'best'; links: boolean },
): Promise<Doc> {
  let now = doc;
  for (const graph of doc.graphs.keys()) {
    const selection = { graph, items: [] };
    if (flow !== undefined)
      now = apply(now, (await runOperation('flow', createContext(kinds, 1), now, selection, { to: flow })).edit);
    now = apply(now, (await runOperation('arrange', createContext(kinds, 1), now, selection, options)).edit);
  }
  return now;
}

/** One operation on one graph of a file; what it could not keep is listed. */
async function runOne(
  id: string,
  input: string,
  loaded: Loaded,
  values: ReturnType<typeof parse>['values'],
): Promise<number> {
  if (values.output === undefined) throw new Unusable('run wants -o OUT, the file to write.');
  let given: unknown;
  try {
    given = JSON.parse(values.options ?? '{}');
  } catch (error) {
    throw new Unusable(`--options is no JSON: ${(error as Error).message}.`);
  }
  const { doc, kinds } = loaded;
  const items = (values.select ?? '').split(',').filter(Boolean);
  for (const item of items)
    if (tableOf(doc, item) === undefined) throw new Unusable(`${input}: there is nothing with the id “${item}”.`);
  const { edit, report } = await runOperation(
    id,
    createContext(kinds, 1),
    doc,
    { graph: values.graph ?? doc.head.root, items },
    given,
  );
  await save(values.output, { ...loaded, doc: apply(doc, edit) });
  process.stdout.write(`${report.summary}\n`);
  return complain(input, [...loaded.findings, ...report.findings]);
}

function listOperations(json: boolean): number {
  if (json) process.stdout.write(`${JSON.stringify(describeOperations(), null, 2)}\n`);
  else for (const one of operations) process.stdout.write(`${one.id.padEnd(20)} ${one.about}\n`);
  return 0;
}
