import { type BatchItem, type BatchRun, batchEventSchema } from '@basitax/api/batches';
import { useEffect, useState } from 'react';
import { api } from '../api/client.ts';

export interface Watched {
  readonly run: BatchRun | undefined;
  /** In the order of their titles. */
  readonly items: readonly BatchItem[];
  /** The line is broken; the browser tries again by itself. */
  readonly isAway: boolean;
}

const nothing: Watched = { run: undefined, items: [], isAway: false };

/** How a run stands, as it goes: by server-sent events, each with what changed since the one before. */
export function useRun(id: string): Watched {
  const [watched, setWatched] = useState<Watched>(nothing);
  useEffect(() => {
    setWatched(nothing);
    const source = new EventSource(api.batchEventsAddress(id));
    source.onmessage = ({ data }) => {
      const event = batchEventSchema.parse(JSON.parse(String(data)));
      setWatched(({ items }) => {
        const byFile = new Map(items.map((item) => [item.file, item]));
        for (const item of event.items) byFile.set(item.file, item);
        return { run: event.run, items: [...byFile.values()], isAway: false };
      });
    };
    source.onerror = () => setWatched((last) => ({ ...last, isAway: true }));
    return () => source.close();
  }, [id]);
  return watched;
}
