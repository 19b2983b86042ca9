import type { ReactNode } from 'react';

/** What goes on above the canvas, at its top: there only while it does. Presses on it are no presses on the graph. */
export function CanvasBar({ label, children }: { label: string; children: ReactNode }): ReactNode {
  return (
    <section
      data-above
      aria-label={label}
      className="absolute inset-x-0 top-3 z-10 mx-auto flex w-max max-w-[96%] flex-wrap items-center gap-x-3 gap-y-1 rounded border border-edge bg-panel px-3 py-1.5 text-sm shadow-md"
    >
      {children}
    </section>
  );
}
