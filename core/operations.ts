import { z } from 'zod';
import type { Doc, Selection } from './document/doc.ts';
import { selectedNodes, tableOf } from './document/doc.ts';
import type { Id } from './document/ids.ts';
import type { Edit } from './edit/step.ts';
import type { Finding } from './finding.ts';
import type { Context, Named, Operation, Outcome } from './operation.ts';
import { aligns, distributes, gaps, level, snap } from './operations/align.ts';
import { arrange, makeRoom, settle, toGrid, unstack } from './operations/arrange.ts';
import { removeAttribute, setAttribute } from './operations/attributes.ts';
import { captions } from './operations/captions.ts';
import { color } from './operations/color.ts';
import { details, setPicture, setPictures } from './operations/detail.ts';
import { deletes, duplicate, label, pasteText, rename, setParameter } from './operations/edit.ts';
import { frameNote, frameSelection, frameTitle } from './operations/frame.ts';
import { folds, frameFit, frameOrders, frameSize, frameSpacing } from './operations/frame-shape.ts';
import { addNode, convert, insert, pullOut } from './operations/insert.ts';
import { giveKinds } from './operations/learned.ts';
import { beacon, linkAdvised, toLinks, toWires } from './operations/link.ts';
import { withFramesApart, withRoom } from './operations/making-room.ts';
import { merge } from './operations/merge.ts';
import { move, nudge, pins } from './operations/move.ts';
import { nestSelection, portPlace, unnestSelection } from './operations/nest.ts';
import { addMark, addNote, noteChange } from './operations/note.ts';
import { leaveFrame, toFrame, toGraph } from './operations/place.ts';
import { proposeFrames } from './operations/propose.ts';
import { reroute, rerouteOutputs, rerouteSizes } from './operations/reroute.ts';
import { bypass, clearOut, replaceKind, reSource, shareValue, swapInputs } from './operations/rewire.ts';
import { selects } from './operations/select.ts';
import { makeSet, renameSet, selectSet, setMembers, switchSet } from './operations/sets.ts';
import { addSetting, chooseSetting, locks, removeSetting, renameSetting, resetSetting } from './operations/settings.ts';
import { makeOwnGraph, readWith, updateShared, useSharedKind } from './operations/shared.ts';
import { spacing, spread } from './operations/spacing.ts';
import { feedScopeChoice, retune, standingFeed, tap } from './operations/tap.ts';
import { flow, mirrors, rotate, wireStyle } from './operations/turn.ts';
import { carryEnd, components, connect, connectSelected, cutWires, switchWires } from './operations/wire.ts';
import { Refused, type Saying } from './said.ts';
import { refuse, say } from './sentences.ts';
import { foldedView, selectionInView, unfoldEdit } from './structure/fold.ts';
import { withFollowers } from './structure/followers.ts';
import { loopByExpression } from './wiring/check.ts';
import { guard, guarded } from './wiring/guard.ts';
import { keepReadings } from './wiring/keep-readings.ts';
import { keepSupplied } from './wiring/keep-supplied.ts';

const all = [
  arrange,
  ...aligns,
  ...distributes,
  ...gaps,
  level,
  settle,
  unstack,
  spacing,
  spread,
  ...mirrors,
  rotate,
  makeRoom,
  snap,
  toGrid,
  flow,
  move,
  nudge,
  ...pins,
  rename,
  label,
  captions,
  setParameter,
  setAttribute,
  removeAttribute,
  addSetting,
  chooseSetting,
  renameSetting,
  removeSetting,
  resetSetting,
  ...locks,
  ...deletes,
  duplicate,
  pasteText,
  toGraph,
  toFrame,
  frameSelection,
  frameTitle,
  frameNote,
  proposeFrames,
  leaveFrame,
  ...folds,
  frameSize,
  frameFit,
  ...frameOrders,
  frameSpacing,
  nestSelection,
  unnestSelection,
  portPlace,
  useSharedKind,
  updateShared,
  makeOwnGraph,
  readWith,
  giveKinds,
  color,
  addNote,
  addMark,
  noteChange,
  makeSet,
  ...setMembers,
  renameSet,
  selectSet,
  switchSet,
  connect,
  connectSelected,
  convert,
  carryEnd,
  addNode,
  insert,
  pullOut,
  cutWires,
  switchWires,
  bypass,
  swapInputs,
  replaceKind,
  reSource,
  reroute,
  rerouteOutputs,
  rerouteSizes,
  components,
  shareValue,
  clearOut,
  merge,
  toLinks,
  toWires,
  linkAdvised,
  beacon,
  tap,
  retune,
  standingFeed,
  feedScopeChoice,
  wireStyle,
  ...selects,
  ...details,
  setPicture,
  setPictures,
] as const;

/** The id of an operation: whoever has something for each of them is told by the compiler of one that is missing. */
export type OperationId = (typeof all)[number]['id'];

/**
 * The one registry: palette, toolbar, shortcuts, forms, command line, HTTP API, recipes and scripts are made from it.
 */
export const operations: readonly Named<OperationId>[] = all;

const byId = new Map<string, Operation>(operations.map((one) => [one.id, one]));

/** Throws Refused where there is no such operation. */
export function operationById(id: string): Operation {
  const found = byId.get(id);
  if (!found) throw refuse('no-operation', { id, what: [...byId.keys()] });
  return found;
}

/** Why an operation cannot be done on this selection now, as a sentence, or undefined where it can. */
export function needProblem(one: Operation, doc: Doc, selection: Selection): string | undefined {
  const { what, least, most } = one.needs;
  if (what === 'nothing') return undefined;
  const count = what === 'nodes' ? selectedNodes(doc, selection).length : selection.items.length;
  const noun = what === 'nodes' ? 'node' : 'item';
  if (count < least)
    return least > 1
      ? `Select at least ${least} ${noun}s first.`
      : what === 'nodes'
        ? 'Select a node first.'
        : 'Select something first.';
  if (most !== undefined && count > most)
    return `Select no more than ${most === 1 ? `one ${noun}` : `${most} ${noun}s`}.`;
  return undefined;
}

/** As `operate`, for those who wait for many things: what it throws comes as a rejection. */
export async function runOperation(
  id: string,
  context: Context,
  doc: Doc,
  selection: Selection,
  options: unknown = {},
): Promise<Outcome> {
  return operate(id, context, doc, selection, options);
}

/**
 * Checks the options against the operation's schema and the selection against its needs, and runs it. Throws Refused
 * with one clear sentence.
 */
export function operate(id: string, context: Context, doc: Doc, selection: Selection, options: unknown = {}): Outcome {
  const one = operationById(id);
  if (!doc.graphs.has(selection.graph)) throw refuse('no-graph', { graph: selection.graph });
  const problem = needProblem(one, doc, selection);
  if (problem) throw refuse('selection-does-not-fit', { one: one.title, problem });
  const unknown = unknownOption(one, options);
  if (unknown) throw new Refused(unknown);
  const parsed = one.options.safeParse(options ?? {});
  if (!parsed.success) {
    const issue = parsed.error.issues[0];
    throw refuse('option-does-not-fit', { one: one.title, what: issue?.path.join('.'), issue: issue?.message });
  }
  // placing sees folded frames as the blocks that they are drawn as
  const view = one.area === 'arrange' ? foldedView(doc, context.kinds) : doc;
  const raw = one.run(
    { ...context, newId: freeIds(context.newId, doc) },
    view,
    view === doc ? selection : selectionInView(doc, view, selection),
    parsed.data,
  );
  const done = { ...raw, edit: unfoldEdit(doc, view, raw.edit) };
  const fed = parsed.data.supply === 'keep' ? supplied(doc, context, done) : done;
  const drawn = parsed.data.readings === 'keep' ? goneOnWith(fed, keepReadings(doc, context.kinds, fed.edit)) : fed;
  const isAsPut = one.room === 'none' || parsed.data.room === false;
  const roomy = isAsPut
    ? drawn
    : one.room === 'all'
      ? withRoom(doc, context.kinds, selection, drawn)
      : withFramesApart(doc, context.kinds, selection, drawn);
  const outcome = { ...roomy, edit: withFollowers(doc, context.kinds, roomy.edit) };
  const loop = loopByExpression(doc, context.kinds, outcome.edit);
  if (loop) throw new Refused(loop);
  const chosen = new Set(selection.items);
  const opens = (node: Id): boolean => one.opensInputs === true || (one.opensInputs === 'own' && chosen.has(node));
  return {
    ...outcome,
    report: guarded(outcome.report, guard(doc, context.kinds, outcome.edit, { opens, chosen })),
  };
}

/** An option that the operation does not have: a slip of the pen would otherwise be passed over in silence. */
function unknownOption(one: Operation, options: unknown): Saying | undefined {
  if (typeof options !== 'object' || options === null) return undefined;
  const known = Object.keys(one.options.shape);
  const name = Object.keys(options).find((key) => !known.includes(key));
  return name === undefined ? undefined : say('no-such-option', { one: one.title, name, known });
}

/** The outcome with what standing feeds gave before kept. */
const supplied = (doc: Doc, { kinds, newId }: Context, outcome: Outcome): Outcome =>
  goneOnWith(outcome, keepSupplied(doc, kinds, outcome.edit, freeIds(newId, doc)));

/** An outcome whose edit was gone on with, which is told too. */
const goneOnWith = (
  outcome: Outcome,
  { edit, findings }: { readonly edit: Edit; readonly findings: readonly Finding[] },
): Outcome => ({ edit, report: { ...outcome.report, findings: [...outcome.report.findings, ...findings] } });

/** The same seed gives the same row of ids; those that the document has already are passed over. */
function freeIds(newId: Context['newId'], doc: Doc): Context['newId'] {
  return (prefix) => {
    for (;;) {
      const id = newId(prefix);
      if (tableOf(doc, id) === undefined) return id;
    }
  };
}

/** The registry as data, for `basitax operations` and the HTTP API: options as JSON Schema with units and defaults. */
export function describeOperations() {
  return operations.map(({ id, title, area, about, needs, changesFunction, preview, options }) => ({
    id,
    title,
    area,
    about,
    needs,
    changesFunction,
    preview,
    options: z.toJSONSchema(options, { io: 'input' }),
  }));
}
