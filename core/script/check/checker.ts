import type { VirtualTypeScriptEnvironment } from '@typescript/vfs';
import type TypeScript from 'typescript';
import type { Kinds } from '../../document/kinds.ts';
import { must } from '../../must.ts';
import { apiText } from '../generated/api.ts';
import { libText } from '../generated/lib.ts';
import { declarations } from './declarations.ts';
import { namedAround, nodeAt, told } from './told.ts';

/** Something in a script that cannot be right. Lines and columns count from 1, offsets from 0. */
export interface ScriptProblem {
  readonly line: number;
  readonly column: number;
  /** Where it begins and ends in the source. */
  readonly from: number;
  readonly to: number;
  readonly message: string;
}

/** What may be written at a place. */
export interface ScriptOffer {
  /** Where the word that is being written begins, and where it ends. */
  readonly from: number;
  readonly to: number;
  readonly words: readonly {
    readonly word: string;
    readonly type: 'method' | 'property' | 'constant' | 'keyword';
    /** It is the API’s own, or the script’s, and no word of the language. */
    readonly isNear: boolean;
  }[];
}

/** What stands at a place: how it is written, and what it is about. */
export interface ScriptHelp {
  readonly from: number;
  readonly to: number;
  readonly signature: string;
  readonly about: string;
}

const [lib, api, own, script] = ['/lib.d.ts', '/api.d.ts', '/catalogue.d.ts', '/script.ts'];
/** The names at the top of every script. */
const apiNames: ReadonlySet<string> = new Set(
  [...apiText.matchAll(/^\s*declare (?:const|function) (\w+)/gm)].map((match) => must(match[1])),
);
const head = '(function () { ';
const inScript = (offset: number, source: string): number => Math.min(Math.max(0, offset - head.length), source.length);

/** The most that completion offers at a time. */
const mostWords = 1000;
/** The most problems that are listed of one script. */
const mostProblems = 200;

/**
 * TypeScript's own language service over one script at a time, with the API as the catalogue and the registry have it.
 * Loose where scripts of daily work are: what may be missing is not asked about, and types may be left out; what is
 * told cannot be right. Making it takes some 300 ms, a check of a script some 50.
 */
export class ScriptChecker {
  private readonly ts: typeof TypeScript;
  private readonly environment: VirtualTypeScriptEnvironment;

  constructor(
    { ts, vfs }: { ts: typeof TypeScript; vfs: typeof import('@typescript/vfs') },
    kinds: Kinds,
    known: readonly string[] | undefined,
  ) {
    this.ts = ts;
    const system = vfs.createSystem(
      new Map([
        [lib, libText],
        [api, apiText],
        [own, declarations(kinds, known)],
        [script, ' '],
      ]),
    );
    this.environment = vfs.createVirtualTypeScriptEnvironment(system, [lib, api, own, script], ts, {
      target: ts.ScriptTarget.ES2023,
      noLib: true,
      strict: false,
      types: [],
      noEmit: true,
      allowUnreachableCode: true,
      allowUnusedLabels: true,
    });
  }

  /** Scripts run in a function of their own, so that they may return, and their names meet none of ours. */
  private put(source: string): void {
    this.environment.updateFile(script, `${head}${source}\n})();`);
  }

  /** What in a script cannot be right, in its order. */
  check(source: string): ScriptProblem[] {
    this.put(source);
    const { languageService } = this.environment;
    const file = must(languageService.getProgram()?.getSourceFile(script));
    const wrongForm = languageService.getSyntacticDiagnostics(script);
    const found = wrongForm.length > 0 ? wrongForm : languageService.getSemanticDiagnostics(script);
    const checker = must(languageService.getProgram()).getTypeChecker();
    return found.slice(0, mostProblems).map((one) => {
      const { line, character } = file.getLineAndCharacterOfPosition(one.start ?? 0);
      return {
        line: line + 1,
        column: character + 1 - (line === 0 ? head.length : 0),
        from: inScript(one.start ?? 0, source),
        to: inScript((one.start ?? 0) + (one.length ?? 1), source),
        message: told(this.ts, checker, file, one),
      };
    });
  }

  /** What may be written at an offset; undefined where nothing may. */
  complete(source: string, at: number): ScriptOffer | undefined {
    this.put(source);
    const found = this.environment.languageService.getCompletionsAtPosition(script, at + head.length, {});
    if (!found) return undefined;
    const before = /[\w$.-]*$/.exec(source.slice(0, at))?.[0] ?? '';
    // names in quotes have stops and hyphens in them, words have none
    const isQuoted = found.entries.some((entry) => entry.kind === this.ts.ScriptElementKind.string);
    const typed = isQuoted ? before : (/[\w$]*$/.exec(before)?.[0] ?? '');
    const span = found.optionalReplacementSpan;
    return {
      from: at - typed.length,
      to: span ? Math.max(at, span.start + span.length - head.length - (isQuoted ? 1 : 0)) : at,
      words: found.entries
        .filter((entry) => !/^(?:warning|directory)$/.test(entry.kind) && !entry.name.startsWith('_'))
        .slice(0, mostWords)
        .map((entry) => ({
          word: entry.name,
          type: sortOf(entry.kind),
          isNear: apiNames.has(entry.name) || entry.sortText < '12',
        })),
    };
  }

  /** What the word at an offset is; with a `word`, what it would be if it were written there. */
  help(source: string, at: number, word?: string): ScriptHelp | undefined {
    this.put(source);
    const { languageService } = this.environment;
    const inQuotes = this.quoted(at, word);
    if (inQuotes) return inQuotes;
    if (word !== undefined) {
      const found = languageService.getCompletionEntryDetails(
        script,
        at + head.length,
        word,
        {},
        undefined,
        {},
        undefined,
      );
      return found && { from: at, to: at, ...this.texts(found.displayParts, found.documentation) };
    }
    const found = languageService.getQuickInfoAtPosition(script, at + head.length);
    if (!found?.displayParts) return undefined;
    const { start, length } = found.textSpan;
    return {
      from: start - head.length,
      to: start + length - head.length,
      ...this.texts(found.displayParts, found.documentation),
    };
  }

  /** The parameter, kind or operation that a call names in quotes at an offset. */
  private quoted(at: number, word: string | undefined): ScriptHelp | undefined {
    const program = must(this.environment.languageService.getProgram());
    const node = nodeAt(this.ts, must(program.getSourceFile(script)), at + head.length - 1, 1);
    const checker = program.getTypeChecker();
    const named = node && this.ts.isStringLiteralLike(node) ? namedAround(this.ts, checker, node) : undefined;
    if (!named || named.literal !== node) return undefined;
    const symbol = named.all.getProperty(word ?? named.literal.text);
    return (
      symbol && {
        from: named.literal.getStart() + 1 - head.length,
        to: Math.max(at, named.literal.getEnd() - 1 - head.length),
        signature:
          named.what === 'parameter'
            ? `${symbol.name}: ${checker.typeToString(checker.getTypeOfSymbol(symbol))}`
            : symbol.name,
        about: this.ts.displayPartsToString(symbol.getDocumentationComment(checker)),
      }
    );
  }

  private texts(
    parts: readonly TypeScript.SymbolDisplayPart[],
    docs: readonly TypeScript.SymbolDisplayPart[] | undefined,
  ): Pick<ScriptHelp, 'signature' | 'about'> {
    return {
      // `(method) ` and the like say what the word itself shows
      signature: this.ts.displayPartsToString([...parts]).replace(/^\([a-z ]+\) /, ''),
      about: this.ts.displayPartsToString([...(docs ?? [])]),
    };
  }
}

function sortOf(kind: string): ScriptOffer['words'][number]['type'] {
  if (/method|function|call/.test(kind)) return 'method';
  if (/keyword/.test(kind)) return 'keyword';
  return /string|enum member/.test(kind) ? 'constant' : 'property';
}

let loading: Promise<{ ts: typeof TypeScript; vfs: typeof import('@typescript/vfs') }> | undefined;
let made: { readonly of: Kinds; readonly known: string; readonly checker: ScriptChecker } | undefined;

/** The checker for a catalogue; the compiler is loaded the first time, and the last checker is kept. */
export async function checkerFor(kinds: Kinds, known: readonly string[] | undefined): Promise<ScriptChecker> {
  loading ??= Promise.all([import('typescript'), import('@typescript/vfs')]).then(([ts, vfs]) => ({
    ts: ts.default,
    vfs,
  }));
  const tools = await loading;
  const key = JSON.stringify(known ?? null);
  if (made?.of !== kinds || made.known !== key)
    made = { of: kinds, known: key, checker: new ScriptChecker(tools, kinds, known) };
  return made.checker;
}
