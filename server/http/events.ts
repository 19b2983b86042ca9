import { PassThrough } from 'node:stream';
import type { Context } from 'koa';

/**
 * How often a line that has nothing to say is kept open, and how long one lasts, in milliseconds: then the client asks
 * again, and is looked at again.
 */
const heartbeat = 15_000;
const longest = 10 * 60_000;

export interface EventLine {
  readonly isOpen: boolean;
  send(data: unknown): void;
  /** Ends it for an error; the client asks again by itself. */
  fail(error: Error): void;
  /** Called once when it is over. */
  onClose(act: () => void): void;
}

/** Answers with server-sent events (WHATWG HTML, section 9.2), until the client goes. */
export function openEvents(ctx: Context): EventLine {
  const stream = new PassThrough();
  ctx.type = 'text/event-stream';
  ctx.set('X-Accel-Buffering', 'no');
  // each event goes out when it happens, not when enough of them can be packed
  (ctx as { compress?: boolean }).compress = false;
  ctx.body = stream;
  let isOpen = true;
  const ends: (() => void)[] = [];
  const beat = setInterval(() => stream.write(': \n\n'), heartbeat);
  const close = (): void => {
    if (!isOpen) return;
    isOpen = false;
    clearInterval(beat);
    clearTimeout(end);
    for (const act of ends) act();
    stream.end();
  };
  const end = setTimeout(close, longest);
  end.unref();
  beat.unref();
  ctx.req.on('close', close);
  return {
    get isOpen() {
      return isOpen;
    },
    send: (data) => void (isOpen && stream.write(`data: ${JSON.stringify(data)}\n\n`)),
    fail: (error) => {
      close();
      stream.destroy(error);
    },
    onClose: (act) => void ends.push(act),
  };
}
