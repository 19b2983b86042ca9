import { factsSchema } from '@basitax/core/rules/facts';
import { z } from 'zod';
import { contract } from './contract.ts';

export const renderedSchema = z.object({
  rendered: z.array(z.object({ path: z.string(), picture: z.string(), ms: z.number() })),
});

const path = z.string().min(1).max(1000);
const job = z.object({
  path: z.string().min(1).max(2000),
  kind: z.string().min(1).max(200),
  values: z.record(z.string(), z.unknown()),
});

/** Finds where an asset lies by its file name, and tells whether there is anything at a path. */
export const assetsApi = {
  find: contract({
    method: 'get',
    path: '/api/assets',
    about: 'Where assets of a file name lie',
    role: 'viewer',
    query: z.object({ name: z.string().min(1).max(255) }),
    answer: z.object({ paths: z.array(z.string()) }),
  }),
  exists: contract({
    method: 'get',
    path: '/api/assets/exists',
    about: 'Whether there is an asset at a path',
    role: 'viewer',
    query: z.object({ path }),
    answer: z.object({ exists: z.boolean() }),
  }),
  check: contract({
    method: 'post',
    path: '/api/assets/check',
    about: 'Whether there is an asset at each path, and where files of that name lie',
    role: 'viewer',
    quiet: true,
    body: z.object({ paths: z.array(path).max(2000) }),
    answer: z.object({ assets: factsSchema.shape.assets.unwrap() }),
  }),
};

/** Pictures and times of nodes, as the editor has them now. */
export const renderApi = {
  render: contract({
    method: 'post',
    path: '/api/render',
    about: 'Renders nodes as they are sent, and measures them',
    role: 'editor',
    quiet: true,
    body: z.object({ jobs: z.array(job).min(1).max(100) }),
    answer: renderedSchema,
    problems: [422],
  }),
};
