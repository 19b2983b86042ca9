import { z } from 'zod';
import { schemeSchema } from '../color/scheme.ts';
import { catalogueSchema } from '../document/catalogue.ts';
import { selectedOrAll } from '../document/doc.ts';
import { parseDoc, readStored, writeDoc } from '../document/file.ts';
import { Kinds } from '../document/kinds.ts';
import { apply, type Edit, editSchema } from '../edit/step.ts';
import type { Finding } from '../finding.ts';
import { formats, written } from '../formats/formats.ts';
import { timesByPath } from '../formats/times-csv.ts';
import { handoverOf } from '../handover/handover.ts';
import { graphSvg, handoverPage } from '../handover/page.ts';
import { posterSheets } from '../handover/poster.ts';
import { type Change, type Comparison, compareDocs } from '../inspect/compare/compare.ts';
import { type Cost, cost } from '../inspect/cost.ts';
import { type Dependencies, dependencies, type Paths, pathsBetween } from '../inspect/dependencies.ts';
import { type FileMap, fileLinksSchema, fileMap } from '../inspect/file-map.ts';
import { compareFingerprints, fingerprint, type Verdict } from '../inspect/fingerprint.ts';
import { measureGraph } from '../inspect/measure.ts';
import { layOut, neighbourhood } from '../inspect/neighbourhood.ts';
import { type ProposalName, type Proposed, proposals, propose } from '../inspect/proposals.ts';
import { type Place, type Readability, readability } from '../inspect/readability.ts';
import { type Tried, tryRemedies } from '../inspect/remedies.ts';
import { type Review, review } from '../inspect/review.ts';
import { createContext, Refused, type Report } from '../operation.ts';
import { runOperation } from '../operations.ts';
import { type Advice, advise, type Figures } from '../remote/advice.ts';
import { type WorstOutput, worstOutputs } from '../remote/worst.ts';
import { addedErrors } from '../rules/added.ts';
import { askedBy } from '../rules/profile.ts';
import { factsSchema } from '../rules/rule.ts';
import { checkAsked } from '../rules/rules.ts';
import { scriptJobSchema } from '../script/job.ts';
import type { ScriptOptions, ScriptValues } from '../script/options.ts';
import { describeScript, reached, runScript, type ScriptOutcome } from '../script/run.ts';
import { type SandboxFailure, usualLimits } from '../script/sandbox.ts';
import { sheetColors } from '../sheet/colors.ts';
import type { Sheet } from '../sheet/shapes.ts';
import { sheetSvg } from '../sheet/svg.ts';
import { foldedView } from '../structure/fold.ts';
import { proposeRegions, type Region } from '../structure/propose.ts';
import { bodyPorts, type Publishable } from '../structure/shared-kinds.ts';
import { bring, byProfile, inspect, judge, note, read, recipe, revise } from './revision-tasks.ts';
import { need, type Tools } from './tools.ts';

const id = z.string().min(1);
const selection = z.object({ graph: id, items: z.array(z.string()) });

export interface Planned {
  readonly edit: Edit;
  readonly report: Report;
  readonly review: Review | undefined;
}

/** Runs an operation without applying it; with `review`, says what it would do to readability and function. */
async function plan(raw: unknown, tools: Tools): Promise<Planned> {
  const input = z.object({ operation: id, selection, options: z.unknown(), seed: z.number(), review: z.boolean() }).parse(raw);
  const doc = need(tools.doc);
  const context = createContext(tools.kinds, input.seed, { progress: (fraction, what) => tools.progress(fraction * (input.review ? 0.7 : 1), what) });
  const outcome = await runOperation(input.operation, context, doc, input.selection, input.options);
  if (input.review) tools.progress(0.75, 'comparing');
  return { ...outcome, review: input.review ? review(doc, tools.kinds, input.selection.graph, outcome.edit) : undefined };
}

/** What an edit that was planned already would do to readability and function. */
function reviewEdit(raw: unknown, tools: Tools): Review {
  const input = z.object({ graph: id, edit: z.unknown() }).parse(raw);
  return review(need(tools.doc), tools.kinds, input.graph, editSchema.parse(input.edit) as Edit);
}

/** One of the ways to arrange a graph, worked out on a copy. */
function proposal(raw: unknown, tools: Tools): Proposed {
  const size = z.number().min(1).max(100_000);
  const input = z
    .object({ which: z.enum(Object.keys(proposals) as [ProposalName, ...ProposalName[]]), selection, seed: z.number(), window: z.object({ width: size, height: size }) })
    .parse(raw);
  return propose(createContext(tools.kinds, input.seed, { progress: tools.progress }), need(tools.doc), input.selection, input.which, input.window);
}

/** The outputs that arranging with these options would best turn into remote links. */
function worst(raw: unknown, tools: Tools): readonly WorstOutput[] {
  const input = z.object({ selection, seed: z.number(), options: z.record(z.string(), z.unknown()) }).parse(raw);
  return worstOutputs(createContext(tools.kinds, input.seed, { progress: tools.progress }), need(tools.doc), input.selection, input.options);
}

/** What a script would do, with each change in words. */
export interface PlannedScript extends ScriptOutcome {
  readonly changes: readonly Change[];
  /** The script ran over these, in this order. */
  readonly over: readonly string[];
}

async function script(raw: unknown, tools: Tools): Promise<PlannedScript> {
  const input = scriptJobSchema.parse(raw);
  const doc = need(tools.doc);
  const context = createContext(tools.kinds, input.seed, { progress: (fraction, what) => tools.progress(fraction * 0.8, what) });
  if (!doc.graphs.has(input.graph)) throw new Refused(`This file has no graph “${input.graph}”.`);
  const reach = reached(context, doc, input.graph, input.reach);
  const outcome = await runScript(context, doc, reach, input.source, input.values as ScriptValues, { ...usualLimits, ...(input.time !== undefined && { time: input.time }) });
  tools.progress(0.85, 'listing what would change');
  const both = { before: tools.kinds, after: tools.kinds };
  const changes = outcome.edit.steps.length === 0 ? [] : compareDocs(doc, apply(doc, outcome.edit), both).changes;
  return { ...outcome, changes, over: reach.items };
}

/** The options that a script declares, and why it cannot be read where it cannot. */
async function scriptOptions(raw: unknown, tools: Tools): Promise<{ options: ScriptOptions; failure: SandboxFailure | undefined }> {
  return describeScript(createContext(tools.kinds, 1), z.object({ source: z.string() }).parse(raw).source);
}

/** Which wires would better be remote links. */
function advice(raw: unknown, tools: Tools): Advice {
  const input = z.object({ graph: id, share: z.number(), at: z.array(z.string()) }).parse(raw);
  const context = createContext(tools.kinds, 1, { progress: tools.progress });
  return advise(context, need(tools.doc), input.graph, { share: input.share, ...(input.at.length > 0 && { at: new Set(input.at) }) });
}

/** Regions to be framed among the nodes of a graph, or some of them. */
function regions(raw: unknown, tools: Tools): readonly Region[] {
  const input = z.object({ selection, least: z.int(), grain: z.number() }).parse(raw);
  const doc = need(tools.doc);
  return proposeRegions(doc, tools.kinds, selectedOrAll(doc, input.selection), { least: input.least, grain: input.grain, seed: 1 });
}

/** What hurts about the wires of a graph with some of them turned into links: really done on a copy, routed and measured. Without links, as it is. */
async function measureLinks(raw: unknown, tools: Tools): Promise<Figures> {
  const input = z.object({ graph: id, links: z.array(z.unknown()) }).parse(raw);
  const doc = need(tools.doc);
  const options = { links: input.links };
  const linked = input.links.length === 0 ? doc : apply(doc, (await runOperation('to-links', createContext(tools.kinds, 1), doc, { graph: input.graph, items: [] }, options)).edit);
  const { crossings, length, windows } = measureGraph(linked, tools.kinds, input.graph);
  return { crossings, length, windows };
}

/** Routes packed for the way between threads: those of wire `ids[i]` are the corners `start[i]` … `start[i + 1]` of `corners`, as x, y, x, y … */
export interface PackedRoutes {
  readonly ids: readonly string[];
  readonly start: Int32Array;
  readonly corners: Float64Array;
}

function routes(raw: unknown, tools: Tools): PackedRoutes {
  const input = z.object({ graph: id }).parse(raw);
  const found = [...tools.calm.routes(foldedView(need(tools.doc), tools.kinds), tools.kinds, input.graph)];
  const start = new Int32Array(found.length + 1);
  found.forEach(([, route], i) => {
    start[i + 1] = start[i]! + route.length;
  });
  const corners = new Float64Array(start[found.length]! * 2);
  found.forEach(([, route], i) => {
    route.forEach((p, k) => {
      corners[(start[i]! + k) * 2] = p.x;
      corners[(start[i]! + k) * 2 + 1] = p.y;
    });
  });
  return { ids: found.map(([wire]) => wire), start, corners };
}

/** The nodes of a neighbourhood and where they go when it lays itself out. */
function neighbours(raw: unknown, tools: Tools): { ids: readonly string[]; places: ReadonlyMap<string, { x: number; y: number }> } {
  const area = z.object({ graph: id, from: ids, up: z.int(), down: z.int(), grown: ids, pruned: ids }).parse(raw);
  const doc = need(tools.doc);
  const found = neighbourhood(doc, area);
  return { ids: found, places: layOut(doc, tools.kinds, area.graph, found) };
}

/** A graph that is to be published, as it came: its own text again, and its ports in the order that was wished. */
function published(raw: unknown, tools: Tools): { text: string; problems: readonly Finding[] } & Pick<Publishable, 'ports' | 'end'> {
  const input = z.object({ text: z.string(), order: z.array(z.string()) }).parse(raw);
  const { doc, findings } = parseDoc(input.text);
  return { text: writeDoc(doc), problems: findings, ...bodyPorts(doc, tools.kinds, input.order) };
}

/** What an edit does to what the graph computes. */
function verdict(raw: unknown, tools: Tools): Verdict {
  const input = z.object({ edit: z.unknown() }).parse(raw);
  const doc = need(tools.doc);
  const after = apply(doc, editSchema.parse(input.edit) as Edit);
  return compareFingerprints(fingerprint(doc, tools.kinds), fingerprint(after, tools.kinds));
}

/** The document in a format, and what of it that format has no place for. */
function write(raw: unknown, tools: Tools): { text: string; lost: readonly string[] } {
  const input = z.object({ format: z.string() }).parse(raw);
  const format = formats.find((one) => one.id === input.format);
  if (!format) throw new Error(`There is no format “${input.format}”.`);
  return written(format, need(tools.doc), tools.kinds);
}

const ids = z.array(z.string());

/** What is handed over of a file: as a page with its picture, as one sheet in SVG, or as all sheets of its poster. */
function handover(raw: unknown, tools: Tools): { page?: string; svg?: string; sheets?: readonly Sheet[] } {
  const facts = z.object({ revision: z.int(), author: z.string(), message: z.string(), at: z.string(), project: z.string() });
  const fonts = z.object({ regular: z.string(), bold: z.string(), mono: z.string() });
  const input = byProfile.extend({ facts, fonts, theme: z.enum(['paper', 'night']), scheme: schemeSchema, as: z.enum(['page', 'svg', 'sheets']) }).parse(raw);
  const doc = need(tools.doc);
  const colors = sheetColors[input.theme];
  const told = handoverOf(doc, tools.kinds, input.profile, input.facts);
  tools.progress(0.5, 'drawing');
  if (input.as === 'page') return { page: handoverPage(told, graphSvg(doc, tools.kinds, colors, input.scheme), colors, input.fonts) };
  const sheets = posterSheets(doc, tools.kinds, told, colors, input.scheme);
  if (input.as === 'sheets') return { sheets };
  return { svg: sheetSvg(sheets[0]!, { unit: 'pt', fonts: input.fonts, title: told.title }) };
}

/** What some nodes depend on and what depends on them; between two also the ways from one to the other. */
function inspectNodes(raw: unknown, tools: Tools): { dependencies: Dependencies; paths: Paths | undefined } {
  const input = z.object({ ids }).parse(raw);
  const doc = need(tools.doc);
  const [one, other, ...more] = input.ids;
  const paths = one !== undefined && other !== undefined && more.length === 0 ? pathsBetween(doc, tools.kinds, one, other) : undefined;
  return { dependencies: dependencies(doc, tools.kinds, input.ids), paths };
}

/** What house rules find: those of a profile, or the usual ones; of these the ones that are named. */
function findings(raw: unknown, tools: Tools): readonly Finding[] {
  const input = byProfile.extend({ rules: ids.optional(), facts: factsSchema }).parse(raw);
  const asked = askedBy(input.profile).filter(({ rule }) => input.rules === undefined || input.rules.includes(rule.id));
  return checkAsked(need(tools.doc), tools.kinds, asked, input.facts);
}

/** The errors by a profile that an edit adds to the document. */
function addedBy(raw: unknown, tools: Tools): readonly Finding[] {
  const input = byProfile.extend({ edit: z.unknown() }).parse(raw);
  const doc = need(tools.doc);
  const { kinds } = tools;
  return addedErrors({ doc, kinds }, { doc: apply(doc, editSchema.parse(input.edit) as Edit), kinds }, input.profile);
}

function report(raw: unknown, tools: Tools): Readability {
  return readability(need(tools.doc), tools.kinds, z.object({ graph: id }).parse(raw).graph);
}

/** What would help in one of the worst places of a graph, or without one the whole of it, each tried. */
function remedies(raw: unknown, tools: Tools): Promise<readonly Tried[]> {
  const input = z.object({ graph: id, score: z.number(), place: z.custom<Place>((value) => typeof value === 'object' && value !== null).optional() }).parse(raw);
  return tryRemedies(need(tools.doc), tools.kinds, input.graph, input.place, input.score, (fraction) => tools.progress(fraction, 'trying'));
}

/** Every difference of the document from another one, which comes as file text with its own catalogue. */
function compare(raw: unknown, tools: Tools): Comparison {
  const input = z.object({ before: z.string(), catalogue: catalogueSchema }).parse(raw);
  return compareDocs(readStored(input.before), need(tools.doc), { before: new Kinds(input.catalogue), after: tools.kinds });
}

/** What measured nodes cost; times come by path. */
function costs(raw: unknown, tools: Tools): Cost {
  const input = z.object({ byPath: z.record(z.string(), z.number()) }).parse(raw);
  const doc = need(tools.doc);
  return cost(doc, tools.kinds, timesByPath(doc, input.byPath).times);
}

function map(raw: unknown, tools: Tools): FileMap {
  const input = z.object({ links: fileLinksSchema, assets: z.boolean(), fewest: z.boolean() }).parse(raw);
  return fileMap(input.links, tools.kinds, input);
}

/** Everything heavy, by name; the same in the browser's workers, the server's threads and the command line. */
export const tasks = {
  plan,
  review: reviewEdit,
  proposal,
  worst,
  script,
  scriptOptions,
  advice,
  regions,
  published,
  measureLinks,
  routes,
  neighbours,
  inspect,
  note,
  judge,
  inspectNodes,
  findings,
  addedBy,
  report,
  remedies,
  compare,
  costs,
  map,
  verdict,
  revise,
  recipe,
  bring,
  read,
  write,
  handover,
} as const;
export type TaskName = keyof typeof tasks;
export type TaskResult<T extends TaskName> = Awaited<ReturnType<(typeof tasks)[T]>>;
