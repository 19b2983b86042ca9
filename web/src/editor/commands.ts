import { indexOf } from '@basitax/core/document/doc';
import { must } from '@basitax/core/must';
import type { Named } from '@basitax/core/operation';
import { type OperationId, operations } from '@basitax/core/operations';
import { isDirty } from '@basitax/core/session/session';
import { toast } from 'sonner';
import { useTheme } from '../theme.ts';
import { copyText } from '../ui/copy.ts';
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
import { openMenuByKey } from './menu/menu.ts';
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

const theme = (choice: 'paper' | 'night' | 'system') => () => useTheme.getState().choose(choice);

const applicationCommands: readonly Command[] = [
  ...wireCommands,
  ...linkCommands,
  ...frameCommands,
  ...inspectCommands,
  own('edit', 'undo', 'Undo', 'Takes back the last act.', ['e u'], undo, whyNoUndo),
  own('edit', 'redo', 'Redo', 'Repeats the act that was undone.', ['e r'], redo, whyNoRedo),
  own(
    'edit',
    'history',
    'History',
    'Shows or hides the list of your acts in this file, to go back or forward to any of them.',
    ['e y'],
    () => toggleLeft('history'),
  ),
  own(
    'edit',
    'copy',
    'Copy',
    'Copies the selection as text that you can paste here or send to others.',
    ['e c'],
    () => void copy(),
    someSelected,
  ),
  own(
    'edit',
    'paste-here',
    'Paste',
    'Pastes at the pointer, or in the middle of the window.',
    ['e v'],
    () => void paste(),
    whyNoEdit,
  ),
  own(
    'view',
    'asks-first',
    'Ask before inputs lose their source',
    'Turns on or off: acts that would leave inputs open are shown before they are done.',
    ['v q'],
    () => {
      toggleAsksFirst();
      toast(
        useLayout.getState().asksFirst
          ? 'Acts that would leave inputs open are now shown first.'
          : 'Acts that leave inputs open are now done at once, with a message.',
        { duration: 3000 },
      );
    },
  ),
  own('edit', 'repeat', 'Repeat', 'Repeats the last act on the current selection.', ['.'], () => void repeat()),
  own(
    'select',
    'order',
    'Show the order of selection',
    'Shows or hides the selection order as a number on each selected node.',
    ['s o'],
    toggleOrder,
  ),
  own(
    'select',
    'drag-box',
    'Drag selects a box',
    'Turns on or off: dragging on the ground selects with a box instead of panning.',
    ['s b'],
    () => turnDrag('box'),
  ),
  own(
    'select',
    'drag-lasso',
    'Drag selects with a lasso',
    'Turns on or off: dragging on the ground selects with a lasso instead of panning.',
    ['s l'],
    () => turnDrag('lasso'),
  ),
  own(
    'app',
    'menu',
    'Menu of the selection',
    'Opens the menu of what is selected, or of the graph, as a right click does.',
    ['b m'],
    openMenuByKey,
  ),
  own(
    'view',
    'show',
    'Show the selection, or all',
    'Fits the selection in the window, or the whole graph if nothing is selected.',
    ['v z', 'z'],
    () => show(getState().selection.length > 0 ? 'selection' : 'all'),
  ),
  own('view', 'show-all', 'Show everything', 'Fits the whole graph in the window.', ['v a'], () => show('all')),
  own('view', 'full-size', 'Zoom to 100 %', 'Zooms to 100 %.', ['v 1'], () => zoomTo(1)),
  own(
    'view',
    'turn-open',
    'Open or close',
    'Collapses the selected nodes, or all nodes, to their title; opens them again if they are closed.',
    ['v o', 'o'],
    turnOpen,
    whyNoEdit,
  ),
  own(
    'view',
    'neighbourhood',
    'Neighbourhood',
    'Shows only the selected nodes and what is wired to them, or the whole graph again.',
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
    'Closes the view. The file is unchanged.',
    ['v w'],
    closeNeighbourhood,
    inView,
  ),
  own('view', 'outline', 'Outline', 'Shows or hides the tree of nested graphs, frames and nodes.', ['v l', 't'], () =>
    toggleLeft('outline'),
  ),
  own(
    'view',
    'overview',
    'Overview map',
    'Always, never, or only while nodes lie outside the window.',
    ['v m'],
    turnOverview,
  ),
  own(
    'view',
    'grid',
    'Grid: points, lines, none',
    'Changes how the grid is drawn: points, lines or none.',
    ['v r'],
    () => {
      turnGrid();
      toast(`Grid: ${useLayout.getState().grid}.`, { duration: 1500 });
    },
  ),
  own(
    'view',
    'grid-step',
    'Grid: next step',
    'Changes the distance of the grid lines: 10, 20, 40 or 80 pixels.',
    ['v +'],
    () => {
      turnStep();
      toast(`Grid of ${useLayout.getState().step} px.`, { duration: 1500 });
    },
  ),
  own(
    'view',
    'snap-drag',
    'Snapping: off, neighbours, grid',
    'Changes what dragged nodes snap to. Hold Alt while dragging to turn snapping off.',
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
  own(
    'view',
    'system',
    'Theme: as the system',
    'Uses the light or dark theme of your system.',
    ['v 4'],
    theme('system'),
  ),
  own(
    'go',
    'find',
    'Find and go',
    'Finds nodes, frames and nested graphs in the whole file by part of their name.',
    ['g f', '/'],
    () => openDialog('find'),
    whyInPreview,
  ),
  own(
    'go',
    'back',
    'Back',
    'Returns to the place before the last jump.',
    ['g b'],
    goBack,
    (state) => whyInPreview(state) ?? (state.been.length === 0 ? 'No jumps yet.' : undefined),
  ),
  own(
    'go',
    'forward',
    'Forward',
    'Goes forward to the place that you came back from.',
    ['g n'],
    goForward,
    (state) => whyInPreview(state) ?? (state.ahead.length === 0 ? 'There is no place to go forward to.' : undefined),
  ),
  own(
    'go',
    'leave',
    'Leave the nested graph',
    'Goes up to the graph that contains this one.',
    ['g u', 'u'],
    leave,
    (state) =>
      whyInPreview(state) ?? (indexOf(state.doc).hostOf(state.graph) ? undefined : 'This is the outermost graph.'),
  ),
  own(
    'go',
    'enter',
    'Enter the nested graph',
    'Opens the graph inside the selected node.',
    ['g e'],
    enter,
    (state) => whyInPreview(state) ?? needsHost(state),
  ),
  own(
    'go',
    'peek',
    'Peek into the nested graph',
    'Shows the inside of the selected node without entering it.',
    ['g p'],
    () => openDialog({ peek: must(selectedHost(getState())).id }),
    needsHost,
  ),
  own(
    'go',
    'save-view',
    'Save this view',
    'Saves this place and zoom under a name, so that you can come back.',
    ['g s'],
    () => openDialog('save-view'),
  ),
  own('go', 'views', 'Saved views', 'Lists the views that you saved in this file.', ['g v'], () => openDialog('views')),
  own(
    'go',
    'address',
    'Copy the address of this view',
    'Copies a link to this file, graph, selection and place.',
    ['g a'],
    () => copyText(location.href, 'The address of this view is copied.'),
  ),
  own(
    'app',
    'save',
    'Save a revision',
    'Saves your changes as a revision, with a message.',
    ['b s'],
    () => openDialog('save'),
    (state) => whyNoSave(state, isDirty(state)),
  ),
  own(
    'app',
    'revisions',
    'Revisions',
    'Shows who changed what, when and why. Open a revision, or restore it.',
    ['b r'],
    () => openDialog('revisions'),
  ),
  own(
    'app',
    'script',
    'Script',
    'Reads and changes many nodes with a script, your own or one from the library. A dry run comes first.',
    ['b c'],
    () => toggleLeft('script'),
  ),
  own(
    'app',
    'table-out',
    'Table out',
    'Exports chosen parameters of chosen nodes as CSV for a spreadsheet.',
    ['b o'],
    () => openDialog('table-out'),
  ),
  own(
    'app',
    'table-in',
    'Table in',
    'Imports an edited CSV. You see the changes first, and each row that cannot be used, with its line.',
    ['b i'],
    tableIn,
    whyNoEdit,
  ),
  own('app', 'palette', 'All commands', 'Finds any command by name.', ['b p'], () => openDialog('palette')),
  own('app', 'shortcuts', 'Shortcuts', 'Lists all keys. Change them or turn them off.', ['b k'], () =>
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
