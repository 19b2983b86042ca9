import type { z } from 'zod';
import { UnreadableFile } from '../document/file.ts';

/** Text as JSON of a shape. Throws UnreadableFile with what is wrong, and where in it. */
export function jsonAs<T extends z.ZodType>(schema: T, text: string, what: string): z.output<T> {
  let raw: unknown;
  try {
    raw = JSON.parse(text);
  } catch (error) {
    throw new UnreadableFile(`this is no JSON: ${(error as Error).message}.`);
  }
  const parsed = schema.safeParse(raw);
  if (parsed.success) return parsed.data;
  const issue = parsed.error.issues[0];
  throw new UnreadableFile(`this is no ${what}: ${issue?.path.join('.') || 'the whole'}: ${issue?.message ?? 'not as expected'}.`);
}
