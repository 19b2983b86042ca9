import { ranked } from '@basitax/core/search';
import { Command } from 'cmdk';
import { Check, ChevronsUpDown } from 'lucide-react';
import { Popover } from 'radix-ui';
import { type ReactNode, use, useState } from 'react';
import { FieldName, groupLook, Select, selectLook } from './controls.tsx';

/** One of those that may be chosen. */
export interface Chosen {
  readonly value: string;
  readonly title: string;
  /** What it stands under in the list. */
  readonly group?: string | undefined;
  /** Other words by which it is found. */
  readonly words?: readonly string[];
  /** What it is or does, beside its title. */
  readonly about?: string | undefined;
}

/** Lists of up to so many are the browser’s own; longer ones are searched. */
const mostNative = 12;

interface Props {
  /** What is chosen, for those who hear it; where no label stands around. */
  label?: string;
  id?: string;
  value: string;
  /** What stands there while nothing is chosen; choosing it chooses nothing, where that may be. */
  none?: string | undefined;
  /** Nothing may be chosen only at first. */
  mustChoose?: boolean;
  choices: readonly Chosen[];
  disabled?: boolean;
  className?: string;
  onChoose: (value: string) => void;
}

/** Chooses one of several: from the browser’s own list where they are few, else by searching. */
export function Choice(props: Props): ReactNode {
  const around = use(FieldName);
  const label = props.label ?? around;
  const named = { ...props, ...(label !== undefined && { label }) };
  return props.choices.length > mostNative ? <Searched {...named} /> : <Native {...named} />;
}

/** The groups of choices, in the order in which they come. */
function groupsOf(choices: readonly Chosen[]): readonly { readonly group: string; readonly own: readonly Chosen[] }[] {
  const groups = [...new Set(choices.map((one) => one.group ?? ''))];
  return groups.map((group) => ({ group, own: choices.filter((one) => (one.group ?? '') === group) }));
}

function Native({ label, id, value, none, mustChoose, choices, disabled, className = '', onChoose }: Props): ReactNode {
  const options = (own: readonly Chosen[]): ReactNode =>
    own.map((one) => (
      <option key={one.value} value={one.value}>
        {one.title}
      </option>
    ));
  return (
    <Select
      id={id}
      aria-label={label}
      className={className}
      value={value}
      disabled={disabled}
      onChange={(event) => onChoose(event.target.value)}
    >
      {none !== undefined && (
        <option value="" disabled={mustChoose}>
          {none}
        </option>
      )}
      {groupsOf(choices).map(({ group, own }) =>
        group === '' ? (
          options(own)
        ) : (
          <optgroup key={group} label={group}>
            {options(own)}
          </optgroup>
        ),
      )}
    </Select>
  );
}

function Searched({
  label,
  id,
  value,
  none,
  mustChoose,
  choices,
  disabled,
  className = '',
  onChoose,
}: Props): ReactNode {
  const [isOpen, setOpen] = useState(false);
  const now = choices.find((one) => one.value === value);
  return (
    <Popover.Root open={isOpen} onOpenChange={setOpen} modal>
      <Popover.Trigger asChild>
        <button
          id={id}
          type="button"
          role="combobox"
          aria-label={label}
          aria-expanded={isOpen}
          aria-haspopup="listbox"
          disabled={disabled}
          className={`${selectLook} flex items-center gap-1 text-left disabled:opacity-45 ${className}`}
        >
          <span className="min-w-0 flex-1 truncate">{now?.title ?? none ?? value}</span>
          <ChevronsUpDown size={13} className="shrink-0 text-soft" aria-hidden="true" />
        </button>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="start"
          sideOffset={2}
          collisionPadding={8}
          className="z-50 w-80 max-w-[90vw] rounded border border-edge bg-panel shadow-lg"
          // the field under it is none of this list’s
          onKeyDown={(event) => event.stopPropagation()}
        >
          <List
            label={label ?? 'Choices'}
            value={value}
            none={mustChoose ? undefined : none}
            choices={choices}
            onChoose={(next) => {
              setOpen(false);
              onChoose(next);
            }}
          />
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

function List({
  label,
  value,
  none,
  choices,
  onChoose,
}: {
  label: string;
  value: string;
  none: string | undefined;
  choices: readonly Chosen[];
  onChoose: (value: string) => void;
}): ReactNode {
  const [typed, setTyped] = useState('');
  const found = typed.trim() === '' ? undefined : ranked(typed, choices.map(sought));
  const item = (one: Chosen): ReactNode => (
    <Command.Item
      key={one.value}
      value={one.value}
      onSelect={() => onChoose(one.value)}
      className="flex cursor-pointer items-baseline gap-2 rounded-sm px-2 py-1 text-sm data-[selected=true]:bg-accent-wash"
    >
      <Check
        size={13}
        className={one.value === value ? 'shrink-0 self-center' : 'invisible shrink-0'}
        aria-hidden="true"
      />
      <span className="min-w-0 flex-1 truncate" title={one.about ?? one.title}>
        {one.title}
      </span>
      {found && one.group && <span className="shrink-0 text-xs text-soft">{one.group}</span>}
    </Command.Item>
  );
  return (
    <Command label={label} loop shouldFilter={false} defaultValue={value}>
      <Command.Input
        autoFocus
        value={typed}
        onValueChange={setTyped}
        placeholder={`Search ${choices.length} …`}
        className="h-9 w-full border-b border-line bg-transparent px-3 text-sm outline-none"
      />
      <Command.List className="max-h-72 overflow-auto p-1">
        {found?.length === 0 && (
          <p className="p-3 text-center text-sm text-soft" role="status">
            Nothing fits “{typed.trim()}”.
          </p>
        )}
        {found ? (
          found.map(({ one }) => item(one))
        ) : (
          <>
            {none !== undefined && item({ value: '', title: none })}
            {groupsOf(choices).map(({ group, own }) =>
              group === '' ? (
                own.map(item)
              ) : (
                <Command.Group key={group} heading={group} className={groupLook}>
                  {own.map(item)}
                </Command.Group>
              ),
            )}
          </>
        )}
      </Command.List>
    </Command>
  );
}

const sought = (one: Chosen) => ({
  one,
  title: one.title,
  words: [one.value, one.group ?? '', ...(one.words ?? [])],
  ...(one.about !== undefined && { about: one.about }),
});
