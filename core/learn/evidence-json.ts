import { z } from 'zod';
import type { Evidence, SeenKind, SeenPort } from './evidence.ts';
import { type SeenValues, sorts } from './values.ts';

const count = z.int().min(0);
const counted = z.array(z.tuple([z.string(), count]));
const id = z.string().max(400);

const valuesSchema = z.object({
  id,
  nodes: count,
  sorts: z.array(z.tuple([z.enum(sorts), count])),
  from: z.number().optional(),
  to: z.number().optional(),
  values: counted,
  isOpen: z.boolean(),
  units: counted,
});
const portSchema = z.object({
  id,
  direction: z.enum(['in', 'out']),
  name: z.string(),
  nodes: count,
  types: counted,
});
const kindSchema = z.object({
  id,
  called: z.string().optional(),
  nodes: count,
  files: count,
  titles: z.array(z.string()),
  last: count,
  ports: z.array(portSchema),
  parameters: z.array(valuesSchema),
});

/** What files show of the kinds of their nodes, as JSON between the server and whoever puts it together. */
export const evidenceSchema = z.object({
  kinds: z.array(kindSchema),
  candidates: z.array(z.object({ attribute: z.string(), nodes: count, values: z.array(z.string()) })),
  lasts: z.array(z.object({ hasEnds: z.boolean(), kinds: z.array(z.string()), last: z.array(z.string()) })),
  files: count,
  untold: count,
});
export type EvidenceJson = z.infer<typeof evidenceSchema>;

export const evidenceJson = ({ kinds, candidates, lasts, files, untold }: Evidence): EvidenceJson => ({
  kinds: [...kinds.values()].map((kind) => ({
    ...kind,
    titles: [...kind.titles],
    ports: [...kind.ports.values()].map((port) => ({ ...port, types: [...port.types] })),
    parameters: [...kind.parameters].map(([id, { from, to, ...seen }]) => ({
      id,
      ...seen,
      ...(from !== undefined && to !== undefined && { from, to }),
      sorts: [...seen.sorts],
      values: [...seen.values],
      units: [...seen.units],
    })),
  })),
  candidates: [...candidates.values()].map((one) => ({ ...one, values: [...one.values] })),
  lasts: lasts.map((one) => ({ ...one, kinds: [...one.kinds], last: [...one.last] })),
  files,
  untold,
});

export const evidenceFrom = ({ kinds, candidates, lasts, files, untold }: EvidenceJson): Evidence => ({
  kinds: new Map(
    kinds.map((kind): [string, SeenKind] => [
      kind.id,
      {
        ...kind,
        titles: new Set(kind.titles),
        ports: new Map(
          kind.ports.map((port): [string, SeenPort] => [
            `${port.direction} ${port.id}`,
            { ...port, types: new Map(port.types) },
          ]),
        ),
        parameters: new Map(
          kind.parameters.map(({ id, from, to, ...seen }): [string, SeenValues] => [
            id,
            {
              ...seen,
              from,
              to,
              sorts: new Map(seen.sorts),
              values: new Map(seen.values),
              units: new Map(seen.units),
            },
          ]),
        ),
      },
    ]),
  ),
  candidates: new Map(candidates.map((one) => [one.attribute, { ...one, values: new Set(one.values) }])),
  lasts,
  files,
  untold,
});
