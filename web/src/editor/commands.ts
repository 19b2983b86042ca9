import { indexOf } from '@basitax/core/document/doc';
import { must } from '@basitax/core/must';
import type { Named } from '@basitax/core/operation';
import { type OperationId, operations } from '@basitax/core/operations';
import { isDirty } from '@basitax/core/session/session';
import { toast } from 'sonner';
import { useTheme } from '../theme.ts';
import { copy, mustAsk, paste, perform, repeat, whyNot } from './actions.ts';
import { areaOf, type Command, own, someSelected } from './command.ts';
import { openDialog } from './dialogs.ts';
import { frameCommands, inPlaceFor } from './frame-commands.ts';
import { redo, undo, whyNoRedo, whyNoUndo } from './history.ts';
import { writeInPlace } from './in-place.ts';
import { inspectCommands } from './inspect-commands.ts';
import {
  toggleAsksFirst,
  toggleLeft,
  toggleOrder,
  turnDrag,
  turnGrid,
  turnOverview,
  turnSnap,
  turnStep,
  useLayout,
} from './layout.ts';
import { linkCommands } from './link-commands.ts';
import { whyInPreview, whyNoEdit, whyNoSave } from './may-edit.ts';
import { closeNeighbourhood, deepen, grow, openNeighbourhood, prune, switchPlaces } from './neighbourhood.ts';
import { presentation } from './presentation.ts';
import type { Bindings } from './shortcuts/bindings.ts';
import { type Editing, enterGraph, goBack, goForward, lookAt, remember, useEditor, zoomTo } from './store.ts';
import { tableIn } from './table-in.ts';
import { wireCommands } from './wire-commands.ts';

const { getState } = useEditor;

const ofOperation = (one: Named<OperationId>): Command => ({
  id: one.id,
  title: one.title,
  about: one.about,
  area: must(areaOf.get(one.area)),
  keys: presentation[one.id].keys ?? [],
  dim: (state) => whyNot(one, state),
  run() {
    const dialog = presentation[one.id].by;
    const inPlace = inPlaceFor(one.id);
    if (inPlace) writeInPlace(inPlace);
    else if (dialog !== undefined && dialog !== 'canvas') openDialog(dialog);
    else if (mustAsk(one)) openDialog({ operation: one.id });
    else void perform(one.id);
  },
});

const selectedHost = ({ doc, selection }: Pick<Editing, 'doc' | 'selection'>) =>
  selection.length === 1 ? [doc.nodes.get(must(selection[0]))].find((node) => node?.inner !== undefined) : undefined;
const needsHost = (state: Editing): string | undefined =>
  selectedHost(state) ? undefined : 'Select one nested graph first.';
const inView = (state: Editing): string | undefined =>
  state.surroundings ? undefined : 'Open the neighbourhood of a node first.';
const show = (what: 'all' | 'selection'): void => {
  remember();
  lookAt(what);
};

function enter(): void {
  const inner = selectedHost(getState())?.inner;
  if (inner !== undefined) enterGraph(inner);
}

function leave(): void {
  const { doc, graph } = getState();
  const host = indexOf(doc).hostOf(graph);
  if (host) enterGraph(host.graph, [host.id]);
}

/** Closes what is open of the selection, or of all; opens it where nothing is. */
function turnOpen(): void {
  const { doc, graph, selection } = getState();
  const chosen = selection.flatMap((id) => doc.nodes.get(id) ?? []);
  const nodes = chosen.length > 0 ? chosen : indexOf(doc).nodesIn(graph);
  void perform(nodes.some((node) => !node.closed) ? 'close' : 'open');
}

function copyAddress(): void {
  void navigator.clipboard.writeText(location.href).then(
    () => toast('The address of this view is copied.'),
    () => toast.error('The clipboard cannot be written here; copy the address from the browser.'),
  );
}

const theme = (choice: 'paper' | 'night' | 'system') => () => useTheme.getState().choose(choice);

const applicationCommands: readonly Command[] = [
  ...wireCommands,
  ...linkCommands,
  ...frameCommands,
  ...inspectCommands,
  own('edit', 'undo', 'Undo', 'Takes back what was done last.', ['e u'], undo, whyNoUndo),
  own('edit', 'redo', 'Redo', 'Does again what was taken back.', ['e r'], redo, whyNoRedo),
  own(
    'edit',
    'history',
    'History',
    'Everything that you did here, by name, to go back to or forward again; shown or hidden.',
    ['e y'],
    () => toggleLeft('history'),
  ),
  own(
    'edit',
    'copy',
    'Copy',
    'Copies the selection, as text that can be sent and pasted.',
    ['e c'],
    () => void copy(),
    someSelected,
  ),
  own(
    'edit',
    'paste-here',
    'Paste',
    'Puts what was copied at the pointer, or in the middle.',
    ['e v'],
    () => void paste(),
    whyNoEdit,
  ),
  own(
    'view',
    'asks-first',
    'Ask before inputs lose what they take',
    'Shows an act first that would leave inputs open; again, and it is done at once and told.',
    ['v q'],
    () => {
      toggleAsksFirst();
      toast(
        useLayout.getState().asksFirst
          ? 'Acts that would leave inputs open are shown first.'
          : 'Acts that leave inputs open are done at once, and told.',
        { duration: 3000 },
      );
    },
  ),
  own('edit', 'repeat', 'Repeat', 'Does the last act again, on what is selected now.', ['.'], () => void repeat()),
  own(
    'select',
    'order',
    'Show the order of selection',
    'Writes on each selected node the number of its turn, or takes the numbers off.',
    ['s o'],
    toggleOrder,
  ),
  own(
    'select',
    'drag-box',
    'Drag selects a box',
    'A plain drag on the ground draws a box that selects; again, and it pans.',
    ['s b'],
    () => turnDrag('box'),
  ),
  own(
    'select',
    'drag-lasso',
    'Drag selects with a lasso',
    'A plain drag on the ground draws a lasso that selects; again, and it pans.',
    ['s l'],
    () => turnDrag('lasso'),
  ),
  own(
    'view',
    'show',
    'Show the selection, or all',
    'Moves the window so that what is selected fits, or everything where nothing is.',
    ['v z', 'z'],
    () => show(getState().selection.length > 0 ? 'selection' : 'all'),
  ),
  own('view', 'show-all', 'Show everything', 'Moves the window so that the whole graph fits.', ['v a'], () =>
    show('all'),
  ),
  own('view', 'full-size', 'Zoom to 100 %', 'Shows nodes at their own size.', ['v 1'], () => zoomTo(1)),
  own(
    'view',
    'turn-open',
    'Open or close',
    'Closes the selected nodes, or all; opens them where they are closed.',
    ['v o', 'o'],
    turnOpen,
    whyNoEdit,
  ),
  own(
    'view',
    'neighbourhood',
    'Neighbourhood',
    'Shows only the selected nodes and what is wired to them; again, and the whole graph is back.',
    ['v n', 'n'],
    openNeighbourhood,
    (state) => whyInPreview(state) ?? (state.surroundings ? undefined : someSelected(state)),
  ),
  own(
    'view',
    'more-inputs',
    'Neighbourhood: more inputs',
    'Shows the inputs one step deeper.',
    ['v ,'],
    () => deepen('up', 1),
    inView,
  ),
  own(
    'view',
    'fewer-inputs',
    'Neighbourhood: fewer inputs',
    'Shows the inputs one step less deep.',
    ['v ;'],
    () => deepen('up', -1),
    inView,
  ),
  own(
    'view',
    'more-outputs',
    'Neighbourhood: more outputs',
    'Shows the outputs one step deeper.',
    ['v .'],
    () => deepen('down', 1),
    inView,
  ),
  own(
    'view',
    'fewer-outputs',
    'Neighbourhood: fewer outputs',
    'Shows the outputs one step less deep.',
    ['v :'],
    () => deepen('down', -1),
    inView,
  ),
  own(
    'view',
    'grow',
    'Neighbourhood: grow here',
    'Adds what is wired to the selected nodes.',
    ['v g'],
    grow,
    (state) => inView(state) ?? someSelected(state),
  ),
  own(
    'view',
    'prune',
    'Neighbourhood: prune here',
    'Takes the selected nodes out of the view, and what lies only behind them.',
    ['v x'],
    prune,
    (state) => inView(state) ?? someSelected(state),
  ),
  own(
    'view',
    'places',
    'Neighbourhood: other places',
    'Switches between the layout that it makes and places set by hand; neither is lost.',
    ['v f'],
    switchPlaces,
    inView,
  ),
  own(
    'view',
    'whole',
    'Neighbourhood: whole graph',
    'Closes the view; the file is as it was.',
    ['v w'],
    closeNeighbourhood,
    inView,
  ),
  own('view', 'outline', 'Outline', 'The tree of nested graphs, frames and nodes, shown or hidden.', ['v l', 't'], () =>
    toggleLeft('outline'),
  ),
  own(
    'view',
    'overview',
    'Overview map',
    'Always, never, or by itself while nodes lie outside the window.',
    ['v m'],
    turnOverview,
  ),
  own(
    'view',
    'grid',
    'Grid: points, lines, none',
    'How the grid on the ground is drawn, one after the other.',
    ['v r'],
    () => {
      turnGrid();
      toast(`Grid: ${useLayout.getState().grid}.`, { duration: 1500 });
    },
  ),
  own('view', 'grid-step', 'Grid: next step', 'How far its lines are apart: 10, 20, 40 or 80 pixels.', ['v +'], () => {
    turnStep();
    toast(`Grid of ${useLayout.getState().step} px.`, { duration: 1500 });
  }),
  own(
    'view',
    'snap-drag',
    'Snapping: off, neighbours, grid',
    'What nodes in hand snap to; Alt held while dragging turns it off.',
    ['v b'],
    () => {
      turnSnap();
      const { snap } = useLayout.getState();
      toast(
        snap === 'off' ? 'Snapping is off.' : `Nodes in hand snap to ${snap === 'grid' ? 'the grid' : 'neighbours'}.`,
        { duration: 1500 },
      );
    },
  ),
  own('view', 'paper', 'Theme: paper', 'Warm paper and ink.', ['v 2'], theme('paper')),
  own('view', 'night', 'Theme: night', 'Neutral grey for dark rooms.', ['v 3'], theme('night')),
  own('view', 'system', 'Theme: as the system', 'Paper or night, as the system says.', ['v 4'], theme('system')),
  own(
    'go',
    'find',
    'Find and go',
    'Nodes, frames and nested graphs by part of what they are called, in the whole file.',
    ['g f', '/'],
    () => openDialog('find'),
    whyInPreview,
  ),
  own(
    'go',
    'back',
    'Back',
    'To the place before the last jump.',
    ['g b'],
    goBack,
    (state) => whyInPreview(state) ?? (state.been.length === 0 ? 'There was no jump yet.' : undefined),
  ),
  own(
    'go',
    'forward',
    'Forward',
    'To the place that was gone back from.',
    ['g n'],
    goForward,
    (state) => whyInPreview(state) ?? (state.ahead.length === 0 ? 'There is nothing ahead.' : undefined),
  ),
  own(
    'go',
    'leave',
    'Leave the nested graph',
    'Up to the graph that holds this one.',
    ['g u', 'u'],
    leave,
    (state) =>
      whyInPreview(state) ?? (indexOf(state.doc).hostOf(state.graph) ? undefined : 'This is the outermost graph.'),
  ),
  own(
    'go',
    'enter',
    'Enter the nested graph',
    'Into the graph that the selected node holds.',
    ['g e'],
    enter,
    (state) => whyInPreview(state) ?? needsHost(state),
  ),
  own(
    'go',
    'peek',
    'Peek into the nested graph',
    'Shows what the selected node holds, without entering it.',
    ['g p'],
    () => openDialog({ peek: must(selectedHost(getState())).id }),
    needsHost,
  ),
  own('go', 'save-view', 'Save this view', 'Keeps graph, place and zoom under a name, to come back to.', ['g s'], () =>
    openDialog('save-view'),
  ),
  own('go', 'views', 'Saved views', 'The places that you have kept in this file, to go back to.', ['g v'], () =>
    openDialog('views'),
  ),
  own(
    'go',
    'address',
    'Copy the address of this view',
    'A link that lands here: file, graph, selection and window.',
    ['g a'],
    copyAddress,
  ),
  own(
    'app',
    'save',
    'Save a revision',
    'Keeps what was changed, with a word on why.',
    ['b s'],
    () => openDialog('save'),
    (state) => whyNoSave(state, isDirty(state)),
  ),
  own('app', 'revisions', 'Revisions', 'Who changed what, when and why; look at one, or restore it.', ['b r'], () =>
    openDialog('revisions'),
  ),
  own(
    'app',
    'script',
    'Script',
    'Reads and changes many nodes by a script, one’s own or one of the library: first a dry run, then as one step.',
    ['b c'],
    () => toggleLeft('script'),
  ),
  own('app', 'table-out', 'Table out', 'Chosen parameters of chosen nodes as CSV, for a spreadsheet.', ['b o'], () =>
    openDialog('table-out'),
  ),
  own(
    'app',
    'table-in',
    'Table in',
    'Reads an edited CSV back: what it would change is shown first, each row that cannot be taken by its line.',
    ['b i'],
    tableIn,
    whyNoEdit,
  ),
  own('app', 'palette', 'All commands', 'Everything there is to do, by name.', ['b p'], () => openDialog('palette')),
  own('app', 'shortcuts', 'Shortcuts', 'Which keys do what, to be changed or turned off.', ['b k'], () =>
    openDialog('shortcuts'),
  ),
];

/** Everything there is to do, made from the registry and what the application adds. */
export const commands: readonly Command[] = [
  ...operations.filter((one) => presentation[one.id].by !== 'canvas').map(ofOperation),
  ...applicationCommands,
];

const byId = new Map(commands.map((command) => [command.id, command]));
export const commandById = (id: string): Command | undefined => byId.get(id);

export const usualKeys: Bindings = new Map(commands.map((command) => [command.id, command.keys]));

/** Does a command, or says why it cannot be done now. */
export function runCommand(id: string): void {
  const command = byId.get(id);
  const reason = command?.dim(getState());
  if (reason) toast(`${must(command).title}: ${reason}`, { duration: 3500 });
  else command?.run();
}
