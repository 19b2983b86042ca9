import { type Catalogue, catalogueSchema, emptyCatalogue } from '@basitax/core/document/catalogue';
import { must } from '@basitax/core/must';
import { useQuery } from '@tanstack/react-query';
import { FileDown, FileUp, Plus, ScanSearch } from 'lucide-react';
import { type ReactNode, useEffect, useMemo, useState } from 'react';
import { toast } from 'sonner';
import { api } from '../api/client.ts';
import { lacksRole, usePerson } from '../api/person.ts';
import { addKind, beginDraft, draftProblems, dropDraft, setDraft, useDraft } from '../catalogue/draft.ts';
import { KindForm } from '../catalogue/kind-form.tsx';
import { LearnDialog } from '../catalogue/learn.tsx';
import { ReportDialog } from '../catalogue/report.tsx';
import { SharedTable } from '../catalogue/shared.tsx';
import { CategoryTable, TypeTable } from '../catalogue/types.tsx';
import { Button, FileButton, Notice, SearchInput, Segments } from '../ui/controls.tsx';
import { BackLink, TopLine } from '../ui/top-line.tsx';

const parts = [
  ['kinds', 'Kinds'],
  ['types', 'Types and conversions'],
  ['categories', 'Categories'],
  ['shared', 'Shared kinds'],
  ['versions', 'Versions'],
] as const;
type Part = (typeof parts)[number][0];

/** The team's kinds, types and categories: everyone reads them, leads change them, with a report before. */
export default function CatalogueScreen(): ReactNode {
  const list = useQuery({ queryKey: ['catalogues'], queryFn: api.catalogues });
  const newest = list.data?.team;
  const loaded = useQuery({
    queryKey: ['catalogue', newest?.id, newest?.version],
    queryFn: () => api.plainCatalogue(must(newest).id, must(newest).version),
    enabled: newest !== undefined && newest.id !== 'none',
    staleTime: Number.POSITIVE_INFINITY,
  });
  useEffect(() => {
    if (loaded.data) beginDraft(loaded.data);
    else if (newest?.id === 'none') beginDraft({ ...emptyCatalogue, id: 'team', title: 'Team kinds' });
  }, [loaded.data, newest?.id]);
  const { base, draft } = useDraft();
  const [part, setPart] = useState<Part>('kinds');
  const person = usePerson().data;
  const locked = lacksRole(person, 'lead');
  const isChanged = base !== draft;
  useEffect(() => {
    const warn = (event: BeforeUnloadEvent): void => {
      if (isChanged) event.preventDefault();
    };
    window.addEventListener('beforeunload', warn);
    return () => window.removeEventListener('beforeunload', warn);
  }, [isChanged]);
  const failed = list.error ?? loaded.error;
  return (
    <div className="flex h-full flex-col">
      <TopLine actions={draft && base && <Actions base={base} draft={draft} locked={locked} />}>
        <BackLink to="/files">Files</BackLink>
        <h1 className="font-bold">Catalogue</h1>
        {base && (
          <span className="truncate text-soft">
            {base.title}, version {base.version}
            {isChanged && ', changed'}
          </span>
        )}
      </TopLine>
      {failed ? (
        <Notice title={failed.message} alert>
          <Button onClick={() => void list.refetch()}>Try again</Button>
        </Notice>
      ) : !draft ? (
        <Notice title="Loading the catalogue …" />
      ) : (
        <>
          <div className="flex items-center gap-3 border-b border-line px-4 py-2 text-sm">
            <Segments label="What is shown" value={part} choices={parts} onChoose={setPart} />
            {locked && part !== 'shared' && (
              <span className="text-soft">
                You need the role lead to change it{person ? `; your role is ${person.role}` : ''}.
              </span>
            )}
          </div>
          <main className="flex min-h-0 flex-1 text-sm">
            {part === 'kinds' ? (
              <Kinds catalogue={draft} locked={locked} />
            ) : (
              <div className="min-h-0 flex-1 overflow-auto p-4">
                <div className="mx-auto max-w-5xl">
                  {part === 'types' && <TypeTable catalogue={draft} locked={locked !== undefined} />}
                  {part === 'categories' && <CategoryTable catalogue={draft} locked={locked !== undefined} />}
                  {part === 'shared' && <SharedTable />}
                  {part === 'versions' && <Versions versions={list.data?.versions ?? []} />}
                </div>
              </div>
            )}
          </main>
        </>
      )}
    </div>
  );
}

function Actions({
  base,
  draft,
  locked,
}: {
  base: Catalogue;
  draft: Catalogue;
  locked: string | undefined;
}): ReactNode {
  const [isReviewed, setReviewed] = useState(false);
  const [isLearning, setLearning] = useState(false);
  const problems = useMemo(() => draftProblems(draft), [draft]);
  const isChanged = base !== draft;
  const take = async (file: File): Promise<void> => {
    try {
      const parsed = catalogueSchema.safeParse(JSON.parse(await file.text()));
      if (!parsed.success) throw new Error(parsed.error.issues[0]?.message ?? 'it is not a catalogue');
      // the first catalogue of a team brings its own id
      setDraft({
        ...parsed.data,
        id: base.version === 0 ? parsed.data.id : base.id,
        version: base.version,
        kinds: parsed.data.kinds.filter((kind) => !kind.shared),
      });
      toast(`“${file.name}” is read. Nothing is stored before you have reviewed the change.`, { duration: 4000 });
    } catch (error) {
      toast.error(`“${file.name}” cannot be read as a catalogue`, {
        description: (error as Error).message,
        duration: 8000,
      });
    }
  };
  return (
    <>
      {problems.length > 0 && (
        <span role="alert" className="max-w-96 truncate text-xs text-warn" title={problems.join(' ')}>
          {problems[0]}
        </span>
      )}
      <Button dim={locked} onClick={() => setLearning(true)}>
        <ScanSearch size={15} /> Learn from files
      </Button>
      <FileButton accept=".json" label="Choose a catalogue file" onFile={(file) => void take(file)} dim={locked}>
        <FileUp size={15} /> Import
      </FileButton>
      {base.version > 0 && (
        <a
          className="inline-flex h-8 items-center gap-1.5 rounded-sm border border-line bg-panel px-2.5 text-sm hover:bg-accent-wash"
          href={api.plainCatalogueAddress(base.id, base.version)}
          download={`${base.id}.catalogue.json`}
        >
          <FileDown size={15} /> Export
        </a>
      )}
      <Button dim={isChanged ? undefined : 'Nothing is changed.'} onClick={dropDraft}>
        Drop changes
      </Button>
      <Button
        look="primary"
        dim={locked ?? (isChanged ? problems[0] : 'Nothing is changed.')}
        onClick={() => setReviewed(true)}
      >
        Review the change
      </Button>
      {isLearning && <LearnDialog draft={draft} onClose={() => setLearning(false)} />}
      {isReviewed && <ReportDialog base={base} draft={draft} onClose={() => setReviewed(false)} />}
    </>
  );
}

function Kinds({ catalogue, locked }: { catalogue: Catalogue; locked: string | undefined }): ReactNode {
  const [text, setText] = useState('');
  const [chosen, setChosen] = useState<string | undefined>(catalogue.kinds[0]?.id);
  const kind = catalogue.kinds.find((one) => one.id === chosen);
  const fits = catalogue.kinds.filter((one) =>
    `${one.title} ${one.id} ${one.code}`.toLowerCase().includes(text.trim().toLowerCase()),
  );
  return (
    <>
      <nav aria-label="Kinds" className="flex w-72 shrink-0 flex-col border-r border-line bg-panel">
        <div className="flex gap-2 p-3">
          <SearchInput label="Find a kind" className="flex-1" value={text} onText={setText} />
          <Button square aria-label="New kind" title="New kind" dim={locked} onClick={() => setChosen(addKind())}>
            <Plus size={15} />
          </Button>
        </div>
        <div className="min-h-0 flex-1 overflow-auto px-3 pb-3">
          {catalogue.categories.map((category) => {
            const own = fits.filter((one) => one.category === category.id).sort((a, b) => (a.title < b.title ? -1 : 1));
            return (
              own.length > 0 && (
                <section key={category.id} aria-label={category.title} className="mb-2">
                  <h2 className="py-1 text-xs text-soft">{category.title}</h2>
                  <ul>
                    {own.map((one) => (
                      <li key={one.id}>
                        <button
                          type="button"
                          aria-current={one.id === chosen}
                          className="flex w-full items-center gap-2 rounded-sm px-1.5 py-1 text-left hover:bg-accent-wash aria-[current=true]:bg-accent-wash aria-[current=true]:font-bold"
                          onClick={() => setChosen(one.id)}
                        >
                          <span className="w-5 text-xs text-soft">{one.code}</span>
                          <span className="truncate">{one.title}</span>
                        </button>
                      </li>
                    ))}
                  </ul>
                </section>
              )
            );
          })}
          {fits.length === 0 && <p className="p-2 text-soft">No kind has that name.</p>}
        </div>
      </nav>
      <div className="min-h-0 flex-1 overflow-auto p-5">
        <div className="mx-auto max-w-5xl">
          {kind ? (
            <KindForm
              key={kind.id}
              kind={kind}
              catalogue={catalogue}
              locked={locked !== undefined}
              onChosen={setChosen}
            />
          ) : (
            <Notice title="Choose a kind on the left." />
          )}
        </div>
      </div>
    </>
  );
}

function Versions({
  versions,
}: {
  versions: readonly { id: string; version: number; createdAt: string }[];
}): ReactNode {
  return (
    <table className="w-full text-sm" aria-label="Versions">
      <thead className="text-left text-soft">
        <tr>
          <th className="py-1 font-normal">Version</th>
          <th className="font-normal">Stored</th>
          <th className="font-normal">As JSON</th>
        </tr>
      </thead>
      <tbody>
        {versions.map(({ id, version, createdAt }) => (
          <tr key={`${id} ${version}`} className="border-t border-line">
            <td className="py-1.5">{version}</td>
            <td>{new Date(createdAt).toLocaleString('en-GB')}</td>
            <td>
              <a
                className="underline"
                href={api.plainCatalogueAddress(id, version)}
                download={`${id}.v${version}.catalogue.json`}
              >
                {id}.v{version}.catalogue.json
              </a>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
