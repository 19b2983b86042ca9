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

const needsHand = (): string | undefined => (useHand.getState().inHand ? undefined : 'You are not holding a wire.');
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
  toast('The catalogue has no conversion from the output of the first node to an input of the last one.', {
    duration: 4000,
  });
}

/** The node that stands in the selected wire is sought by hand; these go on from what the operations do by default. */
export const wireCommands: readonly Command[] = [
  own(
    'wire',
    'add',
    'Add a node',
    'Type to find a kind, and add it in line behind the selection, alongside, or unconnected.',
    ['w n', 'i'],
    () => addHere('in line'),
    whyNoEdit,
  ),
  own(
    'wire',
    'add-alongside',
    'Add a node alongside',
    'Adds a node as a new branch of the selected node.',
    ['w m'],
    () => addHere('alongside'),
    whyNoEdit,
  ),
  own(
    'wire',
    'in-hand',
    'Wire in hand: take, put down',
    'Picks up the output of the selected node, or the end of the selected wire. Select the target and repeat to connect it.',
    ['w h', 'h'],
    inHand,
    (state) => whyNoEdit(state) ?? (useHand.getState().inHand ? undefined : someSelected(state)),
  ),
  own(
    'wire',
    'next-end',
    'Wire in hand: another end',
    'Switches to the next port of the node, or to the other end of the wire.',
    ['w .'],
    nextEnd,
    needsHand,
  ),
  own(
    'wire',
    'next-candidate',
    'Wire in hand: next that fits',
    'Goes to the next node that accepts it, the nearest first.',
    ['w ,'],
    nextCandidate,
    needsHand,
  ),
  own(
    'wire',
    'connect-all',
    'Connect the selected: all pairs',
    'Connects every pair of open ports that fit, from each node to the next.',
    ['w a'],
    () => void perform('connect-selected', { pairs: 'all' }),
    twoNodes,
  ),
  own(
    'wire',
    'connect-replacing',
    'Connect the selected: in place of others',
    'Connects all pairs that fit, and replaces wires that are there. Replaced wires are listed.',
    ['w f'],
    () => void perform('connect-selected', { pairs: 'all', replace: true }),
    twoNodes,
  ),
  own(
    'wire',
    'convert-selected',
    'Connect with a conversion',
    'Connects the first node to the last one through a conversion.',
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
    'Turns on or off: drawing a line cuts the wires that it crosses.',
    ['w x'],
    () => turnDrag('cut'),
    whyNoEdit,
  ),
  own(
    'wire',
    'stroke-reroute',
    'Stroke: reroute points',
    'Turns on or off: drawing a line adds a reroute point to each wire that it crosses.',
    ['w r'],
    () => turnDrag('reroute'),
    whyNoEdit,
  ),
  own(
    'wire',
    'stroke-join',
    'Stroke: join nodes',
    'Turns on or off: drawing a line connects the nodes that it passes, each to the next.',
    ['w j'],
    () => turnDrag('join'),
    whyNoEdit,
  ),
  own(
    'edit',
    'cut',
    'Cut',
    'Copies the selection and deletes it. Wires around it are reconnected.',
    ['e t'],
    () => void cut(),
    (state) => whyNoEdit(state) ?? someSelected(state),
  ),
  own(
    'edit',
    'duplicate-bare',
    'Duplicate without wires',
    'Duplicates the selection without the wires that come in.',
    ['e i'],
    () => void perform('duplicate', { incoming: false }),
    (state) => whyNoEdit(state) ?? someSelected(state),
  ),
  own(
    'edit',
    'paste-wired',
    'Paste with incoming wires',
    'Pastes at the pointer and reconnects the inputs to their old sources, if these still exist.',
    ['e b'],
    () => void paste(undefined, true),
    whyNoEdit,
  ),
];
