import type { z } from 'zod';
import { parseJson } from '../document/file.ts';
import { UnreadableFile } from '../document/unreadable.ts';
import { say } from './sentences.ts';

/** Text as JSON of a shape. Throws UnreadableFile with what is wrong, and where in it. */
export function jsonAs<T extends z.ZodType>(schema: T, text: string, what: string): z.output<T> {
  const parsed = schema.safeParse(parseJson(text));
  if (parsed.success) return parsed.data;
  const issue = parsed.error.issues[0];
  throw new UnreadableFile(
    say('bad-shape', {
      what: `a ${what}`,
      where: issue?.path.join('.') || 'the whole',
      why: issue?.message ?? 'not as expected',
    }),
  );
}
