/** A file that cannot be read at all: one sentence says what, where and what was expected. */
export class UnreadableFile extends Error {
  readonly line: number | undefined;
  constructor(message: string, line?: number) {
    super(line === undefined ? message : `Line ${line}: ${message}`);
    this.name = 'UnreadableFile';
    this.line = line;
  }
}
