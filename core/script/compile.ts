import { transform } from 'sucrase';

/** A mistake that keeps a script from running at all, with its place. */
export class ScriptSyntax extends Error {
  readonly line: number | undefined;
  constructor(message: string, line: number | undefined) {
    super(message);
    this.name = 'ScriptSyntax';
    this.line = line;
  }
}

/**
 * TypeScript to JavaScript with the lines where they were; nothing is checked but the form. Throws ScriptSyntax.
 * O(length).
 */
export function compileScript(source: string): string {
  try {
    return transform(source, { transforms: ['typescript'], disableESTransforms: true, keepUnusedImports: true }).code;
  } catch (error) {
    const text = error instanceof Error ? error.message : String(error);
    const place = /\((\d+):\d+\)\s*$/.exec(text);
    throw new ScriptSyntax(
      `${text.replace(/^Error transforming [^:]*: /, '').replace(/\s*\(\d+:\d+\)\s*$/, '')}.`,
      place ? Number(place[1]) : undefined,
    );
  }
}
