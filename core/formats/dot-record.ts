import { decodeHTML } from 'entities';
import { must } from '../must.ts';

/** One field of a record label that can be wired. */
export interface RecordPort {
  readonly id: string;
  readonly text: string;
}

/**
 * The ports of a record's label: `<id> text` in fields parted by | and nested in braces; a backslash makes the next
 * sign a plain one. O(text).
 */
export function recordPorts(label: string): RecordPort[] {
  const ports: RecordPort[] = [];
  for (const field of fieldsOf(label)) {
    const found = /^\s*<((?:\\.|[^<>\\])+)>([\s\S]*)$/.exec(field);
    if (found) ports.push({ id: must(found[1]).trim(), text: plain(must(found[2]), {}) });
  }
  return ports;
}

/** What `\\N`, `\\G` and their like stand for. */
type Escapes = Readonly<Record<string, string>>;

/**
 * What a label says, without marks: fields of records one after the other, HTML text without its tags, line breaks as
 * spaces; with what escapes such as `\\N` stand for. O(label).
 */
export function recordText(label: string, isRecord = false, escapes: Escapes = {}): string {
  if (/^<[\s\S]*>$/.test(label))
    return decodeHTML(
      label
        .slice(1, -1)
        .replace(/<!--[\s\S]*?-->/g, '')
        // cells and lines part words, and marks within a word do not
        .replace(/<(?:br|hr|vr|\/td|\/tr)\b[^<>]*>/gi, ' ')
        .replace(/<[^<>]*>/g, ''),
    )
      .replace(/\s+/g, ' ')
      .trim();
  if (!isRecord) return plain(label, escapes);
  return fieldsOf(label)
    .map((field) => plain(field.replace(/^\s*<(?:\\.|[^<>\\])+>/, ''), escapes))
    .filter((text) => text !== '')
    .join(' ');
}

function fieldsOf(label: string): string[] {
  const fields: string[] = [];
  let field = '';
  for (let i = 0; i < label.length; i++) {
    const sign = must(label[i]);
    if (sign === '\\' && i + 1 < label.length) {
      field += sign + must(label[++i]);
    } else if (sign === '|' || sign === '{' || sign === '}') {
      fields.push(field);
      field = '';
    } else field += sign;
  }
  fields.push(field);
  return fields;
}

const plain = (text: string, escapes: Escapes): string =>
  decodeHTML(text.replace(/\\([\s\S])/g, (_, sign: string) => ('nlr'.includes(sign) ? ' ' : (escapes[sign] ?? sign))))
    .replace(/\s+/g, ' ')
    .trim();
