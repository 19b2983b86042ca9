import { X } from 'lucide-react';
import type { ReactNode } from 'react';
import { Button } from '../../ui/controls.tsx';
import { type Left, toggleLeft } from '../layout.ts';

/** A panel on the left, with its title, a line on what it is for, and a way to close it. */
export function SidePanel({
  id,
  title,
  about,
  children,
  footer,
  wide,
}: {
  id: Left;
  title: string;
  about: string;
  children: ReactNode;
  footer?: ReactNode;
  wide?: boolean;
}): ReactNode {
  return (
    <aside
      aria-label={title}
      className={`flex shrink-0 flex-col border-r border-line bg-panel text-sm ${wide ? 'w-[31rem]' : 'w-80'}`}
    >
      <header className="flex items-center gap-2 px-3 pt-2.5 pb-1">
        <h2 className="font-bold">{title}</h2>
        <Button
          look="quiet"
          square
          className="ml-auto"
          aria-label={`Hide ${title.toLowerCase()}`}
          onClick={() => toggleLeft(id)}
        >
          <X size={15} />
        </Button>
      </header>
      <p className="px-3 pb-2 text-xs text-soft">{about}</p>
      <div className="flex min-h-0 flex-1 flex-col gap-3 overflow-auto px-3 pb-3">{children}</div>
      {footer && <footer className="flex flex-col gap-2 border-t border-line px-3 py-2.5">{footer}</footer>}
    </aside>
  );
}
