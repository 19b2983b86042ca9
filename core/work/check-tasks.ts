import { z } from 'zod';
import { checkerFor, type ScriptHelp, type ScriptOffer, type ScriptProblem } from '../script/check/checker.ts';
import { mostSource } from '../script/job.ts';
import { strangeParameters } from '../structure/parameters.ts';
import { task } from './task.ts';
import type { Tools } from './tools.ts';

const source = z.object({
  source: z.string().max(mostSource),
  /**
   * Parameters that nodes of the file have besides those of the catalogue. Where neither these nor the file are given,
   * parameters and kinds may have any name: only the API, the operations and their options are checked.
   */
  known: z.array(z.string().max(200)).max(10_000).optional(),
});
const place = source.extend({ at: z.int().min(0) });

const checker = ({ known }: z.output<typeof source>, { kinds, doc }: Tools): ReturnType<typeof checkerFor> =>
  checkerFor(kinds, known ?? (doc && strangeParameters(doc, kinds)));

/** What in a script cannot be right, before it is run. */
const checkScript = task(
  source,
  async (input, tools): Promise<ScriptProblem[]> => (await checker(input, tools)).check(input.source),
);

/** What may be written at a place of a script. */
const completeScript = task(
  place,
  async (input, tools): Promise<ScriptOffer | undefined> =>
    (await checker(input, tools)).complete(input.source, input.at),
);

/** What the word at a place of a script is; with `word`, what that would be there. */
const explainScript = task(
  place.extend({ word: z.string().max(200).optional() }),
  async (input, tools): Promise<ScriptHelp | undefined> =>
    (await checker(input, tools)).help(input.source, input.at, input.word),
);

/** The type checker for scripts, which loads the compiler. */
export const checkTasks = { checkScript, completeScript, explainScript } as const;
