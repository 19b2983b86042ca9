import type { ScriptHelp, ScriptProblem } from '@basitax/core/script/check/checker';
import type { Touched } from '@basitax/core/script/host';
import { plural } from '@basitax/core/words';
import {
  autocompletion,
  type Completion,
  type CompletionContext,
  type CompletionResult,
} from '@codemirror/autocomplete';
import { javascript } from '@codemirror/lang-javascript';
import { HighlightStyle, syntaxHighlighting } from '@codemirror/language';
import { type Diagnostic, linter } from '@codemirror/lint';
import { type EditorState, Prec, RangeSet, StateEffect, StateField } from '@codemirror/state';
import { EditorView, GutterMarker, gutter, hoverTooltip, keymap } from '@codemirror/view';
import { tags } from '@lezer/highlight';
import CodeMirror, { type ReactCodeMirrorRef } from '@uiw/react-codemirror';
import { type ReactNode, useCallback, useEffect, useMemo, useRef } from 'react';
import { checkSource, completeSource, explainSource, unlessAway } from './checking.ts';

const looks = EditorView.theme({
  '&': { backgroundColor: 'var(--ticket)', color: 'var(--ink)', fontSize: '13px', height: '100%' },
  '.cm-content': { fontFamily: '"Atkinson Hyperlegible Mono", monospace', caretColor: 'var(--ink)' },
  '.cm-gutters': { backgroundColor: 'var(--panel)', color: 'var(--soft)', borderRight: '1px solid var(--line)' },
  '&.cm-focused': { outline: '2px solid var(--accent)', outlineOffset: '-2px' },
  '.cm-activeLine, .cm-activeLineGutter': { backgroundColor: 'transparent' },
  '&.cm-focused .cm-activeLine, &.cm-focused .cm-activeLineGutter': { backgroundColor: 'var(--accent-wash)' },
  '&.cm-focused > .cm-scroller > .cm-selectionLayer .cm-selectionBackground, .cm-selectionBackground': {
    backgroundColor: 'var(--accent-wash)',
  },
  '.cm-cursor': { borderLeftColor: 'var(--ink)' },
  '.cm-tooltip': { backgroundColor: 'var(--panel)', color: 'var(--ink)', border: '1px solid var(--edge)' },
  '.cm-tooltip-autocomplete > ul > li[aria-selected]': { backgroundColor: 'var(--accent)', color: 'var(--on-accent)' },
  '.cm-tooltip .cm-completionInfo': { maxWidth: '22rem', padding: '6px 8px' },
  '.cm-completionMatchedText': { fontWeight: 'bold', textDecoration: 'none' },
  '.cm-matchingBracket, &.cm-focused .cm-matchingBracket': {
    backgroundColor: 'var(--accent-wash)',
    outline: '1px solid var(--edge)',
  },
  '.cm-panels': { backgroundColor: 'var(--panel)', color: 'var(--ink)' },
});

// two inks and weight tell what is what: colours are for the graph
const highlights = HighlightStyle.define([
  { tag: [tags.keyword, tags.controlKeyword, tags.definitionKeyword, tags.operatorKeyword], fontWeight: 'bold' },
  { tag: [tags.string, tags.special(tags.string), tags.regexp], color: 'var(--good)' },
  { tag: [tags.number, tags.bool, tags.null], color: 'var(--accent)' },
  { tag: [tags.comment, tags.lineComment, tags.blockComment], color: 'var(--soft)', fontStyle: 'italic' },
  { tag: [tags.typeName, tags.className], color: 'var(--soft)' },
  { tag: tags.invalid, color: 'var(--warn)' },
]);

/** A piece of help: how something is written, and what it is about. */
function described({ signature, about }: Pick<ScriptHelp, 'signature' | 'about'>): HTMLElement {
  const box = document.createElement('div');
  const code = box.appendChild(document.createElement('code'));
  code.textContent = signature;
  code.style.fontFamily = '"Atkinson Hyperlegible Mono", monospace';
  code.style.fontSize = '12px';
  if (about !== '') {
    const text = box.appendChild(document.createElement('p'));
    text.textContent = about;
    text.style.marginTop = '4px';
  }
  return box;
}

/** Offers what may be written, and says of each what it is when it is looked at. */
async function complete({ state, pos, explicit }: CompletionContext): Promise<CompletionResult | null> {
  const before = state.sliceDoc(Math.max(0, pos - 1), pos);
  if (!explicit && !/[\w$.'"-]/.test(before)) return null;
  const source = state.doc.toString();
  const offer = await unlessAway(completeSource(source, pos));
  if (!offer || offer.words.length === 0) return null;
  return {
    from: offer.from,
    to: offer.to,
    validFor: /^[\w$.-]*$/,
    options: offer.words.map(
      ({ word, type, isNear }): Completion => ({
        label: word,
        type,
        // the API and what the script itself declares come before the words of the language
        boost: isNear ? 50 : 0,
        info: async () => {
          const help = await unlessAway(explainSource(source, pos, word));
          return help && (help.about !== '' || help.signature !== word) ? described(help) : null;
        },
      }),
    ),
  };
}

const hover = hoverTooltip(async (view, pos) => {
  const help = await unlessAway(explainSource(view.state.doc.toString(), pos));
  return help
    ? {
        pos: help.from,
        end: help.to,
        above: true,
        create: () => ({ dom: Object.assign(described(help), { className: 'max-w-96 px-2 py-1 text-xs' }) }),
      }
    : null;
});

/** How many things a line changed in the last dry run, beside its number; a click selects them. */
class TouchedMark extends GutterMarker {
  private readonly touched: Touched;
  private readonly onTake: (touched: Touched) => void;
  get line(): number {
    return this.touched.line;
  }
  constructor(touched: Touched, onTake: (touched: Touched) => void) {
    super();
    this.touched = touched;
    this.onTake = onTake;
  }
  override eq(other: TouchedMark): boolean {
    return other.touched === this.touched;
  }
  override toDOM(): Node {
    const mark = document.createElement('button');
    const { line, ids } = this.touched;
    mark.type = 'button';
    mark.textContent = ids.length > 999 ? '999+' : String(ids.length);
    mark.title = `Line ${line} changed ${plural(ids.length, 'thing')}: select them`;
    mark.setAttribute('aria-label', mark.title);
    mark.className = 'px-1 text-xs text-accent underline';
    mark.addEventListener('click', () => this.onTake(this.touched));
    return mark;
  }
}

/** The run failed elsewhere: marks are made anew. */
const checkAgain = StateEffect.define<null>();
const putTouched = StateEffect.define<readonly TouchedMark[]>();
/** What lines changed, until the script is written on. */
const touchedMarks = StateField.define<RangeSet<TouchedMark>>({
  create: () => RangeSet.empty,
  update(marks, transaction) {
    const put = transaction.effects.find((effect) => effect.is(putTouched));
    if (put) return put.value.length === 0 ? RangeSet.empty : marksAt(transaction.state, put.value);
    return transaction.docChanged ? RangeSet.empty : marks;
  },
});

const marksAt = (state: EditorState, marks: readonly TouchedMark[]): RangeSet<TouchedMark> =>
  RangeSet.of(
    marks.flatMap((mark) => (mark.line <= state.doc.lines ? [mark.range(state.doc.line(mark.line).from)] : [])),
    true,
  );

/** Lines that are marked, counted from 1. */
export interface Lines {
  readonly from: number;
  readonly to: number;
}

/**
 * An editor for scripts: completion, help and mistakes come from the type checker, by this catalogue and file; the line
 * where a run failed is marked, and how much each line changed.
 */
export default function CodeEditor({
  value,
  onChange,
  onRun,
  onProblems,
  onTake,
  failure,
  touched,
  goTo,
  label,
}: {
  value: string;
  onChange: (value: string) => void;
  /** With the lines that are marked, or undefined for all of the script. */
  onRun: (lines: Lines | undefined) => void;
  onProblems: (problems: readonly ScriptProblem[]) => void;
  onTake: (touched: Touched) => void;
  failure: { readonly line: number; readonly message: string } | undefined;
  touched: readonly Touched[];
  /** A line to be shown; another object shows it again. */
  goTo: { readonly line: number } | undefined;
  label: string;
}): ReactNode {
  const mirror = useRef<ReactCodeMirrorRef>(null);
  const latest = useRef({ onRun, onChange, onProblems, onTake, failure });
  latest.current = { onRun, onChange, onProblems, onTake, failure };
  const change = useCallback((text: string) => latest.current.onChange(text), []);
  const extensions = useMemo(
    () => [
      javascript({ typescript: true }),
      looks,
      syntaxHighlighting(highlights),
      autocompletion({ override: [complete], icons: false }),
      hover,
      linter(
        async (view) => {
          const problems = (await unlessAway(checkSource(view.state.doc.toString()))) ?? [];
          latest.current.onProblems(problems);
          return [...problems.map(markOf), ...failureMark(view.state, latest.current.failure)];
        },
        {
          delay: 500,
          needsRefresh: (update) =>
            update.transactions.some((one) => one.effects.some((effect) => effect.is(checkAgain))),
        },
      ),
      touchedMarks,
      gutter({ class: 'cm-touched', markers: (view) => view.state.field(touchedMarks) }),
      EditorView.lineWrapping,
      EditorView.contentAttributes.of({ 'aria-label': label }),
      // before the usual keys, of which one puts a line there
      Prec.highest(
        keymap.of([
          {
            key: 'Mod-Enter',
            run: (view) => {
              latest.current.onRun(markedLines(view.state));
              return true;
            },
          },
        ]),
      ),
    ],
    [label],
  );
  useEffect(() => {
    const view = mirror.current?.view;
    if (!view) return;
    if (failure && failure.line <= view.state.doc.lines) show(view, failure.line);
    view.dispatch({ effects: checkAgain.of(null) });
  }, [failure]);
  useEffect(() => {
    const view = mirror.current?.view;
    const marks = touched.map((one) => new TouchedMark(one, (which) => latest.current.onTake(which)));
    view?.dispatch({ effects: putTouched.of(marks) });
  }, [touched]);
  useEffect(() => {
    const view = mirror.current?.view;
    if (!view || !goTo || goTo.line > view.state.doc.lines) return;
    show(view, goTo.line);
    view.focus();
  }, [goTo]);
  return (
    <CodeMirror
      ref={mirror}
      value={value}
      onChange={change}
      extensions={extensions}
      theme="none"
      height="100%"
      className="h-full"
      // Tab moves on, as it does everywhere
      indentWithTab={false}
      basicSetup={{
        autocompletion: false,
        foldGutter: false,
        highlightActiveLine: true,
        searchKeymap: true,
        lintKeymap: false,
      }}
    />
  );
}

const markOf = ({ from, to, message }: ScriptProblem): Diagnostic => ({ from, to, severity: 'error', message });

function failureMark(
  state: EditorState,
  failure: { readonly line: number; readonly message: string } | undefined,
): Diagnostic[] {
  if (!failure || failure.line > state.doc.lines) return [];
  const { from, to } = state.doc.line(failure.line);
  return [{ from, to, severity: 'error', message: failure.message }];
}

/** The lines that are marked, all of those that the marking touches; undefined where nothing is. */
function markedLines({ selection, doc }: EditorState): Lines | undefined {
  const { from, to, empty } = selection.main;
  return empty ? undefined : { from: doc.lineAt(from).number, to: doc.lineAt(to).number };
}

/** Puts the cursor on a line, in the middle of the window. */
function show(view: EditorView, line: number): void {
  const { from } = view.state.doc.line(line);
  view.dispatch({ selection: { anchor: from }, effects: EditorView.scrollIntoView(from, { y: 'center' }) });
}
