import type { GraphNode } from '@basitax/core/document/schema';
import type { Edit } from '@basitax/core/edit/step';
import type { Client } from './team.ts';

/** The newest revision of a file, as a person has it open. */
export interface Opened {
  readonly id: string;
  readonly nodes: readonly GraphNode[];
  readonly number: number;
}

export async function openFile(client: Client, id: string): Promise<Opened> {
  const response = await client.send('GET', `/api/files/${id}/revisions/head`);
  return {
    id,
    nodes: (JSON.parse(await response.text()) as { nodes: GraphNode[] }).nodes,
    number: Number(JSON.parse(response.headers.get('etag')!)),
  };
}

/** Saves a new label for one of its nodes. */
export function saveLabel(client: Client, { id, nodes, number }: Opened, k: number, to: string): Promise<Response> {
  const { id: node, label } = nodes[k]!;
  const edit: Edit = {
    steps: [
      { type: 'set', table: 'nodes', id: node, path: ['label'], ...(label !== undefined && { from: label }), to },
    ],
  };
  return client.send('POST', `/api/files/${id}/revisions`, {
    json: { edit, message: to },
    headers: { 'If-Match': `"${number}"` },
  });
}
