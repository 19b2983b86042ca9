import type { ApiMember } from '@basitax/core/script/api-type';
import {
  autocompletion,
  type Completion,
  type CompletionContext,
  type CompletionResult,
} from '@codemirror/autocomplete';
import { javascript } from '@codemirror/lang-javascript';
import { HighlightStyle, syntaxHighlighting } from '@codemirror/language';
import { type Diagnostic, linter, setDiagnostics } from '@codemirror/lint';
import { Prec } from '@codemirror/state';
import { EditorView, hoverTooltip, keymap } from '@codemirror/view';
import { tags } from '@lezer/highlight';
import CodeMirror, { type ReactCodeMirrorRef } from '@uiw/react-codemirror';
import { type ReactNode, useCallback, useEffect, useMemo, useRef } from 'react';
import { helpAt, offerAt } from './api-help.ts';

/** What may stand in quotes: names that the catalogue and the registry know. */
export interface Words {
  readonly parameters: readonly string[];
  readonly operations: readonly (readonly [string, string])[];
  readonly kinds: readonly (readonly [string, string])[];
}

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

const described = ({ signature, doc }: ApiMember): HTMLElement => {
  const box = document.createElement('div');
  const code = box.appendChild(document.createElement('code'));
  code.textContent = signature;
  code.style.fontFamily = '"Atkinson Hyperlegible Mono", monospace';
  code.style.fontSize = '12px';
  if (doc !== '') {
    const text = box.appendChild(document.createElement('p'));
    text.textContent = doc;
    text.style.marginTop = '4px';
  }
  return box;
};

const ofMember = (member: ApiMember): Completion => ({
  label: member.name,
  type: member.isMethod ? 'method' : 'property',
  info: () => described(member),
  ...(member.isMethod && {
    apply: (view: EditorView, _completion: Completion, from: number, to: number) =>
      view.dispatch({
        changes: { from, to, insert: `${member.name}()` },
        selection: { anchor: from + member.name.length + (member.signature.includes('()') ? 2 : 1) },
      }),
  }),
});

function completions(words: () => Words) {
  return ({ state, pos, explicit }: CompletionContext): CompletionResult | null => {
    const offer = offerAt(state.sliceDoc(0, pos));
    if (
      !offer ||
      (!explicit && offer.from === pos && state.sliceDoc(pos - 1, pos) !== '.' && offer.what.kind === 'members')
    )
      return null;
    const { what } = offer;
    const options: Completion[] =
      what.kind === 'members'
        ? what.members.map(ofMember)
        : what.kind === 'parameters'
          ? words().parameters.map((label) => ({ label, type: 'property' }))
          : words()[what.kind].map(([label, detail]) => ({ label, detail, type: 'constant' }));
    return { from: offer.from, options, validFor: /^[\w$.-]*$/ };
  };
}

const hover = hoverTooltip((view, pos) => {
  const help = helpAt(view.state.doc.toString(), pos);
  return help
    ? {
        pos: help.from,
        end: help.to,
        above: true,
        create: () => ({ dom: Object.assign(described(help.member), { className: 'max-w-96 px-2 py-1 text-xs' }) }),
      }
    : null;
});

/** An editor for scripts: completion and help from the API's own types; the line of a mistake is marked. */
export default function CodeEditor({
  value,
  onChange,
  onRun,
  words,
  problem,
  label,
}: {
  value: string;
  onChange: (value: string) => void;
  onRun: () => void;
  words: Words;
  problem: { readonly line: number; readonly message: string } | undefined;
  label: string;
}): ReactNode {
  const mirror = useRef<ReactCodeMirrorRef>(null);
  const latest = useRef({ words, onRun, onChange });
  latest.current = { words, onRun, onChange };
  const change = useCallback((text: string) => latest.current.onChange(text), []);
  const extensions = useMemo(
    () => [
      javascript({ typescript: true }),
      looks,
      syntaxHighlighting(highlights),
      autocompletion({ override: [completions(() => latest.current.words)], icons: false }),
      hover,
      // without it marks would go with the next reconfiguration
      linter(null),
      EditorView.lineWrapping,
      EditorView.contentAttributes.of({ 'aria-label': label }),
      // before the usual keys, of which one puts a line there
      Prec.highest(
        keymap.of([
          {
            key: 'Mod-Enter',
            run: () => {
              latest.current.onRun();
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
    const diagnostics: Diagnostic[] = [];
    if (problem && problem.line <= view.state.doc.lines) {
      const { from, to } = view.state.doc.line(problem.line);
      diagnostics.push({ from, to, severity: 'error', message: problem.message });
      view.dispatch({ effects: EditorView.scrollIntoView(from, { y: 'center' }) });
    }
    view.dispatch(setDiagnostics(view.state, diagnostics));
  }, [problem]);
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
