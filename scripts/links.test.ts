import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { describe, expect, it } from 'vitest';

// Every page of docs leads where it says, and begins with what it is for.

const pages = [
  ...['README.md', 'CONTRIBUTING.md', 'SECURITY.md', 'CHANGELOG.md'].filter((file) => existsSync(file)),
  ...readdirSync('docs', { recursive: true, encoding: 'utf8' })
    .filter((file) => file.endsWith('.md'))
    .map((file) => join('docs', file)),
];
const textOf = (page: string): string => readFileSync(page, 'utf8').replace(/```[\s\S]*?```/g, '');

/** The anchor of a heading, as forges make it: common practice. */
const anchorOf = (heading: string): string =>
  heading
    .toLowerCase()
    .replace(/[^\p{L}\p{N}\s_-]/gu, '')
    .trim()
    .replace(/\s/g, '-');
const anchorsIn = (page: string): string[] =>
  [...textOf(page).matchAll(/^#+ (.+)$/gm)].map(([, heading = '']) => anchorOf(heading));

describe('docs', () => {
  it.each(pages)('%s leads only to what there is', (page) => {
    const links = [...textOf(page).matchAll(/\]\(([^)\s]+)\)/g)].map(([, to = '']) => to);
    const broken = links.filter((to) => {
      if (/^[a-z]+:/.test(to)) return false;
      const [path = '', anchor] = to.split('#');
      const target = path === '' ? page : join(dirname(page), path);
      if (!existsSync(target)) return true;
      return anchor !== undefined && target.endsWith('.md') && !anchorsIn(target).includes(anchor);
    });
    expect(broken).toEqual([]);
  });

  it.each(pages.filter((page) => page.startsWith('docs/using')))('%s begins with what it is for', (page) => {
    const [heading, first = ''] = textOf(page).split(/\n\n/);
    expect(heading).toMatch(/^# /);
    expect(first).toMatch(/^(How|Where|What) [^\n]+\.$/);
  });
});
