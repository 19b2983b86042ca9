import { type DragEvent, useState } from 'react';
import { droppedFiles, type Handed } from './gather.ts';

/** Files and folders that are dropped anywhere on an element: its handlers, and whether some are held over it now. */
export function useDrop(may: boolean, take: (handed: readonly Handed[]) => void) {
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
        // what is held is only there while the event lasts: it is asked for at once
        if (some.length > 0 && may) void droppedFiles(event.dataTransfer.items, some).then(take);
      },
    },
  };
}
