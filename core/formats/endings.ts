/**
 * The endings of the files of each format, by its id, the usual one first. Apart from the formats, so that whoever only
 * asks for them loads no reader.
 */
export const endings = {
  json: ['.graph.json', '.json'],
  graphml: ['.graphml', '.xml'],
  jgf: ['.jgf.json', '.jgf'],
  dot: ['.dot', '.gv'],
  gexf: ['.gexf'],
  materialx: ['.mtlx'],
  csv: ['.csv'],
  svg: ['.svg'],
} as const;

export type FormatId = keyof typeof endings;
/** Every format by its id. */
export const formatIds = Object.keys(endings) as [FormatId, ...FormatId[]];

/** Endings of the files that can be read: all but pictures. */
export const readEndings: readonly string[] = Object.entries(endings).flatMap(([id, all]) => (id === 'svg' ? [] : all));
