import { fileFacts } from '@basitax/api/file-facts';
import type { FileInfo } from '@basitax/api/files';
import type { Project } from '@basitax/api/projects';
import { type FileFacts, matchesFile, parseFileQuery } from '@basitax/core/query/files';
import { QueryError } from '@basitax/core/query/query';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useEffect, useMemo, useState } from 'react';
import { api } from '../api/client.ts';

/** What a query over files finds among those that are here. */
export interface Search {
  readonly fits: (file: FileInfo) => boolean;
  /** What is known of all files, for help while one types. */
  readonly facts: readonly FileFacts[];
  /** Why the query cannot be asked; all files fit then. */
  readonly problem: string | undefined;
  /** The nodes of files are still being looked through. */
  readonly isBusy: boolean;
}

function read(text: string): { parsed?: ReturnType<typeof parseFileQuery>; problem?: string } {
  try {
    return { parsed: parseFileQuery(text) };
  } catch (error) {
    if (error instanceof QueryError) return { problem: error.plain };
    throw error;
  }
}

const none: readonly string[] = [];
/** How long a question stays as it is before the server is asked, in milliseconds. */
const pause = 400;

/** What was last the same for a moment. */
function useSettled(wanted: readonly string[]): readonly string[] {
  const key = wanted.join('\n');
  const [settled, setSettled] = useState(wanted);
  useEffect(() => {
    const timer = setTimeout(() => setSettled(key === '' ? none : key.split('\n')), pause);
    return () => clearTimeout(timer);
  }, [key]);
  return settled;
}

/**
 * Asks a query of files: what is known of them is looked at here, at each letter; which of them hold nodes like
 * `has(…)` is asked of the server.
 */
export function useSearch(files: readonly FileInfo[], projects: readonly Project[], text: string): Search {
  const { parsed, problem } = useMemo(() => read(text), [text]);
  // each question has the server read files: it waits until the word is written
  const asked = parsed?.nodes ?? none;
  const nodes = useSettled(asked);
  const isWaiting = asked.join() !== nodes.join();
  const held = useQuery({
    // another revision may hold others
    queryKey: ['holding', nodes, files.map((file) => `${file.id} ${file.head.number}`).join()],
    queryFn: () => api.holding(nodes),
    enabled: nodes.length > 0,
    placeholderData: keepPreviousData,
    retry: false,
  });
  const facts = useMemo(() => {
    const titles = new Map(projects.map((one) => [one.id, one.title]));
    const now = Date.now();
    return new Map(files.map((file) => [file.id, fileFacts(file, titles.get(file.project), now)]));
  }, [files, projects]);
  return useMemo(
    () => ({
      facts: [...facts.values()],
      problem: problem ?? (nodes.length > 0 ? held.error?.message : undefined),
      isBusy: asked.length > 0 && (isWaiting || held.isFetching),
      fits(file) {
        const own = facts.get(file.id);
        if (!parsed || !own) return true;
        return matchesFile(parsed.query, own, (one) => held.data?.get(one)?.has(file.id)) === true;
      },
    }),
    [facts, parsed, problem, asked.length, nodes.length, isWaiting, held.data, held.error, held.isFetching],
  );
}
