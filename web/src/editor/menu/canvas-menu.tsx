import { ChevronRight } from 'lucide-react';
import { DropdownMenu } from 'radix-ui';
import { type ReactNode, useEffect } from 'react';
import { headingLook, MenuEntries } from '../../ui/menus.tsx';
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
      <DropdownMenu.Label className={headingLook}>{headingOf(target, state)}</DropdownMenu.Label>
      <MenuEntries groups={entriesOf(target, state, keys)} />
      <DropdownMenu.Separator className="my-1 h-px bg-line" />
      <Sub title="More">
        <Rest target={target} />
      </Sub>
      <MenuEntries groups={[[{ id: 'palette', title: 'All commands …', run: () => openDialog('palette') }]]} />
    </>
  );
}

/** The rest by area; looked for only when it is opened. */
function Rest({ target }: { target: Target }): ReactNode {
  const state = useEditing();
  const keys = useKeys();
  return restOf(target, state, keys).map(({ title, entries }) => (
    <Sub key={title} title={title}>
      <MenuEntries groups={[entries]} />
    </Sub>
  ));
}

const Sub = ({ title, children }: { title: string; children: ReactNode }): ReactNode => (
  <DropdownMenu.Sub>
    <DropdownMenu.SubTrigger className={`${itemLook} data-[state=open]:bg-accent-wash`}>
      <span className="flex-1">{title}</span>
      <ChevronRight size={14} aria-hidden="true" />
    </DropdownMenu.SubTrigger>
    <DropdownMenu.Portal>
      <DropdownMenu.SubContent
        className={`${menuLook} max-h-(--radix-dropdown-menu-content-available-height) max-w-72 overflow-auto`}
        collisionPadding={8}
      >
        {children}
      </DropdownMenu.SubContent>
    </DropdownMenu.Portal>
  </DropdownMenu.Sub>
);
