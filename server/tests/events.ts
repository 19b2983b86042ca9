import { type Live, liveSchema } from '@basitax/api/live';
import type { z } from 'zod';

/** What a stream tells, one after the other, by its schema. */
export async function* told<T>(response: Response, schema: z.ZodType<T>): AsyncGenerator<T, void> {
  let rest = '';
  for await (const chunk of response.body! as unknown as AsyncIterable<Uint8Array>) {
    rest += new TextDecoder().decode(chunk);
    const parts = rest.split('\n\n');
    rest = parts.pop()!;
    for (const part of parts) {
      const data = /^data: (.*)$/m.exec(part)?.[1];
      if (data !== undefined) yield schema.parse(JSON.parse(data));
    }
  }
}

/** What a stream of a file tells. */
export const eventsOf = (response: Response): AsyncGenerator<Live, void> => told(response, liveSchema);

/** Waits for what fits. */
export async function until(events: AsyncIterator<Live>, fits: (live: Live) => boolean): Promise<Live> {
  for (;;) {
    const { value, done } = await events.next();
    if (done) throw new Error('The line ended.');
    if (fits(value)) return value;
  }
}
