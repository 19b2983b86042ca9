import { sentences } from '../said.ts';

/** What is said in this room when something cannot be done, or was found. */
export const { say, refuse, find } = sentences('edit', {
  'feeds-changed': ({ node, port }: { node: string; port: string }) =>
    `“${node}” now takes something else at ${port} than either side meant: look at what feeds it.`,
  'name-taken': ({ node, free }: { node: string; free: string }) =>
    `“${node}” was taken meanwhile, so this one is called “${free}”.`,
});
