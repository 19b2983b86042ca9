import type { FileInfo } from '@basitax/api/files';
import type { LibraryItem } from '@basitax/api/library';
import type { Project } from '@basitax/api/projects';
import { mayAct } from '@basitax/api/roles';
import { type FileAim, recipeSchema, type Step, stepSchema } from '@basitax/core/batch/recipe';
import { plural } from '@basitax/core/words';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { formatDistanceToNow } from 'date-fns';
import { Clock, Play } from 'lucide-react';
import { type ReactNode, useState } from 'react';
import { Link, useLocation, useNavigate, useSearchParams } from 'react-router';
import { toast } from 'sonner';
import { api } from '../api/client.ts';
import { usePerson } from '../api/person.ts';
import { teamApi } from '../api/team.ts';
import { aimOf, repeatedIn } from '../batch/aim.ts';
import { ScheduleDialog, ScheduleList } from '../batch/schedules.tsx';
import { Steps } from '../batch/steps.tsx';
import { phases } from '../batch/words.ts';
import { FileQueryField } from '../files/query-field.tsx';
import { useSearch } from '../files/use-search.ts';
import { Problem, tellFailure, useAttempt } from '../ui/attempt.tsx';
import { Button, Field, Notice, TextInput } from '../ui/controls.tsx';
import { RowMenu } from '../ui/menus.tsx';
import { BackLink, TopLine } from '../ui/top-line.tsx';

const noFiles: readonly FileInfo[] = [];
const noProjects: readonly Project[] = [];

const firstSteps: readonly Step[] = [
  stepSchema.parse({ do: 'operation', operation: 'arrange' }),
  stepSchema.parse({ do: 'keep' }),
];

/** Recipes over many files: one is put together and started here; the runs that there were are listed. */
export default function BatchesScreen(): ReactNode {
  const runs = useQuery({ queryKey: ['batches'], queryFn: api.batches });
  const navigate = useNavigate();
  return (
    <div className="flex h-full flex-col">
      <TopLine>
        <BackLink to="/files">Files</BackLink>
        <h1 className="font-bold">Batch runs</h1>
        <span className="text-soft">One recipe over many files: a dry run first, then what you accept.</span>
      </TopLine>
      <main className="flex min-h-0 flex-1">
        <NewRun />
        <section
          aria-label="Runs"
          className="flex w-96 shrink-0 flex-col gap-2 overflow-auto border-l border-line bg-panel p-4"
        >
          <ScheduleList />
          <h2 className="flex items-baseline font-bold">
            Runs
            <Link className="ml-auto text-sm font-normal underline" to="/reports">
              Kept reports
            </Link>
          </h2>
          {runs.isPending ? (
            <Notice title="Loading the runs …" />
          ) : runs.isError ? (
            <Notice title={runs.error.message} alert />
          ) : runs.data.length === 0 ? (
            <p className="text-sm text-soft">No runs yet.</p>
          ) : (
            <ul className="flex flex-col">
              {runs.data.map((run) => (
                <RowMenu
                  key={run.id}
                  heading={run.title}
                  groups={[
                    [
                      { id: 'open', title: 'Open the run', run: () => void navigate(`/batches/${run.id}`) },
                      {
                        id: 'tab',
                        title: 'Open in a new tab',
                        run: () => void window.open(`/batches/${run.id}`, '_blank', 'noopener'),
                      },
                    ],
                  ]}
                >
                  <li className="border-b border-line py-2">
                    <Link to={`/batches/${run.id}`} className="group flex flex-col text-sm">
                      <span className="font-bold group-hover:underline">{run.title}</span>
                      <span>
                        {phases[run.phase]} · {plural(run.total, 'file')}
                      </span>
                      <span className="text-xs text-soft">
                        {run.author}, {formatDistanceToNow(new Date(run.createdAt), { addSuffix: true })}
                      </span>
                    </Link>
                  </li>
                </RowMenu>
              ))}
            </ul>
          )}
        </section>
      </main>
    </div>
  );
}

function NewRun(): ReactNode {
  const person = usePerson().data;
  const navigate = useNavigate();
  const queries = useQueryClient();
  const { state } = useLocation();
  const [params] = useSearchParams();
  const repeated = repeatedIn(state);
  const [title, setTitle] = useState(repeated?.title ?? '');
  const [steps, setSteps] = useState<readonly Step[]>(repeated?.recipe.steps ?? firstSteps);
  const [files, setFiles] = useState<FileAim>(() => aimOf(state, params));
  const [recipe, setRecipe] = useState<LibraryItem>();
  const { problem, isBusy, attempt } = useAttempt();
  const [scheduling, setScheduling] = useState(false);
  const found = useQuery({
    queryKey: ['batch-files', files],
    queryFn: () => api.batchFiles(files),
    placeholderData: (last) => last,
    retry: false,
  });
  const mayStart = person && mayAct(person.role, 'editor');
  const dim = !mayStart
    ? 'You need the role editor to change files.'
    : title.trim() === ''
      ? 'Title the run.'
      : steps.length === 0
        ? 'Add a step.'
        : found.data?.length === 0
          ? 'No file fits.'
          : isBusy
            ? 'Starting …'
            : undefined;
  const start = (): Promise<void> =>
    attempt(async () => {
      const run = await api.startBatch({
        title,
        recipe: { steps: [...steps] },
        files,
        ...(repeated && { repeats: repeated.id }),
      });
      await queries.invalidateQueries({ queryKey: ['batches'] });
      navigate(`/batches/${run.id}`);
    });
  return (
    <section aria-label="New run" className="flex min-w-0 flex-1 flex-col gap-4 overflow-auto p-5">
      <RecipeLine
        recipe={recipe}
        steps={steps}
        onTake={(item, taken) => {
          setRecipe(item);
          setSteps(taken);
          if (title.trim() === '') setTitle(item.title);
        }}
        onKept={setRecipe}
      />
      <Steps steps={steps} onChange={setSteps} />
      <FileFields aim={files} onChange={setFiles} />
      <p className="text-sm" role="status">
        {found.isError
          ? found.error.message
          : found.data === undefined
            ? 'Looking for files …'
            : found.data.length === 0
              ? 'No file fits.'
              : `${plural(found.data.length, 'file')}: `}
        {found.data && found.data.length > 0 && (
          <span className="text-soft">
            {found.data
              .slice(0, 8)
              .map((file) => file.title)
              .join(', ')}
            {found.data.length > 8 && ` and ${found.data.length - 8} more`}
          </span>
        )}
      </p>
      <form
        className="flex items-end gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          if (dim === undefined) void start();
        }}
      >
        <Field label="Title of the run" hint="also the message of its revisions">
          <TextInput
            className="w-96"
            maxLength={200}
            value={title}
            onChange={(event) => setTitle(event.target.value)}
          />
        </Field>
        <Button type="submit" look="primary" dim={dim}>
          <Play size={15} />
          Start the dry run
        </Button>
        <Button
          dim={dim}
          title="Starts automatically, every night or on chosen days"
          onClick={() => setScheduling(true)}
        >
          <Clock size={15} />
          Schedule …
        </Button>
      </form>
      {scheduling && (
        <ScheduleDialog
          wanted={{ title, recipe: { steps: [...steps] }, files }}
          onClose={() => {
            setScheduling(false);
            void queries.invalidateQueries({ queryKey: ['schedules'] });
          }}
        />
      )}
      <Problem text={problem} />
    </section>
  );
}

/** Recipes of the library: taken from there, and kept. */
function RecipeLine({
  recipe,
  steps,
  onTake,
  onKept,
}: {
  recipe: LibraryItem | undefined;
  steps: readonly Step[];
  onTake: (item: LibraryItem, steps: readonly Step[]) => void;
  onKept: (item: LibraryItem) => void;
}): ReactNode {
  const person = usePerson().data;
  const queries = useQueryClient();
  const library = useQuery({ queryKey: ['library', 'recipe'], queryFn: () => api.library('recipe') });
  const [name, setName] = useState('');
  const take = async (id: string): Promise<void> => {
    try {
      const found = await api.libraryVersion(id, 'head');
      onTake(found, recipeSchema.parse(JSON.parse(found.content)).steps);
      setName(found.title);
    } catch (error) {
      tellFailure('The recipe could not be read')(error);
    }
  };
  const keep = async (): Promise<void> => {
    const wanted = {
      title: name,
      content: JSON.stringify({ steps }),
      runRole: 'editor' as const,
      changeRole: 'editor' as const,
    };
    try {
      const isSame = recipe?.title === name.trim();
      const kept = isSame
        ? await api.changeLibraryItem(recipe.id, recipe.version, wanted)
        : await api.makeLibraryItem({ type: 'recipe', ...wanted });
      onKept(kept);
      await queries.invalidateQueries({ queryKey: ['library', 'recipe'] });
      toast(`“${kept.title}” is in the library, version ${kept.version}.`);
    } catch (error) {
      tellFailure('The recipe could not be kept')(error);
    }
  };
  const dim =
    !person || !mayAct(person.role, 'editor')
      ? 'You need the role editor to keep recipes.'
      : name.trim() === ''
        ? 'Name the recipe.'
        : steps.length === 0
          ? 'Add a step.'
          : undefined;
  return (
    <div className="flex flex-wrap items-end gap-3">
      <h2 className="mr-auto text-base font-bold">Recipe</h2>
      <Field label="From the library">
        <select
          className="h-8 max-w-56 rounded-sm border border-line bg-ticket px-1.5 text-sm"
          value={recipe?.id ?? ''}
          onChange={(event) => void take(event.target.value)}
        >
          <option value="" disabled>
            {library.data?.length === 0 ? 'No recipe is kept yet' : 'Choose a recipe'}
          </option>
          {(library.data ?? []).map((item) => (
            <option key={item.id} value={item.id}>
              {item.title}, version {item.version}
            </option>
          ))}
        </select>
      </Field>
      <Field label="Name">
        <TextInput className="w-44" maxLength={200} value={name} onChange={(event) => setName(event.target.value)} />
      </Field>
      <Button dim={dim} onClick={() => void keep()}>
        Keep
      </Button>
    </div>
  );
}

/** Which files: those that fit a query, or those that were chosen elsewhere. */
function FileFields({ aim, onChange }: { aim: FileAim; onChange: (aim: FileAim) => void }): ReactNode {
  const files = useQuery({ queryKey: ['files'], queryFn: api.files }).data ?? noFiles;
  const projects = useQuery({ queryKey: ['projects'], queryFn: teamApi.projects }).data ?? noProjects;
  const { facts, problem } = useSearch(files, projects, aim.query);
  return (
    <fieldset className="flex flex-wrap items-center gap-x-4 gap-y-2 rounded border border-line bg-panel px-3 pt-1 pb-3">
      <legend className="px-1 font-bold">Files</legend>
      {aim.ids ? (
        <>
          <span>{plural(aim.ids.length, 'file')} that you chose.</span>
          <Button onClick={() => onChange({ query: '' })}>Choose by a query instead</Button>
        </>
      ) : (
        <FileQueryField
          label="Files that fit"
          className="w-[32rem] max-w-full"
          value={aim.query}
          onChange={(query) => onChange({ query })}
          facts={facts}
          problem={problem}
        />
      )}
      {aim.query === '' && !aim.ids && <span className="text-sm text-soft">Leave empty for all files.</span>}
    </fieldset>
  );
}
