import type { Id } from '@basitax/core/document/ids';
import { membersOfSet, setsOf } from '@basitax/core/structure/sets';
import { Eye, EyeOff } from 'lucide-react';
import { type ReactNode, useState } from 'react';
import { Button, TextInput } from '../../ui/controls.tsx';
import { perform } from '../actions.ts';
import { chooseOne } from '../dialogs.ts';
import { whyNoEdit } from '../may-edit.ts';
import { openMenuOf } from '../menu/menu.ts';
import { useEditing, useEditor } from '../store.ts';
import { Draft } from './draft.tsx';
import { SidePanel } from './side.tsx';

const { getState, setState } = useEditor;

/** Hides the nodes of a set, or shows them again: for this person, until the file is closed. */
function turnHidden(set: Id): void {
  const { hiddenSets } = getState();
  setState({ hiddenSets: hiddenSets.includes(set) ? hiddenSets.filter((one) => one !== set) : [...hiddenSets, set] });
}

const switches = [
  { what: 'bypassed', title: 'Bypass' },
  { what: 'pinned', title: 'Pin' },
  { what: 'closed', title: 'Close' },
  { what: 'locked', title: 'Lock' },
] as const;

/** Named sets of nodes: select, hide, switch all at once, add and take out. */
export function SetsPanel(): ReactNode {
  const state = useEditing();
  const { doc, selection } = state;
  const hidden = useEditor((one) => one.hiddenSets);
  const [name, setName] = useState('');
  const nodes = selection.filter((id) => doc.nodes.has(id) || doc.frames.has(id));
  const locked = whyNoEdit(state);
  const none = nodes.length === 0 ? 'Select nodes first.' : undefined;
  return (
    <SidePanel
      id="sets"
      title="Sets"
      about="Nodes under one name, across frames and nested graphs. A hidden set is hidden for you alone."
      footer={
        <form
          className="flex gap-2"
          onSubmit={(event) => {
            event.preventDefault();
            if (locked || none || name.trim() === '') return;
            void perform('set-make', { name }).then(() => setName(''));
          }}
        >
          <TextInput
            aria-label="Name of a new set"
            placeholder="Name of a new set"
            className="flex-1"
            value={name}
            onChange={(event) => setName(event.target.value)}
          />
          <Button type="submit" dim={locked ?? none ?? (name.trim() === '' ? 'Name the set.' : undefined)}>
            Make of {nodes.length}
          </Button>
        </form>
      }
    >
      {setsOf(doc).length === 0 && (
        <p className="text-soft">There is no set yet. Select nodes, name a set below, and find them again here.</p>
      )}
      <ul className="flex flex-col gap-1">
        {setsOf(doc).map(({ id, name: own }) => {
          const members = membersOfSet(doc, id);
          const isHidden = hidden.includes(id);
          return (
            <li
              key={id}
              className="flex flex-col gap-1 border-b border-line pb-2"
              aria-label={`Set ${own}`}
              onContextMenu={(event) =>
                openMenuOf(
                  members.map((node) => node.id),
                  event,
                )
              }
            >
              <span className="flex items-center gap-1">
                <Button
                  look="quiet"
                  square
                  className="size-7"
                  aria-pressed={isHidden}
                  aria-label={`Hide ${own}`}
                  title={isHidden ? 'Show them again' : 'Hide them'}
                  onClick={() => turnHidden(id)}
                >
                  {isHidden ? <EyeOff size={15} /> : <Eye size={15} />}
                </Button>
                <Draft
                  label={`Name of the set ${own}`}
                  value={own}
                  locked={locked !== undefined}
                  onTake={(next) =>
                    next.trim() === '' ? Promise.resolve() : perform('set-rename', { set: id, name: next }, [])
                  }
                />
                <span className="ml-auto text-xs whitespace-nowrap text-soft tabular-nums">
                  {members.length.toLocaleString('en')} nodes
                </span>
              </span>
              <span className="flex flex-wrap gap-1">
                <Button className="h-6 px-1.5 text-xs" onClick={() => void perform('select-set', { set: id })}>
                  Select
                </Button>
                <Button
                  className="h-6 px-1.5 text-xs"
                  dim={locked ?? none}
                  onClick={() => void perform('set-add', { set: id })}
                >
                  Add
                </Button>
                <Button
                  className="h-6 px-1.5 text-xs"
                  dim={locked ?? none}
                  onClick={() => void perform('set-remove', { set: id })}
                >
                  Take out
                </Button>
                {switches.map(({ what, title }) => {
                  const isOn = members.length > 0 && members.every((node) => node[what]);
                  return (
                    <Button
                      key={what}
                      className={`h-6 px-1.5 text-xs ${isOn ? 'bg-accent-wash font-bold' : ''}`}
                      aria-pressed={isOn}
                      dim={locked}
                      onClick={() => void perform('set-switch', { set: id, what, on: !isOn }, [])}
                    >
                      {title}
                    </Button>
                  );
                })}
                <Button
                  look="quiet"
                  className="h-6 px-1.5 text-xs"
                  dim={locked}
                  onClick={() =>
                    void chooseOne(`Take the set “${own}” away?`, [
                      { label: 'Take the set away', hint: 'Its nodes stay as they are.' },
                    ]).then((index) => {
                      if (index === 0) void perform('set-rename', { set: id }, []);
                    })
                  }
                >
                  Remove
                </Button>
              </span>
            </li>
          );
        })}
      </ul>
    </SidePanel>
  );
}
