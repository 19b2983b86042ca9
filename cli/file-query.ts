import { statSync } from 'node:fs';
import { dirname } from 'node:path';
import { measureDoc } from '@basitax/core/inspect/measure';
import { scoreOfDoc } from '@basitax/core/inspect/readability';
import { type FileFacts, holdsNodes, matchesFile, parseFileQuery } from '@basitax/core/query/files';
import { checkRules } from '@basitax/core/rules/rules';
import type { Loaded } from './command.ts';
import { standard } from './io.ts';

const day = 86_400_000;

/**
 * Does a file on disk fit a query over files? It has no project, tags or revisions; what costs time is found out where
 * it is asked for. Throws QueryError.
 */
export function fitsQuery(text: string, file: string, loaded: Loaded): boolean {
  const { doc, kinds } = loaded;
  const { query } = parseFileQuery(text);
  let measured: ReturnType<typeof measureDoc> | undefined;
  let found: ReturnType<typeof checkRules> | undefined;
  const measures = (): NonNullable<typeof measured> => {
    measured ??= measureDoc(doc, kinds);
    return measured;
  };
  const findings = (): NonNullable<typeof found> => {
    found ??= checkRules(doc, kinds);
    return found;
  };
  const count = (severity: string): number => findings().filter((one) => one.severity === severity).length;
  const facts: FileFacts = {
    title: doc.head.title,
    project: '',
    folder: file === standard ? '' : dirname(file),
    tags: [],
    author: '',
    message: '',
    revision: '',
    number: 1,
    catalogue: `${doc.head.catalogue.id} ${doc.head.catalogue.version}`,
    days: file === standard ? 0 : (Date.now() - statSync(file).mtimeMs) / day,
    nodes: doc.nodes.size,
    wires: doc.wires.size,
    frames: doc.frames.size,
    get crossings() {
      return measures().crossings;
    },
    get overlaps() {
      return measures().overlaps;
    },
    get readability() {
      return scoreOfDoc(doc, kinds);
    },
    get errors() {
      return count('error');
    },
    get warnings() {
      return count('warning');
    },
    get rules() {
      return [...new Set(findings().map((one) => one.rule))];
    },
  };
  // of many files some have no such parameter
  const holds = (nodes: string): boolean => holdsNodes(doc, kinds, nodes) === true;
  return matchesFile(query, facts, holds) === true;
}
