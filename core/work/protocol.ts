import type { Catalogue } from '../document/catalogue.ts';
import type { Doc } from '../document/doc.ts';
import type { Edit } from '../edit/step.ts';
import type { Params } from '../said.ts';

/** One end of a channel to a worker, whatever the platform calls it. */
export interface Channel {
  post(message: unknown): void;
  listen(receive: (message: unknown) => void): void;
  /** Called when the other side died, with why. */
  failed?(report: (why: string) => void): void;
  /** Ends the other side at once, in the middle of its work. */
  terminate(): void;
}

/**
 * A document as it is sent: whole, as text that we wrote of a document that was checked, or as an edit of the one sent
 * before.
 */
export type SentDoc =
  | { readonly version: number; readonly doc: Doc }
  | { readonly version: number; readonly text: string }
  | { readonly version: number; readonly base: number; readonly edit: Edit };

export interface RunMessage {
  readonly type: 'run';
  readonly job: number;
  readonly task: string;
  readonly input: unknown;
  readonly doc?: SentDoc;
  /** Sent with the first job, and again when it changes. */
  readonly catalogue?: Catalogue;
}

export type Answer =
  | { readonly type: 'progress'; readonly job: number; readonly fraction: number; readonly what: string }
  | { readonly type: 'done'; readonly job: number; readonly result: unknown; readonly isSpent?: boolean }
  | {
      readonly type: 'failed';
      readonly job: number;
      readonly isSpent?: boolean;
      readonly name: string;
      readonly message: string;
      /** Of what was refused. */
      readonly code?: string;
      readonly params?: Params;
    };

export interface Progress {
  readonly fraction: number;
  readonly what: string;
}
