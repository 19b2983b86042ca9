import { XMLParser, XMLValidator } from 'fast-xml-parser';
import { checkXmlNesting } from '../document/nesting.ts';
import { UnreadableFile } from '../document/unreadable.ts';
import { must } from '../must.ts';

/** An element as the parser gives it: attributes behind `@`, children as arrays by name, text as `#text`. */
export interface Element {
  readonly [name: string]: readonly Element[] | string | undefined;
}

const named: Record<string, string> = { amp: '&', lt: '<', gt: '>', quot: '"', apos: "'" };

/**
 * Resolves the five named entities of XML 1.0 and character numbers; no others exist without a DTD, which is refused.
 */
export function decodeEntities(text: string): string {
  return text.replace(
    /&(?:#(\d{1,7})|#x([0-9a-fA-F]{1,6})|(\w+));/g,
    (whole, decimal?: string, hex?: string, name?: string) => {
      if (name !== undefined) return named[name] ?? whole;
      const code = decimal !== undefined ? Number(decimal) : Number.parseInt(hex ?? '', 16);
      return code > 0 && code <= 0x10ffff ? String.fromCodePoint(code) : whole;
    },
  );
}

/** Text for an attribute or between tags; characters that XML 1.0 cannot hold are left out. */
export function escapeXml(text: string): string {
  const legal = Array.from(text).filter((sign) => {
    const code = sign.codePointAt(0) ?? 0;
    return code >= 0x20
      ? !(code >= 0xd800 && code <= 0xdfff) && code !== 0xfffe && code !== 0xffff
      : code === 9 || code === 10 || code === 13;
  });
  const entity: Record<string, string> = {
    '&': '&amp;',
    '<': '&lt;',
    '>': '&gt;',
    '"': '&quot;',
    '\n': '&#10;',
    '\r': '&#13;',
    '\t': '&#9;',
  };
  return legal.join('').replace(/[&<>"\n\r\t]/g, (sign) => entity[sign] ?? sign);
}

/** A parser for files whose elements all have a prefix, or none. */
const parserFor = (prefix: string): XMLParser =>
  new XMLParser({
    ignoreAttributes: false,
    attributeNamePrefix: '@',
    parseTagValue: false,
    parseAttributeValue: false,
    trimValues: false,
    processEntities: false,
    // what programs keep in <data> may be any XML: it is carried as it stands
    stopNodes: ['*.data', '*.default'],
    isArray: (_name, _path, _leaf, isAttribute) => !isAttribute,
    ...(prefix !== '' && {
      transformTagName: (name: string) => (name.startsWith(prefix) ? name.slice(prefix.length) : name),
    }),
  });
const parser = parserFor('');

/**
 * Checks that XML may be parsed. Throws UnreadableFile with the line where it is not well formed, where it declares
 * entities (which could grow without bound, or reach outside), or where it nests too deep.
 */
function checkXml(text: string): void {
  checkXmlNesting(text);
  const doctype = /<!DOCTYPE[^>[]*(\[)?/i.exec(text);
  if (doctype?.[1] !== undefined || /<!ENTITY/i.test(text)) {
    const line = text.slice(0, doctype?.index ?? text.search(/<!ENTITY/i)).split('\n').length;
    throw new UnreadableFile(
      'this XML declares entities of its own, which are not read for safety; remove the declaration between [ and ].',
      line,
    );
  }
  const valid = XMLValidator.validate(text);
  if (valid === true) return;
  // elements that are never closed come as a list
  const open = /^Invalid '(\[[\s\S]*\])' found/.exec(valid.err.msg)?.[1]?.match(/[\w:.-]+/g);
  const why = open
    ? `${open.map((tag) => `<${tag}>`).join(', ')} ${open.length === 1 ? 'is' : 'are'} not closed`
    : valid.err.msg.replace(/\.$/, '');
  throw new UnreadableFile(`this is no well-formed XML: ${why}.`, valid.err.line);
}

function parsed<T>(by: XMLParser, text: string): T {
  checkXml(text);
  try {
    return by.parse(text) as T;
  } catch (error) {
    throw new UnreadableFile(`this XML cannot be read: ${(error as Error).message.replace(/\.$/, '')}.`);
  }
}

/** The prefix of the outermost element, with its colon; empty where it has none. */
const prefixOf = (text: string): string => {
  const head = text.slice(0, 10_000).replace(/<!--[\s\S]*?-->|<\?[\s\S]*?\?>/g, '');
  return /<(?:([\w.-]+:))?[\w.-]/.exec(head)?.[1] ?? '';
};

/**
 * Parses XML without a DTD into elements by name. A prefix that the outermost element has is taken off all that have it.
 * Throws UnreadableFile.
 */
export function parseXml(text: string): Element {
  const prefix = prefixOf(text);
  return parsed<Element>(prefix === '' ? parser : parserFor(prefix), text);
}

/** Is text well-formed between two tags, with prefixes that are known there? Any prefix will do where none are given. */
export function isFragment(text: string, prefixes: ReadonlySet<string> | undefined): boolean {
  if (!text.includes('<') && !text.includes('&')) return true;
  if (/<!(?!--|\[CDATA\[)/.test(text) || XMLValidator.validate(`<x>${text}</x>`) !== true) return false;
  if (!prefixes) return true;
  for (const [, prefix] of text
    .replace(/<!--[\s\S]*?-->|<!\[CDATA\[[\s\S]*?\]\]>/g, '')
    .matchAll(/[<\s]([\w.-]+):[\w.-]+[\s=/>]/g))
    if (prefix !== 'xml' && prefix !== 'xmlns' && !prefixes.has(prefix as string) && !text.includes(`xmlns:${prefix}=`))
      return false;
  return true;
}

/** An element with its attributes and children in their order; the text between them is left out. */
export interface XmlTree {
  readonly tag: string;
  readonly attributes: Readonly<Record<string, string>>;
  readonly children: readonly XmlTree[];
}

type Ordered = Readonly<Record<string, readonly Ordered[]>> & { readonly ':@'?: Readonly<Record<string, string>> };
const orderedParser = new XMLParser({
  ignoreAttributes: false,
  attributeNamePrefix: '',
  preserveOrder: true,
  parseAttributeValue: false,
  processEntities: false,
  trimValues: false,
});

/** Parses XML without a DTD and gives its outermost element. Throws UnreadableFile. */
export function parseTree(text: string): XmlTree {
  const tree = (element: Ordered): XmlTree[] => {
    const tag = must(Object.keys(element).find((key) => key !== ':@'));
    if (tag.startsWith('#') || tag.startsWith('?')) return [];
    const attributes = Object.fromEntries(
      Object.entries(element[':@'] ?? {}).map(([name, value]) => [name, decodeEntities(value)]),
    );
    return [{ tag, attributes, children: (element[tag] ?? []).flatMap(tree) }];
  };
  const [outermost] = parsed<readonly Ordered[]>(orderedParser, text).flatMap(tree);
  if (!outermost) throw new UnreadableFile('this XML holds no element.');
  return outermost;
}

/** Such an element as text, a line for each. */
export function treeText({ tag, attributes, children: inner }: XmlTree, indent = ''): string {
  const head = Object.entries(attributes).map(([name, value]) => ` ${name}="${escapeXml(value)}"`);
  if (inner.length === 0) return `${indent}<${tag}${head.join('')}/>\n`;
  return `${indent}<${tag}${head.join('')}>\n${inner.map((one) => treeText(one, `${indent}  `)).join('')}${indent}</${tag}>\n`;
}

export function children(element: Element | undefined, name: string): readonly Element[] {
  const found = element?.[name];
  if (!Array.isArray(found)) return [];
  // an element that holds nothing but text comes as bare text
  return found.map((one: Element | string) => (typeof one === 'string' ? { '#text': one } : one));
}

export function attribute(element: Element, name: string): string | undefined {
  const value = element[`@${name}`];
  return typeof value === 'string' ? decodeEntities(value) : undefined;
}

/** The raw inside of an element: text, or markup where it holds elements. */
export function innerXml(element: Element): string {
  const text = element['#text'];
  return typeof text === 'string' ? text : '';
}

/** The inside as text: entities resolved, CDATA taken out. Undefined where it holds elements. */
export function innerText(raw: string): string | undefined {
  let text = '';
  for (const part of raw.split(/(<!\[CDATA\[[\s\S]*?\]\]>)/)) {
    if (part.startsWith('<![CDATA[')) text += part.slice(9, -3);
    else if (part.includes('<')) return undefined;
    else text += decodeEntities(part);
  }
  return text;
}
