import { useQueryClient } from '@tanstack/react-query';
import { ChevronLeft, Moon, Sun, SunMoon, UserRound } from 'lucide-react';
import { DropdownMenu } from 'radix-ui';
import type { ReactNode } from 'react';
import { Link, useNavigate } from 'react-router';
import { api } from '../api/client.ts';
import { usePerson } from '../api/person.ts';
import { type ThemeChoice, useTheme } from '../theme.ts';
import { Button } from './controls.tsx';
import { Notices } from './notices.tsx';

/** A link that looks like a button. */
export const linkLook =
  'inline-flex h-8 items-center rounded-sm border border-line bg-panel px-2.5 text-sm hover:bg-accent-wash';
export const menuLook = 'z-50 min-w-44 rounded border border-edge bg-panel p-1 shadow-lg';
export const itemLook =
  'flex cursor-pointer items-center gap-2 rounded-sm px-2 py-1.5 text-sm outline-none data-[highlighted]:bg-accent-wash data-[disabled]:opacity-45';

const themes: readonly { choice: ThemeChoice; title: string; icon: typeof Sun }[] = [
  { choice: 'system', title: 'As the system', icon: SunMoon },
  { choice: 'paper', title: 'Paper', icon: Sun },
  { choice: 'night', title: 'Night', icon: Moon },
];

/** The line on top of every screen: where one is, what is there to do, who one is. */
export function TopLine({ children, actions }: { children: ReactNode; actions?: ReactNode }): ReactNode {
  return (
    <header className="flex h-12 shrink-0 items-center gap-2 border-b border-line bg-panel px-3">
      <div className="flex min-w-0 flex-1 items-center gap-2">{children}</div>
      <div className="flex shrink-0 items-center gap-1.5">
        {actions}
        <Notices />
        <AccountMenu />
      </div>
    </header>
  );
}

/** The way back to where a screen belongs. */
export function BackLink({ to, children }: { to: string; children: ReactNode }): ReactNode {
  return (
    <Link to={to} className="flex shrink-0 items-center gap-0.5 rounded-sm px-1 py-1 text-soft hover:bg-accent-wash">
      <ChevronLeft size={16} />
      {children}
    </Link>
  );
}

function AccountMenu(): ReactNode {
  const { choice, choose } = useTheme();
  const person = usePerson().data;
  const queries = useQueryClient();
  const navigate = useNavigate();
  const signOut = async (): Promise<void> => {
    await api.signOut();
    queries.clear();
    navigate('/sign-in');
  };
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger asChild>
        <Button look="quiet" aria-label="Account and theme">
          <UserRound size={16} />
          <span className="hidden lg:inline">{person?.name}</span>
        </Button>
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content className={menuLook} align="end" sideOffset={4}>
          <DropdownMenu.Label className="px-2 py-1 text-xs text-soft">
            {person?.name}, {person?.role}
          </DropdownMenu.Label>
          <DropdownMenu.RadioGroup value={choice} onValueChange={(value) => choose(value as ThemeChoice)}>
            {themes.map(({ choice: value, title, icon: Icon }) => (
              <DropdownMenu.RadioItem
                key={value}
                value={value}
                className={`${itemLook} data-[state=checked]:font-bold`}
              >
                <Icon size={15} />
                {title}
              </DropdownMenu.RadioItem>
            ))}
          </DropdownMenu.RadioGroup>
          <DropdownMenu.Separator className="my-1 h-px bg-line" />
          {/* a new tab, so that what is being edited stays */}
          <DropdownMenu.Item className={itemLook} asChild>
            <a href="/shortcuts" target="_blank" rel="noreferrer">
              Shortcuts
            </a>
          </DropdownMenu.Item>
          <DropdownMenu.Item className={itemLook} asChild>
            <a href="/catalogue" target="_blank" rel="noreferrer">
              Catalogue of kinds
            </a>
          </DropdownMenu.Item>
          <DropdownMenu.Item className={itemLook} asChild>
            <a href="/tokens" target="_blank" rel="noreferrer">
              Personal tokens
            </a>
          </DropdownMenu.Item>
          <DropdownMenu.Item className={itemLook} onSelect={() => void signOut()}>
            Sign out
          </DropdownMenu.Item>
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
