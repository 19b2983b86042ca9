import type { z } from 'zod';
import { parseJson } from '../document/file.ts';
import { UnreadableFile } from '../document/unreadable.ts';
import { badShape } from './said.ts';

/** Text as JSON of a shape. Throws UnreadableFile with what is wrong, and where in it. */
export function jsonAs<T extends z.ZodType>(schema: T, text: string, what: string): z.output<T> {
  const parsed = schema.safeParse(parseJson(text));
  if (parsed.success) return parsed.data;
  throw new UnreadableFile(badShape(`a ${what}`, parsed.error));
}
