import type { Catalogue } from '@basitax/core/document/catalogue';
import { emptyCatalogue } from '@basitax/core/document/catalogue';
import { scriptEnd } from '@basitax/core/script/job';
import { plural } from '@basitax/core/words';
import { HttpProblem } from '../http/problem.ts';
import type { Workplace } from '../work/desk.ts';

/**
 * Checks a script before it is kept or run; with the file that it is for, its parameters and kinds too. Throws
 * HttpProblem 422 with the first mistake and its line, and all of them for programs.
 */
export async function checkScript(
  pool: Workplace,
  source: string,
  title: string,
  of: { readonly doc: string; readonly catalogue: Catalogue } | undefined = undefined,
): Promise<void> {
  const found = await pool.run(
    'checkScript',
    { source },
    { ...(of ?? { catalogue: emptyCatalogue }), limit: scriptEnd },
  );
  const [first] = found;
  if (!first) return;
  const rest = found.length - 1;
  throw new HttpProblem(
    422,
    title,
    `Line ${first.line}: ${first.message}${rest > 0 ? ` And ${plural(rest, 'more mistake')}.` : ''}`,
    { line: first.line, problems: found.map(({ line, column, message }) => ({ line, column, message })) },
  );
}
