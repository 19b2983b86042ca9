import { mostNested } from '../document/nesting.ts';
import { UnreadableFile } from '../document/unreadable.ts';
import type { Saying } from '../said.ts';
import { say } from './sentences.ts';

// The language as https://graphviz.org/doc/info/lang.html has it. Parsers of the registry take twice the time for each
// level of what is wrong, or read a part of the language only; this one looks at each character once.

export type DotAttributes = Readonly<Record<string, string>>;

/** A node as an edge or a statement names it; the port without its compass point, where both stand there. */
export interface DotEnd {
  readonly node: string;
  readonly port?: string;
  readonly compass?: string;
}

export interface DotSubgraph {
  readonly is: 'subgraph';
  readonly id?: string;
  readonly statements: readonly DotStatement[];
}

export type DotStatement =
  | { readonly is: 'set'; readonly attributes: DotAttributes }
  | { readonly is: 'defaults'; readonly of: 'node' | 'edge'; readonly attributes: DotAttributes }
  | { readonly is: 'node'; readonly node: string; readonly attributes: DotAttributes }
  | { readonly is: 'edge'; readonly ends: readonly (DotEnd | DotSubgraph)[]; readonly attributes: DotAttributes }
  | DotSubgraph;

export interface DotGraph {
  readonly id?: string;
  readonly isDirected: boolean;
  readonly isStrict: boolean;
  readonly statements: readonly DotStatement[];
}

type TokenKind = 'word' | 'number' | 'quoted' | 'html' | 'sign' | 'arrow' | 'end';
interface Token {
  readonly kind: TokenKind;
  readonly text: string;
  readonly at: number;
}

const compassPoints = new Set(['n', 'ne', 'e', 'se', 's', 'sw', 'w', 'nw', 'c', '_']);
const space = /[\s\uFEFF]+/y;
const word = /[A-Za-z_\u0080-\u{10FFFF}][A-Za-z0-9_\u0080-\u{10FFFF}]*/uy;
const numeral = /-?(?:\.\d+|\d+(?:\.\d*)?)/y;
const restOfLine = /[^\n]*/y;

/**
 * All graphs of a DOT text. Text in quotes that looks like HTML has a backslash before it, which DOT takes for the same,
 * so that the two can be told apart; HTML keeps its brackets. Throws UnreadableFile with the line where the text is no
 * DOT, or is nested too deep. O(text).
 */
export function parseDot(text: string): DotGraph[] {
  return new Parser(text).graphs();
}

class Parser {
  private readonly text: string;
  private at = 0;
  private token: Token;
  private depth = 0;
  private isDirected = true;

  constructor(text: string) {
    this.text = text;
    this.token = this.next();
  }

  graphs(): DotGraph[] {
    const graphs: DotGraph[] = [];
    while (this.token.kind !== 'end') {
      // some programs end a graph like a statement
      if (graphs.length > 0 && this.takes(';')) continue;
      graphs.push(this.graph());
    }
    return graphs;
  }

  private graph(): DotGraph {
    const isStrict = this.takesWord('strict');
    if (this.takesWord('digraph')) this.isDirected = true;
    else if (this.takesWord('graph')) this.isDirected = false;
    else this.fail(say('dot-start'));
    const id = this.isText() ? this.textHere() : undefined;
    return {
      ...(id !== undefined && { id }),
      isDirected: this.isDirected,
      isStrict,
      statements: this.braces(),
    };
  }

  private braces(): DotStatement[] {
    const opened = this.token;
    this.expect('{');
    // the graph has braces of its own
    if (++this.depth > mostNested.dot + 1) this.fail(say('dot-too-deep', { most: mostNested.dot }), opened);
    const statements: DotStatement[] = [];
    while (!this.takes('}')) {
      if (this.token.kind === 'end') this.fail(say('dot-open', { what: 'a {' }), opened);
      statements.push(...this.statement());
      this.takes(';');
    }
    this.depth--;
    return statements;
  }

  private statement(): DotStatement[] {
    if (this.isSign(';')) return [];
    for (const of of ['graph', 'node', 'edge'] as const) {
      if (!this.takesWord(of)) continue;
      const attributes = this.attributeLists();
      return [of === 'graph' ? { is: 'set', attributes } : { is: 'defaults', of, attributes }];
    }
    const first = this.end();
    if (!('is' in first) && this.isSign('=')) {
      if (first.port !== undefined || first.compass !== undefined) this.fail(say('dot-attribute-with-port'));
      this.advance();
      return [{ is: 'set', attributes: { [first.node]: this.textHere() } }];
    }
    const ends = [first];
    while (this.token.kind === 'arrow') {
      if ((this.token.text === '->') !== this.isDirected) this.fail(say('dot-arrow', { isDirected: this.isDirected }));
      this.advance();
      ends.push(this.end());
    }
    if (ends.length > 1) return [{ is: 'edge', ends, attributes: this.attributeLists() }];
    if ('is' in first) return [first];
    return [{ is: 'node', node: first.node, attributes: this.attributeLists() }];
  }

  /** A node with its port, or a subgraph. */
  private end(): DotEnd | DotSubgraph {
    if (this.isSign('{')) return { is: 'subgraph', statements: this.braces() };
    if (this.takesWord('subgraph')) {
      const id = this.isText() ? this.textHere() : undefined;
      // one without braces is the one of that name
      const statements = this.isSign('{') ? this.braces() : [];
      return { is: 'subgraph', ...(id !== undefined && { id }), statements };
    }
    const node = this.textHere();
    if (!this.takes(':')) return { node };
    const one = this.textHere();
    if (this.takes(':')) return { node, port: one, compass: this.textHere() };
    return compassPoints.has(one) ? { node, compass: one } : { node, port: one };
  }

  private attributeLists(): DotAttributes {
    const all: Record<string, string> = {};
    while (this.takes('[')) {
      while (!this.takes(']')) {
        const name = this.textHere();
        // a name by itself is a switch that is on
        set(all, name, this.takes('=') ? this.textHere() : 'true');
        if (!this.takes(',')) this.takes(';');
      }
    }
    return all;
  }

  /** A word, number or text here, with what is joined to it. */
  private textHere(): string {
    const { kind } = this.token;
    if (!this.isText()) this.fail(say('dot-name-missing'));
    if (kind === 'word' && /^(?:node|edge|graph|digraph|subgraph|strict)$/i.test(this.token.text))
      this.fail(say('dot-word', { word: this.token.text }));
    let { text } = this.token;
    this.advance();
    if (kind !== 'quoted') return text;
    while (this.takes('+')) {
      if ((this.token.kind as TokenKind) !== 'quoted') this.fail(say('dot-join'));
      text += this.token.text;
      this.advance();
    }
    return /^<[\s\S]*>$/.test(text) ? `\\${text}` : text;
  }

  private isText(): boolean {
    return this.token.kind !== 'sign' && this.token.kind !== 'arrow' && this.token.kind !== 'end';
  }

  private isSign(sign: string): boolean {
    return this.token.kind === 'sign' && this.token.text === sign;
  }

  private takes(sign: string): boolean {
    const is = this.isSign(sign);
    if (is) this.advance();
    return is;
  }

  private takesWord(wanted: string): boolean {
    const is = this.token.kind === 'word' && this.token.text.toLowerCase() === wanted;
    if (is) this.advance();
    return is;
  }

  private expect(sign: string): void {
    if (!this.takes(sign)) this.fail(say('dot-sign-missing', { sign }));
  }

  private advance(): void {
    this.token = this.next();
  }

  private next(): Token {
    this.skip();
    const { text, at } = this;
    if (at >= text.length) return { kind: 'end', text: '', at };
    const sign = text[at] as string;
    if (sign === '"') return this.quoted();
    if (sign === '<') return this.html();
    if (text.startsWith('->', at) || text.startsWith('--', at)) {
      this.at += 2;
      return { kind: 'arrow', text: text.slice(at, this.at), at };
    }
    const found = this.match(word);
    if (found !== undefined) return { kind: 'word', text: found, at };
    const number = this.match(numeral);
    if (number !== undefined) return { kind: 'number', text: number, at };
    if (!'{}[]=;,:+'.includes(sign)) this.fail(say('dot-sign-misplaced', { sign }), { kind: 'sign', text: sign, at });
    this.at++;
    return { kind: 'sign', text: sign, at };
  }

  /** Over blanks, comments, and lines that a preprocessor left. */
  private skip(): void {
    for (;;) {
      const { text, at } = this;
      if (this.match(space) !== undefined) continue;
      if (text.startsWith('//', at)) this.match(restOfLine);
      else if (text.startsWith('/*', at)) {
        const end = text.indexOf('*/', at + 2);
        if (end === -1) this.fail(say('dot-open', { what: 'a comment' }), { kind: 'sign', text: '', at });
        this.at = end + 2;
      } else if (text[at] === '#' && (at === 0 || text[at - 1] === '\n')) this.match(restOfLine);
      else return;
    }
  }

  private match(what: RegExp): string | undefined {
    what.lastIndex = this.at;
    const found = what.exec(this.text)?.[0];
    if (found) this.at += found.length;
    return found || undefined;
  }

  /** Only a quote is escaped there, and a line break; other backslashes belong to the text. */
  private quoted(): Token {
    const { text, at } = this;
    const parts: string[] = [];
    let from = at + 1;
    for (let i = from; i < text.length; i++) {
      if (text[i] === '"') {
        parts.push(text.slice(from, i));
        this.at = i + 1;
        return { kind: 'quoted', text: parts.join(''), at };
      }
      if (text[i] !== '\\') continue;
      const lineBreak = text[i + 1] === '\n' ? 2 : text.startsWith('\r\n', i + 1) ? 3 : 0;
      if (text[i + 1] === '"') {
        parts.push(text.slice(from, i));
        from = i + 1;
      } else if (lineBreak > 0) {
        parts.push(text.slice(from, i));
        from = i + lineBreak;
      }
      i += Math.max(1, lineBreak - 1);
    }
    return this.fail(say('dot-open', { what: 'a text in quotes' }), { kind: 'quoted', text: '', at });
  }

  private html(): Token {
    const { text, at } = this;
    let depth = 0;
    for (let i = at; i < text.length; i++) {
      if (text.startsWith('<!--', i)) {
        const end = text.indexOf('-->', i + 4);
        if (end === -1) break;
        i = end + 2;
      } else if (text[i] === '<') depth++;
      else if (text[i] === '>' && --depth === 0) {
        this.at = i + 1;
        return { kind: 'html', text: text.slice(at, this.at), at };
      }
    }
    return this.fail(say('dot-open', { what: 'an HTML text' }), { kind: 'html', text: '', at });
  }

  private fail(said: Saying, { at }: Token = this.token): never {
    let line = 1;
    for (let i = this.text.indexOf('\n'); i !== -1 && i < at; i = this.text.indexOf('\n', i + 1)) line++;
    throw new UnreadableFile(said, line);
  }
}

/** A value by name; names such as `__proto__` are names like others. */
function set(all: Record<string, string>, name: string, value: string): void {
  Object.defineProperty(all, name, { value, writable: true, enumerable: true, configurable: true });
}
