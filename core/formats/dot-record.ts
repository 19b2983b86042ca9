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
    if (found) ports.push({ id: must(found[1]).trim(), text: plain(must(found[2])) });
  }
  return ports;
}

/**
 * What a label says, without marks: fields of records one after the other, HTML-like text without its tags, line breaks
 * as spaces.
 */
export function recordText(label: string, isRecord = false): string {
  if (/^<[\s\S]*>$/.test(label))
    return label
      .slice(1, -1)
      .replace(/<br\s*\/?>/gi, ' ')
      .replace(/<[^>]*>/g, '')
      .replace(/&lt;/g, '<')
      .replace(/&gt;/g, '>')
      .replace(/&quot;/g, '"')
      .replace(/&amp;/g, '&')
      .replace(/\s+/g, ' ')
      .trim();
  if (!isRecord) return plain(label);
  return fieldsOf(label)
    .map((field) => plain(field.replace(/^\s*<(?:\\.|[^<>\\])+>/, '')))
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

const plain = (text: string): string =>
  text
    .replace(/\\[nlr]/g, ' ')
    .replace(/\\(.)/g, '$1')
    .replace(/\s+/g, ' ')
    .trim();
