import { framePad } from '../document/geometry.ts';
import type { Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import type { Flow } from '../document/schema.ts';
import { UnreadableFile } from '../document/unreadable.ts';
import { mostDepth } from '../document/validate.ts';
import { must } from '../must.ts';
import { type Assembled, Assembly } from './assembly.ts';
import { find, say } from './sentences.ts';

const flows: Readonly<Record<string, Flow>> = { LR: 'right', RL: 'left', TB: 'down', TD: 'down', BT: 'up' };

/** How diagrams begin that are no flowcharts. */
const otherDiagram =
  /^(?:sequenceDiagram|classDiagram|stateDiagram|erDiagram|gantt|pie|journey|gitGraph|mindmap|timeline)/;

/** Brackets around the text of a node, the longest first, and the shape that they stand for. */
const brackets: readonly (readonly [string, string, string])[] = [
  ['(((', ')))', 'double circle'],
  ['((', '))', 'circle'],
  ['([', '])', 'stadium'],
  ['[[', ']]', 'subroutine'],
  ['[(', ')]', 'cylinder'],
  ['[/', '/]', 'parallelogram'],
  ['[/', '\\]', 'trapezoid'],
  ['[\\', '\\]', 'parallelogram alt'],
  ['[\\', '/]', 'trapezoid alt'],
  ['{{', '}}', 'hexagon'],
  ['{', '}', 'diamond'],
  ['(', ')', 'rounded'],
  ['>', ']', 'flag'],
  ['[', ']', ''],
];
const entities: Readonly<Record<string, string>> = { quot: '"', lt: '<', gt: '>', amp: '&', nbsp: '\u00a0' };

/** What a text says: entities, line breaks, and the marks of Markdown strings. */
const plainText = (text: string): string =>
  text
    .trim()
    .replace(/^"`([\s\S]*)`"$/, '"$1"')
    .replace(/^"([\s\S]*)"$/, '$1')
    .replace(/<br\s*\/?>/gi, '\n')
    .replace(/[#&](?:(\d{1,7})|(\w+));/g, (whole, code?: string, name?: string) =>
      code === undefined
        ? (entities[name ?? ''] ?? whole)
        : Number(code) <= 0x10ffff
          ? String.fromCodePoint(Number(code))
          : whole,
    )
    .trim();

/** Statements that say how things look, and nothing of what there is. */
const looks = /^(?:classDef|class|style|linkStyle|click|accTitle|accDescr|direction)\b/;
const id = /(?:[\p{L}\p{N}_.]|-(?![-.=]))+/uy;
// an arrow with its ends: a line of at least two strokes, dots or equals signs
const arrow = /\s*(<|[ox](?=[-=]))?(?:(--+|==+)([>xo])?|(-\.+-|-\.(?![.-]))([>xo])?|(~~~+))/y;

interface Edge {
  readonly label: string | undefined;
  readonly isDirected: boolean;
  readonly isBoth: boolean;
  readonly stroke: string;
}

/**
 * Reads flowcharts of Mermaid (https://mermaid.js.org/syntax/flowchart.html, from memory): nodes with their texts and
 * shapes, edges with theirs, chains and groups with `&`, subgraphs as frames, the direction as the flow. What says how
 * things look is left out, and that is said. All nodes come without a place. Throws UnreadableFile with the line where it
 * is no flowchart. O(text).
 */
export function readMermaid(text: string, title: string, kinds: Kinds): Assembled {
  return new Reader(kinds).read(text, title);
}

class Reader {
  private readonly made: Assembly;
  private readonly known = new Map<string, Id>();
  private readonly frames: Id[] = [];
  private line = 0;
  private left = 0;
  private unseen = 0;
  private isAllUndirected = true;

  constructor(kinds: Kinds) {
    this.made = new Assembly('mermaid', kinds);
  }

  read(text: string, title: string): Assembled {
    const front = /^\s*---\r?\n([\s\S]*?)\r?\n---[ \t]*(?:\r?\n|$)/.exec(text);
    const called = /^title:\s*(.*?)\s*$/m.exec(front?.[1] ?? '')?.[1]?.replace(/^["']|["']$/g, '') || title;
    this.line = front ? front[0].split('\n').length - 1 : 0;
    const lines = text.slice(front?.[0].length ?? 0).split(/\r?\n/);
    let flow: Flow | undefined;
    for (const raw of lines) {
      this.line++;
      const bare = raw.replace(/^\s*%%.*$/, '').trim();
      if (bare === '') continue;
      if (flow === undefined) {
        const head = /^(?:flowchart|graph)(?:-elk)?\b\s*(\w*)\s*;?\s*(.*)$/i.exec(bare);
        if (!head)
          throw new UnreadableFile(
            otherDiagram.test(bare)
              ? say('other-mermaid', { kind: /^\w+/.exec(bare)?.[0] ?? '' })
              : say('mermaid-start'),
            this.line,
          );
        flow = flows[(head[1] || 'TB').toUpperCase()] ?? 'down';
        if (head[2]) this.statements(head[2]);
      } else this.statements(bare);
    }
    if (flow === undefined) throw new UnreadableFile(say('empty-mermaid'));
    if (this.left > 0) this.made.tell(find('looks', 'info', [], 'looks-left-out', { statements: this.left }));
    if (this.unseen > 0) this.made.tell(find('unseen-links', 'info', [], 'unseen-links', { links: this.unseen }));
    this.made.graph('root', {
      name: called || 'Graph',
      flow,
      ...(this.isAllUndirected && this.made.edges > 0 && { undirected: true as const }),
    });
    return this.made.finish({ title: called });
  }

  /** Statements of a line, parted by semicolons outside quotes. */
  private statements(line: string): void {
    for (const part of line.match(/(?:"[^"]*"|[^;"]|;(?=\w*#)|"(?=[^"]*$))+/g) ?? []) this.statement(part.trim());
  }

  private statement(text: string): void {
    if (text === '') return;
    if (looks.test(text)) {
      this.left++;
      return;
    }
    const sub = /^subgraph\b\s*(.*)$/.exec(text);
    if (sub) {
      this.open(sub[1] ?? '');
      return;
    }
    if (/^end$/i.test(text)) {
      if (this.frames.pop() === undefined) throw new UnreadableFile(say('mermaid-end'), this.line);
      return;
    }
    this.chain(text);
  }

  private open(about: string): void {
    if (this.frames.length >= mostDepth)
      throw new UnreadableFile(say('graphs-too-deep', { most: mostDepth }), this.line);
    const [, name = '', said] = /^([^\s[("]+)?\s*(?:\[([\s\S]*)\])?$/.exec(about) ?? [undefined, '', about];
    const frame = this.made.claim(name || plainText(said ?? '') || 'subgraph');
    const parent = this.frames.at(-1);
    this.made.frames.set(frame, {
      id: frame,
      graph: 'root',
      title: plainText(said ?? (name || about)).slice(0, 500),
      ...(parent !== undefined && { parent }),
      x: 0,
      y: 0,
      width: 200,
      height: 120,
      pad: framePad,
    });
    this.frames.push(frame);
  }

  private node(key: string, said: string | undefined, shape: string): Id {
    const known = this.known.get(key);
    const frame = this.frames.at(-1);
    if (known !== undefined) {
      const node = must(this.made.nodes.get(known));
      if (said !== undefined)
        this.made.setNode(known, {
          ...this.made.named(said || key, known),
          ...(shape !== '' && { attributes: { ...node.attributes, shape } }),
        });
      if (node.frame === undefined && frame !== undefined) this.made.setNode(known, { frame });
      return known;
    }
    const made = this.made.node({ key, called: said || key, frame, attributes: shape === '' ? {} : { shape } });
    this.known.set(key, made);
    return made;
  }

  private fail(text: string, at: number): never {
    throw new UnreadableFile(
      say('mermaid-neither', { found: text.slice(at, at + 30).replace(/\s+/g, ' ') }),
      this.line,
    );
  }

  /** Nodes with arrows between, `A & B --> C -->|text| D`. */
  private chain(text: string): void {
    let at = 0;
    const skip = (): void => {
      while (/\s/.test(text[at] ?? '')) at++;
    };
    const one = (): string => {
      skip();
      id.lastIndex = at;
      const key = id.exec(text)?.[0];
      if (key === undefined) this.fail(text, at);
      at += key.length;
      const more = /^@\{([^}]*)\}/.exec(text.slice(at));
      let [said, shape]: [string | undefined, string] = [undefined, ''];
      if (more) {
        at += more[0].length;
        said = /label:\s*("[^"]*"|[^,}]*)/.exec(must(more[1]))?.[1];
        shape = /shape:\s*([\w-]+)/.exec(must(more[1]))?.[1] ?? '';
      } else
        for (const [open, close, meant] of brackets) {
          if (!text.startsWith(open, at)) continue;
          const isQuoted = text[at + open.length] === '"';
          const from = isQuoted ? text.indexOf('"', at + open.length + 1) + 1 : at + open.length;
          const end = from > 0 ? text.indexOf(close, from) : -1;
          if (end < 0) continue;
          said = text.slice(at + open.length, end);
          shape = meant;
          at = end + close.length;
          break;
        }
      const named = /^:::[\w-]+/.exec(text.slice(at));
      if (named) at += named[0].length;
      this.node(key, said === undefined ? undefined : plainText(said), shape);
      return key;
    };
    const group = (): string[] => {
      const all = [one()];
      for (skip(); text[at] === '&'; skip()) {
        at++;
        all.push(one());
      }
      return all;
    };
    let before = group();
    for (skip(); at < text.length; skip()) {
      const named = /^\w+@(?=[-=<~xo])/.exec(text.slice(at));
      if (named) at += named[0].length;
      const edge = this.arrow(text, at);
      if (!edge) this.fail(text, at);
      at = edge.at;
      const after = group();
      if (edge.edge) for (const source of before) for (const target of after) this.edge(source, target, edge.edge);
      else this.unseen++;
      before = after;
    }
  }

  /** The arrow at a place, with the text on it; no edge where nobody sees it. */
  private arrow(text: string, from: number): { edge: Edge | undefined; at: number } | undefined {
    arrow.lastIndex = from;
    const found = arrow.exec(text);
    if (!found) return undefined;
    let at = arrow.lastIndex;
    let [, start, line, head, dotted, dottedHead, none] = found;
    let label: string | undefined;
    const isOpen = !head && !dottedHead && !none && ((line?.length ?? 0) === 2 || dotted !== undefined);
    const bar = /^\s*\|([^|]*)\|/.exec(text.slice(at));
    if (bar) {
      label = plainText(must(bar[1]));
      at += bar[0].length;
    } else if (isOpen || /^\s*-\.(?!-)/.test(text.slice(from))) {
      // -- text -->, == text ==>, -. text .->
      const worded =
        /^\s*(?:<|[ox])?(--|==|-\.)\s*("[^"]*"|[^-=."|&]+?)\s*(-->|---|--[xo]|==>|===|==[xo]|\.->|\.-)/.exec(
          text.slice(from),
        );
      if (worded) {
        label = plainText(must(worded[2]));
        line = worded[1];
        head = /[>xo]$/.exec(must(worded[3]))?.[0];
        dotted = worded[1] === '-.' ? '-.' : undefined;
        dottedHead = undefined;
        at = from + worded[0].length;
      } else if (line?.length === 2 || dotted === '-.') return undefined;
    }
    if (none) return { at, edge: undefined };
    const tip = head ?? dottedHead;
    const stroke = (dotted ?? '').startsWith('-.') ? 'dotted' : line?.startsWith('=') ? 'thick' : '';
    return {
      at,
      edge: { label, isDirected: tip !== undefined, isBoth: start !== undefined && tip !== undefined, stroke },
    };
  }

  private edge(source: string, target: string, { label, isDirected, isBoth, stroke }: Edge): void {
    if (isDirected) this.isAllUndirected = false;
    this.made.edge({
      source,
      target,
      attributes: { ...(label !== undefined && label !== '' && { label }), ...(stroke !== '' && { stroke }) },
      own: isBoth ? { direction: 'both' } : isDirected ? {} : { direction: 'undirected' },
    });
  }
}
