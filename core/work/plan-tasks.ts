import { z } from 'zod';
import { selectedOrAll, tableOf } from '../document/doc.ts';
import { apply, type Edit, editSchema } from '../edit/step.ts';
import { measureGraph } from '../inspect/measure.ts';
import { type ProposalName, type Proposed, proposals, propose } from '../inspect/proposals.ts';
import { type Review, review } from '../inspect/review.ts';
import { createContext, type Report } from '../operation.ts';
import { runOperation } from '../operations.ts';
import { type Advice, advise, type Figures } from '../remote/advice.ts';
import { type WorstOutput, worstOutputs } from '../remote/worst.ts';
import { proposeRegions, type Region } from '../structure/propose.ts';
import { refuse } from './sentences.ts';
import { task } from './task.ts';
import { need } from './tools.ts';

const id = z.string().min(1);
const selection = z.object({ graph: id, items: z.array(z.string()) });

export interface Planned {
  readonly edit: Edit;
  readonly report: Report;
  readonly review: Review | undefined;
}

/**
 * Runs an operation without applying it; with `review`, says what it would do to readability and function. With
 * `onlyKnown` a selection of what is not in the document is refused.
 */
const plan = task(
  z.object({
    operation: id,
    selection,
    options: z.unknown(),
    seed: z.number(),
    review: z.boolean(),
    onlyKnown: z.boolean().default(false),
  }),
  async (input, tools): Promise<Planned> => {
    const doc = need(tools.doc);
    const stranger = input.onlyKnown && input.selection.items.find((item) => tableOf(doc, item) === undefined);
    if (stranger) throw refuse('not-in-file', { id: stranger });
    const context = createContext(tools.kinds, input.seed, {
      progress: (fraction, what) => tools.progress(fraction * (input.review ? 0.7 : 1), what),
    });
    const outcome = await runOperation(input.operation, context, doc, input.selection, input.options);
    if (input.review) tools.progress(0.75, 'comparing');
    return {
      ...outcome,
      review: input.review ? review(doc, tools.kinds, input.selection.graph, outcome.edit) : undefined,
    };
  },
);

/** What an edit that was planned already would do to readability and function. */
const reviewEdit = task(z.object({ graph: id, edit: editSchema }), (input, tools): Review => {
  return review(need(tools.doc), tools.kinds, input.graph, input.edit);
});

const size = z.number().min(1).max(100_000);

/** One of the ways to arrange a graph, worked out on a copy. */
const proposal = task(
  z.object({
    which: z.enum(Object.keys(proposals) as [ProposalName, ...ProposalName[]]),
    selection,
    seed: z.number(),
    window: z.object({ width: size, height: size }),
  }),
  (input, tools): Proposed => {
    return propose(
      createContext(tools.kinds, input.seed, { progress: tools.progress }),
      need(tools.doc),
      input.selection,
      input.which,
      input.window,
    );
  },
);

/** The outputs that arranging with these options would best turn into remote links. */
const worst = task(
  z.object({ selection, seed: z.number(), options: z.record(z.string(), z.unknown()) }),
  (input, tools): readonly WorstOutput[] => {
    return worstOutputs(
      createContext(tools.kinds, input.seed, { progress: tools.progress }),
      need(tools.doc),
      input.selection,
      input.options,
    );
  },
);

/** Which wires would better be remote links. */
const advice = task(z.object({ graph: id, share: z.number(), at: z.array(z.string()) }), (input, tools): Advice => {
  const context = createContext(tools.kinds, 1, { progress: tools.progress });
  return advise(context, need(tools.doc), input.graph, {
    share: input.share,
    ...(input.at.length > 0 && { at: new Set(input.at) }),
  });
});

/**
 * What hurts about the wires of a graph with some of them turned into links: really done on a copy, routed and
 * measured. Without links, as it is.
 */
const measureLinks = task(
  z.object({ graph: id, links: z.array(z.unknown()) }),
  async (input, tools): Promise<Figures> => {
    const doc = need(tools.doc);
    const options = { links: input.links };
    const linked =
      input.links.length === 0
        ? doc
        : apply(
            doc,
            (
              await runOperation(
                'to-links',
                createContext(tools.kinds, 1),
                doc,
                { graph: input.graph, items: [] },
                options,
              )
            ).edit,
          );
    const { crossings, length, windows } = measureGraph(linked, tools.kinds, input.graph);
    return { crossings, length, windows };
  },
);

/** Regions to be framed among the nodes of a graph, or some of them. */
const regions = task(z.object({ selection, least: z.int(), grain: z.number() }), (input, tools): readonly Region[] => {
  const doc = need(tools.doc);
  return proposeRegions(doc, tools.kinds, selectedOrAll(doc, input.selection), {
    least: input.least,
    grain: input.grain,
    seed: 1,
  });
});

/** What acts would do, before they are done. */
export const planTasks = { plan, review: reviewEdit, proposal, worst, advice, measureLinks, regions } as const;
