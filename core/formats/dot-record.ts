import { decodeHTML } from 'entities';
import { must } from '../must.ts';

/** One field of a record label that can be wired. */
export interface RecordPort {
  readonly id: string;
  readonly text: string;
}

/** One field of a record label, or a row of fields in braces. */
interface RecordField {
  readonly text: string;
  /** What stands in its braces. */
  readonly inner?: string;
}

/**
 * The ports of a record's label: `<id> text` in fields parted by | and nested in braces; a backslash makes the next
 * character a plain one. O(text).
 */
export function recordPorts(label: string): RecordPort[] {
  const ports: RecordPort[] = [];
  for (const field of fieldsOf(label)) {
    const found = /^\s*<((?:\\.|[^<>\\])+)>([\s\S]*)$/.exec(field);
    if (found) ports.push({ id: must(found[1]).trim(), text: oneLine(plain(must(found[2]), {})) });
  }
  return ports;
}

/** The fields of a record side by side, those in braces as they stand. O(text). */
export function recordFields(label: string): RecordField[] {
  const fields: RecordField[] = [];
  let [depth, from] = [0, 0];
  const add = (to: number): void => {
    const field = label.slice(from, to);
    const braces = /^\s*(?:<(?:\\.|[^<>\\])+>)?\s*\{([\s\S]*)\}\s*$/.exec(field);
    fields.push(braces ? { text: '', inner: must(braces[1]) } : { text: plain(withoutPort(field), {}) });
  };
  for (let i = 0; i < label.length; i++) {
    const char = label[i];
    if (char === '\\') i++;
    else if (char === '{') depth++;
    else if (char === '}') depth--;
    else if (char === '|' && depth <= 0) {
      add(i);
      from = i + 1;
    }
  }
  add(label.length);
  return fields;
}

/** What `\\N`, `\\G` and their like stand for. */
type Escapes = Readonly<Record<string, string>>;

/** Is a label in the language's HTML? */
export const isHtml = (label: string): boolean => /^<[\s\S]*>$/.test(label);

/**
 * What a label says, without marks: fields of records one after the other, HTML text without its tags, lines as they
 * are; with what escapes such as `\\N` stand for. O(label).
 */
export function recordText(label: string, isRecord = false, escapes: Escapes = {}): string {
  if (isHtml(label))
    return tidy(
      decodeHTML(
        label
          .slice(1, -1)
          .replace(/<!--[\s\S]*?-->/g, '')
          .replace(/\s+/g, ' ')
          .replace(/<(?:br|\/tr)\b[^<>]*>/gi, '\n')
          // cells part words, and marks within a word do not
          .replace(/<(?:hr|vr|\/td)\b[^<>]*>/gi, ' ')
          .replace(/<[^<>]*>/g, ''),
      ),
    );
  if (!isRecord) return plain(label, escapes);
  return fieldsOf(label)
    .map((field) => plain(withoutPort(field), escapes))
    .filter((text) => text !== '')
    .join(' ');
}

const withoutPort = (field: string): string => field.replace(/^\s*<(?:\\.|[^<>\\])+>/, '');

function fieldsOf(label: string): string[] {
  const fields: string[] = [];
  let field = '';
  for (let i = 0; i < label.length; i++) {
    const char = must(label[i]);
    if (char === '\\' && i + 1 < label.length) {
      field += char + must(label[++i]);
    } else if (char === '|' || char === '{' || char === '}') {
      fields.push(field);
      field = '';
    } else field += char;
  }
  fields.push(field);
  return fields;
}

/** Lines without the blanks around them, and none that are empty at the ends. */
const tidy = (text: string): string =>
  text
    .split('\n')
    .map((line) => line.replace(/\s+/g, ' ').trim())
    .join('\n')
    .trim();

const oneLine = (text: string): string => text.replace(/\s+/g, ' ').trim();

const plain = (text: string, escapes: Escapes): string =>
  tidy(
    decodeHTML(
      text.replace(/\\([\s\S])/g, (_, char: string) => ('nlr'.includes(char) ? '\n' : (escapes[char] ?? char))),
    ),
  );
