import type { FileFacts } from '@basitax/core/query/files';
import type { FileInfo } from './files.ts';

const day = 86_400_000;

/** What a query over files asks of one; `project` is the title of its project, `now` in milliseconds. */
export function fileFacts(file: FileInfo, project: string | undefined, now: number): FileFacts {
  const { title, folder, tags, catalogue, head } = file;
  const { measures, findings } = head;
  return {
    title,
    project: project === undefined ? file.project : `${project} ${file.project}`,
    folder,
    tags,
    catalogue: `${catalogue.id} ${catalogue.version}`,
    author: head.author,
    message: head.message,
    revision: head.name,
    number: head.number,
    days: (now - Date.parse(head.createdAt)) / day,
    nodes: measures.nodes,
    wires: measures.wires,
    frames: measures.frames,
    crossings: measures.crossings,
    overlaps: measures.overlaps,
    readability: measures.score,
    errors: findings?.error,
    warnings: findings?.warning,
    rules: head.rules ?? [],
  };
}
