import { SaxesParser } from 'saxes';
import { mostNested } from '../document/nesting.ts';
import type { AttributeType } from '../document/schema.ts';
import { UnreadableFile } from '../document/unreadable.ts';
import { must } from '../must.ts';
import { say } from './sentences.ts';

/** An element: its name without the prefix of the outermost one, and the text in it where it has no children. */
export interface Element extends XmlTree {
  readonly children: readonly Element[];
  readonly text: string;
}

const named: Record<string, string> = { amp: '&', lt: '<', gt: '>', quot: '"', apos: "'" };

/**
 * Resolves the five named entities of XML 1.0 and character numbers; no others exist without a DTD, which is refused.
 */
export function decodeEntities(text: string): string {
  if (!text.includes('&')) return text;
  return text.replace(
    /&(?:#(\d{1,7})|#x([0-9a-fA-F]{1,6})|(\w+));/g,
    (whole, decimal?: string, hex?: string, name?: string) => {
      if (name !== undefined) return named[name] ?? whole;
      const code = decimal !== undefined ? Number(decimal) : Number.parseInt(hex ?? '', 16);
      return code > 0 && code <= 0x10ffff ? String.fromCodePoint(code) : whole;
    },
  );
}

const entities: Readonly<Record<string, string>> = {
  '&': '&amp;',
  '<': '&lt;',
  '>': '&gt;',
  '"': '&quot;',
  "'": '&apos;',
  '\n': '&#10;',
  '\r': '&#13;',
  '\t': '&#9;',
};
const special = { '"': /[&<>"\n\r\t]/g, "'": /[&<>'\n\r\t]/g, '': /[&<>\n\r\t]/g };
// biome-ignore lint/suspicious/noControlCharactersInRegex: these are what XML has no place for
const illegal = /[\u0000-\u0008\u000B\u000C\u000E-\u001F\uD800-\uDFFF\uFFFE\uFFFF]/gu;

/**
 * Text for an attribute in such quotes, or between tags, where there are none; characters that XML 1.0 cannot hold are
 * left out. O(text).
 */
export const escapeXml = (text: string, quote: '"' | "'" | '' = '"'): string =>
  text.replace(illegal, '').replace(special[quote], (one) => entities[one] ?? one);

/** Attributes as they stand in a tag, each after a blank; JSON in single quotes, so that its own need no entities. */
export const attributesText = (attributes: Iterable<readonly [string, string]>): string =>
  Array.from(attributes, ([name, value]) => {
    const quote = value.includes('"') && !value.includes("'") ? "'" : '"';
    return ` ${name}=${quote}${escapeXml(value, quote)}${quote}`;
  }).join('');

/** What XML formats call the types of attributes: the names of XML Schema that GraphML and GEXF share. */
export const xmlTypes: Readonly<Record<AttributeType, string>> = {
  text: 'string',
  number: 'double',
  integer: 'long',
  boolean: 'boolean',
  json: 'string',
  xml: 'string',
};

/** What programs keep in these may be any XML: it is carried as it stands. */
const kept: ReadonlySet<string> = new Set(['data', 'default']);

/** What stands against reading XML at all, whatever it is: entities of its own. */
function checkDoctype(text: string): void {
  const doctype = /<!DOCTYPE[^>[]*(\[)?/i.exec(text);
  if (doctype?.[1] === undefined && !/<!ENTITY/i.test(text)) return;
  const line = text.slice(0, doctype?.index ?? text.search(/<!ENTITY/i)).split('\n').length;
  throw new UnreadableFile(say('xml-entities'), line);
}

/** An & that begins no reference stands for itself: strictly that is no XML, but many programs write it. */
const mended = (text: string): string =>
  text.includes('&')
    ? text.replace(
        /<!\[CDATA\[[\s\S]*?\]\]>|<!--[\s\S]*?-->|&(?!(?:#\d+|#x[\da-fA-F]+|[A-Za-z_][\w.-]*);)/g,
        (found) => (found === '&' ? '&amp;' : found),
      )
    : text;

/** The prefix of the outermost element, with its colon; empty where it has none. */
const prefixOf = (text: string): string => {
  const head = text.slice(0, 10_000).replace(/<!--[\s\S]*?-->|<\?[\s\S]*?\?>/g, '');
  return /<(?:([\w.-]+:))?[\w.-]/.exec(head)?.[1] ?? '';
};

interface Handlers {
  /** An element begins; `from` is the place behind its tag. */
  open(tag: string, attributes: Readonly<Record<string, string>>, from: number): void;
  /** It ends; `to` is the place before its end tag, or that behind its tag where it has none. */
  close(to: number): void;
}

/**
 * Walks over XML without a DTD. Throws UnreadableFile with the line where it is not well formed, where it declares
 * entities (which could grow without bound, or reach outside), or where it nests too deep. O(text).
 */
function walkXml(text: string, { open, close }: Handlers): void {
  checkDoctype(text);
  const parser = new SaxesParser({ fragment: false });
  let depth = 0;
  let problem: Error | undefined;
  parser.on('error', (error) => {
    problem ??= error;
    throw error;
  });
  parser.on('opentag', ({ name, attributes, isSelfClosing }) => {
    if (++depth > mostNested.xml && !isSelfClosing)
      throw new UnreadableFile(say('xml-too-deep', { most: mostNested.xml }), parser.line);
    open(name, attributes as Record<string, string>, parser.position);
  });
  parser.on('closetag', ({ isSelfClosing }) => {
    depth--;
    close(isSelfClosing ? parser.position : text.lastIndexOf('</', parser.position - 1));
  });
  try {
    parser.write(text).close();
  } catch (error) {
    if (error instanceof UnreadableFile || !problem) throw error;
    // “3:7: unclosed tag: graph”
    const [, line, why] = /^(\d+):\d+: ([\s\S]*?)\.?$/.exec(problem.message) ?? [undefined, undefined, problem.message];
    throw new UnreadableFile(
      say('not-xml', { why: why?.replace(/\s+/g, ' ').slice(0, 200) ?? '' }),
      line === undefined ? undefined : Number(line),
    );
  }
}

/** Shared by all elements without children, of which there are most. */
const childless: never[] = [];

/** An element while what is in it is read. */
type Growing<E extends XmlTree> = E & { children: Growing<E>[] };

/**
 * The elements of XML in their order, each made by `make`, and told of at its end with the places between which its inside
 * lies. What stands in an element that is kept as it stands is no part of the tree. Throws UnreadableFile.
 */
function growTree<E extends XmlTree>(
  text: string,
  make: (tag: string, attributes: Readonly<Record<string, string>>) => Growing<E>,
  isKept: (element: E) => boolean,
  end: (element: Growing<E>, from: number, to: number) => void,
): E {
  const stack: { element: Growing<E>; from: number }[] = [];
  let outermost: E | undefined;
  // how deep within an element whose content is kept as it stands
  let within = 0;
  walkXml(text, {
    open(tag, attributes, from) {
      if (within > 0) {
        within++;
        return;
      }
      const element = make(tag, attributes);
      const parent = stack.at(-1)?.element;
      if (parent?.children === childless) parent.children = [element];
      else parent?.children.push(element);
      outermost ??= element;
      stack.push({ element, from });
      if (isKept(element)) within = 1;
    },
    close(to) {
      within = Math.max(0, within - 1);
      if (within > 0) return;
      const { element, from } = must(stack.pop());
      end(element, from, to);
    },
  });
  if (!outermost) throw new UnreadableFile(say('xml-empty'));
  return outermost;
}

/**
 * Parses XML without a DTD and gives its outermost element. A prefix that it has is taken off all that have it.
 * Throws UnreadableFile. O(text).
 */
export function parseXml(source: string): Element {
  const text = mended(source);
  const prefix = prefixOf(text);
  return growTree<Element & { text: string }>(
    text,
    (tag, attributes) => ({
      tag: prefix !== '' && tag.startsWith(prefix) ? tag.slice(prefix.length) : tag,
      attributes,
      children: childless,
      text: '',
    }),
    (element) => kept.has(element.tag),
    (element, from, to) => {
      if (element.children === childless && to > from) element.text = text.slice(from, to);
    },
  );
}

/** Is text well-formed between two tags, with prefixes that are known there? Any prefix will do where none are given. */
export function isFragment(text: string, prefixes: ReadonlySet<string> | undefined): boolean {
  if (!text.includes('<') && !text.includes('&')) return true;
  let isKnown = true;
  const check = (name: string): void => {
    const prefix = /^([^:]+):/.exec(name)?.[1];
    if (prefix === undefined || prefix === 'xml' || prefix === 'xmlns' || !prefixes || prefixes.has(prefix)) return;
    if (!text.includes(`xmlns:${prefix}=`)) isKnown = false;
  };
  try {
    walkXml(`<x>${text}</x>`, {
      open(tag, attributes) {
        check(tag);
        for (const name in attributes) check(name);
      },
      close: () => undefined,
    });
  } catch (error) {
    if (error instanceof UnreadableFile) return false;
    throw error;
  }
  return isKnown;
}

/** An element with its attributes and children in their order; the text between them is left out. */
export interface XmlTree {
  readonly tag: string;
  readonly attributes: Readonly<Record<string, string>>;
  readonly children: readonly XmlTree[];
}

/** Parses XML without a DTD and gives its outermost element. Throws UnreadableFile. O(text). */
export const parseTree = (source: string): XmlTree =>
  growTree<XmlTree>(
    mended(source),
    (tag, attributes) => ({ tag, attributes: { ...attributes }, children: childless }),
    () => false,
    () => undefined,
  );

/** Such an element as text, a line for each. */
export function treeText({ tag, attributes, children: inner }: XmlTree, indent = ''): string {
  const head = attributesText(Object.entries(attributes));
  if (inner.length === 0) return `${indent}<${tag}${head}/>\n`;
  return `${indent}<${tag}${head}>\n${inner.map((one) => treeText(one, `${indent}  `)).join('')}${indent}</${tag}>\n`;
}

const none: readonly Element[] = [];
/** The children of an element that are called so. O(children). */
export const children = (element: Element | undefined, name: string): readonly Element[] =>
  element === undefined || element.children.length === 0 ? none : element.children.filter((one) => one.tag === name);

export const attribute = (element: Element, name: string): string | undefined =>
  Object.hasOwn(element.attributes, name) ? element.attributes[name] : undefined;

/** The raw inside of an element: text, or markup where it holds elements. */
export const innerXml = (element: Element): string => element.text;

/** The inside as text: entities resolved, CDATA taken out. Undefined where it holds elements. */
export function innerText(raw: string): string | undefined {
  if (!raw.includes('<')) return decodeEntities(raw);
  let text = '';
  for (const part of raw.split(/(<!\[CDATA\[[\s\S]*?\]\]>)/)) {
    if (part.startsWith('<![CDATA[')) text += part.slice(9, -3);
    else if (part.includes('<')) return undefined;
    else text += decodeEntities(part);
  }
  return text;
}
