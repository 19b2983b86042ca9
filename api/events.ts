import { z } from 'zod';
import { contract } from './contract.ts';
import { fileIdSchema } from './places.ts';
import { commaList } from './words.ts';

/** What happens in a team that others may want to hear of. */
export const eventTypes = [
  'file.created',
  'file.saved',
  'file.moved',
  'file.trashed',
  'file.restored',
  'file.removed',
  'run.planned',
  'run.applied',
  'run.rolled-back',
  'schedule.failed',
] as const;
export type EventType = (typeof eventTypes)[number];
const eventType = z.enum(eventTypes);

/** One thing that happened. What does not belong to its type is absent. */
export const teamEventSchema = z.object({
  id: z.string().describe('Rises in the order in which things were written.'),
  type: eventType,
  at: z.iso.datetime(),
  person: z.string().describe('Who did it.'),
  title: z.string().describe('What the file, run or schedule is called.'),
  file: z.string().optional(),
  project: z.string().optional(),
  revision: z.int().optional(),
  run: z.string().optional(),
  schedule: z.string().optional(),
  message: z.string().optional().describe('The message of the revision, or why a schedule could not start.'),
  counts: z.record(z.string(), z.int()).optional().describe('Runs: how many files are in each state.'),
});
export type TeamEvent = z.infer<typeof teamEventSchema>;

export const noticeSchema = z.object({
  id: z.string(),
  at: z.string(),
  text: z.string(),
  link: z.string().describe('Where in the application it leads.'),
  seen: z.boolean(),
});
export type Notice = z.infer<typeof noticeSchema>;

/** What happens in the team, for people and for programs. */
export const eventsApi = {
  watch: contract({
    method: 'get',
    path: '/api/events',
    about:
      'What happens to the files and batch runs that one sees, as server-sent events; Last-Event-ID goes on from there',
    role: 'viewer',
    query: z.object({
      types: commaList('Types with commas between; all where absent.', 400).pipe(z.array(eventType).optional()),
      project: fileIdSchema.optional(),
      since: z
        .string()
        .regex(/^\d{1,18}$/)
        .optional()
        .describe('Begins after the event with this id.'),
    }),
    media: ['text/event-stream'],
    events: teamEventSchema,
  }),
  notices: contract({
    method: 'get',
    path: '/api/notices',
    about: 'Your notices, the latest first',
    role: 'viewer',
    answer: z.object({ notices: z.array(noticeSchema), unseen: z.int() }),
  }),
  seen: contract({
    method: 'post',
    path: '/api/notices/seen',
    about: 'Marks your notices as seen: all, or those that lead to one place',
    role: 'viewer',
    quiet: true,
    body: z.object({ link: z.string().max(300).optional() }),
  }),
};
