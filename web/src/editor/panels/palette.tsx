import { Command } from 'cmdk';
import type { ReactNode } from 'react';
import { ListDialog } from '../../ui/controls.tsx';
import { areas } from '../command.ts';
import { commands } from '../commands.ts';
import { closeToCanvas } from '../dialogs.ts';
import { keyOf, useKeys } from '../shortcuts/keys-store.ts';
import { useEditing } from '../store.ts';

const itemLook =
  'flex items-baseline gap-2 rounded-sm px-2 py-1.5 text-sm cursor-pointer data-[selected=true]:bg-accent-wash data-[disabled=true]:text-soft data-[disabled=true]:cursor-default';

/** Everything there is to do, by name and by area: all operations of the registry, and what the application adds. */
export function Palette({ onClose }: { onClose: () => void }): ReactNode {
  const state = useEditing();
  const keys = useKeys();
  const run = (act: () => void) => () => {
    closeToCanvas();
    // after the dialog has given the focus back
    setTimeout(act, 0);
  };
  return (
    <ListDialog title="All commands" onClose={onClose} size="max-w-2xl">
      <Command label="All commands" loop>
        <Command.Input
          autoFocus
          placeholder="What do you want to do?"
          className="h-11 w-full border-b border-line bg-transparent px-3 outline-none"
        />
        <Command.List className="max-h-[60vh] overflow-auto p-1.5">
          <Command.Empty className="p-4 text-center text-sm text-soft">Nothing has that name.</Command.Empty>
          {areas.map((area) => {
            const own = commands.filter((command) => command.area === area);
            return (
              own.length > 0 && (
                <Command.Group
                  key={area.id}
                  heading={area.title}
                  className="[&_[cmdk-group-heading]]:px-2 [&_[cmdk-group-heading]]:pt-2 [&_[cmdk-group-heading]]:pb-0.5 [&_[cmdk-group-heading]]:text-xs [&_[cmdk-group-heading]]:font-bold [&_[cmdk-group-heading]]:text-soft"
                >
                  {own.map((command) => {
                    const reason = command.dim(state);
                    return (
                      <Command.Item
                        key={command.id}
                        value={command.title}
                        keywords={[command.id, area.title]}
                        disabled={reason !== undefined}
                        onSelect={run(command.run)}
                        className={itemLook}
                      >
                        <span className="whitespace-nowrap">{command.title}</span>
                        <span className="min-w-0 flex-1 truncate text-xs text-soft">{reason ?? command.about}</span>
                        <kbd className="text-xs whitespace-nowrap text-soft">{keyOf(command.id, keys)}</kbd>
                      </Command.Item>
                    );
                  })}
                </Command.Group>
              )
            );
          })}
        </Command.List>
      </Command>
    </ListDialog>
  );
}
