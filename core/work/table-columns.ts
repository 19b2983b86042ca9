import { z } from 'zod';
import { tableFields } from '../table/cells.ts';

/** What of each node a table holds. */
export const columnsSchema = z.object({
  fields: z.array(z.enum(tableFields)).max(tableFields.length).default(['label']),
  parameters: z.array(z.string().min(1).max(200)).max(200).default([]),
});
