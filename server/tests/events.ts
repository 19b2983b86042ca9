import { type Live, liveSchema } from '@basitax/api/live';

/** What a stream of a file tells, one after the other. */
export async function* eventsOf(response: Response): AsyncGenerator<Live, void> {
  let rest = '';
  for await (const chunk of response.body! as unknown as AsyncIterable<Uint8Array>) {
    rest += new TextDecoder().decode(chunk);
    const parts = rest.split('\n\n');
    rest = parts.pop()!;
    for (const part of parts) if (part.startsWith('data: ')) yield liveSchema.parse(JSON.parse(part.slice(6)));
  }
}

/** Waits for what fits. */
export async function until(events: AsyncIterator<Live>, fits: (live: Live) => boolean): Promise<Live> {
  for (;;) {
    const { value, done } = await events.next();
    if (done) throw new Error('The line ended.');
    if (fits(value)) return value;
  }
}
