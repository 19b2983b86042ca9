import { giveRoom } from '../arrange/give-room.ts';
import type { Doc, Selection } from '../document/doc.ts';
import type { Json } from '../document/json.ts';
import type { Kinds } from '../document/kinds.ts';
import { apply, type Edit, type Step } from '../edit/step.ts';
import { Transaction } from '../edit/transaction.ts';
import type { Outcome, Report } from '../operation.ts';
import { foldedView } from '../structure/fold.ts';
import { plural } from '../words.ts';

/**
 * The outcome with what has to make room pushed aside, as the graph is drawn; says how many nodes that was, with those
 * that the operation pushed itself.
 */
export function withRoom(doc: Doc, kinds: Kinds, selection: Selection, outcome: Outcome): Outcome {
  const { edit: roomy, after } = pushed(doc, kinds, selection, outcome.edit, 'all');
  const chosen = new Set(selection.items);
  const isPushed = (id: string): boolean => {
    const [was, is] = [doc.nodes.get(id), after.nodes.get(id)];
    return was !== undefined && is !== undefined && !chosen.has(id) && (was.x !== is.x || was.y !== is.y);
  };
  const count = new Set(roomy.steps.flatMap((step) => (step.table === 'nodes' && isPushed(step.id) ? [step.id] : [])))
    .size;
  return {
    edit: roomy,
    report: count === 0 ? outcome.report : said(outcome.report, `${plural(count, 'node')} made room`),
  };
}

/**
 * The outcome with frames that it would lay on one another apart: nodes stand where they were put, frames never on
 * frames that they were clear of.
 */
export function withFramesApart(doc: Doc, kinds: Kinds, selection: Selection, outcome: Outcome): Outcome {
  if (!touchesFrames(doc, outcome.edit)) return outcome;
  const { edit: apart } = pushed(doc, kinds, selection, outcome.edit, 'frames');
  return apart === outcome.edit ? outcome : { edit: apart, report: said(outcome.report, 'frames made room') };
}

/** Does an edit touch a frame, or something in one? */
function touchesFrames(doc: Doc, { steps }: Edit): boolean {
  return steps.some((step) => {
    if (step.table === 'frames') return true;
    if (!mayResize(step)) return false;
    return (
      doc.nodes.get(step.id)?.frame !== undefined ||
      (step.type === 'add' ? hasFrame(step.value) : step.type === 'set' && step.path[0] === 'frame')
    );
  });
}

const hasFrame = (value: Json): boolean => typeof value === 'object' && value !== null && 'frame' in value;

/** The edit with what gives way, and the document after it. */
function pushed(
  doc: Doc,
  kinds: Kinds,
  { graph }: Selection,
  edit: Edit,
  among: 'all' | 'frames',
): { edit: Edit; after: Doc } {
  const after = apply(doc, edit);
  if (!edit.steps.some(mayResize) || !after.graphs.has(graph)) return { edit, after };
  const tx = new Transaction(after);
  for (const [id, { x, y }] of giveRoom(foldedView(doc, kinds), foldedView(after, kinds), kinds, graph, among))
    if (after.nodes.has(id)) tx.move(id, x, y);
  return tx.edit.steps.length === 0
    ? { edit, after }
    : { edit: { ...edit, steps: [...edit.steps, ...tx.edit.steps] }, after: tx.doc };
}

/** Can a step move something, or make it larger? What parameters hold does not. */
const mayResize = (step: Step): boolean =>
  step.table === 'frames' || (step.table === 'nodes' && !(step.type === 'set' && step.path[0] === 'params'));

const said = (report: Report, more: string): Report => ({
  ...report,
  summary: `${report.summary.replace(/\.$/, '')}; ${more}.`,
});
