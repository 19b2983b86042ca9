import { z } from 'zod';
import { catalogueSchema } from '../document/catalogue.ts';
import { readStored } from '../document/file.ts';
import { Kinds } from '../document/kinds.ts';
import { apply, editSchema } from '../edit/step.ts';
import type { Finding } from '../finding.ts';
import { timesByPath } from '../formats/times-csv.ts';
import { type Comparison, compareDocs } from '../inspect/compare/compare.ts';
import { type Cost, cost } from '../inspect/cost.ts';
import { type Dependencies, dependencies } from '../inspect/dependencies.ts';
import { fileLinksSchema } from '../inspect/file-links.ts';
import { type FileMap, fileMap } from '../inspect/file-map.ts';
import { compareFingerprints, fingerprint, type Verdict } from '../inspect/fingerprint.ts';
import { type Place, type Readability, readability } from '../inspect/readability.ts';
import { type Tried, tryRemedies } from '../inspect/remedies.ts';
import { type Paths, pathsBetween } from '../inspect/ways.ts';
import { type Evidence, evidenceOf } from '../learn/evidence.ts';
import { holdsNodes } from '../query/files.ts';
import { addedErrors } from '../rules/added.ts';
import { factsSchema } from '../rules/facts.ts';
import { askedBy } from '../rules/profile.ts';
import { checkAsked } from '../rules/rules.ts';
import { byProfile } from './revised.ts';
import { task } from './task.ts';
import { need } from './tools.ts';

const id = z.string().min(1);
const ids = z.array(z.string());

/** What some nodes depend on and what depends on them; between two also the ways from one to the other. */
const inspectNodes = task(
  z.object({ ids }),
  (input, tools): { dependencies: Dependencies; paths: Paths | undefined } => {
    const doc = need(tools.doc);
    const [one, other, ...more] = input.ids;
    const paths =
      one !== undefined && other !== undefined && more.length === 0
        ? pathsBetween(doc, tools.kinds, one, other)
        : undefined;
    return { dependencies: dependencies(doc, tools.kinds, input.ids), paths };
  },
);

/** What an edit does to what the graph computes. */
const verdict = task(z.object({ edit: editSchema }), (input, tools): Verdict => {
  const doc = need(tools.doc);
  const after = apply(doc, input.edit);
  return compareFingerprints(fingerprint(doc, tools.kinds), fingerprint(after, tools.kinds));
});

/** What house rules find: those of a profile, or the usual ones; of these the ones that are named. */
const findings = task(
  byProfile.extend({ rules: ids.optional(), facts: factsSchema }),
  (input, tools): readonly Finding[] => {
    const asked = askedBy(input.profile).filter(
      ({ rule }) => input.rules === undefined || input.rules.includes(rule.id),
    );
    return checkAsked(need(tools.doc), tools.kinds, asked, input.facts);
  },
);

/** The errors by a profile that an edit adds to the document. */
const addedBy = task(byProfile.extend({ edit: editSchema }), (input, tools): readonly Finding[] => {
  const doc = need(tools.doc);
  const { kinds } = tools;
  return addedErrors({ doc, kinds }, { doc: apply(doc, input.edit), kinds }, input.profile);
});

const report = task(z.object({ graph: id }), (input, tools): Readability => {
  return readability(need(tools.doc), tools.kinds, input.graph);
});

/** What would help in one of the worst places of a graph, or without one the whole of it, each tried. */
const remedies = task(
  z.object({
    graph: id,
    score: z.number(),
    place: z.custom<Place>((value) => typeof value === 'object' && value !== null).optional(),
  }),
  (input, tools): Promise<readonly Tried[]> => {
    return tryRemedies(need(tools.doc), tools.kinds, input.graph, input.place, input.score, (fraction) =>
      tools.progress(fraction, 'trying'),
    );
  },
);

/** Every difference of the document from another one, which comes as file text with its own catalogue. */
const compare = task(z.object({ before: z.string(), catalogue: catalogueSchema }), (input, tools): Comparison => {
  return compareDocs(readStored(input.before), need(tools.doc), {
    before: new Kinds(input.catalogue),
    after: tools.kinds,
  });
});

/** What measured nodes cost; times come by path. */
const costs = task(z.object({ byPath: z.record(z.string(), z.number()) }), (input, tools): Cost => {
  const doc = need(tools.doc);
  return cost(doc, tools.kinds, timesByPath(doc, input.byPath).times);
});

const map = task(
  z.object({ links: fileLinksSchema, assets: z.boolean(), fewest: z.boolean() }),
  (input, tools): FileMap => {
    return fileMap(input.links, tools.kinds, input);
  },
);

/** What a document shows of the kinds of its nodes. */
const evidence = task(
  z.object({ by: z.string().optional() }),
  ({ by }, tools): Evidence => evidenceOf(need(tools.doc), tools.kinds, by),
);

/** Does a file hold nodes like each of some queries? A text says why one cannot be asked of this file. */
const holds = task(
  z.object({ queries: z.array(z.string().max(2000)).max(50) }),
  ({ queries }, tools): (boolean | string)[] => {
    const doc = need(tools.doc);
    return queries.map((query) => holdsNodes(doc, tools.kinds, query));
  },
);

/** What there is to know of a document. */
export const inspectTasks = {
  evidence,
  holds,
  inspectNodes,
  verdict,
  findings,
  addedBy,
  report,
  remedies,
  compare,
  costs,
  map,
} as const;
