import { catalogueSchema } from '@basitax/core/document/catalogue';
import { catalogueChanges } from '@basitax/core/document/catalogue-changes';
import { testCatalogue } from '@basitax/core/tests/arbitrary';
import { beforeEach, describe, expect, it } from 'vitest';
import {
  addCategory,
  addKind,
  addType,
  beginDraft,
  draftProblems,
  dropDraft,
  putCategory,
  putHead,
  putKind,
  putType,
  setDraft,
  useDraft,
} from './draft.ts';

const draft = () => useDraft.getState().draft!;
const kind = (id: string) => draft().kinds.find((one) => one.id === id)!;
const changes = (): string[] => catalogueChanges(testCatalogue, draft()).map((change) => change.sentence);

beforeEach(() => beginDraft(testCatalogue));

describe('a catalogue that is being changed', () => {
  it('is the version that it began from until something is changed, and again when that is dropped', () => {
    expect(useDraft.getState().base).toBe(draft());
    putHead({ title: 'Other kinds' });
    expect([draft().title, useDraft.getState().base!.title]).toEqual(['Other kinds', 'Test kinds']);
    dropDraft();
    expect(draft()).toBe(testCatalogue);
  });

  it('takes new kinds, types and categories, which are whole from the start, however many', () => {
    for (let i = 0; i < 40; i++) addKind(i % 2 === 0 ? undefined : kind('add'));
    addType();
    addType();
    addCategory();
    addCategory();
    expect(draftProblems(draft())).toEqual([]);
    expect(new Set(draft().kinds.map((one) => one.code)).size).toBe(draft().kinds.length);
    expect(
      draft()
        .types.slice(-2)
        .map((type) => type.id),
    ).toEqual(['new_type', 'new_type2']);
  });

  it('copies a kind with its ports and parameters, under an id of its own', () => {
    const id = addKind(kind('src'));
    expect(kind(id)).toMatchObject({
      title: 'Source, copy',
      ports: kind('src').ports,
      parameters: kind('src').parameters,
    });
    expect(changes()).toEqual(['The kind “Source, copy” is new.']);
  });

  it('changes and removes one thing at a time', () => {
    putKind('sum', undefined);
    putKind('src', { ...kind('src'), title: 'Origin' });
    putType('int', { ...draft().types[1]!, hue: 5 });
    putCategory('math', { ...draft().categories[0]!, title: 'Numbers' });
    expect(changes()).toEqual([
      'The kind “Sum” goes.',
      'The type “whole number” is changed.',
      'Origin: its title, code or category is changed.',
      'The category “Mathematics” is changed.',
    ]);
  });

  it('says what stands against storing it', () => {
    putKind('src', { ...kind('src'), code: 'source' });
    expect(draftProblems(draft())[0]).toMatch(/^src: code /);
    setDraft({ ...testCatalogue, categories: [] });
    expect(draftProblems(draft())[0]).toContain('names the category “math”, which the catalogue lacks');
    expect(catalogueSchema.safeParse(draft()).success).toBe(false);
  });
});
