import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { UnreadableFile } from '../document/unreadable.ts';
import {
  attribute,
  children,
  decodeEntities,
  escapeXml,
  innerText,
  innerXml,
  parseTree,
  parseXml,
  treeText,
  type XmlTree,
} from './xml.ts';

const name = fc
  .stringMatching(/^[A-Za-z_][A-Za-z0-9_.-]{0,8}$/)
  .filter((text) => text !== '__proto__' && text !== 'constructor' && text !== 'prototype');
/** Any text that XML 1.0 can hold. */
const text = fc
  .string({ unit: 'grapheme', maxLength: 20 })
  .filter((value) => decodeEntities(escapeXml(value)) === value);
const element = (inner: fc.Arbitrary<XmlTree[]>): fc.Arbitrary<XmlTree> =>
  fc.record({
    tag: name,
    attributes: fc.dictionary(name, text, { maxKeys: 4, noNullPrototype: true }),
    children: inner,
  });
const leaf = element(fc.constant([]));
const tree = element(fc.array(element(fc.array(leaf, { maxLength: 3 })), { maxLength: 3 }));

describe('XML as a tree', () => {
  it('comes back from its text with every attribute and child in order', () => {
    fc.assert(
      fc.property(tree, (one) => {
        expect(parseTree(treeText(one))).toEqual(one);
      }),
    );
  });

  it('leaves out texts, comments and instructions, and keeps what is escaped', () => {
    const read = parseTree(
      '<?xml version="1.0"?><!-- first --><a b="1 &lt; 2 &amp; &quot;3&quot; &#x41;&#10;">text<c/><!-- more --><c d=""/></a>',
    );
    expect(read).toEqual({
      tag: 'a',
      attributes: { b: '1 < 2 & "3" A\n' },
      children: [
        { tag: 'c', attributes: {}, children: [] },
        { tag: 'c', attributes: { d: '' }, children: [] },
      ],
    });
  });

  it.each([
    ['', 'no'],
    ['plain', 'no'],
    ['<a>', 'not well-formed XML'],
    ['<a b=1/>', 'not well-formed XML'],
    ['<a></b>', 'not well-formed XML'],
    ['<!DOCTYPE a [<!ENTITY x "y">]><a>&x;</a>', 'declares entities'],
    ['<!DOCTYPE a [\n<!ELEMENT a ANY>]><a/>', 'declares entities'],
    ['<a><!ENTITY x SYSTEM "file:///etc/passwd"></a>', 'declares entities'],
  ])('refuses %j', (wrong, why) => {
    expect(() => parseTree(wrong)).toThrow(UnreadableFile);
    expect(() => parseTree(wrong)).toThrow(why);
    expect(() => parseXml(wrong)).toThrow(UnreadableFile);
  });

  it('names the line that is wrong', () => {
    expect(() => parseXml('<a>\n<b>\n</c>\n</a>')).toThrow(/^Line 3: /);
  });
});

describe('XML by name', () => {
  it('gives children as lists, attributes as text, and what stands in data as it is', () => {
    const root = parseXml(
      '<r><n id="1&amp;2"/><n id="3"/><data key="k"><b>bold</b> &amp; more</data><data key="e"/></r>',
    );
    expect(children(root, 'n').map((one) => attribute(one, 'id'))).toEqual(['1&2', '3']);
    expect([children(root, 'none'), attribute(root, 'none'), children(undefined, 'n')]).toEqual([[], undefined, []]);
    const [first, second] = children(root, 'data');
    expect([innerXml(first!), innerXml(second!)]).toEqual(['<b>bold</b> &amp; more', '']);
    expect(innerText(innerXml(first!))).toBeUndefined();
    expect(innerText('a &lt; b <![CDATA[<c> & d]]> e')).toBe('a < b <c> & d e');
  });
});

describe('escaping', () => {
  // XML 1.0, fifth edition, sections 2.2 (characters), 4.1 (references) and 4.6 (predefined entities)
  it('writes what stands for itself as a reference, and drops what no XML may hold', () => {
    expect(escapeXml('<a & "b">\t\n\r')).toBe('&lt;a &amp; &quot;b&quot;&gt;&#9;&#10;&#13;');
    expect(escapeXml('a\u0000b\u0008c\uFFFEd\uD800e')).toBe('abcde');
    expect(escapeXml('🐙 ünïcode')).toBe('🐙 ünïcode');
  });

  it('resolves the five names and numbers alone', () => {
    expect(decodeEntities('&lt;&gt;&amp;&quot;&apos;&#65;&#x1F419;')).toBe('<>&"\'A🐙');
    for (const odd of ['&nbsp;', '&unknown;', '&#0;', '&#x110000;', '&amp', '& ;'])
      expect(decodeEntities(odd)).toBe(odd);
  });

  it('there and back is the same for whatever may be held', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'binary', maxLength: 60 }), (any) => {
        const kept = decodeEntities(escapeXml(any));
        expect(decodeEntities(escapeXml(kept))).toBe(kept);
        expect(escapeXml(kept)).not.toMatch(/[<>"\n\r\t]/);
      }),
    );
  });
});
