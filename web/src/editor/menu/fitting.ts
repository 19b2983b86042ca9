import { caption, indexOf } from '@basitax/core/document/doc';
import { titleOf } from '@basitax/core/document/geometry';
import type { PortRef } from '@basitax/core/document/schema';
import { plural } from '@basitax/core/words';
import type { MenuEntry, MenuGroups } from '../../ui/menus.tsx';
import { areas } from '../command.ts';
import { commandById, commands } from '../commands.ts';
import { openDialog } from '../dialogs.ts';
import { fromPort, takeInHand } from '../hand.ts';
import { whyNoEdit } from '../may-edit.ts';
import { type Keys, keyOf } from '../shortcuts/keys-store.ts';
import { type Editing, select } from '../store.ts';
import type { Target } from './target.ts';

/** The commands that fit, the commonest first: ten at the most, in groups of what they are for. */
export const fitting: Readonly<Record<Exclude<Target['type'], 'port'>, readonly (readonly string[])[]>> = {
  node: [
    ['label', 'in-hand', 'add', 'bypass'],
    ['duplicate', 'replace-kind', 'frame', 'nest'],
    ['dependencies', 'delete'],
  ],
  nodes: [
    ['arrange', 'spacing', 'connect-selected', 'bypass'],
    ['frame', 'nest', 'color', 'duplicate'],
    ['dependencies', 'delete'],
  ],
  nested: [
    ['enter', 'label', 'in-hand', 'unnest'],
    ['publish', 'bypass', 'duplicate', 'frame'],
    ['dependencies', 'delete'],
  ],
  wire: [
    ['add', 'in-hand', 'reroute', 'switch-wires'],
    ['to-links', 're-source', 'swap-inputs'],
    ['neighbourhood', 'wire-style', 'cut-wires'],
  ],
  frame: [
    ['frame-title', 'frame-note', 'color', 'arrange'],
    ['fold', 'frame-fit', 'to-frame', 'select-in-frame'],
    ['nest', 'delete'],
  ],
  note: [['note-change', 'tie', 'mark', 'color'], ['copy', 'duplicate', 'to-frame'], ['delete']],
  ground: [
    ['add', 'paste-here', 'write-note', 'tap-here'],
    ['arrange', 'regions', 'select-all'],
    ['find', 'show-all', 'undo'],
  ],
};

/** Words of a menu, where the title of a command is for a list of all. */
const inMenu: Readonly<Record<string, string>> = {
  label: 'Write the label',
  'in-hand': 'Take a wire in hand',
  add: 'Add a node …',
  'replace-kind': 'Replace the kind …',
  dependencies: 'Show what depends on it',
  color: 'Choose a colour',
  spacing: 'Set the spacing',
  arrange: 'Arrange by wiring',
  publish: 'Publish as a shared kind …',
  reroute: 'Add a reroute point',
  neighbourhood: 'Show the neighbourhood',
  'wire-style': 'Choose the wire style',
  'frame-title': 'Write the title',
  'frame-note': 'Write the note',
  'frame-fit': 'Fit to its members',
  'note-change': 'Write the note',
  regions: 'Propose frames',
  find: 'Find a node',
};

const ofCommand =
  (state: Editing, keys: Keys) =>
  (id: string): MenuEntry[] => {
    const command = commandById(id);
    if (!command) return [];
    return [
      {
        id,
        title: inMenu[id] ?? command.title,
        about: command.about,
        key: keyOf(id, keys),
        dim: command.dim(state),
        run: command.run,
      },
    ];
  };

/** What can be done at a port, and with its wires. */
function atPort(state: Editing, keys: Keys, at: PortRef, direction: 'in' | 'out'): MenuGroups {
  const { doc } = state;
  const index = indexOf(doc);
  const wire = direction === 'in' ? index.wireInto(at.node, at.port) : undefined;
  const wires = direction === 'in' ? (wire ? [wire] : []) : index.wiresOutOf(at.node, at.port);
  const node = doc.nodes.get(at.node);
  const none = wires.length === 0 ? 'Nothing is wired here.' : undefined;
  const ids = wires.map((one) => one.id);
  const onWires = (id: string, title: string): MenuEntry[] =>
    ofCommand(
      { ...state, selection: ids },
      keys,
    )(id).map((entry) => ({
      ...entry,
      title,
      dim: none ?? entry.dim,
      run: () => {
        select(ids);
        entry.run();
      },
    }));
  const others = [...new Set(wires.map((one) => (direction === 'in' ? one.from.node : one.to.node)))];
  const itsWires = wires.length === 1 ? 'its wire' : 'its wires';
  const place = node && { x: node.x + (direction === 'out' ? 260 : -260), y: node.y };
  return [
    [
      {
        id: 'port-take',
        title: wire ? 'Take the end of its wire in hand' : 'Take a wire in hand',
        about: 'The wire follows the pointer until you press a port or a node.',
        dim: whyNoEdit(state),
        run: () => takeInHand({ ...fromPort(doc, at.node, at.port, direction, false), mode: 'carry' }),
      },
      {
        id: 'port-add',
        title: direction === 'out' ? 'Add a node behind it' : 'Add a node in front of it',
        about: 'Kinds that fit this port come first.',
        dim: whyNoEdit(state),
        run: () => openDialog({ add: { where: 'at', ...(direction === 'out' ? { from: at } : { to: at }), ...place } }),
      },
      ...(direction === 'out' ? ofCommand(state, keys)('beacon') : ofCommand(state, keys)('tap-here')),
    ],
    [
      ...onWires('reroute', `Add a reroute point to ${itsWires}`),
      ...onWires('to-links', `Turn ${itsWires} into remote links`),
      ...onWires('switch-wires', `Switch ${itsWires} off or on`),
      ...onWires('cut-wires', `Cut ${itsWires}`),
    ],
    [
      {
        id: 'port-others',
        title:
          direction === 'in' ? 'Select the node that feeds it' : `Select the ${plural(others.length, 'node')} it feeds`,
        about: 'Selects what is wired to this port.',
        dim: none,
        run: () => select(others),
      },
    ],
  ];
}

const isFolded = ({ doc, selection }: Editing): boolean => doc.frames.get(selection[0] ?? '')?.folded === true;

/** The entries of a menu, in groups. */
export function entriesOf(target: Target, state: Editing, keys: Keys): MenuGroups {
  return target.type === 'port'
    ? atPort(state, keys, target.at, target.direction)
    : fitting[target.type].map((group) =>
        group.map((id) => (id === 'fold' && isFolded(state) ? 'unfold' : id)).flatMap(ofCommand(state, keys)),
      );
}

/** All other commands that can be done now, by area. */
export function restOf(
  target: Target,
  state: Editing,
  keys: Keys,
): readonly { readonly title: string; readonly entries: readonly MenuEntry[] }[] {
  const listed = new Set(target.type === 'port' ? [] : fitting[target.type].flat());
  return areas
    .filter((area) => area.id !== 'app' && area.id !== 'go')
    .map(({ title, id }) => ({
      title,
      entries: commands
        .filter((command) => command.area.id === id && !listed.has(command.id))
        .flatMap((command) => ofCommand(state, keys)(command.id))
        .filter((entry) => entry.dim === undefined),
    }))
    .filter(({ entries }) => entries.length > 0);
}

/** What the menu is of, in a few words. */
export function headingOf(target: Target, { doc, selection }: Editing): string {
  const [id] = selection;
  const node = doc.nodes.get(id ?? '');
  switch (target.type) {
    case 'port': {
      const owner = doc.nodes.get(target.at.node);
      const name = owner?.ports.find((port) => port.id === target.at.port && port.direction === target.direction)?.name;
      return `${target.direction === 'in' ? 'Input' : 'Output'} ${name ?? target.at.port} of “${owner ? caption(owner) : ''}”`;
    }
    case 'ground':
      return 'Graph';
    case 'wire':
      return plural(selection.length, 'wire');
    case 'frame':
      return selection.length === 1 ? `Frame “${titleOf(doc.frames.get(id ?? ''))}”` : `${selection.length} selected`;
    case 'note':
      return selection.length === 1 ? 'Note' : `${selection.length} selected`;
    default:
      return selection.length === 1 && node ? caption(node) : `${selection.length} selected`;
  }
}
