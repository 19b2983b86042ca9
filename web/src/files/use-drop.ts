import { type DragEvent, useState } from 'react';

/** Files that are dropped anywhere on an element: its handlers, and whether some are held over it now. */
export function useDrop(may: boolean, take: (files: readonly File[]) => void) {
  const [over, setOver] = useState(false);
  return {
    over,
    handlers: {
      onDragOver: (event: DragEvent): void => {
        event.preventDefault();
        setOver(may);
      },
      onDragLeave: (event: DragEvent): void => {
        if (event.currentTarget === event.target) setOver(false);
      },
      onDrop: (event: DragEvent): void => {
        event.preventDefault();
        setOver(false);
        const some = [...event.dataTransfer.files];
        if (some.length > 0 && may) take(some);
      },
    },
  };
}
