import { indexOf } from '@basitax/core/document/doc';
import { must } from '@basitax/core/must';
import { needProblem, operationById } from '@basitax/core/operations';
import { bridges } from '@basitax/core/wiring/convert';
import { toast } from 'sonner';
import { cut, paste, perform, pointerPlace, whyNot } from './actions.ts';
import { type Command, own, someSelected } from './command.ts';
import { openDialog } from './dialogs.ts';
import { goalOf, nextCandidate, nextEnd, putToNode, takeSelected, useHand } from './hand.ts';
import { turnDrag } from './layout.ts';
import { whyNoEdit } from './may-edit.ts';
import { type Editing, useEditor } from './store.ts';

const { getState } = useEditor;

const needsHand = (): string | undefined => (useHand.getState().inHand ? undefined : 'No wire is in hand.');
const twoNodes = (state: Editing): string | undefined => {
  const one = operationById('connect-selected');
  return whyNoEdit(state) ?? needProblem(one, state.doc, { graph: state.graph, items: state.selection });
};

/** Where the pointer is now counts: once the dialog is open it lies over that. */
function addHere(where: 'in line' | 'alongside'): void {
  openDialog({ add: { where, ...pointerPlace() } });
}

/** Takes a wire in hand, or puts the one in hand to the selected node. */
function inHand(): void {
  const { inHand: held } = useHand.getState();
  const node = goalOf(held, getState());
  if (held && node !== undefined) void putToNode(held, node);
  else takeSelected();
}

/** Of the first selected node and the last one, the first two ports that something could make fit. */
function convertSelected(): void {
  const { doc, kinds, selection } = getState();
  const nodes = selection.flatMap((id) => doc.nodes.get(id) ?? []);
  const [source, target] = [must(nodes[0]), must(nodes.at(-1))];
  for (const output of source.ports.filter((port) => port.direction === 'out')) {
    for (const input of target.ports.filter(
      (port) => port.direction === 'in' && !indexOf(doc).wireInto(target.id, port.id),
    )) {
      const ends = { from: { node: source.id, port: output.id }, to: { node: target.id, port: input.id } };
      if (bridges(doc, kinds, ends.from, ends.to).length === 0) continue;
      openDialog({ bridge: ends, why: kinds.refusal(input, output)?.message ?? '' });
      return;
    }
  }
  toast('Nothing in the catalogue turns what the first node gives into what the last one takes.', { duration: 4000 });
}

/** The node that stands in the selected wire is sought by hand; these go on from what the operations do by default. */
export const wireCommands: readonly Command[] = [
  own(
    'wire',
    'add',
    'Add a node',
    'By typing: in line behind what is selected, alongside, or by itself.',
    ['w n', 'i'],
    () => addHere('in line'),
    whyNoEdit,
  ),
  own(
    'wire',
    'add-alongside',
    'Add a node alongside',
    'The same, as a new branch of the selected node.',
    ['w m'],
    () => addHere('alongside'),
    whyNoEdit,
  ),
  own(
    'wire',
    'in-hand',
    'Wire in hand: take, put down',
    'Takes the output of the selected node, or the end of the selected wire; go anywhere, select, and again to put it down.',
    ['w h', 'h'],
    inHand,
    (state) => whyNoEdit(state) ?? (useHand.getState().inHand ? undefined : someSelected(state)),
  ),
  own(
    'wire',
    'next-end',
    'Wire in hand: another end',
    'The next port of the node, or the other end of the wire.',
    ['w .'],
    nextEnd,
    needsHand,
  ),
  own(
    'wire',
    'next-candidate',
    'Wire in hand: next that fits',
    'Goes to the next node that takes it, the nearest first.',
    ['w ,'],
    nextCandidate,
    needsHand,
  ),
  own(
    'wire',
    'connect-all',
    'Connect the selected: all pairs',
    'Every open pair of ports that fits, from each node to the next.',
    ['w a'],
    () => void perform('connect-selected', { pairs: 'all' }),
    twoNodes,
  ),
  own(
    'wire',
    'connect-replacing',
    'Connect the selected: in place of others',
    'All pairs that fit, also at inputs that are wired; what gives way is listed.',
    ['w f'],
    () => void perform('connect-selected', { pairs: 'all', replace: true }),
    twoNodes,
  ),
  own(
    'wire',
    'convert-selected',
    'Connect with a conversion',
    'Makes what the first node gives fit what the last one takes.',
    ['w g'],
    convertSelected,
    twoNodes,
  ),
  own(
    'wire',
    'swap-any',
    'Swap any two inputs',
    'Choose which two.',
    ['w 2'],
    () => openDialog({ operation: 'swap-inputs' }),
    (state) => whyNot(operationById('swap-inputs'), state),
  ),
  own(
    'wire',
    'stroke-cut',
    'Stroke: cut wires',
    'A drawn line cuts what it crosses; again, and a drag pans.',
    ['w x'],
    () => turnDrag('cut'),
    whyNoEdit,
  ),
  own(
    'wire',
    'stroke-reroute',
    'Stroke: reroute points',
    'A drawn line puts a reroute point on each wire that it crosses; again, and a drag pans.',
    ['w r'],
    () => turnDrag('reroute'),
    whyNoEdit,
  ),
  own(
    'wire',
    'stroke-join',
    'Stroke: join nodes',
    'A drawn line wires the nodes that it passes, one to the next; again, and a drag pans.',
    ['w j'],
    () => turnDrag('join'),
    whyNoEdit,
  ),
  own(
    'edit',
    'cut',
    'Cut',
    'Copies the selection and deletes it; wires heal.',
    ['e t'],
    () => void cut(),
    (state) => whyNoEdit(state) ?? someSelected(state),
  ),
  own(
    'edit',
    'duplicate-bare',
    'Duplicate without wires',
    'Copies the selection beside itself, with nothing coming in.',
    ['e i'],
    () => void perform('duplicate', { incoming: false }),
    (state) => whyNoEdit(state) ?? someSelected(state),
  ),
  own(
    'edit',
    'paste-wired',
    'Paste with incoming wires',
    'Puts what was copied at the pointer, and wires it to what fed it where that is still there.',
    ['e b'],
    () => void paste(undefined, true),
    whyNoEdit,
  ),
];
