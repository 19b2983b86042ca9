import { builtin } from '@basitax/core/document/builtin';
import { indexOf } from '@basitax/core/document/doc';
import { must } from '@basitax/core/must';
import { otherEnds } from '@basitax/core/remote/ends';
import { effectiveWiring } from '@basitax/core/wiring/effective';
import { toast } from 'sonner';
import { type Command, own } from './command.ts';
import { openDialog } from './dialogs.ts';
import { toggleLeft, turnTrace, useLayout } from './layout.ts';
import { whyInPreview, whyNoEdit } from './may-edit.ts';
import { type Editing, enterGraph, useEditor } from './store.ts';

const { getState } = useEditor;

const selectedNode = ({ doc, selection }: Editing) =>
  selection.length === 1 ? doc.nodes.get(must(selection[0])) : undefined;
const endsOf = (state: Editing) => {
  const node = selectedNode(state);
  return node ? otherEnds(state.doc, effectiveWiring(state.doc, state.kinds), node) : [];
};
const hasBeacons = (state: Editing): string | undefined =>
  indexOf(state.doc).nodesOfKind(builtin.beacon).length > 0
    ? undefined
    : 'This file has no beacon yet: make one first.';
const someTap = (state: Editing): string | undefined =>
  state.selection.some((id) => state.doc.nodes.get(id)?.kind === builtin.tap)
    ? hasBeacons(state)
    : 'Select a tap first.';

/** To the other end; where there are several, by a list that tells them apart. */
function jump(): void {
  const state = getState();
  const ends = endsOf(state);
  if (ends.length === 1) enterGraph(must(ends[0]).graph, [must(ends[0]).id]);
  else if (ends.length > 1) openDialog({ ends: must(state.selection[0]) });
}

const traceWords = { selected: 'of what is selected', all: 'all', off: 'none' };

/** What the application adds to the operations of remote links. */
export const linkCommands: readonly Command[] = [
  own(
    'link',
    'tap-here',
    'Tap a beacon',
    'Adds a tap of a beacon from a list. It feeds the selected node if that has an open input that fits.',
    ['l t'],
    () => openDialog({ beacons: 'tap' }),
    (state) => whyNoEdit(state) ?? hasBeacons(state),
  ),
  own(
    'link',
    'retune-here',
    'Listen to another beacon',
    'Chooses another beacon for the selected taps.',
    ['l r'],
    () => openDialog({ beacons: 'retune' }),
    (state) => whyNoEdit(state) ?? someTap(state),
  ),
  own(
    'link',
    'jump',
    'Jump to the other end',
    'Goes from a beacon to a tap, from a tap to its beacon, or from a feed to what it supplies. Back returns.',
    ['l j'],
    jump,
    (state) =>
      whyInPreview(state) ??
      (endsOf(state).length > 0
        ? undefined
        : 'Select one end of a remote link that has another, a standing feed, or a node that one supplies.'),
  ),
  own(
    'link',
    'beacons',
    'Beacons',
    'Shows or hides the beacons and feeds of the file: search, go to one, or click or drag one to tap it.',
    ['l n'],
    () => toggleLeft('beacons'),
  ),
  own(
    'link',
    'advice',
    'Advice on remote links',
    'Shows or hides the wires that hurt most, and what turning them into remote links would save.',
    ['l a'],
    () => toggleLeft('advice'),
  ),
  own(
    'link',
    'trace',
    'Trace of remote links',
    'Changes which dashed lines between the ends of remote links are drawn: for the selection, all or none.',
    ['l c'],
    () => {
      turnTrace();
      toast(`Traces: ${traceWords[useLayout.getState().trace]}.`, { duration: 1500 });
    },
  ),
];
