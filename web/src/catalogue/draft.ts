import {
  type Catalogue,
  type CategorySpec,
  catalogueSchema,
  type KindSpec,
  type TypeSpec,
} from '@basitax/core/document/catalogue';
import { freeCode } from '@basitax/core/document/kind-code';
import { create } from 'zustand';

/** A catalogue as it is being changed, beside the version that it began from. */
interface Draft {
  readonly base: Catalogue | undefined;
  readonly draft: Catalogue | undefined;
}

export const useDraft = create<Draft>(() => ({ base: undefined, draft: undefined }));

const { setState } = useDraft;

export const beginDraft = (base: Catalogue): void => setState({ base, draft: base });
export const setDraft = (draft: Catalogue): void => setState({ draft });
export const dropDraft = (): void => setState(({ base }) => ({ draft: base }));

const change = (make: (draft: Catalogue) => Catalogue): void =>
  setState(({ draft }) => (draft ? { draft: make(draft) } : {}));
const replaced = <T extends { readonly id: string }>(rows: readonly T[], id: string, row: T | undefined): T[] =>
  rows.flatMap((one) => (one.id !== id ? [one] : row ? [row] : []));

export const putKind = (id: string, kind: KindSpec | undefined): void =>
  change((draft) => ({ ...draft, kinds: replaced(draft.kinds, id, kind) }));
export const putType = (id: string, type: TypeSpec | undefined): void =>
  change((draft) => ({ ...draft, types: replaced(draft.types, id, type) }));
export const putCategory = (id: string, category: CategorySpec | undefined): void =>
  change((draft) => ({ ...draft, categories: replaced(draft.categories, id, category) }));
export const putHead = (head: Partial<Pick<Catalogue, 'title' | 'loops'>>): void =>
  change((draft) => ({ ...draft, ...head }));

const free = (wanted: string, taken: readonly string[]): string => {
  for (let i = 1; ; i++) {
    const name = i === 1 ? wanted : `${wanted}${i}`;
    if (!taken.includes(name)) return name;
  }
};

const codeFor = (draft: Catalogue, title: string): string =>
  freeCode(title, new Set(draft.kinds.map((kind) => kind.code)));

/** Adds a kind, a copy of another one where that is given. Returns its id. */
export function addKind(like?: KindSpec): string {
  const { draft } = useDraft.getState();
  if (!draft) return '';
  const id = free(
    like ? `${like.id}_copy` : 'team.new_kind',
    draft.kinds.map((kind) => kind.id),
  );
  const fresh: KindSpec = like
    ? { ...like, id, title: `${like.title}, copy`, code: codeFor(draft, like.title) }
    : {
        id,
        title: 'New kind',
        code: codeFor(draft, 'New kind'),
        category: draft.categories[0]?.id ?? '',
        ports: [],
        parameters: [],
        pass: {},
        end: false,
        reads: [],
        nameMatters: false,
      };
  setDraft({ ...draft, kinds: [...draft.kinds, fresh] });
  return id;
}

export function addType(): void {
  change((draft) => {
    const id = free(
      'new_type',
      draft.types.map((type) => type.id),
    );
    return {
      ...draft,
      types: [
        ...draft.types,
        { id, title: 'New type', sign: 'circle', hue: 0, assignableTo: [], conversions: [], components: [] },
      ],
    };
  });
}

export function addCategory(): void {
  change((draft) => {
    const id = free(
      'new_category',
      draft.categories.map((category) => category.id),
    );
    return { ...draft, categories: [...draft.categories, { id, title: 'New category', hue: 0 }] };
  });
}

/** What stands against storing the draft, as sentences. */
export function draftProblems(draft: Catalogue): string[] {
  const parsed = catalogueSchema.safeParse(draft);
  if (parsed.success) return [];
  return parsed.error.issues.map((issue) => {
    const [table, row, ...rest] = issue.path;
    const record =
      typeof row === 'number'
        ? (draft as unknown as Record<string, { id?: string }[]>)[String(table)]?.[row]
        : undefined;
    return record ? `${record.id}: ${rest.join('.')} ${issue.message}` : issue.message;
  });
}
