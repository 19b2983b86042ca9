import { z } from 'zod';
import { contract, plain } from './contract.ts';
import { revisionOfSchema } from './files.ts';

/** What is handed over of a file. */
export const handoverApi = {
  make: contract({
    method: 'get',
    path: '/api/files/:id/revisions/:number/handover',
    about: 'A file for handing over: a page, or a poster of A3 sheets',
    role: 'viewer',
    params: revisionOfSchema,
    file: 'id',
    query: z.object({
      as: z.enum(['page', 'svg', 'pdf']).default('page'),
      theme: z.enum(['paper', 'night']).default('paper'),
      save: z.enum(['yes', 'no']).default('no'),
    }),
    answer: plain,
    media: ['text/html', 'image/svg+xml', 'application/pdf'],
    headers: { 'Content-Disposition': 'The file name; to be saved or to be shown, as `save` says.' },
  }),
};
