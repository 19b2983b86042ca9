import type { Params, Saying } from '../said.ts';

/** A file that cannot be read at all: one sentence says what, where and what was expected. */
export class UnreadableFile extends Error implements Saying {
  readonly code: string;
  readonly params: Params;
  readonly line: number | undefined;
  constructor({ message, code, params }: Saying, line?: number) {
    super(line === undefined ? message : `Line ${line}: ${message}`);
    this.name = 'UnreadableFile';
    this.code = code;
    this.params = params;
    this.line = line;
  }
}
