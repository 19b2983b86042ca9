import type { IncomingMessage } from 'node:http';
import { Webhook } from 'standardwebhooks';
import { onLoopback, type StandIn } from './loopback.ts';

// A stand-in for whatever a studio has its webhooks sent to: it checks signatures with the reference library of Standard
// Webhooks, and shows on a page what came.

/** What came, and whether its signature was right. */
export interface Received {
  readonly at: string;
  readonly id: string;
  readonly isSigned: boolean;
  readonly why: string;
  readonly body: unknown;
}

export interface Receiver extends StandIn {
  /** The latest first. */
  readonly received: readonly Received[];
}

const mostKept = 200;
const mostBytes = 1_000_000;

async function bodyOf(request: IncomingMessage): Promise<string> {
  const parts: Buffer[] = [];
  let size = 0;
  for await (const part of request) {
    size += (part as Buffer).length;
    if (size > mostBytes) throw new Error('too long');
    parts.push(part as Buffer);
  }
  return Buffer.concat(parts).toString('utf8');
}

const escaped = (text: string): string =>
  text.replace(/[&<>"]/g, (one) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[one] ?? one);

function page(received: readonly Received[]): string {
  const rows = received.map(
    ({ at, id, isSigned, why, body }) =>
      `<tr><td>${escaped(at)}</td><td>${isSigned ? 'right' : `wrong: ${escaped(why)}`}</td><td><code>${escaped(id)}</code></td><td><pre>${escaped(JSON.stringify(body, null, 1))}</pre></td></tr>`,
  );
  return `<!doctype html><html lang="en"><meta charset="utf-8"><title>Webhook stand-in</title>
<style>body{font:14px sans-serif;margin:2rem;color-scheme:light dark}td,th{text-align:left;vertical-align:top;padding:.3rem 1rem .3rem 0;border-top:1px solid #8888}pre{margin:0}</style>
<h1>Webhook stand-in</h1><p>What was sent to <code>/</code>, the latest first. What is sent to <code>/fail</code> is answered with 503, so that it is tried again.</p>
${rows.length === 0 ? '<p>Nothing came yet.</p>' : `<table><tr><th>When</th><th>Signature</th><th>Message</th><th>What it says</th></tr>${rows.join('')}</table>`}</html>`;
}

/** `secret`: asked for each message, so that it may be made later. */
export async function startWebhookReceiver(secret: () => string | undefined): Promise<Receiver> {
  const received: Received[] = [];
  const standIn = await onLoopback((request, response) => {
    const answer = (status: number, type: string, text: string): void => {
      response.writeHead(status, { 'Content-Type': `${type}; charset=utf-8` });
      response.end(text);
    };
    if (request.method === 'GET') return answer(200, 'text/html', page(received));
    if (request.method !== 'POST') return answer(405, 'text/plain', 'Only messages and the page.');
    if (request.url === '/fail') return answer(503, 'text/plain', 'Asked to fail.');
    bodyOf(request)
      .then((text) => {
        const headers = Object.fromEntries(
          Object.entries(request.headers).map(([name, value]) => [name, String(value)]),
        );
        let why = '';
        let body: unknown = text;
        try {
          body = new Webhook(secret() ?? '').verify(text, headers);
        } catch (error) {
          why = (error as Error).message;
        }
        received.unshift({
          ...{ at: new Date().toISOString(), id: String(headers['webhook-id'] ?? ''), isSigned: why === '', why, body },
        });
        received.length = Math.min(received.length, mostKept);
        answer(why === '' ? 200 : 401, 'text/plain', why === '' ? 'Received.' : why);
      })
      .catch((error: Error) => answer(413, 'text/plain', error.message));
  });
  return { ...standIn, received };
}
