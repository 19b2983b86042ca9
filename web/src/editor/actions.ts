import type { Selection } from '@basitax/core/document/doc';
import type { Point } from '@basitax/core/document/geometry';
import type { Id } from '@basitax/core/document/ids';
import type { Json } from '@basitax/core/document/json';
import { apply, type Edit } from '@basitax/core/edit/step';
import { must } from '@basitax/core/must';
import { Cancelled, createContext, losses, type Operation, type Outcome, type Report } from '@basitax/core/operation';
import { needProblem, operationById, runOperation } from '@basitax/core/operations';
import { Refused } from '@basitax/core/said';
import { lastSerial } from '@basitax/core/session/history';
import { copyText } from '@basitax/core/structure/clipboard';
import { endLost, expressionLost, inputOpened } from '@basitax/core/wiring/guard';
import { feedKept } from '@basitax/core/wiring/keep-supplied';
import { valueChanged } from '@basitax/core/wiring/share';
import { toast } from 'sonner';
import { messageOf } from '../ui/attempt.tsx';
import { measureRunner, workRunner } from '../work/runner.ts';
import { openDialog } from './dialogs.ts';
import { undo, whereIs } from './history.ts';
import { withJob } from './job.ts';
import { useLayout } from './layout.ts';
import { whyNoAct } from './may-edit.ts';
import { refuse } from './sentences.ts';
import { commit, type Editing, lookAt, useEditor, viewControl } from './store.ts';

const { getState, setState } = useEditor;
/** Two people who plan the same act make different ids; the same plan made again makes the same. */
export const plannedSeed = crypto.getRandomValues(new Int32Array(1))[0] ?? 1;
const seed = (): number => crypto.getRandomValues(new Int32Array(1))[0] ?? 1;

const selectionOf = (state: Editing) => ({ graph: state.graph, items: state.selection });

/** Why an operation cannot be done now, as a sentence, or undefined where it can. Shown where it is offered. */
export function whyNot(one: Operation, state: Editing): string | undefined {
  if (!one.selects) {
    const no = whyNoAct(state);
    if (no) return no;
    if (state.surroundings && one.area === 'arrange' && one.id !== 'pin' && one.id !== 'unpin')
      return 'This does not work in a neighbourhood view. Show the whole graph first.';
  }
  return needProblem(one, state.doc, selectionOf(state));
}

/** Options that have to be asked for, since they have no default. */
export function mustAsk(one: Operation): boolean {
  return one.asks === true || !one.options.safeParse({}).success;
}

/**
 * Says what was done. Its Undo takes back that act and no other: it is offered as long as nothing was done after it,
 * and what it says goes with the act when that is undone. What has nothing more to say goes when something else is
 * done.
 */
export function tell(report: Report, undoable = true): void {
  const serial = undoable ? lastSerial(getState()) : undefined;
  const worth = report.findings.filter(
    ({ severity, rule }) => severity !== 'info' || rule === inputOpened || report.findings.length < 4,
  );
  const isPlain = worth.length === 0;
  // the summary has counts and names already: a few examples are enough beside the whole list
  const few = worth.length > 4 ? 2 : 4;
  const shown = worth.slice(0, few).map((item) => item.message);
  const list =
    worth.length > 4
      ? {
          label: `List all ${worth.length}`,
          onClick: () => openDialog({ report: { ...report, findings: worth }, title: report.summary, act: serial }),
        }
      : undefined;
  const kept = list ? undefined : report.findings.find(({ rule, fix }) => rule === feedKept && fix);
  const narrow = kept?.fix && {
    label: 'Narrow it',
    onClick: () =>
      void perform(must(kept.fix).operation, kept.fix?.options as Record<string, unknown>, kept.fix?.selection),
  };
  const more = list ? ` … and ${worth.length - few} more.` : '';
  const say = losses(report).length > 0 ? toast.warning : toast.message;
  const show = (action: { label: string; onClick: () => void } | undefined, id?: string | number): string | number =>
    isPlain
      ? toast(report.summary, { duration: undoable ? 2500 : 1500, action })
      : say(report.summary, {
          description: `${shown.join(' ')}${more}`,
          duration: 9000,
          action,
          cancel: list ?? narrow,
          ...(id !== undefined && { id }),
        });
  if (serial === undefined) {
    show(undefined);
    return;
  }
  const id = show({ label: 'Undo', onClick: () => whereIs(serial) === 'last' && undo() });
  const stop = useEditor.subscribe(() => {
    const where = whereIs(serial);
    if (where === 'last') return;
    stop();
    if (where === 'gone' || isPlain) toast.dismiss(id);
    else if (toast.getToasts().some((one) => one.id === id)) show(undefined, id);
  });
}

function complain(title: string, error: unknown): void {
  if (error instanceof Cancelled) toast('Cancelled; nothing was changed.', { duration: 2000 });
  else toast.error(title, { description: messageOf(error), duration: 8000 });
}

/** Does an operation of the registry, or shows what it would do where it rearranges. Refusals are told as messages. */
export async function perform(
  id: string,
  options: Readonly<Record<string, unknown>> = {},
  items?: readonly Id[],
): Promise<void> {
  const one = operationById(id);
  const state = getState();
  const selection = { graph: state.graph, items: items ?? state.selection };
  const isReplanned = state.preview?.operation === id;
  const reason = isReplanned
    ? needProblem(one, state.doc, selection)
    : (whyNot(one, { ...state, job: undefined, selection: selection.items }) ?? undefined);
  if (!isReplanned && !reason && items === undefined && one.id !== 'move') lastAct = { id, options };
  if (reason) {
    toast(`${one.title}: ${reason}`, { duration: 3500 });
    return;
  }
  if (one.preview === 'first') {
    await (one.live && state.doc.nodes.size <= mostLive
      ? planLive(one, options, selection.items)
      : plan(one, options, selection.items));
    return;
  }
  try {
    const { edit, report } = await run(one, state, selection, options);
    if (getState().doc !== state.doc) throw refuse('graph-changed');
    // with other options it is still looked at, whether it loses something or not
    if (isReplanned || isAskedFirst(one, report)) {
      showOutcome(one, options, selection.items, { edit, report });
      return;
    }
    commit(one.title, edit, report.select, report.summary);
    // a ghost of the old places, which fades
    const were = new Map(
      [...movedBy(edit)].flatMap((moved) => state.doc.nodes.get(moved) ?? []).map((node) => [node.id, node]),
    );
    if (were.size > 0 && were.size <= mostOutlines) setState({ outlines: { places: were, since: performance.now() } });
    tell(report, edit.steps.length > 0);
  } catch (error) {
    complain(one.title, error);
  }
}

/** What an act does that is asked about, whatever the act is for. */
const askedFirst: ReadonlySet<string> = new Set([inputOpened, expressionLost, endLost, valueChanged]);

/**
 * Is an act shown before it is done? Where it would lose something, or leave an input without what it takes; unless the
 * person wants to be told afterwards.
 */
function isAskedFirst(one: Operation, report: Report): boolean {
  if (!useLayout.getState().asksFirst) return false;
  const lost = losses(report);
  return one.preview === 'on-loss' ? lost.length > 0 : lost.some(({ rule }) => askedFirst.has(rule));
}

const largeDocument = 2000;

/** At once; what walks over all of a large document in a worker, so that nothing is held up. */
async function run(
  one: Operation,
  state: Editing,
  selection: Selection,
  options: Readonly<Record<string, unknown>>,
): Promise<Outcome> {
  if (!one.heavy || state.doc.nodes.size < largeDocument)
    return runOperation(one.id, createContext(state.kinds, seed()), state.doc, selection, options);
  return measureRunner.run(
    'plan',
    { operation: one.id, selection, options, seed: seed(), review: false },
    { doc: state.doc, catalogue: state.catalogue },
  );
}

/** What was done last, so that one key can do it again on another selection. */
let lastAct: { readonly id: string; readonly options: Readonly<Record<string, unknown>> } | undefined;

export async function repeat(): Promise<void> {
  if (lastAct) await perform(lastAct.id, lastAct.options);
  else toast('There is no act to repeat yet.', { duration: 2500 });
}

const mostOutlines = 400;

const movedBy = (edit: Edit): Set<Id> =>
  new Set(
    edit.steps.flatMap((step) =>
      step.type === 'set' && step.table === 'nodes' && (step.path[0] === 'x' || step.path[0] === 'y') ? [step.id] : [],
    ),
  );

/** Shows where an act that is done at once would put things, while it is pointed at; nothing where it moves nothing. */
export async function hint(id: string): Promise<void> {
  const one = operationById(id);
  const state = getState();
  if (
    one.preview !== 'at-once' ||
    one.area !== 'arrange' ||
    mustAsk(one) ||
    whyNot(one, state) ||
    state.selection.length > mostOutlines
  )
    return;
  try {
    const { edit } = await runOperation(id, createContext(state.kinds, 1), state.doc, selectionOf(state));
    const after = apply(state.doc, edit);
    const places = new Map([...movedBy(edit)].map((moved) => [moved, must(after.nodes.get(moved))]));
    if (getState().doc === state.doc && places.size > 0) setState({ outlines: { places } });
  } catch (error) {
    // what cannot be done is said when it is tried
    if (!(error instanceof Refused)) throw error;
  }
}

export function unhint(): void {
  if (getState().outlines?.since === undefined) setState({ outlines: undefined });
}

/** Plans an operation in a worker and shows it: what it moves, what it does to readability and function. */
async function plan(one: Operation, options: Readonly<Record<string, unknown>>, items: readonly Id[]): Promise<void> {
  const state = getState();
  const { doc, catalogue } = state;
  try {
    const asked = { operation: one.id, selection: { graph: state.graph, items }, options, seed: plannedSeed };
    const planned = await withJob(one.title, (job) =>
      workRunner.run('plan', { ...asked, review: true }, { doc, catalogue, ...job }),
    );
    if (getState().doc !== state.doc) throw refuse('graph-changed');
    const { preview, view } = getState();
    // a whole graph that is arranged is looked at as a whole; dropped, the window goes back
    const isFitted = one.id === 'arrange' && items.length === 0;
    const back = preview ? preview.back : isFitted ? view : undefined;
    setState({
      preview: {
        title: one.title,
        operation: one.id,
        options,
        planned,
        after: apply(state.doc, planned.edit),
        select: items,
        back,
      },
    });
    if (!preview && isFitted) fitSoon();
  } catch (error) {
    // a newer plan of the same preview takes the place of this one without a word
    if (!(error instanceof Cancelled && getState().job)) complain(one.title, error);
  }
}

/** Shows everything once the panel beside has taken its room. */
export function fitSoon(): void {
  setTimeout(() => lookAt('all'), 120);
}

/** Nodes of a document up to which a slider is followed on the page itself. */
const mostLive = 12_000;
let reviewLater: ReturnType<typeof setTimeout> | undefined;
let reviewing: AbortController | undefined;

/** Shows at once what a slider does. */
async function planLive(
  one: Operation,
  options: Readonly<Record<string, unknown>>,
  items: readonly Id[],
): Promise<void> {
  const { doc, kinds, graph } = getState();
  try {
    const outcome = await runOperation(one.id, createContext(kinds, plannedSeed), doc, { graph, items }, options);
    if (getState().doc === doc) showOutcome(one, options, items, outcome);
  } catch (error) {
    complain(one.title, error);
  }
}

/**
 * Shows what was planned already; what it does to readability and function is worked out as soon as it stands still.
 */
function showOutcome(
  one: Pick<Operation, 'title'> & { readonly id?: string },
  options: Readonly<Record<string, unknown>>,
  items: readonly Id[],
  outcome: Outcome,
): void {
  const { doc, graph, catalogue } = getState();
  clearTimeout(reviewLater);
  reviewing?.abort();
  const shown = {
    title: one.title,
    operation: one.id,
    options,
    planned: { ...outcome, review: undefined },
    after: apply(doc, outcome.edit),
    select: items,
  };
  setState({ preview: shown });
  const review = async (): Promise<void> => {
    const own = new AbortController();
    reviewing = own;
    try {
      const found = await workRunner.run(
        'review',
        { graph, edit: outcome.edit },
        { doc, catalogue, signal: own.signal },
      );
      const { preview } = getState();
      if (preview === shown && getState().doc === doc)
        setState({ preview: { ...preview, planned: { ...preview.planned, review: found } } });
    } catch (error) {
      if (!(error instanceof Cancelled)) complain(one.title, error);
    }
  };
  reviewLater = setTimeout(() => void review(), 300);
}

/**
 * Shows what an edit would do that no operation planned, such as that of a script: applied or dropped as any other
 * preview.
 */
export function showEdit(title: string, outcome: Outcome): void {
  showOutcome({ title }, {}, getState().selection, outcome);
}

export function applyPreview(): void {
  const { preview } = getState();
  if (!preview) return;
  const { edit, report } = preview.planned;
  commit(preview.title, edit, report.select, report.summary);
  tell(preview.planned.report);
}

export function dropPreview(): void {
  const { preview } = getState();
  if (preview?.back) viewControl.set(preview.back);
  clearTimeout(reviewLater);
  reviewing?.abort();
  getState().job?.cancel();
  setState({ preview: undefined, showsBefore: false });
}

let copied = '';

/** Copies the selection; the text is kept for `paste` where the clipboard may not be read. */
export function copy(): string | undefined {
  const state = getState();
  try {
    copied = copyText(state.doc, state.kinds, selectionOf(state));
    return copied;
  } catch (error) {
    complain('Copy', error);
    return undefined;
  }
}

/** Copies, and deletes; the wires around heal. */
export async function cut(): Promise<void> {
  if (copy() !== undefined) await perform('delete');
}

export async function paste(text?: string, incoming = false): Promise<void> {
  const { x, y } = pointerPlace() ?? windowMiddle();
  await perform('paste', { text: text || copied, x: Math.round(x), y: Math.round(y), incoming });
}

/**
 * Where something goes that has no place of its own: so that it stands in the middle of the window, in graph pixels.
 */
export function windowMiddle(): { x: number; y: number } {
  const { view, window } = getState();
  return { x: (window.width / 2 - view.x) / view.zoom - 60, y: (window.height / 2 - view.y) / view.zoom - 30 };
}

let readPlace: () => Point | undefined = () => undefined;
let heldPlace: Point | undefined;

/** Where the pointer is in the graph, if it is over it; where a menu was opened, while one is. */
export const pointerPlace = (): Point | undefined => heldPlace ?? readPlace();
/** Set by the canvas. */
export function onPointerPlace(read: typeof readPlace): void {
  readPlace = read;
}
/** Acts go to this place, wherever the pointer is, until another one or none is held. */
export function holdPlace(place: Point | undefined): void {
  heldPlace = place;
}

export function setParameter(items: readonly Id[], parameter: string, value: Json | undefined): Promise<void> {
  return perform('set-parameter', { parameter, ...(value !== undefined && { value }) }, items);
}
