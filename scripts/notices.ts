import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { must } from '@basitax/core/must';

const root = fileURLToPath(new URL('..', import.meta.url));
/** What is shipped; benchmarks, tests and the demo's generators are not. */
const shipped = ['core', 'threads', 'cli', 'server', 'web'];

interface Locked {
  readonly version?: string;
  readonly license?: string;
  readonly link?: boolean;
  readonly dependencies?: Readonly<Record<string, string>>;
}

const lock = (): Readonly<Record<string, Locked>> =>
  JSON.parse(readFileSync(join(root, 'package-lock.json'), 'utf8')).packages;

/** The place of a package as Node finds it from a folder: the nearest `node_modules` that has it. */
function placeOf(packages: Readonly<Record<string, Locked>>, from: string, name: string): string | undefined {
  for (
    let at = from;
    at !== '';
    at = at.includes('/node_modules/') ? at.slice(0, at.lastIndexOf('/node_modules/')) : ''
  ) {
    const place = `${at}/node_modules/${name}`;
    if (packages[place]) return place;
  }
  const outermost = `node_modules/${name}`;
  return packages[outermost] ? outermost : undefined;
}

/**
 * The places of all packages that what is shipped needs when it runs, sorted. What is only there for one kind of
 * machine is left out.
 */
function needed(): string[] {
  const packages = lock();
  const found = new Set<string>();
  const todo = [...shipped];
  for (let at = todo.pop(); at !== undefined; at = todo.pop())
    for (const name of Object.keys(packages[at]?.dependencies ?? {})) {
      const place = placeOf(packages, at, name);
      if (place === undefined || found.has(place) || packages[place]?.link) continue;
      found.add(place);
      todo.push(place);
    }
  return [...found].sort();
}

const licenceFile = /^(licen[cs]e|copying|notice)(\.|-|$)/i;

function textOf(place: string): string {
  const folder = join(root, place);
  if (!existsSync(folder)) return '';
  const files = readdirSync(folder)
    .filter((file) => licenceFile.test(file))
    .sort();
  // what stands behind the terms says how to use them for one's own program
  return files
    .map((file) =>
      readFileSync(join(folder, file), 'utf8')
        .replaceAll('\r\n', '\n')
        .replace(/(END OF TERMS AND CONDITIONS)[\s\S]*$/, '$1')
        .trim(),
    )
    .join('\n\n');
}

/**
 * The text of THIRD-PARTY-NOTICES: every package that is shipped, fonts among them, with its licence; those of one text
 * together.
 */
export function noticesText(): string {
  const packages = lock();
  const groups = new Map<string, string[]>();
  for (const place of needed()) {
    const { version, license } = must(packages[place]);
    const line = `${place.slice(place.lastIndexOf('node_modules/') + 'node_modules/'.length)} ${version} (${license ?? 'see its text'})`;
    const text = textOf(place) || `Its package holds no text; it names the licence ${license ?? 'nowhere'}.`;
    groups.set(text, [...(groups.get(text) ?? []), line]);
  }
  const rule = '-'.repeat(80);
  const parts = [...groups].map(([text, lines]) => [...new Set(lines), '', text].join('\n')).sort();
  return `Third-party notices\n\nMade from package-lock.json by npm run docs: what Basitax ships with, and under which licence.\n\n${rule}\n\n${parts.join(`\n\n${rule}\n\n`)}\n`;
}
