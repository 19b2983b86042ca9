import { caption, nodePath, selectedNodes } from '@basitax/core/document/doc';
import { must } from '@basitax/core/must';
import { toast } from 'sonner';
import { api } from '../api/client.ts';
import { perform, pointerPlace, windowMiddle } from './actions.ts';
import { type Command, own, someSelected } from './command.ts';
import { openDialog } from './dialogs.ts';
import { type InPlace, writeInPlace } from './in-place.ts';
import { setLayout, toggleDiffers, toggleLeft, useLayout } from './layout.ts';
import { whyNoEdit } from './may-edit.ts';
import { type Editing, useEditor } from './store.ts';

const { getState } = useEditor;

/** What an operation that writes one thing writes in place, where one such thing is selected. */
export function inPlaceFor(operation: string): InPlace | undefined {
  const { doc, selection, graph } = getState();
  const [id] = selection;
  if (id === undefined || selection.length !== 1) return undefined;
  const node = doc.nodes.get(id);
  if (operation === 'rename' && node?.graph === graph) return { id, what: 'name' };
  if (operation === 'label' && node?.graph === graph) return { id, what: 'label' };
  if (operation === 'frame-title' && doc.frames.get(id)?.graph === graph) return { id, what: 'title' };
  if (operation === 'note-change' && doc.notes.has(id)) return { id, what: 'note' };
  return undefined;
}

/** Where a note goes that is tied to nothing. */
const place = (): { x: number; y: number } => {
  const { x, y } = pointerPlace() ?? windowMiddle();
  return { x: Math.round(x), y: Math.round(y) };
};

/** Puts an empty note and begins to write it. */
async function writeNote(): Promise<void> {
  await perform('note', place());
  const [id] = getState().selection;
  if (id !== undefined && getState().doc.notes.has(id)) writeInPlace({ id, what: 'note' });
}

const tied = ({ doc, selection }: Editing): { note: string; to: string } | undefined => {
  const note = selection.find((id) => doc.notes.has(id));
  const to = selection.find((id) => doc.nodes.has(id) || doc.frames.has(id));
  return note !== undefined && to !== undefined ? { note, to } : undefined;
};

function tie(): void {
  const both = tied(getState());
  if (both) void perform('note-change', { tiedTo: both.to }, [both.note]);
}

const mostRendered = 100;

/** Asks the render service for pictures of the selected nodes, as they are set now, and puts them on the nodes. */
async function renderPictures(): Promise<void> {
  const state = getState();
  const nodes = selectedNodes(state.doc, { graph: state.graph, items: state.selection })
    .filter((node) => !node.kind.startsWith('std.'))
    .slice(0, mostRendered);
  if (nodes.length === 0) {
    toast('Select nodes that compute something first.', { duration: 3000 });
    return;
  }
  const waiting = toast.loading(`Rendering ${nodes.length} nodes …`);
  try {
    const rendered = await api.render(
      nodes.map((node) => ({
        path: nodePath(state.doc, node),
        kind: node.kind,
        values: state.kinds.functionValues(node),
      })),
    );
    await perform(
      'set-pictures',
      { pictures: rendered.flatMap(({ picture }, i) => (nodes[i] ? [{ node: nodes[i].id, picture }] : [])) },
      [],
    );
    const [slowest] = [...rendered].map(({ ms }, i) => ({ ms, node: must(nodes[i]) })).sort((a, b) => b.ms - a.ms);
    const total = rendered.reduce((sum, one) => sum + one.ms, 0);
    toast.success(`${rendered.length} pictures, ${total.toFixed(1)} ms in all`, {
      id: waiting,
      description:
        slowest && rendered.length > 1 ? `The slowest is “${caption(slowest.node)}” with ${slowest.ms} ms.` : undefined,
      duration: 5000,
    });
  } catch (error) {
    toast.error('No pictures came', { id: waiting, description: (error as Error).message, duration: 7000 });
  }
}

/** What the application adds to the operations of frames, notes, names, colours and sets. */
export const frameCommands: readonly Command[] = [
  own(
    'frame',
    'regions',
    'Propose frames',
    'Proposes frames, found from wires and names, as outlines that you can accept one by one or all at once.',
    ['f p'],
    () => toggleLeft('regions'),
  ),
  own(
    'frame',
    'write-note',
    'Note here',
    'Adds a note at the pointer, or above the selection and tied to it, and starts editing it.',
    ['f a'],
    () => void writeNote(),
    whyNoEdit,
  ),
  own(
    'frame',
    'tie',
    'Tie the note',
    'Ties the selected note to the node or frame that is selected with it.',
    ['f y'],
    tie,
    (state) => whyNoEdit(state) ?? (tied(state) ? undefined : 'Select a note and a node or frame together.'),
  ),
  own(
    'frame',
    'publish',
    'Publish as a shared kind',
    'Turns the selected nested graph into a kind that every file of the team can use.',
    ['f h'],
    () => openDialog({ publish: must(getState().selection[0]) }),
    (state) =>
      whyNoEdit(state) ??
      (state.selection.length === 1 && state.doc.nodes.get(must(state.selection[0]))?.inner !== undefined
        ? undefined
        : 'Select one nested graph first.'),
  ),
  own(
    'view',
    'legend',
    'Colours and legend',
    'Shows or hides what the colours mean, and what differs from the scheme.',
    ['v k'],
    () => toggleLeft('legend'),
  ),
  own(
    'view',
    'differs',
    'Show what differs from the scheme',
    'Marks or unmarks nodes and frames that have their own colour.',
    ['v d'],
    () => {
      toggleDiffers();
      if (useLayout.getState().differs) setLayout({ left: 'legend' });
    },
  ),
  own(
    'view',
    'render',
    'Render pictures',
    'Asks the render service for a small picture of each selected node, and says how long they took.',
    ['v y'],
    () => void renderPictures(),
    (state) => whyNoEdit(state) ?? someSelected(state),
  ),
  own(
    'select',
    'sets',
    'Sets',
    'Shows or hides the named sets of nodes, to select, hide or switch them together.',
    ['s s'],
    () => toggleLeft('sets'),
  ),
];
