import { PassThrough } from 'node:stream';
import type { Person } from '@basitax/api/people';
import type { Context } from 'koa';
import { whoIs } from '../auth/session.ts';
import { asProblem, HttpProblem } from './problem.ts';

/**
 * How often a line that has nothing to say is kept open, and how long one lasts, in milliseconds: then the client asks
 * again, and is looked at again.
 */
const heartbeat = 15_000;
const longest = 10 * 60_000;
/** How often is asked again whether whoever listens may still do so, in milliseconds. */
const askedAgain = 4000;
/** So many lines one person may have open at one server. */
const mostLines = 40;

const open = new Map<string, number>();
const lines = new Set<() => void>();

/** Ends all lines, so that a server can end; clients ask again elsewhere. */
export function closeEvents(): void {
  for (const close of [...lines]) close();
}

export interface EventLine {
  readonly isOpen: boolean;
  /** `id`: what a client that comes back names as the last that it had. */
  send(data: unknown, id?: string): void;
  /** Ends it for an error; the client asks again by itself. */
  fail(error: Error): void;
  /** Called once when it is over. */
  onClose(act: () => void): void;
}

/**
 * Answers with server-sent events (WHATWG HTML, section 9.2), until the client goes, or may no longer listen: `mayStill`
 * is asked every few seconds with the person as it is then, and throws HttpProblem where not. Throws 429 where a person
 * has too many lines.
 */
export function openEvents(ctx: Context, mayStill: (person: Person) => Promise<void>): EventLine {
  const { id } = ctx.state.person as Person;
  if ((open.get(id) ?? 0) >= mostLines)
    throw new HttpProblem(
      429,
      'Too much at once',
      `You have ${mostLines} pages open that follow changes. Close some of them.`,
      {},
      30,
    );
  open.set(id, (open.get(id) ?? 0) + 1);
  const stream = new PassThrough();
  ctx.type = 'text/event-stream';
  ctx.set('X-Accel-Buffering', 'no');
  // each event goes out when it happens, not when enough of them can be packed
  (ctx as { compress?: boolean }).compress = false;
  ctx.body = stream;
  // whoever listens learns at once that the line stands
  stream.write(': \n\n');
  let isOpen = true;
  const ends: (() => void)[] = [];
  const beat = setInterval(() => stream.write(': \n\n'), heartbeat);
  const close = (): void => {
    if (!isOpen) return;
    isOpen = false;
    clearInterval(beat);
    clearTimeout(end);
    clearInterval(watch);
    lines.delete(close);
    open.set(id, (open.get(id) ?? 1) - 1);
    if (open.get(id) === 0) open.delete(id);
    for (const act of ends) act();
    stream.end();
  };
  const end = setTimeout(close, longest);
  const ask = async (): Promise<void> => {
    const person = await whoIs(ctx);
    if (!person) throw new HttpProblem(401, 'Signed out', 'Sign in first.');
    await mayStill(person);
  };
  const watch = setInterval(
    () =>
      void ask().catch((error: unknown) => {
        // a database that is away takes no rights away
        const { status } = asProblem(error) ?? {};
        if (status !== undefined && status < 500) close();
        else if (status === undefined) ctx.app.emit('error', error, ctx);
      }),
    askedAgain,
  );
  lines.add(close);
  end.unref();
  beat.unref();
  watch.unref();
  ctx.req.on('close', close);
  return {
    get isOpen() {
      return isOpen;
    },
    send: (data, id) =>
      void (isOpen && stream.write(`${id === undefined ? '' : `id: ${id}\n`}data: ${JSON.stringify(data)}\n\n`)),
    fail: (error) => {
      close();
      stream.destroy(error);
    },
    onClose: (act) => void ends.push(act),
  };
}
