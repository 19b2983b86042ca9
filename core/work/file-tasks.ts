import { z } from 'zod';
import { schemeSchema } from '../color/scheme.ts';
import { parseDoc, writeDoc } from '../document/file.ts';
import { tagsSaid } from '../document/tags.ts';
import type { Finding } from '../finding.ts';
import { fileContent, formats, readBytes, written } from '../formats/formats.ts';
import { tablePlanSchema } from '../formats/table-plan.ts';
import { handoverOf } from '../handover/handover.ts';
import { graphSvg, handoverPage } from '../handover/page.ts';
import { posterSheets } from '../handover/poster.ts';
import { must } from '../must.ts';
import { sheetColors } from '../sheet/colors.ts';
import type { Sheet } from '../sheet/shapes.ts';
import { sheetSvg } from '../sheet/svg.ts';
import { bodyPorts, type Publishable } from '../structure/shared-kinds.ts';
import { byProfile, type Inspected, inspectDoc } from './revised.ts';
import { task } from './task.ts';
import { need } from './tools.ts';

/** A graph that is to be published, as it came: its own text again, and its ports in the order that was wished. */
const published = task(
  z.object({ text: z.string(), order: z.array(z.string()) }),
  (input, tools): { text: string; problems: readonly Finding[] } & Pick<Publishable, 'ports' | 'end'> => {
    const { doc, findings } = parseDoc(input.text);
    return { text: writeDoc(doc), problems: findings, ...bodyPorts(doc, tools.kinds, input.order) };
  },
);

/** The document in a format, and what of it that format has no place for. */
const write = task(
  z.object({ format: z.string(), routes: z.boolean().default(false) }),
  (input, tools): { text: string; lost: readonly string[] } => {
    const format = formats.find((one) => one.id === input.format);
    if (!format) throw new Error(`There is no format “${input.format}”.`);
    return written(format, need(tools.doc), tools.kinds, { routes: input.routes });
  },
);

const facts = z.object({
  revision: z.int(),
  author: z.string(),
  message: z.string(),
  at: z.string(),
  project: z.string(),
});
const fonts = z.object({ regular: z.string(), bold: z.string(), mono: z.string() });
/** What is handed over of a file: as a page with its picture, as one sheet in SVG, or as all sheets of its poster. */
const handover = task(
  byProfile.extend({
    facts,
    fonts,
    theme: z.enum(['paper', 'night']),
    scheme: schemeSchema,
    as: z.enum(['page', 'svg', 'sheets']),
  }),
  (input, tools): { page?: string; svg?: string; sheets?: readonly Sheet[] } => {
    const doc = need(tools.doc);
    const colors = sheetColors[input.theme];
    const told = handoverOf(doc, tools.kinds, input.profile, input.facts);
    tools.progress(0.5, 'drawing');
    if (input.as === 'page')
      return { page: handoverPage(told, graphSvg(doc, tools.kinds, colors, input.scheme), colors, input.fonts) };
    const sheets = posterSheets(doc, tools.kinds, told, colors, input.scheme);
    if (input.as === 'sheets') return { sheets };
    return { svg: sheetSvg(must(sheets[0]), { unit: 'pt', fonts: input.fonts, title: told.title }) };
  },
);

/** A file of any format as our own file text, with what had to be repaired and all that a revision stores. */
const read = task(
  byProfile.extend({
    name: z.string(),
    content: fileContent,
    title: z.string().optional(),
    plan: tablePlanSchema.optional(),
    beside: z.string().optional(),
  }),
  (
    input,
    tools,
  ): Inspected & { text: string; title: string; tags: readonly string[]; findings: readonly Finding[] } => {
    const { plan, beside } = input;
    const read = readBytes(input.name, input.content, tools.kinds, { plan, beside });
    const doc = input.title === undefined ? read.doc : { ...read.doc, head: { ...read.doc.head, title: input.title } };
    return {
      text: writeDoc(doc),
      title: doc.head.title,
      tags: tagsSaid(doc),
      findings: read.findings,
      ...inspectDoc(doc, tools, input.profile),
    };
  },
);

/** Files as they come in and go out. */
export const fileTasks = { published, write, handover, read } as const;
