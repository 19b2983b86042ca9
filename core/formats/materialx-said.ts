import { z } from 'zod';
import { parseJson } from '../document/file.ts';
import type { Json } from '../document/json.ts';
import { UnreadableFile } from '../document/unreadable.ts';
import { ownAttribute, type Said } from './materialx-shape.ts';
import type { XmlTree } from './xml.ts';

/** What was parsed as JSON is JSON, however deep: of half a million elements only the shape is looked at. */
const parts = z.record(z.string(), z.custom<Json>());
const fields = parts.optional();
const saidShape = z.object({
  ...{ node: fields, graph: fields, wire: fields, frame: fields, document: fields },
  implied: z.record(z.string(), parts).optional(),
  ...{ port: z.string().optional(), body: z.string().optional(), made: z.literal(true).optional() },
});

/** What an element says beside for us; undefined where it says nothing, `bad` where that does not fit. O(its text). */
export function saidIn({ attributes }: XmlTree): Said | 'bad' | undefined {
  const text = attributes[ownAttribute];
  if (text === undefined) return undefined;
  try {
    const read = saidShape.safeParse(parseJson(text));
    return read.success ? (read.data as Said) : 'bad';
  } catch (error) {
    if (error instanceof UnreadableFile) return 'bad';
    throw error;
  }
}
