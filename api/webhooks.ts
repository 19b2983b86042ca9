import { z } from 'zod';
import { contract } from './contract.ts';
import { eventTypes, teamEventSchema } from './events.ts';

const types = z.array(z.enum(eventTypes)).min(1, 'Choose at least one event.').max(eventTypes.length);

export const webhookSchema = z.object({
  id: z.string(),
  title: z.string(),
  url: z.string(),
  types,
  active: z.boolean(),
  why: z.string().describe('Why it was switched off automatically; empty where it was not.'),
  by: z.string(),
  createdAt: z.string(),
  waiting: z.int().describe('Deliveries that are still to be made.'),
  failed: z.int().describe('Deliveries of the last week that were given up.'),
});
export type Webhook = z.infer<typeof webhookSchema>;

export const deliverySchema = z.object({
  id: z.string().describe('Sent as webhook-id: the same each time that it is tried.'),
  type: z.string(),
  state: z.enum(['waiting', 'delivered', 'failed']),
  tries: z.int(),
  status: z.int().nullable().describe('What the receiver answered last.'),
  said: z.string().describe('What went wrong last.'),
  createdAt: z.string(),
  nextAt: z.string().nullable(),
});
export type Delivery = z.infer<typeof deliverySchema>;

/** What is sent: as Standard Webhooks has it. */
export const webhookPayloadSchema = z.object({
  type: z.string(),
  timestamp: z.iso.datetime(),
  data: teamEventSchema.omit({ type: true, at: true }).partial(),
});

const one = z.object({ id: z.string().max(32) });
const wanted = z.object({
  title: z.string().trim().min(1, 'Title it.').max(200),
  url: z.url({ protocol: /^https?$/, error: 'is not an http or https address' }).max(500),
  types,
  active: z.boolean().default(true),
});

export type WebhookWanted = z.input<typeof wanted>;

/** Where the team’s events are sent: leads decide. */
export const webhooksApi = {
  list: contract({
    method: 'get',
    path: '/api/webhooks',
    about: 'Where the team’s events are sent',
    role: 'lead',
    answer: z.object({
      webhooks: z.array(webhookSchema),
      hosts: z.array(z.string()).describe('Hosts that may be sent to, as the server is set up.'),
    }),
  }),
  make: contract({
    method: 'post',
    path: '/api/webhooks',
    about: 'Makes a webhook; its secret is shown this once',
    role: 'lead',
    body: wanted,
    answer: webhookSchema.extend({ secret: z.string().describe('For checking signatures.') }),
    status: 201,
    problems: [422],
  }),
  change: contract({
    method: 'put',
    path: '/api/webhooks/:id',
    about: 'Changes a webhook',
    role: 'lead',
    params: one,
    body: wanted,
    answer: webhookSchema,
    problems: [422],
  }),
  remove: contract({
    method: 'delete',
    path: '/api/webhooks/:id',
    about: 'Removes a webhook with what is still to be sent to it',
    role: 'lead',
    params: one,
  }),
  test: contract({
    method: 'post',
    path: '/api/webhooks/:id/test',
    about: 'Sends a webhook one message that says it is a test',
    role: 'lead',
    params: one,
    answer: deliverySchema,
    status: 201,
  }),
  deliveries: contract({
    method: 'get',
    path: '/api/webhooks/:id/deliveries',
    about: 'What was sent to a webhook in the last week, the latest first',
    role: 'lead',
    params: one,
    answer: z.object({ deliveries: z.array(deliverySchema) }),
  }),
  again: contract({
    method: 'post',
    path: '/api/webhooks/:id/deliveries/:delivery/again',
    about: 'Sends a message to a webhook once more',
    role: 'lead',
    params: one.extend({ delivery: z.string().max(64) }),
    answer: deliverySchema,
    status: 201,
  }),
};
