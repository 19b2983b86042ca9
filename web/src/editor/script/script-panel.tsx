import type { LibraryItem } from '@basitax/api/library';
import type { ScriptProblem } from '@basitax/core/script/check/checker';
import type { Touched } from '@basitax/core/script/host';
import type { ScriptReach } from '@basitax/core/script/job';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { formatDistanceToNow } from 'date-fns';
import { ChevronDown, ChevronRight, LibraryBig, Play } from 'lucide-react';
import { DropdownMenu } from 'radix-ui';
import { lazy, type ReactNode, Suspense, useEffect, useMemo, useState } from 'react';
import { toast } from 'sonner';
import { api } from '../../api/client.ts';
import { lacksRole, usePerson } from '../../api/person.ts';
import { messageOf } from '../../ui/attempt.tsx';
import { Button, Segments, TextInput } from '../../ui/controls.tsx';
import { itemLook, menuLook } from '../../ui/top-line.tsx';
import { scriptHelpRunner } from '../../work/runner.ts';
import { queryVerdict } from '../panels/query-dialog.tsx';
import { SidePanel } from '../panels/side.tsx';
import { say } from '../sentences.ts';
import { type Editing, useEditing, useEditor } from '../store.ts';
import { ScriptOptionFields } from './script-options.tsx';
import { ScriptResults } from './script-results.tsx';
import { SaveScriptDialog } from './script-save.tsx';
import { cannotRun, dryRun, setScript, takeDraft, takeTouched, useScript } from './script-state.ts';

const CodeEditor = lazy(() => import('./code-editor.tsx'));

/**
 * Scripts over the graph: one’s own draft or one of the library; a dry run first, then applied as one step that can be
 * undone.
 */
export function ScriptPanel(): ReactNode {
  const state = useEditing();
  const script = useScript();
  const { item, source, taken, isCodeShown, done } = script;
  const person = usePerson().data;
  const [saving, setSaving] = useState(false);
  const [goTo, setGoTo] = useState<{ readonly line: number }>();
  useOptions(source);
  const failure = done?.planned.failure;
  const problem = useMemo(
    () => (failure?.line === undefined ? undefined : { line: failure.line, message: failure.message }),
    [failure],
  );
  const mayKeep = lacksRole(person, 'editor');
  return (
    <SidePanel
      id="script"
      wide
      title="Script"
      about="Reads and changes nodes in a defined order. A dry run changes nothing; applying is one step, all or nothing."
    >
      <div className="flex items-center gap-2">
        <LibraryMenu />
        <span className="min-w-0 flex-1 truncate text-xs text-soft">
          {item ? <VersionMenu item={item} /> : 'Kept in this browser.'}
        </span>
        <Button
          className="h-7"
          dim={mayKeep ?? (source.trim() === '' ? 'There is nothing to keep.' : undefined)}
          onClick={() => setSaving(true)}
        >
          {item && taken !== source ? 'Keep changes …' : 'Keep …'}
        </Button>
      </div>
      {item?.about && !isCodeShown && <p>{item.about}</p>}
      {item && (
        <button
          type="button"
          aria-expanded={isCodeShown}
          className="flex items-center gap-1 self-start rounded-sm text-xs text-soft hover:underline"
          onClick={() => setScript({ isCodeShown: !isCodeShown })}
        >
          {isCodeShown ? <ChevronDown size={14} /> : <ChevronRight size={14} />}
          {isCodeShown ? 'Hide the code' : 'Show the code'}
        </button>
      )}
      {isCodeShown && (
        <div className={`min-h-40 overflow-hidden rounded-sm border border-edge ${done ? 'flex-[2]' : 'flex-[4]'}`}>
          <Suspense fallback={<p className="p-2 text-soft">Loading the code editor …</p>}>
            <CodeEditor
              label="Script"
              value={source}
              onChange={(text) => setScript({ source: text })}
              onRun={(lines) => void dryRun(lines)}
              onProblems={(mistakes) => setScript({ mistakes })}
              onTake={takeTouched}
              failure={problem}
              touched={done?.planned.touched ?? none}
              goTo={goTo}
            />
          </Suspense>
        </div>
      )}
      {isCodeShown && <Mistakes mistakes={script.mistakes} onGo={(line) => setGoTo({ line })} />}
      <ScriptOptionFields
        options={script.options}
        values={script.values}
        onChange={(values) => setScript({ values })}
      />
      <RunLine state={state} />
      <div className={`flex min-h-36 flex-col gap-2 ${done ? 'flex-[3]' : 'flex-[1]'}`}>
        <ScriptResults />
      </div>
      {saving && <SaveScriptDialog onClose={() => setSaving(false)} />}
    </SidePanel>
  );
}

const none: readonly Touched[] = [];

/** What cannot be right, the first of it; each leads to its line. */
function Mistakes({ mistakes, onGo }: { mistakes: readonly ScriptProblem[]; onGo: (line: number) => void }): ReactNode {
  const [all, setAll] = useState(false);
  if (mistakes.length === 0) return null;
  const shown = all ? mistakes : mistakes.slice(0, 2);
  return (
    <ul
      aria-label="Mistakes in the script"
      aria-live="polite"
      className="max-h-40 shrink-0 overflow-auto text-xs text-warn"
    >
      {shown.map(({ line, column, message }) => (
        <li key={`${line}:${column}`}>
          <button type="button" className="text-left hover:underline" onClick={() => onGo(line)}>
            <b>Line {line}:</b> {message}
          </button>
        </li>
      ))}
      {mistakes.length > shown.length && (
        <li>
          <button type="button" className="text-soft underline" onClick={() => setAll(true)}>
            Show {mistakes.length - shown.length} more
          </button>
        </li>
      )}
    </ul>
  );
}

/** Over what it runs, and the run. */
function RunLine({ state }: { state: Editing }): ReactNode {
  const { over, query } = useScript();
  const selected = state.selection.filter((id) => state.doc.nodes.has(id)).length;
  const verdict = over === 'query' ? queryVerdict(query, state) : undefined;
  const dim = cannotRun(over, selected, state.job !== undefined) ?? verdict?.problem;
  return (
    <div className="flex flex-wrap items-center gap-2">
      <span className="text-soft" id="script-over">
        Over
      </span>
      <Segments<ScriptReach['over']>
        label="Over"
        value={over}
        choices={[
          ['selection', `Selection ${selected}`],
          ['query', 'Query'],
          ['all', 'All'],
        ]}
        onChoose={(next) => setScript({ over: next })}
      />
      {over === 'query' && (
        <TextInput
          aria-label="Query"
          placeholder="kind:blur radius>4"
          className="h-7 w-44 font-mono text-xs"
          value={query}
          onChange={(event) => setScript({ query: event.target.value })}
        />
      )}
      {over === 'selection' && selected > 1 && <span className="text-xs text-soft">the first selected first</span>}
      {verdict && (
        <span className={`text-xs ${verdict.problem ? 'text-warn' : 'text-soft'}`}>
          {verdict.problem ?? `${verdict.count} nodes`}
        </span>
      )}
      <Button
        look={state.preview ? 'plain' : 'primary'}
        className="ml-auto"
        title="Dry run (Ctrl+Enter in the code; with lines marked, only these)"
        dim={dim}
        onClick={() => void dryRun()}
      >
        <Play size={14} />
        Dry run
      </Button>
    </div>
  );
}

/** Scripts of the library, and one’s own draft. */
function LibraryMenu(): ReactNode {
  const { item } = useScript();
  const library = useQuery({ queryKey: ['library', 'script'], queryFn: () => api.library('script') });
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger asChild>
        <Button className="h-7 max-w-56" aria-label="Choose a script">
          <LibraryBig size={15} className="shrink-0" />
          <span className="truncate">{item?.title ?? 'Own draft'}</span>
          <ChevronDown size={14} className="shrink-0" />
        </Button>
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content className={`${menuLook} max-h-[60vh] w-80 overflow-auto`} align="start" sideOffset={4}>
          <DropdownMenu.Item className={itemLook} onSelect={takeDraft}>
            Own draft
          </DropdownMenu.Item>
          <DropdownMenu.Separator className="my-1 h-px bg-line" />
          <DropdownMenu.Label className="px-2 py-1 text-xs text-soft">
            {library.error?.message ?? (library.data?.length === 0 ? 'The library holds no script yet.' : 'Library')}
          </DropdownMenu.Label>
          {(library.data ?? []).map((one) => (
            <DropdownMenu.Item
              key={one.id}
              className={`${itemLook} flex-col items-start gap-0`}
              onSelect={() => void take(one, 'head')}
            >
              <span className="font-bold">{one.title}</span>
              <span className="text-xs text-soft">{one.about}</span>
            </DropdownMenu.Item>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}

/** Takes a version of a script from the library; its options are a form, its code is put away. */
async function take(wanted: LibraryItem, version: number | 'head'): Promise<void> {
  try {
    const found = await api.libraryVersion(wanted.id, version);
    setScript({
      item: found,
      source: found.content,
      taken: found.content,
      options: found.options,
      values: {},
      isCodeShown: false,
      done: undefined,
      problem: undefined,
      mistakes: [],
    });
  } catch (error) {
    toast.error(wanted.title, { description: messageOf(error) });
  }
}

/** The versions of a script, to go back to one, and a way to take it out of the library. */
function VersionMenu({ item }: { item: LibraryItem }): ReactNode {
  const [isOpen, setOpen] = useState(false);
  const queries = useQueryClient();
  const person = usePerson().data;
  const versions = useQuery({
    queryKey: ['library-versions', item.id],
    queryFn: () => api.libraryVersions(item.id),
    enabled: isOpen,
  });
  const lacks = lacksRole(person, item.changeRole);
  const remove = async (): Promise<void> => {
    try {
      await api.removeLibraryItem(item.id);
      // what was taken from there goes on as one's own draft
      setScript({ item: undefined, taken: undefined });
      await queries.invalidateQueries({ queryKey: ['library'] });
      toast(`“${item.title}” is out of the library; its code is your draft now.`);
    } catch (error) {
      toast.error(item.title, { description: messageOf(error) });
    }
  };
  return (
    <DropdownMenu.Root open={isOpen} onOpenChange={setOpen}>
      <DropdownMenu.Trigger asChild>
        <Button look="quiet" className="h-7 px-1.5 text-xs text-soft" title="Versions">
          Version {item.version}
          <ChevronDown size={13} />
        </Button>
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content className={`${menuLook} max-h-[60vh] w-80 overflow-auto`} align="start" sideOffset={4}>
          {versions.error && <p className="px-2 py-1 text-xs text-warn">{versions.error.message}</p>}
          {(versions.data ?? []).map((one) => (
            <DropdownMenu.Item
              key={one.version}
              className={`${itemLook} flex-col items-start gap-0`}
              onSelect={() => void take(item, one.version)}
            >
              <span className={one.version === item.version ? 'font-bold' : ''}>
                Version {one.version}, {one.author}
              </span>
              <span className="text-xs text-soft">
                {formatDistanceToNow(new Date(one.changedAt), { addSuffix: true })}
                {one.message !== '' && `: ${one.message}`}
              </span>
            </DropdownMenu.Item>
          ))}
          <DropdownMenu.Separator className="my-1 h-px bg-line" />
          <DropdownMenu.Item
            className={itemLook}
            disabled={lacks !== undefined}
            title={lacks}
            onSelect={() => void remove()}
          >
            Take it out of the library
          </DropdownMenu.Item>
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}

/** The options that a script declares, found out a moment after it was written. */
function useOptions(source: string): void {
  useEffect(() => {
    const abort = new AbortController();
    const timer = setTimeout(() => {
      const { catalogue } = useEditor.getState();
      const limit = { ms: 5000, say: say('no-options') };
      scriptHelpRunner.run('scriptOptions', { source }, { catalogue, signal: abort.signal, limit }).then(
        ({ options, failure }) => failure === undefined && setScript({ options }),
        // while one writes, most states of a script are none that run
        () => {},
      );
    }, 400);
    return () => {
      clearTimeout(timer);
      abort.abort();
    };
  }, [source]);
}
