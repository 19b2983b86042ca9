import type { Doc } from '@basitax/core/document/doc';
import type { ScriptHelp, ScriptOffer, ScriptProblem } from '@basitax/core/script/check/checker';
import { strangeParameters } from '@basitax/core/structure/parameters';
import { toast } from 'sonner';
import { messageOf } from '../../ui/attempt.tsx';
import { checkRunner } from '../../work/runner.ts';
import { say } from '../sentences.ts';
import { useEditor } from '../store.ts';

// What the type checker says of a script, by the catalogue and the file that is open. The checker is never cancelled: a
// worker that is ended would have to load the compiler again.

let found: { readonly nodes: Doc['nodes']; readonly known: readonly string[] } | undefined;

/** The parameters that nodes of the file have besides those of the catalogue. */
function known(): readonly string[] {
  const { doc, kinds } = useEditor.getState();
  if (found?.nodes !== doc.nodes) found = { nodes: doc.nodes, known: strangeParameters(doc, kinds) };
  return found.known;
}

const options = (): Parameters<typeof checkRunner.run>[2] => ({
  catalogue: useEditor.getState().catalogue,
  limit: { ms: 30_000, say: say('check-too-long') },
});

/**
 * What the checker says, for help that comes by itself: where it cannot be had that is told once, and not at each
 * letter.
 */
export const unlessAway = <T>(asked: Promise<T>): Promise<T | undefined> =>
  asked.catch((error: unknown) => {
    toast.error('The script cannot be checked now', {
      id: 'script-check',
      description: messageOf(error),
    });
    return undefined;
  });

/** What in a script cannot be right, in its order. */
export const checkSource = (source: string): Promise<readonly ScriptProblem[]> =>
  checkRunner.run('checkScript', { source, known: known() }, options());

/** What may be written at an offset. */
export const completeSource = (source: string, at: number): Promise<ScriptOffer | undefined> =>
  checkRunner.run('completeScript', { source, at, known: known() }, options());

/** What stands at an offset, or what a word would be there. */
export const explainSource = (source: string, at: number, word?: string): Promise<ScriptHelp | undefined> =>
  checkRunner.run('explainScript', { source, at, known: known(), ...(word !== undefined && { word }) }, options());
