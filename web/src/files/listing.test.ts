import type { FileInfo } from '@basitax/api/files';
import { describe, expect, it } from 'vitest';
import { foldersOf, listed, tagsOf, type Wanted } from './listing.ts';

const file = (
  title: string,
  more: {
    project?: string;
    folder?: string;
    tags?: string[];
    score?: number;
    nodes?: number;
    day?: number;
    findings?: FileInfo['head']['findings'];
  } = {},
): FileInfo =>
  ({
    ...{
      id: title,
      title,
      catalogue: { id: 'c', version: 1 },
      project: more.project ?? 'reef',
      folder: more.folder ?? '',
      tags: more.tags ?? [],
      createdAt: '',
    },
    head: {
      ...{
        number: 1,
        name: '',
        author: 'Lead TD',
        message: 'First',
        createdAt: `2026-10-${10 + (more.day ?? 0)}`,
        fingerprint: { ends: '', everything: '' },
        findings: more.findings ?? null,
      },
      measures: { nodes: more.nodes ?? 0, score: more.score },
    },
  }) as FileInfo;

const files = [
  file('Kelp 10', {
    folder: 'motion/kelp',
    tags: ['final', 'to tidy'],
    score: 40,
    nodes: 900,
    day: 3,
    findings: { error: 0, warning: 50, info: 0 },
  }),
  file('Kelp 2', {
    folder: 'motion',
    tags: ['to tidy'],
    score: 80,
    nodes: 300,
    day: 9,
    findings: { error: 1, warning: 0, info: 0 },
  }),
  file('Motionless', { folder: 'motionless', nodes: 20 }),
  file('Cues', { project: 'evening', score: 90, nodes: 100, day: 1, findings: { error: 0, warning: 0, info: 4 } }),
];
const titles = (wanted: Partial<Wanted>, fits: (one: FileInfo) => boolean = () => true): string[] =>
  listed(files, { folder: '', tags: [], sort: 'title', ...wanted }, fits).map((one) => one.title);

describe('the list of files', () => {
  it('holds what lies in a folder and below it, not in one whose name begins so', () => {
    expect(titles({ project: 'reef', folder: 'motion' })).toEqual(['Kelp 2', 'Kelp 10']);
    expect(titles({ project: 'evening' })).toEqual(['Cues']);
    expect(titles({})).toEqual(['Cues', 'Kelp 2', 'Kelp 10', 'Motionless']);
  });

  it('holds what has all tags, and fits the query', () => {
    expect(titles({ tags: ['to tidy', 'final'] })).toEqual(['Kelp 10']);
    expect(titles({ tags: ['to tidy'] }, (one) => one.title === 'Kelp 2')).toEqual(['Kelp 2']);
  });

  it('is in the order that is asked for; what is not known comes last', () => {
    expect(titles({ sort: 'readability' })).toEqual(['Kelp 10', 'Kelp 2', 'Cues', 'Motionless']);
    expect(titles({ sort: 'findings' })).toEqual(['Kelp 2', 'Kelp 10', 'Cues', 'Motionless']);
    expect(titles({ sort: 'size' })).toEqual(['Kelp 10', 'Kelp 2', 'Cues', 'Motionless']);
    expect(titles({ sort: 'changed' })).toEqual(['Kelp 2', 'Kelp 10', 'Cues', 'Motionless']);
  });

  it('has folders with all that lies in them, each after the one that it lies in', () => {
    expect(foldersOf(files, 'reef').map(({ path, name, depth, count }) => [path, name, depth, count])).toEqual([
      ['motion', 'motion', 1, 2],
      ['motion/kelp', 'kelp', 2, 1],
      ['motionless', 'motionless', 1, 1],
    ]);
    expect(tagsOf(files)).toEqual([
      { tag: 'final', count: 1 },
      { tag: 'to tidy', count: 2 },
    ]);
  });
});
