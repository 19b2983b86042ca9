import { ChevronRight } from 'lucide-react';
import { DropdownMenu } from 'radix-ui';
import { type ReactNode, useEffect } from 'react';
import { EntryText, type MenuEntry } from '../../ui/row-menu.tsx';
import { itemLook, menuLook } from '../../ui/top-line.tsx';
import { focusCanvas, openDialog, useDialogs } from '../dialogs.ts';
import { useInPlace } from '../in-place.ts';
import { useKeys } from '../shortcuts/keys-store.ts';
import { useEditing } from '../store.ts';
import { entriesOf, headingOf, restOf } from './fitting.ts';
import { closeMenu, useMenu } from './menu.ts';
import type { Target } from './target.ts';

/** The menu of what was pressed: what fits first, the rest by area, all commands last. */
export function CanvasMenu(): ReactNode {
  const menu = useMenu((state) => state.menu);
  useEffect(() => closeMenu, []);
  if (!menu) return null;
  return (
    <DropdownMenu.Root open onOpenChange={(open) => !open && closeMenu()} modal={false}>
      <DropdownMenu.Trigger asChild>
        <span aria-hidden="true" className="fixed size-0" style={{ left: menu.at.x, top: menu.at.y }} />
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          className={`${menuLook} max-h-(--radix-dropdown-menu-content-available-height) w-72 overflow-auto`}
          align="start"
          side="right"
          sideOffset={2}
          collisionPadding={8}
          onCloseAutoFocus={(event) => {
            event.preventDefault();
            // what was chosen may have opened something that has the keyboard now
            setTimeout(() => {
              const isTaken = useMenu.getState().menu ?? useDialogs.getState().opened ?? useInPlace.getState().inPlace;
              if (!isTaken) focusCanvas();
            }, 60);
          }}
          onContextMenu={(event) => event.preventDefault()}
        >
          <Entries target={menu.target} />
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}

function Entries({ target }: { target: Target }): ReactNode {
  const state = useEditing();
  const keys = useKeys();
  return (
    <>
      <DropdownMenu.Label className="truncate px-2 py-1 text-xs font-bold text-soft">
        {headingOf(target, state)}
      </DropdownMenu.Label>
      {entriesOf(target, state, keys).map((group, i) => (
        <DropdownMenu.Group key={group[0]?.id ?? i}>
          {i > 0 && <Line />}
          {group.map((entry) => (
            <Item key={entry.id} entry={entry} />
          ))}
        </DropdownMenu.Group>
      ))}
      <Line />
      <DropdownMenu.Sub>
        <DropdownMenu.SubTrigger className={`${itemLook} data-[state=open]:bg-accent-wash`}>
          <span className="flex-1">More</span>
          <ChevronRight size={14} aria-hidden="true" />
        </DropdownMenu.SubTrigger>
        <DropdownMenu.Portal>
          <DropdownMenu.SubContent className={menuLook} collisionPadding={8}>
            {restOf(target, state, keys).map(({ title, entries }) => (
              <DropdownMenu.Sub key={title}>
                <DropdownMenu.SubTrigger className={`${itemLook} data-[state=open]:bg-accent-wash`}>
                  <span className="flex-1">{title}</span>
                  <ChevronRight size={14} aria-hidden="true" />
                </DropdownMenu.SubTrigger>
                <DropdownMenu.Portal>
                  <DropdownMenu.SubContent
                    className={`${menuLook} max-h-(--radix-dropdown-menu-content-available-height) w-72 overflow-auto`}
                    collisionPadding={8}
                  >
                    {entries.map((entry) => (
                      <Item key={entry.id} entry={entry} />
                    ))}
                  </DropdownMenu.SubContent>
                </DropdownMenu.Portal>
              </DropdownMenu.Sub>
            ))}
          </DropdownMenu.SubContent>
        </DropdownMenu.Portal>
      </DropdownMenu.Sub>
      <Item
        entry={{
          id: 'palette',
          title: 'All commands …',
          about: 'Finds a command by its name.',
          run: () => openDialog('palette'),
        }}
      />
    </>
  );
}

const Line = (): ReactNode => <DropdownMenu.Separator className="my-1 h-px bg-line" />;

/** What cannot be done now is dim and says why. */
function Item({ entry: { title, about, key, dim, run } }: { entry: MenuEntry }): ReactNode {
  return (
    <DropdownMenu.Item
      className={itemLook}
      disabled={dim !== undefined}
      title={dim ?? about}
      // once the menu has closed and the keyboard is free
      onSelect={() => void setTimeout(run, 0)}
    >
      <EntryText title={title} entryKey={key} />
    </DropdownMenu.Item>
  );
}
